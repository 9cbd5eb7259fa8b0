"""Two heaps side by side, day by day since each was mixed."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from pelk.barrow.models import Batch
from pelk.cure.pages.comparison import columns_of, differences, table_of
from pelk.ui.numbers import read_counts
from pelk.yards.middleware import YardRequest

MOST_HEAPS, CHOICES = 2, 60


@require_safe
def comparison(request: YardRequest) -> HttpResponse:
    """Set two heaps side by side over time; none chosen lists what can be."""
    batches = Batch.objects.of(request.yard).live().in_cure()
    asked = list(dict.fromkeys(read_counts(request.GET.getlist("h"))))[:MOST_HEAPS]
    rows = {row.pk: row for row in batches.filter(pk__in=asked)}
    columns = columns_of([rows[pk] for pk in asked if pk in rows])
    choices = batches.defer("document", "analyses", "shown", "forecast_at_mixing")[:CHOICES]
    same = len(asked) == 1 and len(request.GET.getlist("h")) > 1
    context = {
        "columns": columns,
        "table": table_of(columns),
        "choices": choices,
        "asked": asked,
        "same": same,
        "says": differences(*columns) if len(columns) == MOST_HEAPS else [],
    }
    return render(request, "cure/comparison.html", context)
