"""What a plan's heap does over time: pH with its fan, salts, and when it is ready."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.salts_on_pens import lowered_by_salts
from pelk.core.acid_base.water import Water, alkalinity_from_ppm
from pelk.core.crops.groups import Crop
from pelk.core.materials.library import Material
from pelk.core.materials.totals import MixIngredient, concentration_mg_l
from pelk.core.plans.plan import MOISTURE, Conditions
from pelk.core.release.nitrogen_curves import daily_temperatures
from pelk.core.salts.pore_water import PoreSalts, mix_ec, own_salts
from pelk.core.salts.salts import MG_PER_MEQ
from pelk.core.simulation.availability import IONS, Times, available_of_all, times_of
from pelk.core.simulation.ensemble import SAMPLES, Posterior, ensemble, quantiles
from pelk.core.simulation.initial_state import Heap, with_buffer
from pelk.core.simulation.readiness import (
    Limits,
    Readiness,
    floor_days,
    is_fed,
    limits_for,
    passes,
    readiness,
    with_range,
)
from pelk.core.simulation.run import Draws, Surroundings, Trace, simulate

Floats = NDArray[np.float64]
Parts = Sequence[tuple[Material, float]]

# The day whose pH is judged where no other is asked, and how far the course is always run.
JUDGED_DAY, LINE_DAYS = 180, 730
# What is not ready within a year is never told to be.
READY_WITHIN_DAYS = 365
# Only magnesium and calcium of salts count as dissolved cations of doses, besides gypsum.
SALT_CLASSES = frozenset(["salt", "langbeinite"])
ION_OF = {"S": "SO4"}
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
        ),
    )


def dose_ions(ingredients: Sequence[MixIngredient], free: dict[str, Floats]) -> dict[str, Floats]:
    """Return the ions that the doses have set free, nitrogen apart.

    Parameters
    ----------
    ingredients : sequence of MixIngredient
        All parts and doses.
    free : dict of str to array, shape (n_ingredients, n_edges)
        What each has set free of each element. [mg/L]

    Returns
    -------
    dict of str to array, shape (n_edges,)
        By ion, as `mix_ec` takes them; gypsum by all of it. [meq/L]
    """
    dose = np.array([not s.is_bulk for s in ingredients], dtype=bool)
    salt = dose & [s.material.availability_class in SALT_CLASSES for s in ingredients]
    gypsum = dose & [s.material.availability_class == "gypsum" for s in ingredients]
    rows = {"K": dose, "Na": dose, "Mg": salt, "Ca": salt, "Cl": dose, "S": dose & ~gypsum}
    ions = {
        ION_OF.get(element, element): free[element][which].sum(0)
        / MG_PER_MEQ[ION_OF.get(element, element)]
        for element, which in rows.items()
    }
    calcium = sum(
        concentration_mg_l(s.g_per_l, s.material.composition["Ca"].typ)
        for s, it_is in zip(ingredients, gypsum, strict=True)
        if it_is and "Ca" in s.material.composition
    )
    ions["gypsum"] = np.full(free["N"].shape[1], calcium / MG_PER_MEQ["Ca"])
    return ions


def salts_over_time(
    trace: Trace, own: PoreSalts, day: Floats, doses_meq_l: Mapping[str, Floats]
) -> Floats:
    """Return the salts of a mix along a course, before any crop.

    Parameters
    ----------
    trace : Trace
        Central line or fan.
    own : PoreSalts
        Of the parts.
    day : array, shape (n_edges,)
        Of the ions of the doses. [d]
    doses_meq_l : mapping of str to array, shape (n_edges,)
        Ions of the doses. [meq/L]

    Returns
    -------
    array, shape like the trace
        Conductivity of the saturated extract. [dS/m]
    """
    at = {ion: np.interp(trace.edges, day, values) for ion, values in doses_meq_l.items()}
    if trace["nitrate_mg_l"].ndim > 1:
        at = {ion: values[:, None] for ion, values in at.items()}
    return mix_ec(own, at, trace["ammonium_mg_l"], trace["nitrate_mg_l"])


def pore_salts(heap: Heap, parts: Parts, loss: float) -> PoreSalts:
    """Return the parts' own salts, without the mineral nitrogen that the course follows."""
    bulk = [n for n in heap.nitrogen if n.is_bulk]
    ammonium, nitrate = (sum(n.ammonium_mg_l for n in bulk), sum(n.nitrate_mg_l for n in bulk))
    return own_salts(parts, loss, ammonium, nitrate)


def _central_line(heap: Heap, where: Surroundings, days: int, learned: Posterior | None) -> Trace:
    """Return the central line, with what readings taught on it."""
    if learned is None:
        return simulate(heap, where, days)
    buffer, lime, sulfur, carbonate = (float(f) for f in np.exp(learned.mean))
    draws = Draws(lime=lime, sulfur=sulfur, carbonate=carbonate)
    return simulate(with_buffer(heap, buffer), where, days, draws)


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
    line = _central_line(heap, where, max(days, LINE_DAYS), learned)
    times = times_of(line, heap.limed_meq_l, heap.dosed_acid_meq_l, mineral_soil)
    free = available_of_all(ingredients, times, IONS)
    ions, own = dose_ions(ingredients, free), pore_salts(heap, parts, loss)
    limits = limits_for(crop, band, floor_days(parts, doses), is_fed=is_fed(doses))
    many = ensemble(heap, where, days, samples, learned=learned) if samples else None
    acid_meq_l = heap.dosed_acid_meq_l
    ec = salts_over_time(line, own, line.edges, ions)
    holds = passes(line, heap.litres, ec, limits, acid_meq_l)
    year = {key: days_held[: READY_WITHIN_DAYS + 1] for key, days_held in holds.items()}
    ready = readiness(year, limits)
    # The central line is what is said; many draws say how sure it is.
    ph = np.repeat(line.daily("ph")[None, : days + 1], 3, axis=0)
    if many is not None:
        salts = salts_over_time(many, own, line.edges, ions)
        drawn = readiness(passes(many, heap.litres, salts, limits, acid_meq_l), limits)
        ready = with_range(ready, drawn)
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
    )
