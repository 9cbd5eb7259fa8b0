"""What is done about what is due, planting before a heap is ready, the calendar's address."""

from datetime import date
from secrets import token_urlsafe

from django.db import transaction

from pelk.barrow.models import Batch
from pelk.cure.models import CalendarFeed, Decision, PlantedAnyway, heap_address
from pelk.log.models import Station
from pelk.log.services.record import record
from pelk.yards.models import User, Yard

REASON_LENGTH = 300


@transaction.atomic
def decide(
    *,
    batch: Batch,
    by: User | None,
    key: str,
    name: str,
    kind: Decision.Kind,
    until: date | None = None,
) -> Decision:
    """Say that something due is done, skipped or put off."""
    batch.lock()
    row, _ = Decision.objects.update_or_create(
        batch=batch,
        key=key,
        defaults={"yard": batch.yard, "kind": kind, "until": until, "deleted_at": None},
    )
    when = f" until {until:%-d %b}" if until else ""
    _note(batch, by, f"{batch.code}: {name.lower()}: {kind.label}{when}")
    return row


@transaction.atomic
def take_back(*, batch: Batch, by: User | None, key: str, name: str) -> None:
    """Say that it is still to do."""
    gone, _ = Decision.objects.of(batch.yard).filter(batch=batch, key=key).delete()
    if gone:
        _note(batch, by, f"{batch.code}: {name.lower()}: still to do")


@transaction.atomic
def plant_anyway(*, batch: Batch, by: User | None, reason: str, unmet: list[str]) -> PlantedAnyway:
    """Use a heap before it is ready; the reason is kept."""
    row, _ = PlantedAnyway.objects.update_or_create(
        batch=batch,
        defaults={
            "yard": batch.yard,
            "reason": reason.strip()[:REASON_LENGTH],
            "unmet": unmet,
            "deleted_at": None,
        },
    )
    said = f"{batch.code}: planted before it was ready: {row.reason}"
    _note(batch, by, said)
    return row


@transaction.atomic
def not_planted(*, batch: Batch, by: User | None) -> None:
    """Say that a heap was not used before it was ready after all."""
    gone, _ = PlantedAnyway.objects.of(batch.yard).filter(batch=batch).delete()
    if gone:
        _note(batch, by, f"{batch.code}: not planted after all")


@transaction.atomic
def open_feed(*, yard: Yard, by: User | None, anew: bool = False) -> CalendarFeed:
    """Give the yard a private calendar address; the one that stands stays, unless asked anew."""
    yard.lock()
    for old in CalendarFeed.objects.of(yard).live():
        if not anew:
            standing: CalendarFeed = old
            return standing
        old.put_away()
    row: CalendarFeed = CalendarFeed.objects.create(yard=yard, token=token_urlsafe(32))
    record(yard=yard, by=by, station=Station.CURE, text="A calendar address was made")
    return row


@transaction.atomic
def revoke_feed(*, yard: Yard, by: User | None) -> None:
    """Revoke the yard's calendar address."""
    revoked = [row.put_away() for row in CalendarFeed.objects.of(yard).live()]
    if not any(revoked):
        return
    record(yard=yard, by=by, station=Station.CURE, text="The calendar address was revoked")


def _note(batch: Batch, by: User | None, text: str) -> None:
    record(yard=batch.yard, by=by, station=Station.CURE, text=text, url=heap_address(batch.pk))
