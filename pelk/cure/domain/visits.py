"""The readings of a heap that count: all that were made by hand, and a logger's by the day."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime, timedelta
from typing import Any

from pelk.barrow.models import Batch
from pelk.core.acid_base.ph_meters import GOOD_FOR_DAYS
from pelk.cure.models import LoggedImport, MeterCheckRow, Reading
from pelk.yards.models import Yard

# Of a heap that was read by hand more often than anyone does, the first and the newest count.
FIRST, NEWEST = 30, 270
STRUCK = 20
# A check in two buffers says something of readings so near to it.
NEAR, CHECKS = timedelta(days=GOOD_FOR_DAYS), 200


def visits_of(batch: Batch) -> list[Reading]:
    """Return the readings of a heap that count, the newest first."""
    return together(batch, hand_of(batch), imports_of(batch), checks_of(batch.yard))


def hand_of(batch: Batch) -> list[Reading]:
    """Return what was read by hand, the newest first; the first ones are always there."""
    rows = Reading.objects.for_batch(batch).by_hand()
    newest = list(rows[:NEWEST])
    if len(newest) < NEWEST:
        return newest
    seen = {row.pk for row in newest}
    first = [row for row in rows.reverse()[:FIRST] if row.pk not in seen]
    return [*newest, *reversed(first)]


def imports_of(batch: Batch) -> list[LoggedImport]:
    """Return the files of loggers that were taken in for a heap."""
    return list(LoggedImport.objects.of(batch.yard).live().filter(batch=batch))


def checks_of(yard: Yard) -> list[MeterCheckRow]:
    """Return the checks of a yard's pens in two buffers, the newest first."""
    return list(MeterCheckRow.objects.of(yard).live()[:CHECKS])


def pens_in(checks: Sequence[MeterCheckRow]) -> list[str]:
    """Return the pens that were ever checked, by name."""
    return sorted({check.meter for check in checks})


def together(
    batch: Batch,
    hand: list[Reading],
    imports: Sequence[LoggedImport],
    checks: Sequence[MeterCheckRow],
) -> list[Reading]:
    """Return readings by hand with the days of a heap's loggers, the newest first.

    Each knows the check in two buffers that its pen was read by.
    """
    days = [_of_a_day(batch, day) for kept in imports for day in kept.days]
    rows = sorted([*hand, *days], key=lambda row: row.taken_at, reverse=True)
    pens = {check.meter for check in checks}
    for row in rows:
        of_pen = [c for c in checks if c.meter == row.pen or (not row.pen and len(pens) == 1)]
        near = [c for c in of_pen if abs(c.checked_at - row.taken_at) <= NEAR]
        row.pen_check = next((c for c in near if c.checked_at <= row.taken_at), None)
        row.is_near_a_check = bool(near) and near[0].verdict.state != "bad"
    return rows


def _of_a_day(batch: Batch, day: dict[str, Any]) -> Reading:
    """Return a logger's day as a reading that is kept nowhere: its medians."""
    return Reading(
        yard_id=batch.yard_id,
        batch=batch,
        taken_at=datetime.fromisoformat(day["at"]),
        ph=day.get("ph"),
        ec_ds_m=day.get("ec_ds_m"),
        temperature_c=day.get("temperature_c"),
        method=Reading.PhMethod.PEN,
        note=f"logger, {day['count']} lines",
    )
