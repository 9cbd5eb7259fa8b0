"""Pages of Cure."""

from typing import Any

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.barrow.models import Batch
from pelk.bench.reading import ahead_of, figures
from pelk.core.evaluate import Evaluation
from pelk.core.figures import Figure
from pelk.cure import services
from pelk.cure.forms import ReadingForm
from pelk.cure.heap import heap_verdicts, ready_rows
from pelk.cure.learning import day_of, learned
from pelk.cure.models import Reading
from pelk.ui.runway import Runway, runway
from pelk.ui.undo import say_with_undo
from pelk.yards.middleware import YardRequest

PER_PAGE = 30
PLOTTED_MAX = 100
# Charts are drawn for their slot, never scaled: desk, tablet, phone.
WIDE, MIDDLE, NARROW = 612, 560, 358


@require_safe
def heaps(request: YardRequest) -> HttpResponse:
    """List the heaps."""
    return render(request, "cure/heap.html", {**_heaps(request), "batch": None})


@require_http_methods(["GET", "POST"])
def heap(request: YardRequest, batch: int) -> HttpResponse:
    """Show a heap with its readings; POST keeps a new one."""
    row = get_object_or_404(Batch.objects.of(request.yard).live(), pk=batch)
    form = ReadingForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        services.record_reading(batch=row, by=request.user, **form.cleaned_data)
        return redirect("cure:heap", row.pk)
    readings = Reading.objects.for_batch(row)
    newest = list(readings[:PLOTTED_MAX])
    found = learned(row, newest)
    return render(request, "cure/heap.html", {
        **_heaps(request),
        **_shown(row, newest, found.evaluation),
        "batch": row,
        "form": form,
        "taught": found.taught,
        "taught_by": found.count,
        "page": Paginator(readings, PER_PAGE).get_page(request.GET.get("page")),
        "why": _why(request, found.evaluation),
        "litres": request.yard.measures.volume(found.evaluation.volumes.mixed_l),
    })  # fmt: skip


def _why(request: YardRequest, evaluation: Evaluation) -> Figure | None:
    return figures(evaluation).get(request.GET.get("why", ""))


def _shown(row: Batch, newest: list[Reading], evaluation: Evaluation) -> dict[str, Any]:
    """Return what the page says and draws of a heap."""
    today = (timezone.now() - row.made_at).days
    ahead = evaluation.forecast
    return {
        "evaluation": evaluation,
        "verdicts": heap_verdicts(row, newest, evaluation, today),
        "week": today // 7 + 1,
        "rows": ready_rows(row, ahead, today) if ahead else [],
        "wide": _runway(row, newest, evaluation, WIDE),
        "middle": _runway(row, newest, evaluation, MIDDLE),
        "narrow": _runway(row, newest, evaluation, NARROW),
    }


@require_POST
def reading_delete(request: YardRequest, reading: int) -> HttpResponse:
    """Strike out a reading, with the way back."""
    row = get_object_or_404(Reading.objects.of(request.yard).live(), pk=reading)
    services.delete_reading(reading=row, by=request.user)
    say_with_undo(request, "The reading is struck out.", "cure:reading_restore", row.pk)
    return redirect("cure:heap", row.batch_id)


@require_POST
def reading_restore(request: YardRequest, reading: int) -> HttpResponse:
    """Bring a reading back."""
    row = get_object_or_404(Reading.objects.of(request.yard), pk=reading)
    services.restore_reading(reading=row, by=request.user)
    return redirect("cure:heap", row.batch_id)


def _heaps(request: YardRequest) -> dict[str, Any]:
    found = Batch.objects.of(request.yard).live().in_cure()
    page = Paginator(found, PER_PAGE).get_page(request.GET.get("heaps"))
    return {"heaps": page}


def _runway(
    batch: Batch, readings: list[Reading], evaluation: Evaluation, width: int
) -> Runway:
    measured = [
        (day_of(batch, r), r.ph)
        for r in reversed(readings)
        if r.ph is not None and r.method == Reading.PhMethod.SLURRY
    ]
    found = evaluation.forecast
    return runway(
        ahead_of(found) if found else None, evaluation.ph_band, width=width, height=320,
        readings=measured, begun=batch.made_at,
        today=(timezone.now() - batch.made_at).total_seconds() / 86400,
    )  # fmt: skip
