"""The first page of a yard: where to begin, and mixes that work."""

from __future__ import annotations

from dataclasses import dataclass

from django.utils.safestring import SafeString

from pelk.bench.domain.starting_points import StartingPoint, starting_points
from pelk.core.base.regions import climates, regions
from pelk.shelf.selectors import known_materials
from pelk.ui.money import currencies
from pelk.ui.slab import slab_svg
from pelk.ui.textures import texture_of
from pelk.yards.models import Yard

FIRST_SHOWN = (
    "seedling-peat",
    "fruiting-peat",
    "ericaceous-peat",
    "citrus-bark",
    "lean-auricula",
    "fruiting-living",
)
WATERS = {
    "unknown": "not said yet",
    "report": "a table of the supplier",
    "strip": "test strips",
    "hardness": "its hardness",
    "ec": "its conductivity",
}


@dataclass(frozen=True, slots=True)
class Begun:
    """A mix to begin from, with its slab."""

    point: StartingPoint
    slab: SafeString


@dataclass(frozen=True, slots=True)
class StartPage:
    """What the first page says of the yard, and offers."""

    region: str
    climate: str
    measures: str
    water: str
    money: str
    mixes: list[Begun]
    more: list[Begun]


def start_page(yard: Yard) -> StartPage:
    """Return the first page of a yard."""
    points = starting_points()
    slugs = {part.material for point in points.values() for part in point.document.bulk}
    rows = known_materials(yard, slugs)

    def begun(point: StartingPoint) -> Begun:
        layers = [
            (texture_of(rows[part.material]), part.parts or part.percent or part.amount or 0.0)
            for part in point.document.bulk
            if part.material in rows
        ]
        return Begun(point, slab_svg(point.key, layers))

    first = [points[key] for key in FIRST_SHOWN if key in points]
    first = (first + [p for p in points.values() if p not in first])[: len(FIRST_SHOWN)]
    region, climate = regions().get(yard.region), climates().get(yard.climate)
    return StartPage(
        region.name if region else "a place not said yet",
        climate.name.lower() if climate else "as the months on the Yard page say",
        str(yard.get_system_display()),
        WATERS[yard.water_analysis.known],
        dict(currencies()).get(yard.currency, yard.currency),
        [begun(point) for point in first],
        [begun(point) for point in points.values() if point not in first],
    )
