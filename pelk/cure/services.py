"""What is done in Cure."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.cure.models import Reading
from pelk.log.models import Station
from pelk.log.services import record
from pelk.ui.numbers import sig
from pelk.yards.models import User


@transaction.atomic
def record_reading(
    *, batch: Batch, by: User | None, taken_at: datetime | None = None, **measured: Any
) -> Reading:
    """Keep what was measured on a visit to a heap."""
    at = taken_at or timezone.now()
    row: Reading = Reading.objects.create(
        yard=batch.yard, batch=batch, taken_at=at, **measured
    )
    record(
        yard=batch.yard, by=by, station=Station.CURE, at=at, text=_words(row),
        url=f"/cure/{batch.pk}/",
    )  # fmt: skip
    return row


def _words(reading: Reading) -> str:
    """Write a reading as the log says it."""
    said = [f"pH {sig(reading.ph)}"] if reading.ph is not None else []
    if reading.temperature_c is not None:
        said.append(f"{sig(reading.temperature_c)} °C")
    if reading.ec_ds_m is not None:
        said.append(f"EC {sig(reading.ec_ds_m)}")
    said += [str(label) for label in (
        reading.get_moisture_display(), reading.get_smell_display(), reading.note,
    ) if label]  # fmt: skip
    return f"{reading.batch.code}: {', '.join(said)}"


@transaction.atomic
def delete_reading(*, reading: Reading, by: User | None) -> None:
    """Put a reading away."""
    reading.put_away()
    record(
        yard=reading.yard, by=by, station=Station.CURE,
        text=f"Reading struck out. {_words(reading)}", url=f"/cure/{reading.batch_id}/",
    )  # fmt: skip


@transaction.atomic
def restore_reading(*, reading: Reading, by: User | None) -> None:
    """Undo it."""
    reading.bring_back()
    record(
        yard=reading.yard, by=by, station=Station.CURE,
        text=f"Reading brought back. {_words(reading)}", url=f"/cure/{reading.batch_id}/",
    )  # fmt: skip
