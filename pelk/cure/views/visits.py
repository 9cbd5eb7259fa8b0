"""What else a visit brings: sprout tests, pictures, pens in buffers."""

from __future__ import annotations

from django.http import FileResponse, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_safe

from pelk.core.base.errors import PelkError
from pelk.cure.forms.visits import PenForm, PhotoForm, SowForm, SproutForm
from pelk.cure.models import HeapPhoto, MeterCheckRow, SproutTest
from pelk.cure.services import visits as services
from pelk.cure.views.heaps import own_heap
from pelk.ui.refusals import sentence
from pelk.yards.middleware import YardRequest

PENS = 30


@require_http_methods(["GET", "POST"])
def sow(request: YardRequest, batch: int) -> HttpResponse:
    """Guide a sprout test from the sowing on."""
    row = own_heap(request, batch)
    form = SowForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        test = services.sow(batch=row, by=request.user, seeds=int(form.cleaned_data["seeds"]))
        return redirect("cure:sprout", test.pk)
    return render(request, "cure/sow.html", {"batch": row, "form": form})


@require_http_methods(["GET", "POST"])
def sprout(request: YardRequest, test: int) -> HttpResponse:
    """Count a sprout test; say what its index means."""
    tests = SproutTest.objects.of(request.yard).live().select_related("batch")
    row = get_object_or_404(tests, pk=test)
    form = SproutForm(request.POST or None, seeds=row.seeds)
    if request.method == "POST" and form.is_valid():
        services.count_sprouts(test=row, by=request.user, **form.cleaned_data)
        return redirect("cure:sprout", row.pk)
    context = {"test": row, "form": form, "verdict": row.verdict}
    return render(request, "cure/sprout.html", context)


@require_http_methods(["GET", "POST"])
def photos(request: YardRequest, batch: int) -> HttpResponse:
    """Show the pictures of a heap; POST keeps a new one."""
    row = own_heap(request, batch)
    form = PhotoForm(request.POST or None, request.FILES or None)
    if request.method == "POST" and form.is_valid():
        try:
            services.keep_photo(
                batch=row,
                by=request.user,
                file=form.cleaned_data["file"],
                note=form.cleaned_data["note"],
            )
        except PelkError as error:
            form.add_error("file", sentence(error))
        else:
            return redirect("cure:photos", row.pk)
    shown = row.photos.filter(deleted_at=None)
    return render(request, "cure/photos.html", {"batch": row, "form": form, "photos": shown})


@require_safe
def photo(request: YardRequest, photo: int) -> FileResponse:
    """Send a picture to whom it belongs."""
    row = get_object_or_404(HeapPhoto.objects.of(request.yard).live(), pk=photo)
    answer = FileResponse(row.file.open("rb"), content_type=row.kind)
    answer["Cache-Control"] = "private, max-age=86400"
    answer["X-Content-Type-Options"] = "nosniff"
    return answer


@require_http_methods(["GET", "POST"])
def pens(request: YardRequest) -> HttpResponse:
    """Check a pen in two buffers; list the checks."""
    form = PenForm(request.POST or None)
    if request.method == "POST" and form.is_valid():
        services.check_pen(yard=request.yard, by=request.user, **form.cleaned_data)
        return redirect("cure:pens")
    rows = MeterCheckRow.objects.of(request.yard).live()[:PENS]
    return render(request, "cure/pens.html", {"form": form, "rows": rows})
