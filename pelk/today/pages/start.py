"""The first page of a yard: where to begin, and mixes that work."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from pelk.bench.domain.starting_points import starting_points
from pelk.bench.pages.book import StartingMix, starting_mixes
from pelk.core.base.regions import climates, regions
from pelk.pots.domain.feeding import plan_of
from pelk.pots.models import PotGroup
from pelk.ui.money import currencies
from pelk.ui.season_nitrogen import PotsNitrogen
from pelk.yards.models import Yard

FIRST_SHOWN = (
    "seedling-peat",
    "fruiting-peat",
    "ericaceous-peat",
    "citrus-bark",
    "lean-auricula",
    "fruiting-living",
)
# Groups looked at for the season's nitrogen, and those drawn.
LOOKED_AT, MOST_SEASONS = 40, 6
WATERS = {
    "unknown": "not said yet",
    "report": "a table of the supplier",
    "strip": "test strips",
    "hardness": "its hardness",
    "ec": "its conductivity",
}


@dataclass(frozen=True, slots=True)
class StartPage:
    """What the first page says of the yard, and offers."""

    region: str
    climate: str
    measures: str
    water: str
    money: str
    mixes: list[StartingMix]
    more: list[StartingMix]


def start_page(yard: Yard) -> StartPage:
    """Return the first page of a yard."""
    points = starting_points()
    first = [points[key] for key in FIRST_SHOWN if key in points]
    first = (first + [p for p in points.values() if p not in first])[: len(FIRST_SHOWN)]
    region, climate = regions().get(yard.region), climates().get(yard.climate)
    return StartPage(
        region.name if region else "a place not said yet",
        climate.name.lower() if climate else "as the months on the Yard page say",
        str(yard.get_system_display()),
        WATERS[yard.water_analysis.known],
        dict(currencies()).get(yard.currency, yard.currency),
        starting_mixes(first, yard),
        starting_mixes([p for p in points.values() if p not in first], yard),
    )


def seasons_of_pots(yard: Yard, today: date) -> list[PotsNitrogen]:
    """Return the nitrogen of the planted groups' seasons, those that run short first."""
    groups = PotGroup.objects.of(yard).live().filter(planted_on__isnull=False)[:LOOKED_AT]
    rows = []
    for group in groups:
        plan = plan_of(group, today)
        if plan is None or not any(plan.wanted):
            continue
        gets = [sum(week) for week in zip(plan.soil, plan.dressed, plan.poured, strict=True)]
        url = group.get_absolute_url()
        rows.append(
            PotsNitrogen(group.name, url, plan.season[0], plan.wanted, gets, plan.short_weeks)
        )
    return sorted(rows, key=lambda row: -len(row.short_weeks))[:MOST_SEASONS]
