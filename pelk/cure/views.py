"""Pages of Cure."""

from typing import Any

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.barrow.models import Batch
from pelk.core.evaluate import Evaluation
from pelk.cure import services
from pelk.cure.forms import ReadingForm
from pelk.cure.heap import heap_verdict
from pelk.cure.models import Reading
from pelk.ui.charts import Runway, runway
from pelk.ui.undo import say_with_undo
from pelk.yards.middleware import YardRequest

PER_PAGE = 30
PLOTTED_MAX = 100
# Charts are drawn for their slot, never scaled: desk, tablet, phone.
WIDE, MIDDLE, NARROW = 920, 560, 358


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
    evaluation = row.evaluation()
    newest = list(readings[:PLOTTED_MAX])
    context: dict[str, Any] = {
        **_heaps(request),
        "batch": row,
        "form": form,
        "page": Paginator(readings, PER_PAGE).get_page(request.GET.get("page")),
        "band": evaluation.ph_band,
        "crop": evaluation.crop,
        "verdict": heap_verdict(newest, evaluation),
        "week": (timezone.now() - row.made_at).days // 7 + 1,
        "wide": _runway(row, newest, evaluation, WIDE),
        "middle": _runway(row, newest, evaluation, MIDDLE),
        "narrow": _runway(row, newest, evaluation, NARROW),
        "litres": request.yard.measures.volume(evaluation.volumes.mixed_l),
    }
    return render(request, "cure/heap.html", context)


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
        (r.taken_at, r.ph)
        for r in reversed(readings)
        if r.ph is not None and r.method == Reading.PhMethod.SLURRY
    ]
    acidity = evaluation.acidity
    settled = None
    if acidity is not None:
        figure = acidity.settled
        settled = (figure.low or 0.0, figure.value or 0.0, figure.high or 0.0)
    return runway(
        batch.made_at, measured, evaluation.ph_band, settled, timezone.now(), width=width
    )
