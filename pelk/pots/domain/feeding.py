"""The feeding plan of a group of pots: reckoned once, kept, and set against what was done."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import dataclass, replace
from datetime import date, timedelta

import msgspec

from pelk.barrow.models import Batch
from pelk.core.advice.feeding_needs import GIVES, Lack
from pelk.core.advice.feeding_plan import (
    AFTER_LAST_DAYS,
    PERENNIAL,
    FeedingPlan,
    grows_from,
    plan_feeding,
)
from pelk.core.advice.feedings import Pots
from pelk.core.advice.judged_life import runs_short_on
from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import crop
from pelk.core.crops.living import season_nitrogen
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.evaluation.season_supply import ElementSupply
from pelk.core.simulation.soil_forecast import SoilForecast
from pelk.core.vessels.planting import diameter_of
from pelk.pots.domain.feeds import dressing_feed, feed_of, feeds_of
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.soils.domain.living import follow
from pelk.soils.models import Soil
from pelk.yards.models import Yard

HEAP_DAYS = 366
UNKNOWN_SHARE = 0.5


def reckon(group: PotGroup, today: date) -> FeedingPlan | None:
    """Return the feeding plan of a group by all that is known of it; None before planting."""
    if group.planted_on is None:
        return None
    fills = list(group.fills.filter(deleted_at=None).select_related("batch"))
    deeds = list(group.deeds.filter(deleted_at=None).planning())
    yard: Yard = group.yard
    style, feeds, grown = yard.style, feeds_of(group), crop(group.crop)
    soil = _soil(group, fills, group.planted_on)
    salts = next((d for d in deeds if d.figures.get("ec_ds_m")), None)
    pots = Pots(
        crop=grown,
        planted_on=group.planted_on,
        pot_l=group.pot_l,
        count=group.count,
        surface_cm=diameter_of(group.surface_cm2),
        normals_c=yard.normals_c,
        soil_n=soil.weeks,
        run_out_day=soil.run_out,
        feeding=style.feeding,
        inputs=style.inputs,
        filled_on=min((f.on for f in fills if f.how == PotFill.How.FILLED), default=None),
        is_topped=any(f.how == PotFill.How.TOPPED for f in fills),
        potassium_short_mg_l=soil.short_of("K"),
        ec_ds_m=salts.figures["ec_ds_m"] if salts else None,
        ec_on=salts.on if salts else None,
        buds_on=_seen(deeds, PotDeed.Kind.BUDS),
        leaves_on=_seen(deeds, PotDeed.Kind.LEAVES),
        dressing=dressing_feed(feeds.dressing.material, grown),
        liquid=feed_of(feeds.liquid.material, "liquid") if feeds.liquid else None,
        potash=feeds.potash.material.short_name if feeds.potash else "",
        strength=group.strength,
    )
    return plan_feeding(pots, today, soil.lacks, feeds.by_element)


def _seen(deeds: Sequence[PotDeed], kind: str) -> date | None:
    return next((d.on for d in deeds if d.kind == kind), None)


@dataclass(frozen=True, slots=True)
class _Gives:
    """What the soil gives the crop: nitrogen each week, the day it falls behind, what lacks."""

    weeks: tuple[float, ...]
    run_out: int | None
    lacks: tuple[Lack, ...]

    def short_of(self, element: str) -> float:
        """Return how much of an element lacks. [mg/L]."""
        return next((x.short_mg_l for x in self.lacks if x.element == element), 0.0)


def _soil(group: PotGroup, fills: Sequence[PotFill], planted_on: date) -> _Gives:
    """Return what the soil gives the crop.

    Of soil that is not known nothing is reckoned with but half of the season's potassium.
    """
    if group.soil is not None:
        with suppress(PelkError):
            return _of_its_life(group, group.soil, planted_on)
    filled = [f for f in fills if f.on <= planted_on]
    known = [
        (f, f.batch, elements)
        for f in filled
        if f.batch and (elements := _elements(group, planted_on, f.batch))
    ]
    whole = sum(f.taken_l for f in filled)
    if not known or not whole:
        wanted = crop(group.crop).uptake_mg_l["K"]
        return _Gives((), 0, (Lack("K", UNKNOWN_SHARE * wanted, wanted, 0),))
    weeks: dict[int, float] = {}
    short: dict[str, float] = {}
    for fill, _, elements in known:
        share = fill.taken_l / whole
        for i, week in enumerate(elements["N"].weeks):
            weeks[i] = weeks.get(i, 0.0) + share * week.taken
        for element, held in elements.items():
            short[element] = short.get(element, 0.0) + share * float(held.season.short[-1])
    soil = tuple(weeks[i] for i in sorted(weeks))
    wants = crop(group.crop).uptake_mg_l
    lacks = tuple(Lack(e, mg_l, wants[e], 0) for e, mg_l in short.items() if e != "N")
    fill, batch, elements = known[-1]
    if fill.taken_l == whole:
        day = elements["N"].season.run_out_day
        behind = None if day is None else day - _growth_day(group, planted_on, batch)
        return _Gives(soil, behind, lacks)
    wanted_n = [w.wanted for w in elements["N"].weeks]
    late = (7 * i for i, (s, w) in enumerate(zip(soil, wanted_n, strict=False)) if s < 0.9 * w)
    return _Gives(soil, next(late, None), lacks)


def _of_its_life(group: PotGroup, soil: Soil, planted_on: date) -> _Gives:
    """Return the same from the soil's own life: what was given, washed out and read is in it.

    By the litre of the preset: plants in a pot of another size want as much less or more.
    """
    grown = crop(group.crop)
    begun = grows_from(grown, planted_on, group.yard.normals_c)
    first, length = max(soil.day_of(begun), 0), int(grown.season_days)
    forecast = follow(soil, soil.date_of(first + length + 7), samples=0)
    scale = grown.uptake_mg_l["N"] / season_nitrogen(grown, group.plants, group.pot_l)
    starts = list(range(first, first + length, 7))
    ends = [start + 7 for start in starts]
    wanted = forecast.gained("N", "wanted", starts, ends)
    got = scale * (wanted - forecast.gained("N", "short", starts, ends))
    weeks = tuple(float(week) for week in got)
    day = runs_short_on(forecast, "N", first)
    lacks = [_lack(forecast, element, first) for element in GIVES]
    return _Gives(weeks, None if day is None else day - first, tuple(x for x in lacks if x))


def _lack(forecast: SoilForecast, element: str, first: int) -> Lack | None:
    """Return what runs short of an element from a day to the end of what was followed."""
    day = runs_short_on(forecast, element, first)
    if day is None:
        return None
    last = forecast.life.days
    short, wanted = (
        float(forecast.gained(element, name, first, last)) for name in ("short", "wanted")
    )
    return Lack(element, short, wanted, day - first)


def _growth_day(group: PotGroup, planted_on: date, batch: Batch) -> int:
    """Return how old a heap was when the crop of some pots began to grow."""
    begun = grows_from(crop(group.crop), planted_on, group.yard.normals_c)
    return min(max((begun - batch.date_of(0)).days, 0), HEAP_DAYS)


def _elements(group: PotGroup, planted_on: date, batch: Batch) -> dict[str, ElementSupply]:
    """Return what a heap supplies by element, with this crop in it; empty where unknown."""
    plan, shelf = batch.plan_as_mixed()
    plan = replace(plan, crop=group.crop, planted_day=_growth_day(group, planted_on, batch))
    try:
        supply = evaluate(plan, shelf, samples=0).supply
    except PelkError:
        return {}
    return supply.elements if supply else {}


def left_in(group: PotGroup, today: date) -> dict[str, float]:
    """Return what an earlier filling left in a litre, by element; ``N free`` is the mineral part.

    Empty where no filling was one of the yard's heaps. [mg/L]
    """
    if group.soil is not None and group.soil.day_of(today) > 0:
        with suppress(PelkError):
            return _left_by_its_life(group.soil, today)
    if group.planted_on is None:
        return {}
    fills = list(group.fills.filter(deleted_at=None).select_related("batch"))
    whole = sum(f.taken_l for f in fills)
    contents: dict[str, float] = {}
    for fill in fills:
        if fill.batch is None:
            continue
        share = fill.taken_l / whole
        for element, row in _elements(group, group.planted_on, fill.batch).items():
            season = row.season
            day = min(max((today - fill.batch.date_of(0)).days, 0), len(season.taken) - 1)
            gone = float(season.taken[day] + season.leached[day])
            left = max((row.total.total.value or 0.0) - gone, 0.0)
            contents[element] = contents.get(element, 0.0) + share * left
            if element == "N":
                contents["N free"] = contents.get("N free", 0.0) + share * float(season.pool[day])
    return contents


def _left_by_its_life(soil: Soil, today: date) -> dict[str, float]:
    """Return what is left in a litre by the course of a soil. [mg/L]."""
    forecast = follow(soil, today, samples=0)
    litres = float(forecast.litres[-1])
    left = {e: max(held.balance["held"], 0.0) / litres for e, held in forecast.elements.items()}
    left["N free"] = float(forecast.elements["N"].free[-1])
    return left


def plan_of(group: PotGroup, today: date) -> FeedingPlan | None:
    """Return the plan as it was reckoned last; None before planting.

    What has none yet, and after a season what lives on, is reckoned anew and kept.
    """
    if group.planted_on is None:
        return None
    if group.plan:
        kept = msgspec.convert(group.plan, FeedingPlan)
        after = kept.last_nitrogen + timedelta(days=AFTER_LAST_DAYS)
        if group.crop not in PERENNIAL or today <= max(after, kept.season[0]):
            return kept
    plan = reckon(group, today)
    PotGroup.objects.filter(pk=group.pk).update(plan=msgspec.to_builtins(plan))
    return plan
