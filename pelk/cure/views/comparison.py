"""Two heaps side by side, day by day since each was mixed."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import dataclass

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from pelk.barrow.models import Batch
from pelk.bench.pages.ahead import ahead_of
from pelk.core.advice.apart import Apart, apart_in_time
from pelk.core.base.errors import UnknownError
from pelk.core.simulation.telling import ph_sd
from pelk.cure.domain.learning import day_of, learned
from pelk.cure.domain.visits import visits_of
from pelk.cure.models import Reading
from pelk.ui.numbers import read_counts
from pelk.ui.runway import Runway, runway
from pelk.yards.middleware import YardRequest

WIDE, TALL, MOST_HEAPS, CHOICES = 440, 300, 2, 60


EC_SHARE_SD = 0.15
WARMTH_SD = 1.0


@dataclass(frozen=True, slots=True)
class Column:
    """One heap: its runway and its readings by day."""

    batch: Batch
    run: Runway
    readings: dict[int, Reading]
    measured: list[tuple[float, Reading]]

    def course(self, name: str) -> list[tuple[float, float]]:
        """Return the days and readings of one thing that was measured."""
        pairs = [(day, getattr(r, name)) for day, r in self.measured]
        return [(day, value) for day, value in pairs if value is not None]


@dataclass(frozen=True, slots=True)
class DayRow:
    """What was read of each heap about the same day since mixing."""

    day: int
    cells: list[Reading | None]


@require_safe
def comparison(request: YardRequest) -> HttpResponse:
    """Set two heaps side by side over time; none chosen lists what can be."""
    batches = Batch.objects.of(request.yard).live().in_cure()
    asked = list(dict.fromkeys(read_counts(request.GET.getlist("h"))))[:MOST_HEAPS]
    rows = {row.pk: row for row in batches.filter(pk__in=asked)}
    columns = [_column(rows[pk]) for pk in asked if pk in rows]
    days = sorted({day for column in columns for day in column.readings})
    table = [DayRow(day, [c.readings.get(day) for c in columns]) for day in days]
    choices = batches.defer("document", "analyses", "shown", "forecast_at_mixing")[:CHOICES]
    same = len(asked) == 1 and len(request.GET.getlist("h")) > 1
    context = {
        "columns": columns,
        "table": table,
        "choices": choices,
        "asked": asked,
        "same": same,
        "says": _differences(*columns) if len(columns) == MOST_HEAPS else [],
    }
    return render(request, "cure/comparison.html", context)


def _column(batch: Batch) -> Column:
    newest = visits_of(batch)
    evaluation = learned(batch, newest).evaluation
    measured = [(day_of(batch, r), r) for r in reversed(newest)]
    ahead = evaluation.forecast
    run = runway(
        ahead_of(ahead) if ahead else None,
        evaluation.ph_band,
        width=WIDE,
        height=TALL,
        readings=[(day, r.ph) for day, r in measured if r.ph is not None],
    )
    by_day = {int(day): r for day, r in measured}
    return Column(batch, run, by_day, measured)


def _differences(first: Column, second: Column) -> list[str]:
    """Say how far the second heap is from the first, and how sure that is."""
    says = []
    salts = [ec for _, ec in first.course("ec_ds_m")]
    for name, what, unit, sd in (
        ("ph", "pH", "", ph_sd("checked pen")),
        ("ec_ds_m", "salts", " dS/m", EC_SHARE_SD * (sum(salts) / len(salts) if salts else 1)),
        ("temperature_c", "warmth", " \u00b0C", WARMTH_SD),
    ):
        with suppress(UnknownError):
            apart = apart_in_time(first.course(name), second.course(name), sd)
            says.append(_said(first.batch.code, second.batch.code, what, unit, apart))
    return says


def _said(first: str, second: str, what: str, unit: str, apart: Apart) -> str:
    size, low, high = abs(apart.middle), *sorted((abs(apart.low), abs(apart.high)))
    days = f"on {apart.count} day{'s' if apart.count > 1 else ''} that both cover"
    if not apart.is_told:
        return (
            f"Their {what} is the same, as far as the readings tell: {size:.1f}{unit} apart {days}."
        )
    side = "over" if apart.middle > 0 else "under"
    return (
        f"The {what} of {second} stands {size:.1f}{unit} {side} that of {first}, {low:.1f} to "
        f"{high:.1f}, {days}."
    )
