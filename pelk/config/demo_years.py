"""Three years of the kumquats: invented deeds, readings by the simulator, so that both agree."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from io import BytesIO
from typing import Any

from django.core.files.base import ContentFile
from django.utils import timezone
from PIL import Image, ImageDraw

from pelk.barrow.services import finish_batch, make_batch
from pelk.bench.formats.documents import read
from pelk.bench.services import save_recipe
from pelk.core.materials.library import library
from pelk.core.simulation.soil_forecast import follow_soil
from pelk.pots.domain.fed import Given
from pelk.pots.models import PotGroup
from pelk.pots.services.diary import see
from pelk.pots.services.fed import give
from pelk.pots.services.groups import fill, refresh, write_deed
from pelk.soils.domain.living import life_of
from pelk.yards.models import User, Yard

CITRUS: dict[str, Any] = {
    "format": "pelk.mix/1",
    "name": "Kumquat tub mix",
    "crop": "citrus",
    "batch": {"volume": 105, "unit": "L"},
    "bulk": [
        {"material": "pine-bark-fines-composted", "parts": 4},
        {"material": "sphagnum-peat-light", "parts": 3},
        {"material": "yard-compost", "parts": 1},
        {"material": "pumice", "parts": 2},
    ],
    "doses": [
        {"material": "lime-dolomitic-ground", "amount": 1.5, "unit": "g/L"},
        {"material": "poultry-manure-pellets", "amount": 3, "unit": "g/L"},
        {"material": "sulfate-of-potash", "amount": 0.4, "unit": "g/L"},
    ],
}
YEARS, MIXED_DAYS, PLANTED_DAYS = 3, 1060, 1030
# Day of each year counted back from its end, what was given to each tub, how. Invented.
DRESSINGS = ((260, "poultry-manure-pellets", 60.0), (200, "feather-meal", 20.0))
POURS = (170, 150, 130)
READINGS = (280, 180, 60)
HARVESTS = ((330, "first fruits", 1.2), (12, "the big tub only", 2.1))
YEAR_DAYS = 365
# Seen on days of each year: days of the year back, height in the oldest year and its gain by
# year, the first flower, a picture.
SEEN = (
    (300, 62.0, False, True),
    (250, 70.0, False, True),
    (215, 78.0, True, True),
    (150, 92.0, False, True),
    (70, 98.0, False, True),
)
GAIN_CM, SOONER_DAYS = 12.0, 6
GREENS = ("#4F7A3D", "#5C8A45", "#6B9A4F", "#3F6632", "#7A8F4A")


def three_years(yard: Yard, group: PotGroup, user: User) -> None:
    """Let the kumquats grow for three years in one soil."""
    today = timezone.localdate()
    at = _noon(today - timedelta(days=MIXED_DAYS))
    recipe = save_recipe(yard=yard, by=user, document=read(CITRUS), at=at)
    batch = make_batch(recipe=recipe, by=user, at=at, reason="invented")
    finish_batch(batch=batch, by=user, at=at + timedelta(hours=2))
    fill(
        group=group,
        by=user,
        what=batch.name,
        batch=batch,
        taken_l=104.0,
        how="filled",
        on=today - timedelta(days=PLANTED_DAYS),
        filled_count=group.count,
        plants=True,
    )
    days = sorted(
        (YEAR_DAYS * year + day for year in range(YEARS) for day in (*_all_days(),)), reverse=True
    )
    for ago in days:
        if ago < PLANTED_DAYS:
            _on_the_day(group, user, ago, today - timedelta(days=ago))
    for year in range(YEARS):
        for i in range(len(SEEN)):
            _see(group, user, year, i, today)
    refresh(group)


def _see(group: PotGroup, user: User, year: int, i: int, today: date) -> None:
    """Write down what was seen, with a drawn stand-in for a photograph."""
    back, tall, flowers, pictured = SEEN[i]
    back += SOONER_DAYS * (YEARS - 1 - year) * flowers
    on = today - timedelta(days=YEAR_DAYS * year + back)
    if YEAR_DAYS * year + back >= PLANTED_DAYS:
        return
    figures = {"height_cm": tall + GAIN_CM * (YEARS - 1 - year)}
    if flowers:
        figures["flower"] = 1.0
    picture = ContentFile(_drawn_tub(GREENS[i], i), "tub.png") if pictured else None
    see(group=group, by=user, on=on, figures=figures, text="", picture=picture)


def _drawn_tub(green: str, i: int) -> bytes:
    """Return a tub with a small tree as a picture: nobody's photograph."""
    image = Image.new("RGB", (330, 250), "#CFCBB9")
    draw = ImageDraw.Draw(image)
    draw.rectangle((0, 190, 330, 250), fill="#8A7A55")
    draw.polygon([(120, 150), (210, 150), (200, 225), (130, 225)], fill="#8C4A2F")
    draw.line((165, 150, 165, 100), fill="#5A4A32", width=7)
    wide = 48 + 7 * i
    draw.ellipse((165 - wide, 110 - wide, 165 + wide, 110 + wide // 2), fill=green)
    kept = BytesIO()
    image.save(kept, "PNG")
    return kept.getvalue()


def _all_days() -> list[int]:
    return [*(day for day, _, _ in DRESSINGS), *POURS, *READINGS, *(d for d, _, _ in HARVESTS)]


def _on_the_day(group: PotGroup, user: User, ago: int, on: date) -> None:
    """Do what that day of each year asks for."""
    of_year = ago % YEAR_DAYS
    for day, slug, grams in DRESSINGS:
        if day == of_year:
            data = {"material": slug, "grams": grams, "placed": "scratched"}
            said = f"{grams:g} g {library()[slug].short_name.lower()} each"
            _give(group, user, Given(slug, "dressed", data, grams, said), on)
    if of_year in POURS:
        data = {"material": "fish-emulsion", "g_per_l": 4.4, "litres": 3.0, "through": 0.05}
        said = "4 mL/L fish emulsion, 3 L each"
        _give(group, user, Given("fish-emulsion", "poured", data, 13.0, said), on)
    if of_year in READINGS and group.soil is not None:
        soil = follow_soil(life_of(group.soil, on), samples=0)
        figures = {
            "ph": round(float(soil.ph[1][-1]), 1),
            "ec_ds_m": round(float(soil.ec[1][-1]), 1),
        }
        _write(group, user, "reading", on, "run-off of all three", figures)
    for day, text, kg in HARVESTS:
        if day == of_year:
            _write(group, user, "harvest", on, text, {"kg": kg})


def _give(group: PotGroup, user: User, given: Given, on: date) -> None:
    material = library()[given.slug]
    give(
        group=group,
        by=user,
        given=given,
        material=material,
        on=on,
        said=given.reads,
        refreshes=False,
    )


def _write(
    group: PotGroup, user: User, kind: str, on: date, text: str, figures: dict[str, float]
) -> None:
    write_deed(group=group, by=user, kind=kind, on=on, text=text, figures=figures, refreshes=False)


def _noon(on: date) -> datetime:
    return timezone.make_aware(datetime.combine(on, time(12)))
