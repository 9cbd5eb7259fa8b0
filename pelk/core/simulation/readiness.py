"""When a heap is ready: each criterion, the day it is met, and what it waits for.

A model day is the first of three days running that pass; a person's pass is two
readings three days apart. Nothing is ready before its floor of days.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.crops.groups import Crop
from pelk.core.materials.material import Material
from pelk.core.salts.salts import (
    AMMONIUM_MOST,
    AMMONIUM_MOST_ACID,
    AMMONIUM_MOST_SEED,
    FREE_AMMONIA_MOST,
    FREE_AMMONIA_SEED,
)
from pelk.core.simulation.run import Trace

Floats = NDArray[np.float64]

DAYS_RUNNING = 3
NEVER = 10**6
WARM_MOST_C, WARM_MOST_LARGE_C, LARGE_L = 3.0, 5.0, 200.0
PULSE_LEFT_MG_L, PULSE_LEFT_SHARE = 20.0, 0.10
DRIFT_DAYS, DRIFT_MOST = 7, 0.1
# Planted this far outside a pH band, as the judge has it: no drift is waited into.
BAND_SLACK = 0.1
SULFUR_LEFT = 0.10
SEED_EC_MOST = 1.5
FLOOR_FED, FLOOR_LIMED, FLOOR_PELLETS, FLOOR_SLOW_LIME, FLOOR_PLAIN = 14, 7, 14, 21, 3
FEEDING_TAGS = frozenset(["meal", "guano", "manure-hot", "fish", "ammonium-rich"])
SLOW_GRADES = frozenset(["dolomitic_hort", "aglime"])
# A displayed range is never narrower than this around its middle.
NARROWEST = (0.85, 1.25)
NAMES = {
    "warmth": "Heap no warmer than the air",
    "ammonium": "Ammonium and ammonia low",
    "pulse": "Quick feed broken down",
    "steady": "pH steady",
    "band": "pH in the target range",
    "salts": "Salts below the crop’s limit",
    "sulfur": "Sulfur used up, or pH no longer moving",
    "smell": "Smells earthy",
}
# The same, said of a heap that does not pass yet.
# Where these never hold together with the rest it is a fault of the mix, which no waiting mends.
UNCURED = ("band", "salts")
HELD_UP = {
    "warmth": "the heap is warm",
    "ammonium": "ammonium is too high for roots",
    "pulse": "the quick feed is still breaking down",
    "steady": "the pH is still moving",
    "band": "the pH is outside the target range",
    "salts": "salts are too high",
    "sulfur": "sulfur is still reacting",
}


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """What a crop asks of a heap.

    Attributes
    ----------
    ammonium_mg_l, free_ammonia_mg_l : float
        Most in a litre of mix, most free ammonia in its water. [mg/L]
    ec_ds_m : float
        Most salts in the saturated extract. [dS/m]
    band : tuple of float or None
        Wanted pH; None asks only that it stand still.
    floor_days : float
        Never before. [d]
    asks_pulse, asks_steady : bool
        Whether quick food and drift are asked at all.
    """

    ammonium_mg_l: float = AMMONIUM_MOST
    free_ammonia_mg_l: float = FREE_AMMONIA_MOST
    ec_ds_m: float = 3.5
    band: tuple[float, float] | None = None
    floor_days: float = FLOOR_FED
    asks_pulse: bool = True
    asks_steady: bool = True


@dataclass(frozen=True, slots=True)
class Criterion:
    """One thing a heap must pass.

    Attributes
    ----------
    day : int or None
        Since when it holds on the middle of the draws, up to the day the heap is ready
        or to the end of the course; None when it does not.
    low, high : int or None
        Between which days 8 in 10 draws meet it.
    met_share : float
        Share of draws that meet it within the course. [-]
    """

    key: str
    day: int | None
    low: int | None
    high: int | None
    met_share: float

    @property
    def name(self) -> str:
        """What a reader calls it."""
        return NAMES[self.key]


@dataclass(frozen=True, slots=True)
class Readiness:
    """When a heap is ready, and why.

    Attributes
    ----------
    p10, p50, p90 : int or None
        Days; None when not within the course.
    criteria : tuple of Criterion
        Each of them; the last met is what it waits for.
    """

    p10: int | None
    p50: int | None
    p90: int | None
    criteria: tuple[Criterion, ...]
    days: int
    floor_days: float

    @property
    def waiting_for(self) -> list[str]:
        """Keys of what holds it up longest, the longest first."""
        never = [c.key for c in self.criteria if c.day is None]
        if self.p50 is None and never:
            return never
        last = self.days + 1
        days = {c.key: last if c.day is None else c.day for c in self.criteria}
        late = [c for c in self.criteria if days[c.key] > 0]
        held = sorted(late, key=lambda c: -days[c.key])
        return [c.key for c in held[:3]]


def limits_for(
    crop: Crop, band: tuple[float, float] | None, floor_days: float, *, is_fed: bool
) -> Limits:
    """Return what a crop group asks of a heap."""
    is_seed = "seedling" in crop.tags
    is_acid = crop.ph_soilless[1] <= 5.5
    ammonium = AMMONIUM_MOST_SEED if is_seed else AMMONIUM_MOST
    return Limits(
        ammonium_mg_l=AMMONIUM_MOST_ACID if is_acid else ammonium,
        free_ammonia_mg_l=FREE_AMMONIA_SEED if is_seed or is_acid else FREE_AMMONIA_MOST,
        ec_ds_m=min(crop.ec_max, SEED_EC_MOST) if is_seed else crop.ec_max,
        band=band,
        floor_days=floor_days,
        asks_pulse=is_fed,
        asks_steady=floor_days > FLOOR_PLAIN,
    )


@cites("pelk", "largest floor wins: fed 14 days, dolomite 21, lime 7, plain 3")
def floor_days(
    parts: Sequence[tuple[Material, float]], doses: Sequence[tuple[Material, float]]
) -> float:
    """Return the days before which a mix is never called ready.

    Parameters
    ----------
    parts : sequence of (Material, float)
        Materials with their shares. [-]
    doses : sequence of (Material, float)
        Materials with their rates. [g/L]

    Returns
    -------
    float
        Days. [d]
    """
    floor = FLOOR_PLAIN
    raw = sum(x for m, x in parts if {"manure-raw", "manure-hot"} & {*m.tags})
    if is_fed(doses) or raw:
        floor = max(floor, FLOOR_FED)
    for material, _ in doses:
        if material.lime_grade == "pelletised":
            floor = max(floor, FLOOR_PELLETS)
        elif material.lime_grade in SLOW_GRADES:
            floor = max(floor, FLOOR_SLOW_LIME)
        elif material.acidity_role == "lime":
            floor = max(floor, FLOOR_LIMED)
    return float(floor)


def is_fed(doses: Sequence[tuple[Material, float]]) -> bool:
    """Return whether any dose is a meal, manure, guano, frass or organic liquid."""
    return any(
        FEEDING_TAGS & {*m.tags}
        or (m.acidity_role == "organic_n" and m.release_class not in ("none", "coated"))
        for m, _ in doses
    )


@cites("ccqc", "ammonium and maturity")
@cites("bennett1970", "2 to 3 mg/L of free ammonia injures seedlings")
@cites("pelk", "criteria together, three days running")
def passes(
    trace: Trace, litres: float, ec_ds_m: Floats, limits: Limits, acid_meq_l: float = 0.0
) -> dict[str, NDArray[np.bool_]]:
    """Return which criterion holds on which day, for every draw.

    Parameters
    ----------
    trace : Trace
        Of a fan, or of the central line.
    litres : float
        Size of the heap. [L]
    ec_ds_m : array, shape like the trace's edges
        Salts. [dS/m]
    limits : Limits
        What the crop asks.
    acid_meq_l : float
        Acid of all sulfur in it. [meq/L]

    Returns
    -------
    dict of str to array of bool, shape (n_days + 1, ...)
        By criterion.
    """
    warm = WARM_MOST_LARGE_C if litres > LARGE_L else WARM_MOST_C
    ph, fast = trace.daily("ph"), trace.daily("fast_left_mg_l")
    tests = {
        "warmth": trace.daily("over_air_c") <= warm,
        "ammonium": (trace.daily("ammonium_mg_l") <= limits.ammonium_mg_l)
        & (trace.daily("free_ammonia_mg_l") <= limits.free_ammonia_mg_l),
        "salts": trace.each_day(ec_ds_m) <= limits.ec_ds_m,
    }
    if limits.asks_pulse:
        spent = np.maximum(PULSE_LEFT_MG_L, PULSE_LEFT_SHARE * fast[0])
        tests["pulse"] = fast <= spent
    if limits.asks_steady:
        drift = np.full_like(ph, np.inf)
        drift[DRIFT_DAYS:] = np.abs(ph[DRIFT_DAYS:] - ph[:-DRIFT_DAYS])
        tests["steady"] = drift < DRIFT_MOST
    if limits.band is not None:
        low, high = limits.band
        tests["band"] = (ph >= low - BAND_SLACK) & (ph <= high + BAND_SLACK)
    if acid_meq_l:
        left = 1 - trace.daily("sulfur_meq_l") / acid_meq_l
        tests["sulfur"] = left <= SULFUR_LEFT
        if "steady" in tests:
            # Little sulfur left, or a pH that no longer moves: either will do.
            tests["sulfur"] = tests["sulfur"] | tests["steady"]
    return tests


def readiness(
    held: dict[str, NDArray[np.bool_]], limits: Limits, weights: Floats | None = None
) -> Readiness:
    """Return when a heap is ready by what holds on which day.

    Parameters
    ----------
    held : dict of str to array of bool, shape (n_days + 1, n_draws)
        As `passes` gives it.
    limits : Limits
        What the crop asks.
    weights : array, shape (n_draws,), optional
        How well each draw fits the readings. [-]

    Returns
    -------
    Readiness
        With a day and range for each criterion.
    """
    floor = int(np.ceil(limits.floor_days))
    good = {k: v if v.ndim > 1 else v[:, None] for k, v in held.items()}
    together = np.logical_and.reduce(list(good.values()))
    days = len(together) - 1
    ready = _first_days(together, floor)
    p10, p50, p90 = _quantile_days(ready, days, weights)
    criteria = []
    for key, holds in good.items():
        since = _held_since(holds, np.minimum(ready, days).astype(np.intp))
        low, middle, high = _quantile_days(since, days, weights)
        criteria.append(Criterion(key, middle, low, high, float(np.mean(since <= days))))
    if p50 is not None:
        p10 = min(p10 if p10 is not None else p50, int(p50 * NARROWEST[0]))
        p10 = max(p10, floor) if p50 >= floor else p50
        if p90 is not None and p50 > floor:
            p90 = max(p90, min(int(np.ceil(p50 * NARROWEST[1])), days))
    return Readiness(p10, p50, p90, tuple(criteria), days, limits.floor_days)


def with_range(central: Readiness, drawn: Readiness) -> Readiness:
    """Return the readiness of the central line, its ranges from many draws.

    However far and with however many draws a heap is looked at, its day is the same.

    Parameters
    ----------
    central : Readiness
        Of the central line.
    drawn : Readiness
        Of the ensemble.

    Returns
    -------
    Readiness
        Days of the one, spread of the other.
    """
    p50 = central.p50
    low, high = _around(p50, drawn.p10, drawn.p90)
    criteria = []
    for of_line, of_draws in zip(central.criteria, drawn.criteria, strict=True):
        first, last = _around(of_line.day, of_draws.low, of_draws.high)
        criteria.append(Criterion(of_line.key, of_line.day, first, last, of_draws.met_share))
    return Readiness(low, p50, high, tuple(criteria), central.days, central.floor_days)


def _around(day: int | None, low: int | None, high: int | None) -> tuple[int | None, int | None]:
    """Return a range that holds its middle; open where one of them never comes."""
    if day is None:
        return low, None
    return (day if low is None else min(low, day)), (None if high is None else max(high, day))


def _first_days(good: NDArray[np.bool_], floor: int) -> Floats:
    """Return the first of three days running that are good, past the floor; else far off."""
    steady = good.copy()
    for ahead in range(1, DAYS_RUNNING):
        steady[:-ahead] &= good[ahead:]
        steady[-ahead:] = False
    steady[:floor] = False
    return np.asarray(np.where(steady.any(0), steady.argmax(0), NEVER))


def _held_since(good: NDArray[np.bool_], until: NDArray[np.intp]) -> Floats:
    """Return since which day a criterion holds up to a day; far off when it does not."""
    day = np.arange(len(good), dtype=np.int16)[:, None]
    bad = ~good & (day <= until)
    since = np.where(bad, day, np.int16(-1)).max(axis=0) + 1
    holds = good[until, np.arange(good.shape[1])]
    return np.asarray(np.where(holds, since, NEVER))


def _quantile_days(first: Floats, days: int, weights: Floats | None) -> tuple[int | None, ...]:
    order = np.argsort(first)
    weight = np.full(len(first), 1 / len(first)) if weights is None else weights
    summed = np.cumsum(weight[order])
    quantiles = []
    for q in (0.1, 0.5, 0.9):
        place = min(int(np.searchsorted(summed, q)), len(first) - 1)
        day = float(first[order][place])
        quantiles.append(int(day) if day <= days else None)
    return tuple(quantiles)


@cites("zucconi1981", "germination index; 80 passes, under 50 is toxic")
@answers
def germination_index(
    sprouted: float, sprouted_control: float, root_mm: float, root_control_mm: float
) -> float:
    """Return how cress does in a mix beside how it does without.

    Parameters
    ----------
    sprouted, sprouted_control : float
        Seeds, in the mix and in the control. [-]
    root_mm, root_control_mm : float
        Mean root length. [mm]

    Returns
    -------
    float
        Germination index. [%]
    """
    return 100 * sprouted / sprouted_control * root_mm / root_control_mm
