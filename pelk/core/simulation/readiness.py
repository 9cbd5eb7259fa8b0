"""When a heap is ready: each criterion, the day it is met, and what it waits for.

A model day is the first of three days running that pass, each of them for what lies ahead
too: the pH over the crop's season, what burns young roots over their first month. A
person's pass is two readings three days apart. No criterion is ever dropped: what waiting
does not mend has no day.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.limits import limit
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
# Planted this far outside a pH band, as the judge has it: no drift is waited into.
BAND_SLACK = limit("ph", "drifts_beyond")
SEED_EC_MOST = 1.5
# Wetted through and settled: never before, whatever is in it.
FLOOR_DAYS = 3
# What is not ready within a year is never told to be.
READY_WITHIN_DAYS = 365
# Roots have not drawn on the mix yet: what burns them is judged so long.
FIRST_ROOTS_DAYS = 30
# Common usage where a crop's season is not known: half a year. [d]
USUAL_SEASON_DAYS = 180
FEEDING_TAGS = frozenset(["meal", "guano", "manure-hot", "fish", "ammonium-rich"])
# A displayed range is never narrower than this around its middle.
NARROWEST = (0.85, 1.25)
NAMES = {
    "warmth": "Heap no warmer than the air",
    "ammonium": "Ammonium and ammonia low",
    "pulse": "Quick feed broken down",
    "band": "pH in range, and it stays there",
    "unspent": "Sulfur left cannot take the pH too low",
    "salts": "Salts below the crop’s limit",
    "ions": "Sodium, chloride and boron low enough",
    "air": "Air enough in the pot",
    "smell": "Smells earthy",
}
# The same, said of a heap that does not pass yet.
HELD_UP = {
    "warmth": "the heap is warm",
    "ammonium": "ammonium is too high for roots",
    "pulse": "the quick feed is still breaking down",
    "band": "the pH is outside the target range",
    "unspent": "the sulfur left takes the pH too low",
    "salts": "salts are too high",
    "ions": "sodium, chloride or boron is too high",
    "air": "there is too little air in the pot",
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
        Wanted pH; None asks for none.
    season_days : float
        So long the pH must stay in its band once it is planted. [d]
    floor_days : float
        Never before. [d]
    """

    ammonium_mg_l: float = AMMONIUM_MOST
    free_ammonia_mg_l: float = FREE_AMMONIA_MOST
    ec_ds_m: float = 3.5
    band: tuple[float, float] | None = None
    season_days: float = USUAL_SEASON_DAYS
    floor_days: float = FLOOR_DAYS


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
    later : int or None
        The day it passes all after the year that is looked at; None for never. [d]
    """

    p10: int | None
    p50: int | None
    p90: int | None
    criteria: tuple[Criterion, ...]
    days: int
    floor_days: float
    later: int | None = None

    @property
    def in_vain(self) -> list[str]:
        """Keys of what waiting does not mend; empty for what is ready some day."""
        if self.p50 is not None or self.later is not None:
            return []
        return [c.key for c in self.criteria if c.day is None]

    def without(self, key: str) -> "Readiness":
        """Return the same, held up for good by something that no day mends."""
        criteria = (
            *(c for c in self.criteria if c.key != key),
            Criterion(key, None, None, None, 0),
        )
        return replace(self, p10=None, p50=None, p90=None, later=None, criteria=criteria)

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


def limits_for(crop: Crop, band: tuple[float, float] | None) -> Limits:
    """Return what a crop group asks of a heap."""
    is_seed = "seedling" in crop.tags
    is_acid = crop.ph_soilless[1] <= 5.5
    ammonium = AMMONIUM_MOST_SEED if is_seed else AMMONIUM_MOST
    return Limits(
        ammonium_mg_l=AMMONIUM_MOST_ACID if is_acid else ammonium,
        free_ammonia_mg_l=FREE_AMMONIA_SEED if is_seed or is_acid else FREE_AMMONIA_MOST,
        ec_ds_m=min(crop.ec_max, SEED_EC_MOST) if is_seed else crop.ec_max,
        band=band,
        season_days=crop.season_days,
    )


def is_fed(doses: Sequence[tuple[Material, float]]) -> bool:
    """Return whether any dose is a meal, manure, guano, frass or organic liquid."""
    return any(
        FEEDING_TAGS & {*m.tags}
        or (m.acidity_role == "organic_n" and m.release_class not in ("none", "coated"))
        for m, _ in doses
    )


@cites("ccqc", "ammonium and maturity")
@cites("bennett1970", "2 to 3 mg/L of free ammonia injures seedlings")
@cites("pelk", "criteria together, three days running, each for what lies ahead too")
def passes(
    trace: Trace,
    litres: float,
    ec_ds_m: Floats,
    limits: Limits,
    also: Mapping[str, NDArray[np.bool_]] | None = None,
    *,
    is_watered: bool = False,
) -> dict[str, NDArray[np.bool_]]:
    """Return which criterion holds on which day, for every draw.

    Parameters
    ----------
    trace : Trace
        Of an ensemble, or of the central line.
    litres : float
        Size of the heap. [L]
    ec_ds_m : array, shape like the trace's edges
        Salts. [dS/m]
    limits : Limits
        What the crop asks.
    also : mapping of str to array of bool, shape (at least n_days + 1,), optional
        What holds on which day of the central line, worked out elsewhere.
    is_watered : bool
        Whether watering washes and brings salts: then they are judged over the season.

    Returns
    -------
    dict of str to array of bool, shape (n_days + 1, ...)
        By criterion.
    """
    warm = WARM_MOST_LARGE_C if litres > LARGE_L else WARM_MOST_C
    ph, fast = trace.daily("ph"), trace.daily("fast_left_mg_l")
    over_air = trace.daily("over_air_c")
    season = int(limits.season_days)
    cool = (over_air <= warm) & (
        (trace.daily("temperature_c") <= limit("heat", "harms_c")) | (over_air <= 0)
    )
    calm = (trace.daily("ammonium_mg_l") <= limits.ammonium_mg_l) & (
        trace.daily("free_ammonia_mg_l") <= limits.free_ammonia_mg_l
    )
    unsalted = trace.each_day(ec_ds_m) <= limits.ec_ds_m
    tests = {
        "warmth": over_the_next(cool, FIRST_ROOTS_DAYS),
        "ammonium": over_the_next(calm, FIRST_ROOTS_DAYS),
        "pulse": fast <= np.maximum(PULSE_LEFT_MG_L, PULSE_LEFT_SHARE * fast[0]),
        "salts": over_the_next(unsalted, season if is_watered else FIRST_ROOTS_DAYS),
    }
    if limits.band is not None:
        low, high = limits.band
        inside = (ph >= low - BAND_SLACK) & (ph <= high + BAND_SLACK)
        tests["band"] = over_the_next(inside, season)
    for key, holds in (also or {}).items():
        there = holds[: len(ph)]
        tests[key] = there if ph.ndim == 1 else np.repeat(there[:, None], ph.shape[1], axis=1)
    return tests


def over_the_next(holds: NDArray[np.bool_], days: int) -> NDArray[np.bool_]:
    """Return on which days something holds, and goes on to hold, as far as is looked at.

    Parameters
    ----------
    holds : array of bool, shape (n_days, ...)
        Day by day.
    days : int
        How far ahead. [d]

    Returns
    -------
    array of bool, shape like `holds`
        Whether it holds from each day over the next `days`.
    """
    count = len(holds)
    failed = np.zeros((count + 1, *holds.shape[1:]), dtype=np.int16)
    np.cumsum(~holds, axis=0, out=failed[1:])
    end = np.minimum(np.arange(count) + days + 1, count)
    return np.asarray(failed[end] == failed[:-1])


def readiness(
    held: Mapping[str, NDArray[np.bool_]], limits: Limits, weights: Floats | None = None
) -> Readiness:
    """Return when a heap is ready by what holds on which day.

    Parameters
    ----------
    held : mapping of str to array of bool, shape (n_days + 1,) or (n_days + 1, n_draws)
        As `passes` gives it; a day is sought within a year.
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
    whole = {k: v if v.ndim > 1 else v[:, None] for k, v in held.items()}
    good = {k: v[: READY_WITHIN_DAYS + 1] for k, v in whole.items()}
    together = np.logical_and.reduce(list(whole.values()))
    first = _first_days(together, floor)
    days = min(len(together) - 1, READY_WITHIN_DAYS)
    ready = np.where(first <= days, first, NEVER)
    p10, p50, p90 = _quantile_days(ready, days, weights)
    later = _quantile_days(first, len(together) - 1, weights)[1] if p50 is None else None
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
    return Readiness(p10, p50, p90, tuple(criteria), days, limits.floor_days, later)


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
    return replace(central, p10=low, p90=high, criteria=tuple(criteria))


def _around(day: int | None, low: int | None, high: int | None) -> tuple[int | None, int | None]:
    """Return a range that holds its middle, open where it may never come; none without a day."""
    if day is None:
        return None, None
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
