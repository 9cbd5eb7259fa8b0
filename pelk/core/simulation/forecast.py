"""What a plan's heap does over time: pH with its fan, salts, and when it is ready."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.buffering import PH_GRID
from pelk.core.acid_base.salts_on_pens import lowered_by_salts
from pelk.core.acid_base.water import Water, alkalinity_from_ppm
from pelk.core.base.sources import cites
from pelk.core.crops.groups import Crop, ion_limit
from pelk.core.materials.material import Material
from pelk.core.materials.totals import MixIngredient
from pelk.core.plans.plan import MOISTURE, Conditions
from pelk.core.release.nitrogen_curves import daily_temperatures
from pelk.core.salts.pore_water import mix_ec, own_salts
from pelk.core.salts.salts import extract_mg_l
from pelk.core.simulation.availability import IONS, Times, available_of_all, times_of
from pelk.core.simulation.ensemble import SAMPLES, Posterior, ensemble, quantiles
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import with_buffer
from pelk.core.simulation.readiness import (
    BAND_SLACK,
    Limits,
    Readiness,
    limits_for,
    over_the_next,
    passes,
    readiness,
    with_range,
)
from pelk.core.simulation.run import CENTRAL, Draws, Surroundings, Trace, base_curve, simulate
from pelk.core.simulation.salts_of_a_course import (
    along_watering,
    dose_ions,
    pore_salts,
    salts_over_time,
)

Floats = NDArray[np.float64]
Parts = Sequence[tuple[Material, float]]

# The day whose pH is judged where no other is asked, and how far the course is always run.
JUDGED_DAY, LINE_DAYS = 180, 730
DRIVERS = {
    "lime": "lime_meq_l",
    "carbonate in the parts": "carbonate_meq_l",
    "water": "water_meq_l",
    "nitrogen and meals": "nitrogen_meq_l",
    "rock and bone": "rock_meq_l",
    "sulfur": "sulfur_meq_l",
    "acids": "acids_meq_l",
}
TAKES_AWAY = frozenset(["sulfur", "acids"])


@dataclass(frozen=True, slots=True)
class Driver:
    """What moves the pH, and how far it has moved the charge by each day. [meq/L]."""

    name: str
    meq_l: Floats

    def at(self, day: int) -> float:
        """Return the base (+) or acid (-) by a day. [meq/L]."""
        return float(self.meq_l[min(day, len(self.meq_l) - 1)])


@dataclass(frozen=True, slots=True, kw_only=True)
class Observed:
    """What was read of a heap, in place of what the plan says.

    Attributes
    ----------
    start_ph : float or None
        Read on mixing day, on the slurry scale.
    around : Surroundings or None
        Where it was seen to lie.
    learned : Posterior or None
        What its pH readings taught.
    """

    start_ph: float | None = None
    around: Surroundings | None = None
    learned: Posterior | None = None


@dataclass(frozen=True, slots=True)
class Forecast:
    """How a heap goes on, unplanted.

    Attributes
    ----------
    days : int
        As far as was asked for. [d]
    line : Trace
        The central line, over two years at least.
    ensemble : Trace or None
        Many draws at once; None where it was not asked for.
    ph : array, shape (3, n_days + 1)
        p10, the central line, p90; all the central line where there is no ensemble.
    ec : array, shape (n_line_days + 1,)
        Salts before any crop, central. [dS/m]
    own_ec : float
        Salts of the parts alone, on mixing day. [dS/m]
    times : Times
        Where the central line stands, for what comes free.
    free : dict of str to array, shape (n_supplies, n_edges)
        What each supply has set free. [mg/L]
    """

    days: int
    heap: Heap
    around: Surroundings
    line: Trace
    ensemble: Trace | None
    ph: Floats
    ec: Floats
    own_ec: float
    times: Times
    ingredients: tuple[MixIngredient, ...]
    free: dict[str, Floats]
    ready: Readiness
    limits: Limits
    learned: Posterior | None = None

    @property
    def as_learned(self) -> tuple[Heap, Draws]:
        """The heap and the factors of its central line, by what readings taught."""
        return _as_learned(self.heap, self.learned)

    @property
    def drivers(self) -> tuple[Driver, ...]:
        """The sheet of what moves the pH: base +, acid -."""
        sheet = []
        for name, key in DRIVERS.items():
            values = self.line.daily(key) * (-1 if name in TAKES_AWAY else 1)
            if np.abs(values).max() > 0.05:
                sheet.append(Driver(name, values))
        return tuple(sheet)

    @property
    def sulfur_left(self) -> Floats | None:
        """Share of sulfur not yet turned to acid, by day; None without any. [-]."""
        acid = self.heap.dosed_acid_meq_l
        return 1 - self.line.daily("sulfur_meq_l") / acid if acid else None

    @property
    def lime_left(self) -> Floats | None:
        """Share of lime not yet dissolved, by day; None without any. [-]."""
        limed = self.heap.limed_meq_l
        return 1 - self.line.daily("lime_meq_l") / limed if limed else None

    def ph_on(self, day: int) -> float:
        """Return the pH of the central line on a day of its run, unplanted. [pH]."""
        return float(np.interp(day, self.line.edges, self.line["ph"]))

    def lowered_on(self, day: int) -> float:
        """Return how much lower a pen in a 1:1 slurry shows on a day, for salts. [pH]."""
        return lowered_by_salts(float(self.ec[min(day, len(self.ec) - 1)]), self.own_ec)

    def free_at(self, element: str, day: int) -> float:
        """Return what has come free of an element by a day. [mg/L]."""
        return float(np.interp(day, self.line.edges, self.free[element].sum(0)))


# No forecast looks further: the longest a course may run.
SEEN_DAYS = 1500


def surroundings_of(conditions: Conditions) -> Surroundings:
    """Return where a plan's mix lies, in the words of the time course."""
    air: float | Floats = conditions.temperature_c
    if conditions.monthly_c is not None:
        air = daily_temperatures(conditions.monthly_c, conditions.start_day, SEEN_DAYS)
    return Surroundings(
        temperature_c=air,
        moisture=MOISTURE[conditions.moisture],
        water=Water(
            alkalinity_meq_l=alkalinity_from_ppm(conditions.water_alkalinity_mg_l),
            l_per_l_day=conditions.water_l_per_l_week / 7,
            leaching_fraction=conditions.leaching_fraction,
            ions_mg_l=conditions.water_ions_mg_l,
        ),
    )


def _as_learned(heap: Heap, learned: Posterior | None) -> tuple[Heap, Draws]:
    """Return a heap with what readings taught of its buffer, and of the pace of what is in it."""
    if learned is None:
        return heap, CENTRAL
    buffer, lime, sulfur, carbonate = (float(f) for f in np.exp(learned.mean))
    return with_buffer(heap, buffer), Draws(lime=lime, sulfur=sulfur, carbonate=carbonate)


@cites("pelk", "sulfur that has not turned is put through the curve that holds the mix")
def _stays_up(
    band: tuple[float, float], season_days: float, line: Trace, heap: Heap
) -> NDArray[np.bool_]:
    """Return from which days on the sulfur still to turn never takes the pH under its band.

    Against it counts the lime that dissolves within the line. Lime that takes the pH over
    the band does so within the season, on the line itself: sulfur may sleep past it.
    """
    base, ph = base_curve(heap, CENTRAL), line.daily("ph")
    lime, sulfur = line.daily("lime_meq_l"), line.daily("sulfur_meq_l")
    left = heap.dosed_acid_meq_l - sulfur
    rest = np.interp(np.interp(ph, PH_GRID, base) + lime[-1] - lime - left, base, PH_GRID)
    # What is too sour already is another criterion's.
    return over_the_next((rest >= band[0] - BAND_SLACK) | (rest >= ph), int(season_days))


def _below_harm(crop: Crop, line: Trace, free: dict[str, Floats]) -> NDArray[np.bool_]:
    """Return on which days sodium and chloride are under what harms a crop."""
    to_extract = extract_mg_l({"Na": 1.0, "Cl": 1.0})
    holds = np.ones(line.days + 1, dtype=bool)
    for element, kind in (("Na", "sodium"), ("Cl", "chloride")):
        there = line.each_day(free[element].sum(0)) * to_extract[element]
        holds &= there <= ion_limit(crop, kind, "harms")
    return holds


def forecast(
    heap: Heap,
    conditions: Conditions,
    ingredients: Sequence[MixIngredient],
    parts: Parts,
    doses: Parts,
    loss: float,
    crop: Crop,
    band: tuple[float, float],
    days: int,
    *,
    mineral_soil: float = 0.0,
    samples: int = SAMPLES,
    observed: Observed | None = None,
) -> Forecast:
    """Return how a heap goes on, with its fan and the day it is ready.

    Parameters
    ----------
    heap : Heap
        What lies there.
    conditions : Conditions
        Where it lies.
    ingredients : sequence of Supply
        All parts and doses in a litre of mix.
    parts, doses : sequence of (Material, float)
        Shares of loose volume, and rates. [-], [g/L]
    loss : float
        Lost on blending. [-]
    crop : Crop
        What will grow.
    band : tuple of float
        Wanted pH.
    days : int
        How far to look. [d]
    mineral_soil : float
        Share of mineral soil by volume. [-]
    samples : int
        Draws of the fan; 0 leaves it out.
    observed : Seen, optional
        What was read of this heap.

    Returns
    -------
    Forecast
        Central line over two years, ensemble over `days`.
    """
    observed = observed or Observed()
    learned, where = observed.learned, observed.around or surroundings_of(conditions)
    as_it_is, draws = _as_learned(heap, learned)
    line = simulate(as_it_is, where, max(days, LINE_DAYS), draws)
    times = times_of(line, heap.limed_meq_l, heap.dosed_acid_meq_l, mineral_soil)
    free = available_of_all(ingredients, times, IONS)
    own, ions = along_watering(
        pore_salts(heap, parts, loss),
        line,
        dose_ions(ingredients, free),
        where.water,
        heap.capacity,
    )
    limits = limits_for(crop, band)
    many = ensemble(heap, where, days, samples, learned=learned) if samples else None
    ec = salts_over_time(line, own, line.edges, ions)
    is_watered = bool(where.water.l_per_l_day)
    also = {
        "unspent": _stays_up(band, crop.season_days, line, as_it_is),
        "ions": _below_harm(crop, line, free),
    }
    holds = passes(line, heap.litres, ec, limits, also, is_watered=is_watered)
    ready = readiness(holds, limits)
    # The central line is what is said; many draws say how sure it is.
    ph = np.repeat(line.daily("ph")[None, : days + 1], 3, axis=0)
    if many is not None:
        salts = salts_over_time(many, own, line.edges, ions)
        of_draws = passes(many, heap.litres, salts, limits, also, is_watered=is_watered)
        ready = with_range(ready, readiness(of_draws, limits))
        low, high = quantiles(many, "ph", (0.1, 0.9))
        ph = np.array([np.minimum(low, ph[1]), ph[1], np.maximum(high, ph[1])])
    return Forecast(
        days,
        heap,
        where,
        line,
        many,
        ph,
        line.each_day(ec),
        mix_ec(own_salts(parts, loss), {}, np.zeros(1), np.zeros(1)).item(),
        times,
        tuple(ingredients),
        free,
        ready,
        limits,
        learned,
    )
