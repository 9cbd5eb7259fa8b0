"""What the feeds of a plan are to the soil: done, still planned, or answered by another feed."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from typing import Any

from pelk.core.advice.feedings import Feeding
from pelk.core.materials.material import Material
from pelk.core.simulation.life import Placed
from pelk.pots.domain.due import FeedRow, rows_of
from pelk.pots.domain.fed import Given
from pelk.pots.domain.feeds import Feeds, feeds_of
from pelk.pots.models import PotGroup
from pelk.soils.models import SoilEvent

# A feed answers a row of the plan that lies no further off.
NEAR_DAYS = 12


@dataclass(frozen=True, slots=True)
class Fed:
    """A row of a plan as the soil gets it: amounts for one pot."""

    do: str
    data: dict[str, Any]
    material: Material | None = None
    grams: float = 0.0


def fed_by_plan(group: PotGroup, feeding: Feeding) -> Fed | None:
    """Return what a row of the plan is to the soil, once it is done; None for a look at it."""
    return _fed(feeds_of(group), feeding)


def planned_events(group: PotGroup, rows: Sequence[FeedRow], today: date) -> list[SoilEvent]:
    """Return the feeds that are still to come as events that are not kept."""
    feeds, events = feeds_of(group), []
    for row in rows:
        on = row.feeding.on
        fed = _fed(feeds, row.feeding) if on and on > today and not row.is_past else None
        if fed is not None and on:
            events.append(
                SoilEvent(yard=group.yard, soil=group.soil, on=on, do=fed.do, data=fed.data)
            )
    return events


def row_answered(group: PotGroup, given: Given, on: date) -> FeedRow | None:
    """Return the row of the plan that a feed answers: the nearest open one of that product."""
    deeds = list(group.deeds.filter(deleted_at=None).answering())
    feeds = feeds_of(group)
    near = [
        row
        for row in rows_of(group, deeds, on)
        if not row.is_decided
        and row.feeding.on
        and abs((row.feeding.on - on).days) <= NEAR_DAYS
        and (fed := _fed(feeds, row.feeding)) is not None
        and fed.material is not None
        and fed.material.slug == given.slug
    ]
    return min(near, key=lambda r: abs(((r.feeding.on or on) - on).days), default=None)


def _fed(feeds: Feeds, feeding: Feeding) -> Fed | None:
    if feeding.kind == "water" and feeding.l_per_pot:
        return Fed(SoilEvent.Do.RINSED, {"litres": feeding.l_per_pot})
    material = feeds.of(feeding.kind, feeding.key.removeprefix("need-"))
    if material is None:
        return None
    if feeding.ml_per_l:
        dense = material.density.typ if material.density else 1.0
        g_per_l, litres = feeding.ml_per_l * dense, feeding.l_per_pot
        data = {"material": material.slug, "g_per_l": g_per_l, "litres": litres}
        return Fed(SoilEvent.Do.POURED, data, material, g_per_l * litres)
    if not feeding.g_per_pot:
        return None
    data = {"material": material.slug, "grams": feeding.g_per_pot, "placed": Placed.SCRATCHED.value}
    return Fed(SoilEvent.Do.DRESSED, data, material, feeding.g_per_pot)
