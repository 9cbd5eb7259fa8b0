"""The feeding plan of a group of pots: reckoned once, kept, and set against what was done."""

from __future__ import annotations

from collections.abc import Sequence
from contextlib import suppress
from dataclasses import replace
from datetime import date, timedelta

import msgspec

from pelk.barrow.models import Batch
from pelk.core.advice.feeding_plan import (
    AFTER_LAST_DAYS,
    PERENNIAL,
    FeedingPlan,
    grows_from,
    plan_feeding,
)
from pelk.core.advice.feeding_rows import Feed, Pots
from pelk.core.advice.judged_life import runs_short_on
from pelk.core.advice.whole_doses import most_of
from pelk.core.base.errors import PelkError
from pelk.core.crops.feeding_rules import INTERVAL_WEEKS
from pelk.core.crops.groups import Crop, crop
from pelk.core.crops.living import season_nitrogen
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.evaluation.season_supply import ElementSupply
from pelk.core.materials.feeding_styles import FeedingStyle, Inputs, is_plant_or_mineral
from pelk.core.materials.material import Material
from pelk.core.vessels.planting import diameter_of
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.shelf.selectors import known_materials, shelf_slugs
from pelk.soils.domain.living import follow
from pelk.soils.models import Soil
from pelk.yards.models import Yard

# What is dressed with, in the order it is looked for on the shelf, and how long ahead.
DRESSINGS = {
    "poultry-manure-pellets": "pellets",
    "alfalfa-meal": "alfalfa",
    "soybean-meal": "seed meal",
    "cottonseed-meal": "seed meal",
    "feather-meal": "hot meal",
    "fish-meal": "hot meal",
}
ACID_DRESSINGS = ("cottonseed-meal", "soybean-meal")
LIQUIDS = ("fish-hydrolysate", "fish-emulsion")
POTASH = "sulfate-of-potash"
HEAP_DAYS = 366
UNKNOWN_SHARE = 0.5


def reckon(group: PotGroup, today: date) -> FeedingPlan | None:
    """Return the feeding plan of a group by all that is known of it; None before planting."""
    if group.planted_on is None:
        return None
    fills = list(group.fills.filter(deleted_at=None).select_related("batch"))
    deeds = list(group.deeds.filter(deleted_at=None).select_related("event"))
    yard: Yard = group.yard
    style, products = yard.style, products_of(group)
    soil, run_out, potassium = _soil(group, fills, group.planted_on)
    salts = next((d for d in deeds if d.figures.get("ec_ds_m")), None)
    pots = Pots(
        crop=crop(group.crop),
        planted_on=group.planted_on,
        pot_l=group.pot_l,
        count=group.count,
        surface_cm=diameter_of(group.surface_cm2),
        normals_c=yard.normals_c,
        soil_n=soil,
        run_out_day=run_out,
        feeding=style.feeding,
        inputs=style.inputs,
        filled_on=min((f.on for f in fills if f.how == PotFill.How.FILLED), default=None),
        is_topped=any(f.how == PotFill.How.TOPPED for f in fills),
        potassium_short_mg_l=potassium,
        ec_ds_m=salts.figures["ec_ds_m"] if salts else None,
        ec_on=salts.on if salts else None,
        buds_on=_seen(deeds, PotDeed.Kind.BUDS),
        leaves_on=_seen(deeds, PotDeed.Kind.LEAVES),
        dressing=_dressing(products["dressing"], crop(group.crop)),
        liquid=_feed(products["liquid"], "liquid") if "liquid" in products else None,
        potash=products[POTASH].short_name if POTASH in products else "",
    )
    return plan_feeding(pots, today)


def products_of(group: PotGroup) -> dict[str, Material]:
    """Return what a group is dressed and fed with: as chosen, else from the shelf, else usual."""
    yard: Yard = group.yard
    rows = known_materials(yard, {*DRESSINGS, *LIQUIDS, POTASH, group.dressing, group.liquid})
    known = {slug: row.core for slug, row in rows.items()}
    mine, style = shelf_slugs(yard), yard.style
    is_acid = "ericaceous" in crop(group.crop).tags
    dressings = ACID_DRESSINGS if is_acid else tuple(DRESSINGS)
    products = {"dressing": _choice(group.dressing, dressings, known, mine, style)}
    liquids = [s for s in LIQUIDS if s in known and _allows(style, known[s])]
    if group.liquid in known or liquids:
        products["liquid"] = _choice(group.liquid, tuple(liquids), known, mine, style)
    if POTASH in known:
        products[POTASH] = known[POTASH]
    return products


def _choice(
    said: str,
    usual: tuple[str, ...],
    known: dict[str, Material],
    mine: frozenset[str],
    style: FeedingStyle,
) -> Material:
    if said in known:
        return known[said]
    fits = [s for s in usual if s in known and _allows(style, known[s])]
    fits = fits or [s for s in ("alfalfa-meal",) if s in known]
    return known[next((s for s in fits if s in mine), fits[0])]


def _allows(style: FeedingStyle, material: Material) -> bool:
    return style.inputs != Inputs.PLANT_AND_MINERAL_ONLY or is_plant_or_mineral(material)


def _dressing(material: Material, grown: Crop) -> Feed:
    weeks = INTERVAL_WEEKS.get(grown.slug) or grown.season_days / 7
    most = most_of([(material, 1.0)], grown, grown.season_days / 7 / weeks)
    return replace(_feed(material, DRESSINGS.get(material.slug)), most=most)


def _feed(material: Material, lead: str | None) -> Feed:
    nitrogen = material.composition["N"].typ
    dense = material.density.typ if material.density else 1.0
    return Feed(material.short_name, nitrogen, material.season_n or 0.5, dense, lead or "seed meal")


def _seen(deeds: Sequence[PotDeed], kind: str) -> date | None:
    return next((d.on for d in deeds if d.kind == kind), None)


def _soil(
    group: PotGroup, fills: Sequence[PotFill], planted_on: date
) -> tuple[tuple[float, ...], int | None, float]:
    """Return what the soil gives the crop each week, the day it falls behind, and potassium short.

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
        return (), 0, UNKNOWN_SHARE * crop(group.crop).uptake_mg_l["K"]
    weeks: dict[int, float] = {}
    potassium = 0.0
    for fill, _, elements in known:
        share = fill.taken_l / whole
        for i, week in enumerate(elements["N"].weeks):
            weeks[i] = weeks.get(i, 0.0) + share * week.taken
        potassium += share * float(elements["K"].season.short[-1])
    soil = tuple(weeks[i] for i in sorted(weeks))
    fill, batch, elements = known[-1]
    if fill.taken_l == whole:
        day = elements["N"].season.run_out_day
        return soil, None if day is None else day - _growth_day(group, planted_on, batch), potassium
    wanted = [w.wanted for w in elements["N"].weeks]
    behind = (7 * i for i, (s, w) in enumerate(zip(soil, wanted, strict=False)) if s < 0.9 * w)
    return soil, next(behind, None), potassium


def _of_its_life(
    group: PotGroup, soil: Soil, planted_on: date
) -> tuple[tuple[float, ...], int | None, float]:
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
    lacks = scale * float(forecast.gained("K", "short", first, forecast.life.days))
    return weeks, None if day is None else day - first, lacks


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
