"""What is due with a yard's heaps, by their newest sums and what was decided."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.curing.schedule import MOISTEN, PLANT, PROBE, TURN, Due, schedule
from pelk.cure.models import Decision
from pelk.yards.models import Yard

AGAIN = (PROBE, MOISTEN, TURN)
SOON_DAYS = 7
LATE, TODAY, SOON, LATER = "late", "today", "soon", "later"
# What one missed week ago is not nagged about for ever.
STALE_DAYS = 45


@dataclass(frozen=True, slots=True)
class DueRow:
    """Something to do with one heap."""

    batch: Batch
    due: Due
    on: date
    state: str
    decision: Decision | None = None

    @property
    def name(self) -> str:
        """What to do."""
        return self.due.name

    @property
    def is_open(self) -> bool:
        """Whether it still waits for someone."""
        return self.state in (LATE, TODAY)


def due_rows(batch: Batch, decisions: Iterable[Decision], today: date) -> list[DueRow]:
    """Return what is to do with a heap, in order; decided and overtaken things are marked."""
    held = {d.key: d for d in decisions if d.batch_id == batch.pk and not d.deleted_at}
    outlook = batch.outlook or {}
    rows: list[DueRow] = []
    for due in schedule(
        outlook.get("ready"),
        outlook.get("days", 180),
        is_fed=outlook.get("is_fed", True),
        run_out_day=outlook.get("run_out"),
    ):
        decision = held.get(due.key)
        on = batch.date_of(due.day)
        if decision is not None and decision.until is not None:
            on = max(on, decision.until)
        rows.append(DueRow(batch, due, on, _state(on, decision, today), decision))
    return _without_overtaken(rows)


def _state(on: date, decision: Decision | None, today: date) -> str:
    if decision is not None and decision.kind != Decision.Kind.SNOOZED:
        return str(decision.kind)
    if on < today:
        return LATE
    if on == today:
        return TODAY
    return SOON if (on - today).days <= SOON_DAYS else LATER


def _without_overtaken(rows: list[DueRow]) -> list[DueRow]:
    """Leave out what its own next time has overtaken: last week's probe when this week's is due."""
    kept = []
    for i, row in enumerate(rows):
        is_again = row.due.kind in AGAIN and row.state == LATE
        if is_again and any(
            later.due.kind == row.due.kind and (later.is_open or later.decision)
            for later in rows[i + 1 :]
        ):
            continue
        kept.append(row)
    return kept


def heaps_of(yard: Yard) -> list[Batch]:
    """Return the heaps that still rest: mixed, not put away, not planted."""
    batches = Batch.objects.of(yard).live().in_cure().filter(planted_anyway=None)
    batches = batches.exclude(decisions__key=f"{PLANT}:1", decisions__kind=Decision.Kind.DONE)
    oldest = timezone.now() - timedelta(days=365)
    return list(batches.filter(made_at__gte=oldest).defer("document", "analyses", "shown"))


def due_of_yard(yard: Yard, today: date) -> list[DueRow]:
    """Return everything due with the resting heaps of a yard, the latest first."""
    return due_of_heaps(yard, heaps_of(yard), today)


def due_of_heaps(yard: Yard, heaps: list[Batch], today: date) -> list[DueRow]:
    """Return everything due with some heaps, the latest first."""
    decisions = list(Decision.objects.of(yard).live().filter(batch__in=heaps))
    rows = [row for heap in heaps for row in due_rows(heap, decisions, today)]
    fresh = today - timedelta(days=STALE_DAYS)
    return sorted(
        (r for r in rows if r.on >= fresh and r.state in (LATE, TODAY, SOON, LATER)),
        key=lambda r: (r.on, r.batch.code),
    )
