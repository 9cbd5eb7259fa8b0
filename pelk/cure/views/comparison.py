"""Two heaps side by side, day by day since each was mixed."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from pelk.barrow.models import Batch
from pelk.bench.pages.bench_page import ahead_of
from pelk.cure.domain.learning import day_of, learned
from pelk.cure.domain.visits import visits_of
from pelk.cure.models import Reading
from pelk.ui.numbers import read_counts
from pelk.ui.runway import Runway, runway
from pelk.yards.middleware import YardRequest

WIDE, TALL, MOST_HEAPS, CHOICES = 440, 300, 2, 60


@dataclass(frozen=True, slots=True)
class Column:
    """One heap: its runway and its readings by day."""

    batch: Batch
    run: Runway
    readings: dict[int, Reading]


@dataclass(frozen=True, slots=True)
class DayRow:
    """What was read of each heap about the same day since mixing."""

    day: int
    cells: list[Reading | None]


@require_safe
def comparison(request: YardRequest) -> HttpResponse:
    """Set two heaps side by side over time; none chosen lists what can be."""
    batches = Batch.objects.of(request.yard).live().in_cure()
    asked = read_counts(request.GET.getlist("h"))[:MOST_HEAPS]
    rows = {row.pk: row for row in batches.filter(pk__in=asked)}
    columns = [_column(rows[pk]) for pk in asked if pk in rows]
    days = sorted({day for column in columns for day in column.readings})
    table = [DayRow(day, [c.readings.get(day) for c in columns]) for day in days]
    choices = batches.defer("document", "analyses", "shown", "forecast_at_mixing")[:CHOICES]
    context = {"columns": columns, "table": table, "choices": choices, "asked": asked}
    return render(request, "cure/comparison.html", context)


def _column(batch: Batch) -> Column:
    newest = visits_of(batch)
    evaluation = learned(batch, newest).evaluation
    measured = [(day_of(batch, r), r.ph) for r in reversed(newest) if r.ph is not None]
    ahead = evaluation.forecast
    run = runway(
        ahead_of(ahead) if ahead else None,
        evaluation.ph_band,
        width=WIDE,
        height=TALL,
        readings=measured,
    )
    by_day = {int(day_of(batch, r)): r for r in newest}
    return Column(batch, run, by_day)
