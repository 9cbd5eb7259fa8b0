"""The pots of a yard as a small plan: place by place, from above, all at one scale."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from itertools import groupby

from django.utils.safestring import SafeString

from pelk.pots.domain.due import FeedRow
from pelk.pots.models import PotFill, PotGroup
from pelk.pots.selectors import OLD_SOIL, layers_of, seasons_of
from pelk.ui.pots_from_above import FromAbove, pots_svg, scale_for
from pelk.ui.units import Measures

# Words of a place's name that say what stands at its edge.
UNDER_GLASS = ("glass", "greenhouse", "lean-to", "tunnel", "conservatory", "frame", "window")
AT_A_WALL = ("wall", "fence", "house", "shed")
METRE_CM, YARDSTICK_CM = 100.0, 91.44


@dataclass(frozen=True, slots=True)
class Standing:
    """Some pots on the plan, and what waits for them."""

    group: PotGroup
    picture: SafeString
    each: str
    waits: FeedRow | None
    seasons: int | None
    not_drawn: int


@dataclass(frozen=True, slots=True)
class Place:
    """A place of the yard: its name, what stands at its edge, the pots there."""

    name: str
    edge: str
    pots: list[Standing]


@dataclass(frozen=True, slots=True)
class YardPlan:
    """The whole plan."""

    places: list[Place]
    late: list[FeedRow]
    rule_px: int
    rule: str


def yard_plan(
    groups: Sequence[PotGroup],
    fills: Sequence[PotFill],
    due: dict[int, FeedRow],
    today: date,
    measures: Measures,
) -> YardPlan:
    """Draw groups, given by place, with their fillings, newest first, and what waits."""
    filled: dict[int, list[PotFill]] = {}
    for fill in fills:
        filled.setdefault(fill.group_id, []).append(fill)
    above = {g.pk: _above(g, filled.get(g.pk, []), today) for g in groups}
    scale = scale_for(list(above.values()))
    places = []
    for name, held in groupby(groups, key=lambda g: g.place):
        pots = [_standing(g, above[g.pk], scale, due.get(g.pk), measures) for g in held]
        places.append(Place(name, _edge(name), pots))
    shown = {group.pk for group in groups}
    late = [row for row in due.values() if row.state == "late" and row.group.pk in shown]
    rule_cm = YARDSTICK_CM if measures.is_us else METRE_CM
    rule = "1 yard" if measures.is_us else "1 m"
    return YardPlan(places, late, round(rule_cm * scale), rule)


def _above(group: PotGroup, fills: list[PotFill], today: date) -> FromAbove:
    layers = layers_of(fills)
    planted = OLD_SOIL if group.planted_on else ""
    return FromAbove(
        key=str(group.pk),
        kind=group.kind,
        count=group.count,
        surface_cm2=group.surface_cm2,
        texture=layers[-1].texture if layers else planted,
        seasons=seasons_of(group, fills, today),
    )


def _standing(
    group: PotGroup, above: FromAbove, scale: float, waits: FeedRow | None, measures: Measures
) -> Standing:
    return Standing(
        group,
        pots_svg(above, scale),
        measures.volume(group.pot_l),
        waits,
        above.seasons,
        above.not_drawn,
    )


def _edge(name: str) -> str:
    said = name.lower()
    if any(word in said for word in UNDER_GLASS):
        return "glass"
    return "wall" if any(word in said for word in AT_A_WALL) else ""
