"""Weighings: a cup of a material, and what this yard's hands and scoops hold."""

from collections.abc import Sequence
from datetime import datetime

from django.db import transaction
from django.urls import reverse
from django.utils import timezone

from pelk.core.base.rounding import sig
from pelk.core.materials.material import Range
from pelk.core.materials.measures import yard_measures
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.shelf.models.materials import Material
from pelk.shelf.models.measures import HandMeasure
from pelk.shelf.services.materials import Said, say_values
from pelk.yards.models import User, Yard

# Measures of the yard that follow a calibration, and their field.
OF_THE_YARD = {"barrow": "barrow_l", "bucket": "bucket_l"}


@transaction.atomic
def keep_measure(
    *,
    yard: Yard,
    by: User | None,
    kind: str,
    one_ml: Range,
    weighings: Sequence[float],
    of: str = "",
    state: str = "as used",
    at: datetime | None = None,
) -> HandMeasure:
    """Keep what one of a measure holds; it counts at once, batches keep their old one."""
    kept: HandMeasure = HandMeasure.objects.create(
        yard=yard,
        by=by,
        kind=kind,
        low_ml=one_ml.low,
        ml=one_ml.typ,
        high_ml=one_ml.high,
        weighings=list(weighings),
        of=of[:120],
        state=state,
        created_at=at or timezone.now(),
    )
    _follow(yard, kind)
    _note(yard, by, f"A {kind} is {sig(one_ml.typ, 3)} mL here", at)
    return kept


def _follow(yard: Yard, kind: str) -> None:
    """Bring the yard's measures to what counts now."""
    yard.lock()
    newest = HandMeasure.objects.of(yard).live().filter(kind=kind).first()
    hands = {k: held for k, held in yard.hands.items() if k != kind}
    if newest is not None and kind in yard_measures():
        hands[kind] = [newest.low_ml, newest.ml, newest.high_ml]
    if newest is not None and kind in OF_THE_YARD:
        setattr(yard, OF_THE_YARD[kind], newest.ml / 1000)
    yard.hands = hands
    yard.save(update_fields=["hands", *OF_THE_YARD.values()])


def _note(yard: Yard, by: User | None, text: str, at: datetime | None = None) -> None:
    record(yard=yard, by=by, station=Station.SHELF, text=text, url=reverse("shelf:measures"), at=at)


def keep_cup(
    *,
    yard: Yard,
    by: User | None,
    material: Material,
    density: Range,
    moisture_pct: float | None = None,
    note: str = "",
    at: datetime | None = None,
) -> Material:
    """Keep the weight of a litre as it was weighed, and its moisture when it was dried."""
    values = {"density": density}
    if moisture_pct is not None:
        values["moisture_pct"] = Range(moisture_pct, moisture_pct, moisture_pct)
    said = Said("yours", timezone.localdate(at), note)
    return say_values(yard=yard, by=by, material=material, said=said, values=values, at=at)


MEASURES = Shelving(
    model=HandMeasure,
    station=Station.SHELF,
    says=lambda row, word: f"The {row.kind} of {sig(row.ml, 3)} mL {word}",
    away="taken back",
    back="counts again",
    locks=lambda row: row.yard,
    then=lambda row: _follow(row.yard, row.kind),
    address=lambda row: reverse("shelf:measures"),
    away_address=lambda row: reverse("shelf:measures"),
)
