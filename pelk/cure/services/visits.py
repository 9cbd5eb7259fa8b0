"""What else a visit brings: a sprout test, a picture, a pen checked in two buffers."""

from __future__ import annotations

from django.core.files.base import File
from django.db import transaction
from django.urls import reverse
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.cure.models import HeapPhoto, MeterCheckRow, SproutTest, heap_address
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.ui.pictures import KIND
from pelk.yards.models import User, Yard
from pelk.yards.services.yards import count_picture


@transaction.atomic
def sow(*, batch: Batch, by: User | None, seeds: int) -> SproutTest:
    """Begin a sprout test."""
    row: SproutTest = SproutTest.objects.create(yard=batch.yard, batch=batch, seeds=seeds)
    _note(batch, by, f"{batch.code}: sprout test sown, {seeds} seeds in each dish")
    return row


@transaction.atomic
def count_sprouts(
    *,
    test: SproutTest,
    by: User | None,
    sprouted: int,
    sprouted_control: int,
    root_mm: float,
    root_control_mm: float,
) -> SproutTest:
    """Write down what sprouted and how long the roots are."""
    test.lock()
    test.sprouted, test.sprouted_control = sprouted, sprouted_control
    test.root_mm, test.root_control_mm = root_mm, root_control_mm
    test.counted_at = timezone.now()
    test.save()
    verdict = test.verdict
    said = "says nothing" if verdict is None or verdict.index is None else f"{verdict.index:.0f} %"
    _note(test.batch, by, f"{test.batch.code}: sprout test {said}")
    return test


@transaction.atomic
def keep_photo(*, batch: Batch, by: User | None, file: File[bytes], note: str) -> HeapPhoto:
    """Keep a picture of a heap, as it was made anew."""
    count_picture(yard=batch.yard)
    row: HeapPhoto = HeapPhoto.objects.create(
        yard=batch.yard, batch=batch, file=file, kind=KIND, note=note
    )
    said = f"{batch.code}: a picture{f', {note}' if note else ''}"
    _note(batch, by, said, url=reverse("cure:photos", args=[batch.pk]))
    return row


@transaction.atomic
def check_pen(
    *, yard: Yard, by: User | None, meter: str, read_low: float, read_high: float
) -> MeterCheckRow:
    """Keep what a pen read in two buffers."""
    row: MeterCheckRow = MeterCheckRow.objects.create(
        yard=yard, meter=meter, read_low=read_low, read_high=read_high
    )
    text = (
        f"{meter} checked in two buffers: slope {row.verdict.slope_pct:.0f} %, {row.verdict.state}"
    )
    record(yard=yard, by=by, station=Station.CURE, text=text, url=reverse("cure:pens"))
    return row


def _note(batch: Batch, by: User | None, text: str, url: str = "") -> None:
    record(
        yard=batch.yard, by=by, station=Station.CURE, text=text, url=url or heap_address(batch.pk)
    )


PHOTOS = Shelving(
    model=HeapPhoto,
    station=Station.CURE,
    says=lambda row, word: f"{row.batch.code}: a picture {word}",
    address=lambda row: heap_address(row.batch_id),
    away_address=lambda row: heap_address(row.batch_id),
)
