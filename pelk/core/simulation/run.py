"""The one time course: what rots, nitrifies, dissolves, oxidises and washes out.

Nitrogen that is released is the nitrogen that acidifies and that the cure waits for:
nothing else in Pelk steps through time. All acid and base is one net base, and the pH
of each step is where the curve of the blend holds it.

    A = lime + carbonate + nitrogen and meals + water + rock - sulfur - acids
    pH = Q^-1(A), with the rates of the step taken at p + 0.6 (q - p)
"""

from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.buffering import PH_GRID, blend_curve, sampled_curves
from pelk.core.acid_base.ph_of_net_base import inverse_of
from pelk.core.acid_base.water import Water
from pelk.core.base.arithmetic import MANY, ONE, Lane
from pelk.core.base.errors import OutOfRangeError
from pelk.core.base.sources import cites
from pelk.core.release.rate_factors import (
    decay_by_moisture,
    drowned_share,
    lime_by_water,
    nitrifiers_by_moisture,
    sulfur_by_water,
)
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.stepper import Forcing, Stepper

Floats = NDArray[np.float64]

LONGEST_DAYS = 1500
DRIEST = 0.05


@dataclass(frozen=True, slots=True)
class Pace:
    """How finely time is cut.

    Attributes
    ----------
    first, growth, longest, until, after : float
        First step, how it grows, the longest until a day, and after it. [d], [-]
    nodes : int
        Of the table that gives pH for charge.
    close : float
        How close the pH of a step is asked; it is found closer, as the last guess is put
        through the balance once more, and the balance itself is exact. [pH]
    """

    first: float
    growth: float
    longest: float
    until: float
    after: float
    nodes: int
    close: float


LINE_PACE = Pace(0.25, 1.3, 6.0, 120.0, 14.0, 1024, 2e-3)
SEASON_PACE = Pace(0.5, 1.4, 7.0, 60.0, 16.0, 512, 4e-2)
FAN_PACE = Pace(0.5, 1.5, 9.0, 90.0, 45.0, 200, 8e-2)


@dataclass(frozen=True, slots=True, kw_only=True)
class Surroundings:
    """Where a heap lies, and what comes and goes.

    Attributes
    ----------
    temperature_c, moisture : float or array, shape (n_days,)
        Air; water as a share of container capacity. [°C], [-]
    water_filled : float or None
        Share of pore space that is water; None takes it from the moisture. [-]
    water : Water
        What it is watered with, from mixing day on.
    demand_mg_l : array, shape (n_days + 1,), or None
        Nitrogen that a crop wants by each day, in sum; None is unplanted. [mg/L]
    """

    temperature_c: float | Floats = 20.0
    moisture: float | Floats = 0.60
    water_filled: float | None = None
    water: Water = field(default_factory=Water)
    demand_mg_l: Floats | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Draws:
    """What is not known, as factors on the central line, or as shifts.

    Attributes
    ----------
    buffer, ph : array, shape (n_draws, n_parts), or None
        Times buffer capacity, plus own pH. [-], [pH]
    lime, sulfur, alkalinity, carbonate, cce : float or array
        Times the rate of lime and of sulfur, the alkalinity of the water, the free
        carbonate, the calcium carbonate equivalent. [-]
    decay, nitrify, growth, nitrifiers, heat : float or array
        Times the rate of rotting, what nitrifiers make, their growth, their start, the
        loss of heat. [-]
    warmer_c, wetter : float or array
        Added to air temperature and to moisture. [°C], [-]
    uptake, drains : float or array
        Times what crops want, and what drains of the water. [-]
    kappa : float or array
        Added to the excess of cations in plants. [meq/mmol]
    """

    buffer: Floats | None = None
    ph: Floats | None = None
    lime: Lane = 1.0
    sulfur: Lane = 1.0
    alkalinity: Lane = 1.0
    carbonate: Lane = 1.0
    cce: Lane = 1.0
    decay: Lane = 1.0
    nitrify: Lane = 1.0
    growth: Lane = 1.0
    nitrifiers: Lane = 1.0
    heat: Lane = 1.0
    warmer_c: Lane = 0.0
    wetter: Lane = 0.0
    uptake: Lane = 1.0
    kappa: Lane = 0.0
    drains: Lane = 1.0


CENTRAL = Draws()


@dataclass(frozen=True, slots=True)
class Trace:
    """A course as it was stepped.

    Attributes
    ----------
    edges : array, shape (n_edges,)
        Days since mixing. [d]
    days : int
        Length. [d]
    values : dict of str to array, shape (n_edges,) or (n_edges, n_draws)
        By the names of `Stepper.kept`.
    """

    edges: Floats
    days: int
    values: dict[str, Floats]

    def __getitem__(self, name: str) -> Floats:
        """Return a value at the edges."""
        return self.values[name]

    def daily(self, name: str) -> Floats:
        """Return a value at every day from 0 to the last."""
        return self.each_day(self.values[name])

    def each_day(self, at_edges: Floats) -> Floats:
        """Return what is known at the edges for every day, along straight lines."""
        if at_edges.ndim == 1:
            return np.interp(np.arange(self.days + 1.0), self.edges, at_edges)
        # Single precision: seven digits are plenty for what holds on which day.
        weights = _day_weights(self.edges.tobytes(), self.days)
        return np.asarray(weights @ at_edges.astype(np.float32))


@lru_cache(maxsize=8)
def _day_weights(edges_bytes: bytes, days: int) -> NDArray[np.float32]:
    """Return the matrix that takes values at edges to straight lines at every day."""
    edges = np.frombuffer(edges_bytes)
    day = np.arange(days + 1.0)
    right = np.clip(np.searchsorted(edges, day, "right"), 1, len(edges) - 1)
    part = (day - edges[right - 1]) / (edges[right] - edges[right - 1])
    weights = np.zeros((days + 1, len(edges)), np.float32)
    row = np.arange(days + 1)
    weights[row, right - 1], weights[row, right] = 1 - part, part
    return weights


@cites("pelk", "one sum of net base; nitrogen of the release classes; grains as spheres")
@cites("janzen1987", "sulfur by surface, 10 to 60 ug/cm2/d; 30 taken")
@cites("watkinson1993", "sulfur oxidation as a surface process")
@cites("swartzendruber1965", "limestone as shrinking spheres; retreat is a fit")
def simulate(
    heap: Heap, around: Surroundings, days: int, draws: Draws = CENTRAL, pace: Pace = LINE_PACE
) -> Trace:
    """Return what happens in a heap day by day.

    Parameters
    ----------
    heap : Heap
        What lies there on mixing day.
    around : Surroundings
        Where it lies.
    days : int
        How long. [d]
    draws : Draws
        The central line, or many draws at once.
    pace : Pace
        How finely time is cut.

    Returns
    -------
    Trace
        Of floats for the central line, of arrays over draws else.

    Raises
    ------
    OutOfRangeError
        For less than a day, or more than four years.
    """
    if not 1 <= days <= LONGEST_DAYS:
        raise OutOfRangeError(f"found {days:g}, allowed: 1 to {LONGEST_DAYS} days", "days")
    events = [s.day for s in heap.solids] + [s.day for s in heap.sulfurs]
    events += [day for day, _ in heap.strong] + [day for day, _, _ in heap.weak]
    edges = step_edges(days, events, pace)
    base = base_curve(heap, draws)
    many = base.ndim > 1
    stepper = Stepper(
        heap,
        _forcing(heap, around, edges, draws),
        draws,
        MANY if many else ONE,
        inverse_of(base, pace.nodes),
        pace.close,
    )
    size = (len(edges), *base.shape[:-1])
    values = {name: np.empty(size) for name in stepper.kept()}
    for i in range(len(edges)):
        if i:
            stepper.step(i - 1)
        for name, value in stepper.kept().items():
            values[name][i] = value
    return Trace(edges, days, values)


def base_curve(heap: Heap, draws: Draws) -> Floats:
    """Return the base that holds each pH of the grid, drawn where there are draws. [meq/L]."""
    if heap.curve:
        ph, held = np.array(heap.curve).T
        base: Floats = np.interp(PH_GRID, ph, held)
        return base if draws.buffer is None else base * draws.buffer[:, :1]
    if draws.buffer is None:
        return blend_curve(heap.components).base_meq_l
    shift = np.zeros_like(draws.buffer) if draws.ph is None else draws.ph
    return sampled_curves(heap.components, draws.buffer, shift)


def _forcing(heap: Heap, around: Surroundings, edges: Floats, draws: Draws) -> Forcing:
    wet = per_step(around.moisture, edges)
    moist = np.clip(np.add.outer(wet, np.asarray(draws.wetter)), DRIEST, 1.0)
    pores = (
        moist * heap.capacity / heap.porosity
        if around.water_filled is None
        else np.full_like(moist, around.water_filled)
    )
    factors = (
        decay_by_moisture(moist),
        nitrifiers_by_moisture(moist),
        lime_by_water(pores),
        sulfur_by_water(pores),
        drowned_share(pores),
    )
    lists = [list(f) if moist.ndim > 1 else f.tolist() for f in factors]
    wanted = np.zeros(len(edges) - 1)
    if around.demand_mg_l is not None:
        day = np.arange(len(around.demand_mg_l))
        wanted = np.diff(np.interp(edges, day, around.demand_mg_l))
    return Forcing(
        edges=edges,
        lengths=np.diff(edges).tolist(),
        air_c=per_step(around.temperature_c, edges).tolist(),
        rot_wet=lists[0],
        nitrify_wet=lists[1],
        lime_wet=lists[2],
        sulfur_wet=lists[3],
        drowned=lists[4],
        demand_mg_l=wanted.tolist(),
        waters=[around.water] * (len(edges) - 1),
        watered=_watered(edges, around.water.from_day),
    )


def _watered(edges: Floats, from_day: float) -> list[float]:
    """Return for how much of each step it is watered. [d]."""
    return [max(end - max(start, from_day), 0.0) for start, end in pairwise(edges.tolist())]


def step_edges(
    days: float, fresh: Sequence[float], pace: Pace, cuts: Sequence[float] = ()
) -> Floats:
    """Return the days at which steps begin and end: short only after what is strong. [d].

    Parameters
    ----------
    days : float
        How long. [d]
    fresh, cuts : sequence of float
        Days after which the pace starts anew; those on which something else happens. [d]
    pace : Pace
        How finely time is cut.
    """
    anew = {0.0, *fresh}
    marks = sorted({0.0, float(days), *(float(c) for c in (*cuts, *fresh) if 0 < c < days)})
    edges, length = [0.0], pace.first
    for start, end in pairwise(marks):
        length = pace.first if start in anew else length
        at, inside = start, []
        while at + length < end:
            at += length
            inside.append(at)
            limit = pace.longest if at < pace.until else pace.after
            length = min(length * pace.growth, limit)
        if inside and end - inside[-1] < 0.3 * length:
            inside.pop()
        edges += [*inside, end]
    return np.array(edges)


def per_step(value: float | Floats, edges: Floats) -> Floats:
    """Return the mean over each step of a value given once, or for every day."""
    series = np.asarray(value, dtype=float)
    if series.ndim == 0:
        return np.full(len(edges) - 1, float(series))
    filled = np.concatenate([series, np.full(int(edges[-1]) + 2, series[-1])])
    summed = np.concatenate([[0.0], np.cumsum(filled)])
    return np.diff(np.interp(edges, np.arange(len(summed)), summed)) / np.diff(edges)
