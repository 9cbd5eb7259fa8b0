"""What is due with a yard's heaps, by their newest sums and what was decided."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from django.urls import reverse
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.curing.due_states import STALE_DAYS, TaskState, task_state, without_overtaken
from pelk.core.curing.schedule import MOISTEN, PLANT, PROBE, TURN, Due, schedule
from pelk.cure.models import Decision
from pelk.yards.extensions import DayEvent, events_of_yard
from pelk.yards.models import Yard

PLANTED_KEY = f"{PLANT}:1"
AGAIN = (PROBE, MOISTEN, TURN)


@dataclass(frozen=True, slots=True)
class DueRow:
    """Something to do with one heap."""

    batch: Batch
    due: Due
    on: date
    state: TaskState
    decision: Decision | None = None

    @property
    def name(self) -> str:
        """What to do."""
        return self.due.name

    @property
    def is_open(self) -> bool:
        """Whether it still waits for someone."""
        return self.state.is_open


def due_rows(batch: Batch, decisions: Iterable[Decision], today: date) -> list[DueRow]:
    """Return what is to do with a heap, in order; decided and overtaken things are marked."""
    held = {d.key: d for d in decisions if d.batch_id == batch.pk and not d.deleted_at}
    schedule_cache = batch.schedule_cache or {}
    rows: list[DueRow] = []
    for due in schedule(
        schedule_cache.get("ready"),
        schedule_cache.get("days", 180),
        is_fed=schedule_cache.get("is_fed", True),
        run_out_day=schedule_cache.get("run_out"),
    ):
        decision = held.get(due.key)
        on = batch.date_of(due.day)
        if decision is not None and decision.until is not None:
            on = max(on, decision.until)
        rows.append(DueRow(batch, due, on, _state(on, decision, today), decision))
    return without_overtaken(rows, is_overtaken_by=_is_overtaken)


def _state(on: date, decision: Decision | None, today: date) -> TaskState:
    if decision is not None and decision.kind != Decision.Kind.SNOOZED:
        return TaskState(decision.kind)
    return task_state(on, today)


def _is_overtaken(row: DueRow, later: DueRow) -> bool:
    """Return whether last week's probe stands for nothing, since this week's is due."""
    return (
        row.due.kind in AGAIN
        and row.state == TaskState.LATE
        and later.due.kind == row.due.kind
        and (later.is_open or later.decision is not None)
    )


def is_planted(decisions: Iterable[Decision]) -> bool:
    """Return whether a heap was used up in pots, or said to be planted: nothing is due with it."""
    return any(d.key == PLANTED_KEY and d.kind == Decision.Kind.DONE for d in decisions)


def planted_of(heaps: Iterable[Batch]) -> set[int]:
    """Return which of some heaps are planted, by their keys."""
    done = Decision.objects.live().filter(batch__in=[h.pk for h in heaps], key=PLANTED_KEY)
    return set(done.filter(kind=Decision.Kind.DONE).values_list("batch_id", flat=True))


def heaps_of(yard: Yard) -> list[Batch]:
    """Return the heaps that still rest: mixed, not put away, not planted."""
    batches = Batch.objects.of(yard).live().in_cure().filter(planted_anyway=None)
    batches = batches.exclude(decisions__key=PLANTED_KEY, decisions__kind=Decision.Kind.DONE)
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
        (r for r in rows if r.on >= fresh and r.state.is_ahead), key=lambda r: (r.on, r.batch.code)
    )


@events_of_yard.register
def cure_events(yard: Yard, today: date) -> list[DayEvent]:
    """Return what is due with heaps, for the calendar."""
    return [
        DayEvent(
            f"{row.batch.pk}-{row.due.key}",
            f"{row.batch.code}: {row.name}",
            row.on,
            reverse("cure:heap", args=[row.batch.pk]),
        )
        for row in due_of_yard(yard, today)
    ]
