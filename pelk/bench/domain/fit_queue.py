"""Dear answers wait their turn: a queue in the database, answered by processes of their own."""

from __future__ import annotations

from datetime import timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from pelk.bench.models import FitAsked
from pelk.yards.models import Tally, User, Yard

ALIVE = "worker:alive"
# A worker says that it lives so often; silent for longer, pages reckon for themselves.
BEATS_S, SILENT_S = 2, 10
# What a worker began and did not end by then is taken up by another.
LOST_S, KEPT_S = 60, 3600


def beat() -> None:
    """Say that a worker lives."""
    now = timezone.now()
    if not Tally.objects.filter(key=ALIVE).update(since=now):
        Tally.objects.get_or_create(key=ALIVE, defaults={"since": now})


def is_worked() -> bool:
    """Return whether a worker lives."""
    last = timezone.now() - timedelta(seconds=SILENT_S)
    return Tally.objects.filter(key=ALIVE, since__gte=last).exists()


def ask(*, yard: Yard, by: User, posted: str) -> FitAsked:
    """Put a question in the queue; the same one that already waits stands for it."""
    waiting = FitAsked.objects.of(yard).filter(done_at=None, posted=posted).first()
    if waiting is not None:
        held: FitAsked = waiting
        return held
    row: FitAsked = FitAsked.objects.create(yard=yard, posted=posted)
    return row


def before(row: FitAsked) -> int:
    """Return how many wait before one."""
    return FitAsked.objects.filter(done_at=None, begun_at=None, pk__lt=row.pk).count()


@transaction.atomic
def next_asked() -> FitAsked | None:
    """Take the oldest question for oneself; None where nobody waits."""
    lost = timezone.now() - timedelta(seconds=LOST_S)
    open_ones = FitAsked.objects.filter(done_at=None)
    row = open_ones.filter(begun_at=None).first() or open_ones.filter(begun_at__lt=lost).first()
    if row is None:
        return None
    now = timezone.now()
    mine = FitAsked.objects.filter(pk=row.pk, begun_at=row.begun_at).update(begun_at=now)
    return row if mine else None


def answered(row: FitAsked, answer: Any) -> None:
    """Keep an answer; old ones go."""
    now = timezone.now()
    FitAsked.objects.filter(pk=row.pk).update(answer=answer, done_at=now)
    FitAsked.objects.filter(done_at__lt=now - timedelta(seconds=KEPT_S)).delete()
