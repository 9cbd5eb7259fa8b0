"""A soil's rows made the core's life, and followed."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from datetime import date
from hashlib import sha256
from json import dumps
from typing import Any

import numpy as np
from django.utils import timezone

from pelk import VERSION
from pelk.barrow.models import Batch
from pelk.core.acid_base.water import Water, alkalinity_from_ppm
from pelk.core.base.errors import PelkError
from pelk.core.base.regions import climates
from pelk.core.crops.groups import crop
from pelk.core.evaluation.evaluate import soil_as_mixed
from pelk.core.materials.material import Material
from pelk.core.simulation.ensemble import SAMPLES, Posterior
from pelk.core.simulation.life import (
    Cleared,
    Dressed,
    Event,
    Harvested,
    Life,
    MixedSoil,
    Place,
    Placed,
    Planted,
    Pot,
    PottedOn,
    Poured,
    Read,
    Rested,
    Rinsed,
    Topped,
    Watered,
    Where,
)
from pelk.core.simulation.soil_forecast import SoilForecast, follow_soil, taught_by
from pelk.core.simulation.soil_learning import Drains, as_begun
from pelk.shelf.selectors import known_materials
from pelk.soils.models import Soil, SoilEvent
from pelk.yards.models import Yard

LONGEST_DAYS = 3660
Do = SoilEvent.Do


def follow(
    soil: Soil, until: date, *, samples: int = SAMPLES, more: Iterable[SoilEvent] = ()
) -> SoilForecast:
    """Return what comes of a soil by a day, with events that are not kept yet.

    Raises
    ------
    PelkError
        Where nothing can be said of it: its mix is not known, or an event cannot be.
    """
    life = as_begun(life_of(soil, until, more))
    return follow_soil(life, samples, *taught_of(soil, life))


def taught_of(soil: Soil, life: Life) -> tuple[Posterior | None, Drains | None]:
    """Return what readings of pH taught, and those of salts; it is remembered on the soil's row."""
    last = max((e.day for e in life.events if isinstance(e, Read)), default=0)
    if not last:
        return None, None
    told = [(str(e.on), e.do, e.data) for e in soil.events.filter(deleted_at=None)]
    told = [row for row in told if soil.day_of(date.fromisoformat(row[0])) <= last]
    key = sha256(dumps([VERSION, soil.batch_id, told], sort_keys=True).encode()).hexdigest()
    kept: Any = soil.lesson or {}
    if kept.get("key") != key or "drains" not in kept:
        kept = {"key": key, **_lesson(life)}
        soil.lesson = kept
        Soil.objects.filter(pk=soil.pk).update(lesson=kept)
    learned = None
    if "mean" in kept:
        mean, covariance = np.array(kept["mean"]), np.array(kept["covariance"])
        learned = Posterior(mean, covariance, kept["own_ph_sd"])
    return learned, tuple(kept["drains"]) if kept["drains"] else None


def _lesson(life: Life) -> dict[str, Any]:
    """Return what readings teach of a life, as it is kept."""
    held, drains = taught_by(life)
    lesson: dict[str, Any] = {"drains": drains}
    if held is not None:
        lesson["mean"], lesson["covariance"] = held.mean.tolist(), held.covariance.tolist()
        lesson["own_ph_sd"] = held.own_ph_sd
    return lesson


def life_of(soil: Soil, until: date, more: Iterable[SoilEvent] = ()) -> Life:
    """Return a soil's life as it stands written.

    Raises
    ------
    PelkError
        Where its mix is not known, or an event cannot be.
    """
    if soil.batch is None:
        raise PelkError("what it was mixed of is not known", "batch")
    rows = [e for e in soil.events.filter(deleted_at=None) if e.on <= until]
    rows += [e for e in more if e.on <= until]
    yard: Yard = soil.yard
    slugs = {e.data["material"] for e in rows if "material" in e.data}
    shelf = {slug: row.core for slug, row in known_materials(yard, slugs).items()}
    heaps = Batch.objects.of(yard).in_bulk({e.data["batch"] for e in rows if "batch" in e.data})
    events = tuple(event_of(soil, row, shelf, heaps) for row in rows)
    days = soil.day_of(until)
    if not 1 <= days <= LONGEST_DAYS:
        raise PelkError(f"found {days} days, allowed: 1 to {LONGEST_DAYS}", "until")
    return Life(
        soil=mixed_soil(soil.batch),
        mixed_on=soil.mixed_on,
        days=days,
        pot=soil.pot,
        place=place_of(yard, roof=soil.roof),
        water=water_of(yard),
        water_is_guessed=yard.water_analysis.known not in ("report", "strip"),
        events=events,
    )


def mixed_soil(batch: Batch) -> MixedSoil:
    """Return a heap as a life begins with it."""
    return soil_as_mixed(*batch.plan_as_mixed())


def place_of(yard: Yard, *, roof: bool) -> Place:
    """Return where a yard's pots stand: its months, and the rain of its climate."""
    climate = climates().get(yard.climate)
    return Place(
        monthly_c=tuple(yard.normals_c),
        monthly_rain_mm=tuple(climate.rain_mm) if climate else (),
        monthly_et0_mm=tuple(climate.et0_mm_d) if climate else (),
        roof=roof,
    )


def water_of(yard: Yard) -> Water:
    """Return a yard's tap."""
    known = yard.water_analysis
    return Water(
        alkalinity_meq_l=alkalinity_from_ppm(known.alkalinity_mg_l), ions_mg_l=known.ions_mg_l
    )


Made = Callable[[int, Mapping[str, Any], Mapping[str, Material], Mapping[int, Batch]], Event]


def refuse_before_mixing(soil: Soil, on: date) -> None:
    """Raise where a day lies before a soil was mixed."""
    if on < soil.mixed_on:
        made = f"{soil.mixed_on:%-d %B %Y}"
        raise PelkError(f"that is before the soil was mixed, on {made}", "on")


def event_of(
    soil: Soil, row: SoilEvent, shelf: Mapping[str, Material], heaps: Mapping[int, Batch]
) -> Event:
    """Return a row as the core takes it.

    Raises
    ------
    PelkError
        For what cannot be: before the mix was made, of a material that is gone.
    """
    refuse_before_mixing(soil, row.on)
    if row.do not in MADE:
        raise PelkError(f"found {row.do!r}, allowed: {', '.join(MADE)}", "do")
    day = soil.day_of(row.on)
    try:
        return MADE[row.do](day, {**row.data, "on": row.on}, shelf, heaps)
    except KeyError as error:
        key = error.args[0]
        if key in (row.data.get("material"), row.data.get("batch")):
            gone = f"{key} is not on this yard’s shelf any more"
            raise PelkError(gone, "data") from error
        raise PelkError(f"missing: {key}", f"data.{key}") from error


def _topped(
    day: int, data: Mapping[str, Any], shelf: Mapping[str, Material], heaps: Mapping[int, Batch]
) -> Event:
    heap = heaps[data["batch"]]
    lay = max((data["on"] - heap.date_of(0)).days, 0)
    return Topped(day=day, soil=mixed_soil(heap), litres=data["litres"], mixed_days=lay)


def _potted_on(
    day: int, data: Mapping[str, Any], shelf: Mapping[str, Material], heaps: Mapping[int, Batch]
) -> Event:
    pot = Pot(
        litres=data["litres"],
        height_cm=data["height_cm"],
        count=data.get("count", 1),
        wall=data["wall"],
    )
    heap = heaps[data["batch"]]
    lay = max((data["on"] - heap.date_of(0)).days, 0)
    soil, kept_l = mixed_soil(heap), data["kept_l"]
    return PottedOn(day=day, soil=soil, pot=pot, kept_l=kept_l, mixed_days=lay)


MADE: dict[str, Made] = {
    Do.PLANTED: lambda day, d, *_: Planted(
        day=day, crop=crop(d["crop"]), plants=d.get("plants", 1.0), vigour=d.get("vigour", 1.0)
    ),
    Do.DRESSED: lambda day, d, shelf, _: Dressed(
        day=day, material=shelf[d["material"]], grams=d["grams"], placed=Placed(d["placed"])
    ),
    Do.POURED: lambda day, d, shelf, _: Poured(
        day=day,
        material=shelf[d["material"]],
        g_per_l=d["g_per_l"],
        litres=d["litres"],
        through=d.get("through", 0.0),
    ),
    Do.RINSED: lambda day, d, *_: Rinsed(day=day, litres=d["litres"]),
    Do.WATERED: lambda day, d, *_: Watered(
        day=day, litres_week=d.get("litres_week"), leaching=d.get("leaching")
    ),
    Do.TOPPED: _topped,
    Do.POTTED_ON: _potted_on,
    Do.READ: lambda day, d, *_: Read(
        day=day,
        ph=d.get("ph"),
        ec_ds_m=d.get("ec_ds_m"),
        method=d.get("method", "slurry"),
        checked=d.get("checked", False),
    ),
    Do.HARVESTED: lambda day, d, *_: Harvested(
        day=day, kg=d.get("kg"), share=d.get("share"), crop=crop(d["crop"]) if "crop" in d else None
    ),
    Do.CLEARED: lambda day, d, *_: Cleared(day=day, roots_in=d.get("roots_in", True)),
    Do.RESTED: lambda day, d, *_: Rested(day=day, where=Where(d.get("where", "rain"))),
}


def age_in_days(soil: Soil) -> int:
    """Return how old a soil is today. [d]."""
    return soil.day_of(timezone.localdate())
