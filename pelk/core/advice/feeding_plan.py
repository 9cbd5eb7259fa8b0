"""The feeding of some pots, planned ahead: from what the soil gives and what the crop wants."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta

import numpy as np

from pelk.core.advice.feeding_needs import Giver, Lack, needs
from pelk.core.advice.feeding_rows import (
    dressings,
    early_spring,
    first_days,
    liquids,
    looks,
    seen,
    spread,
    teas,
)
from pelk.core.advice.feedings import Feeding, Pots
from pelk.core.base.errors import PelkError
from pelk.core.base.sentences import capital
from pelk.core.base.sources import cites
from pelk.core.crops.demand import uptake_by_day
from pelk.core.crops.feeding_rules import COLD_C, is_feed_due
from pelk.core.crops.groups import Crop

# No nitrogen in the weeks before it gets cold; hardy shrubs none after late summer.
BEFORE_COLD_DAYS = 49
# High salts hold these back for so long.
FEEDS, HELD_DAYS = frozenset(["dress", "liquid", "acid", "potash", "need", "coated"]), 14
# So long after the last nitrogen the next year is planned.
AFTER_LAST_DAYS = 28
AWAKE_C = 8.0
# What may be wanting before a crop is called hungry: of what it wanted so far, or in all.
BEHIND, BEHIND_OF_ALL = 0.10, 0.04
PERENNIAL = frozenset(["ericaceous", "citrus", "foliage", "med-herbs"])


@dataclass(frozen=True, slots=True)
class FeedingPlan:
    """A season of feeding.

    Attributes
    ----------
    season : tuple of date
        First and last day.
    last_nitrogen : date
        No nitrogen after it: the winter rule.
    run_out_on : date or None
        When the soil alone runs short.
    wanted, soil, dressed, poured : tuple of float
        Nitrogen of each week of the season. [mg/L]
    """

    season: tuple[date, date]
    last_nitrogen: date
    run_out_on: date | None
    rows: tuple[Feeding, ...]
    wanted: tuple[float, ...]
    soil: tuple[float, ...]
    dressed: tuple[float, ...]
    poured: tuple[float, ...]

    @property
    def short_weeks(self) -> tuple[int, ...]:
        """The weeks in which soil and feeds leave over a tenth wanting."""
        given = np.add(np.add(self.soil, self.dressed), self.poured)
        wanted = np.cumsum(self.wanted)
        allowed = np.maximum(BEHIND * wanted, BEHIND_OF_ALL * wanted[-1])
        return tuple(np.flatnonzero(np.cumsum(given) < wanted - allowed).tolist())

    @property
    def closing_days(self) -> float | None:
        """How often the liquid would have to come in the hungry weeks to close the gap, in days.

        None where nothing is wanting, or no liquid is planned.
        """
        each = next((r.nitrogen_mg_l for r in self.rows if r.kind == "liquid"), 0.0)
        weeks = self.short_weeks
        if not weeks or not each:
            return None
        span = slice(weeks[0], weeks[-1] + 1)
        without = np.array(self.wanted[span]) - self.soil[span] - self.dressed[span]
        lacks = float(np.maximum(without, 0.0).sum()) / len(without)
        return 7 * each / lacks if lacks > 0 else None


@cites(
    "pelk", "awake from the first month at 8 °C on; the last nitrogen seven weeks before the cold"
)
def growing_year(on: date, normals_c: Sequence[float]) -> tuple[date, date]:
    """Return when growth begins, and after when no nitrogen is given, in the year of a day.

    Parameters
    ----------
    on : date
        Any day.
    normals_c : sequence of float
        Mean of each month, January first. [°C]

    Returns
    -------
    tuple of date
        First of the first month that is awake, counted from the coldest month on; and
        seven weeks before the first cold month after the warmest. Where it never gets
        cold, a whole year.

    Raises
    ------
    PelkError
        Without twelve months.
    """
    if len(normals_c) != 12:
        raise PelkError("found no twelve months, allowed: one mean for each", "normals_c")
    coldest = min(range(12), key=lambda m: normals_c[m])
    order = [(coldest + i) % 12 for i in range(12)]
    begins = next((i for i in order if normals_c[i] >= AWAKE_C), order[0])
    warmest = max(range(12), key=lambda m: normals_c[m])
    after = [(warmest + i) % 12 for i in range(1, 12)]
    cold = next((m for m in after if normals_c[m] < COLD_C), None)
    start = date(on.year, begins + 1, 1)
    if start > on and (start - on).days > 120:
        start = date(on.year - 1, begins + 1, 1)
    if cold is None:
        return start, start + timedelta(days=364)
    year = start.year + (cold < begins)
    return start, date(year, cold + 1, 1) - timedelta(days=BEFORE_COLD_DAYS)


@cites(
    "pelk",
    "dressings cover what the coming interval lacks, less the liquids; caps and lead times of "
    "`feeding`",
)
@cites(
    "trade",
    "a quick liquid four weeks after planting and monthly, tea within a day, potash at the buds",
)
def plan_feeding(
    pots: Pots, today: date, lacking: Sequence[Lack] = (), givers: Mapping[str, Giver] | None = None
) -> FeedingPlan:
    """Return what to feed some pots in the season that a day falls in.

    Parameters
    ----------
    pots : Pots
        What grows in what.
    today : date
        Chooses the season of what lives for years.
    lacking : sequence of Lack
        What else than nitrogen runs short.
    givers : mapping of str to Giver
        What gives each of it.

    Returns
    -------
    FeedingPlan
        In the order of its days; what waits for a bud or a leaf stands last.
    """
    start, first_season = _season_start(pots, today)
    spring, last_n = growing_year(start, pots.normals_c)
    length = int(pots.crop.season_days)
    if pots.crop.slug in PERENNIAL:
        length = max((last_n - start).days, length)
    end = start + timedelta(days=length)
    if last_n <= start:  # planted so late that it feeds in the next year
        last_n = growing_year(start + timedelta(days=200), pots.normals_c)[1]
    count = length // 7 + 1
    wanted = _weekly(pots.crop, length, count)
    soil = [*pots.soil_n[:count]] if first_season else []
    soil += [0.0] * (count - len(soil))
    run_out = pots.run_out_day if first_season else 0
    stop = min(end, last_n)
    acid = early_spring(pots, start, spring)
    poured = _awake(liquids(pots, start, stop), pots)
    given = spread([*poured, *acid], start, count)
    dressed = dressings(pots, start, stop, run_out, wanted, soil, given)
    rows = [
        *first_days(pots, start, first_season=first_season),
        *poured,
        *dressed,
        *acid,
        *_awake(teas(pots, start, stop), pots),
        *looks(pots, start, stop),
        *seen(pots, stop),
        *needs(pots, lacking, givers or {}, start, stop),
    ]
    rows = [_held_back(row, pots) for row in rows]
    rows.sort(key=lambda row: (row.on is None, row.on or end, row.key))
    return FeedingPlan(
        (start, end),
        last_n,
        None if run_out is None else start + timedelta(days=run_out),
        tuple(rows),
        tuple(wanted),
        tuple(soil),
        tuple(spread([*dressed, *acid], start, count)),
        tuple(spread(poured, start, count)),
    )


def _held_back(row: Feeding, pots: Pots) -> Feeding:
    """Say on a feed that follows a high reading of salts why it waits."""
    if row.on is None or pots.ec_on is None or row.kind not in FEEDS:
        return row
    if not 0 <= (row.on - pots.ec_on).days <= HELD_DAYS:
        return row
    warm = pots.normals_c[row.on.month - 1]
    is_due, why = is_feed_due(pots.ec_ds_m, pots.crop.ec_warn, 0.0, 1.0, warm)
    care = f"{capital(why)}. {row.care}".strip()
    return row if is_due else replace(row, care=care)


def _awake(rows: list[Feeding], pots: Pots) -> list[Feeding]:
    """Leave out what would lie in a month too cold for it to be used."""
    return [r for r in rows if r.on and pots.normals_c[r.on.month - 1] >= COLD_C]


@cites("pelk", "what lives for years and is planted in its winter grows from the spring on")
def grows_from(crop: Crop, planted_on: date, normals_c: Sequence[float]) -> date:
    """Return when a crop that was planted begins to grow.

    Parameters
    ----------
    crop : Crop
        The group.
    planted_on : date
        When it was planted.
    normals_c : sequence of float
        Mean of each month, January first. [°C]
    """
    if crop.slug not in PERENNIAL:
        return planted_on
    spring, last_n = growing_year(planted_on, normals_c)
    if last_n < planted_on:
        spring, _ = growing_year(planted_on + timedelta(days=240), normals_c)
    return max(planted_on, spring)


def _season_start(pots: Pots, today: date) -> tuple[date, bool]:
    """Return where the season begins, and whether it is the first since planting."""
    begun = grows_from(pots.crop, pots.planted_on, pots.normals_c)
    if pots.crop.slug not in PERENNIAL or (today - begun).days < pots.crop.season_days:
        return begun, True
    spring, last_n = growing_year(today, pots.normals_c)
    if today > last_n + timedelta(days=AFTER_LAST_DAYS):
        spring, _ = growing_year(last_n + timedelta(days=240), pots.normals_c)
    return (spring, False) if spring > begun else (begun, True)


def _weekly(crop: Crop, length: int, count: int) -> list[float]:
    edges = np.minimum(np.arange(count + 1) * 7.0, length)
    return [float(x) for x in np.diff(uptake_by_day(crop.uptake_mg_l["N"], length, edges))]
