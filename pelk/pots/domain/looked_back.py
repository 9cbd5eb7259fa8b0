"""A season of some pots looked back on: what went in, what was read against what was foretold."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date

import msgspec

from pelk.barrow.models import Batch
from pelk.bench.formats.documents import DoseDocument, MixDocument
from pelk.core.acid_base.buffering import blend_curve
from pelk.core.advice.feeding_needs import GIVES, Lack
from pelk.core.advice.judged_life import band_of, runs_short_on, standing
from pelk.core.advice.next_year import NEW_LIME, Change, Season, better
from pelk.core.base.errors import PelkError
from pelk.core.simulation.soil_forecast import SoilForecast, follow_soil
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.shelf.selectors import known_materials
from pelk.soils.domain.living import follow, life_of
from pelk.soils.models import Soil


@dataclass(frozen=True, slots=True)
class Told:
    """A reading beside what was foretold of that day; None where nothing was. [pH]."""

    on: date
    read: float
    at_mixing: float | None
    at_planting: float | None
    now: float


@dataclass(frozen=True, slots=True)
class LookedBack:
    """A season of some pots.

    Attributes
    ----------
    start, end : date
        Of what is looked at.
    forecast : SoilForecast or None
        The soil by today's sums; None where nobody knows what fills the pots.
    """

    start: date
    end: date
    fills: list[PotFill]
    fed: list[PotDeed]
    seen: list[PotDeed]
    kg: float
    stars: float | None
    told: list[Told]
    forecast: SoilForecast | None
    lacking: list[Lack]
    changes: list[Change]
    batch: Batch | None


def looked_back(group: PotGroup, year: int, today: date) -> LookedBack:
    """Return a year of some pots, up to today."""
    start, end = date(year, 1, 1), min(date(year, 12, 31), today)
    deeds = list(
        group.deeds.filter(deleted_at=None, on__range=(start, end))
        .exclude(kind=PotDeed.Kind.WATERED)
        .select_related("event", "group__yard")
        .order_by("on", "pk")
    )
    fills = list(
        group.fills.filter(deleted_at=None, on__range=(start, end)).select_related("batch")
    )
    soil = group.soil
    forecast = _followed(soil, end) if soil is not None and soil.mixed_on < end else None
    stars = next((d.figures["stars"] for d in reversed(deeds) if "stars" in d.figures), None)
    kg = sum(d.figures.get("kg", 0.0) for d in deeds)
    fed = [d for d in deeds if d.kind in (PotDeed.Kind.FED, PotDeed.Kind.DONE)]
    seen = [d for d in deeds if d.kind not in (PotDeed.Kind.FED, PotDeed.Kind.DONE)]
    told, lacking, changes = [], [], []
    if forecast is not None and soil is not None:
        first = max(soil.day_of(start), 0)
        told = _told(group, soil, forecast, deeds)
        lacking = _lacking(forecast, first)
        changes = _changes(group, soil, forecast, lacking)
    batch = soil.batch if soil else None
    return LookedBack(
        start, end, fills, fed, seen, kg, stars, told, forecast, lacking, changes, batch
    )


def _followed(soil: Soil, end: date) -> SoilForecast | None:
    try:
        return follow(soil, end, samples=0)
    except PelkError:
        return None


def _told(
    group: PotGroup, soil: Soil, forecast: SoilForecast, deeds: Sequence[PotDeed]
) -> list[Told]:
    """Return each pH that was read beside the forecasts of mixing, of planting and of today."""
    read = [d for d in deeds if "ph" in d.figures]
    if not read:
        return []
    kept = ((soil.batch.forecast_at_mixing or {}) if soil.batch else {}).get("ph", [])
    planted = group.planted_on
    early = _as_of(soil, planted, forecast.dates[-1]) if planted else None
    rows = []
    for deed in read:
        day = min(max(soil.day_of(deed.on), 0), forecast.life.days)
        rows.append(
            Told(
                deed.on,
                deed.figures["ph"],
                float(kept[day]) if day < len(kept) else None,
                float(early.ph[1][day]) if early and planted and deed.on >= planted else None,
                float(forecast.ph[1][day]),
            )
        )
    return rows


def _as_of(soil: Soil, on: date, until: date) -> SoilForecast | None:
    """Return the forecast as it stood on a day: nothing that was done or read later is in it."""
    try:
        life = life_of(soil, until)
    except PelkError:
        return None
    known = tuple(e for e in life.events if e.day <= soil.day_of(on))
    return follow_soil(replace(life, events=known), samples=0)


def _lacking(forecast: SoilForecast, first: int) -> list[Lack]:
    """Return what ran short in the season, nitrogen first."""
    lacking = []
    for element in ("N", *GIVES):
        day = runs_short_on(forecast, element, first)
        if day is None:
            continue
        last = forecast.life.days
        short, wanted = (
            float(forecast.gained(element, name, first, last)) for name in ("short", "wanted")
        )
        lacking.append(Lack(element, short, wanted, day - first))
    return lacking


def _changes(
    group: PotGroup, soil: Soil, forecast: SoilForecast, lacking: list[Lack]
) -> list[Change]:
    usual = {slug for slugs in GIVES.values() for slug in slugs} | {NEW_LIME}
    shelf = {slug: row.core for slug, row in known_materials(group.yard, usual).items()}
    mixed = forecast.life.soil
    crops = standing(forecast.life, forecast.life.days)
    band = band_of(crops, mixed.mineral) if crops else None
    ph = float(forecast.ph[1][-1])
    buffer = blend_curve(mixed.heap.components).capacity_at(ph)
    season = Season(lacking, ph, band, float(buffer))
    return better(season, mixed.doses, shelf)


def with_changes(document: MixDocument, changes: Sequence[Change]) -> MixDocument:
    """Return a recipe with doses changed for the next mix."""
    by_slug = {change.slug: change for change in changes}
    doses = []
    for row in document.doses:
        change = by_slug.get(row.material)
        times = change.times if change and change.times else 1.0
        doses.append(msgspec.structs.replace(row, amount=round(row.amount * times, 4)))
    doses += [
        DoseDocument(change.slug, round(change.g_per_l, 3), "g/L")
        for change in changes
        if not change.times
    ]
    return msgspec.structs.replace(document, doses=doses)


def seasons_ended(group: PotGroup, today: date) -> list[int]:
    """Return the years of some pots, the newest first."""
    first = group.fills.filter(deleted_at=None).order_by("on").values_list("on", flat=True).first()
    begun = min(first or today, group.planted_on or today)
    return list(range(today.year, begun.year - 1, -1))
