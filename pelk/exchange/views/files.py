"""Files in and out: a preview of what will change, then all or nothing."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse, HttpResponseRedirect
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.views.decorators.http import require_http_methods, require_safe

from pelk.barrow.models import Batch
from pelk.core.base.errors import PelkError
from pelk.core.materials.material import Material as CoreMaterial
from pelk.exchange.domain.materials import Preview, as_csv, as_json, preview
from pelk.exchange.domain.recognise import FileKind, kind_of
from pelk.exchange.pages import said
from pelk.exchange.pages.materials import materials_preview
from pelk.shelf.forms.lab import ReportForm
from pelk.shelf.models.materials import Material, cores_of
from pelk.shelf.services.intake import take_in
from pelk.ui.numbers import read_count
from pelk.ui.uploads import upload_of
from pelk.yards.middleware import YardRequest

HEAPS = 60


class SentOn(HttpResponseRedirect):
    """The same body once more, at the page that shows what it would change."""

    status_code = 307


@require_http_methods(["GET", "POST"])
def bring_in(request: YardRequest) -> HttpResponse:
    """Take any file: see what it is, and hand it to where it is looked at before it counts."""
    if request.method != "POST":
        return render(request, "exchange/bring_in.html")
    if request.POST.get("action") == "to-heap":
        return _to_heap(request)
    upload = upload_of(request)
    kind = FileKind.UNKNOWN if upload.problem else kind_of(upload.text)
    context: dict[str, Any] = {"text": upload.text, "name": upload.name, "kind": kind.value}
    if kind is FileKind.MATERIALS:
        return SentOn(reverse("exchange:materials"))
    if kind is FileKind.UNKNOWN:
        context["problem"] = upload.problem or said.UNKNOWN
        return render(request, "exchange/bring_in.html", context, status=400)
    if kind is FileKind.LOGGER:
        heaps = Batch.objects.of(request.yard).live().in_cure()
        context["heaps"] = heaps.only("code", "name", "made_at", "yard_id")[:HEAPS]
    else:
        context["form"] = ReportForm(yard=request.yard, initial={"text": upload.text})
    return render(request, "exchange/bring_in.html", context)


def _to_heap(request: YardRequest) -> HttpResponse:
    pk = read_count(request.POST.get("heap", "")) or 0
    heap = get_object_or_404(Batch.objects.of(request.yard).live(), pk=pk)
    return SentOn(reverse("cure:logger", args=[heap.pk]))


@require_http_methods(["GET", "POST"])
def materials(request: YardRequest) -> HttpResponse:
    """Show what a file would change; the second POST takes it in, all or nothing."""
    if request.method != "POST":
        return render(request, "exchange/materials.html")
    upload = upload_of(request)
    context: dict[str, Any] = {"text": upload.text, "problem": upload.problem}
    if not upload.problem:
        try:
            coming = preview(upload.text, request.yard)
            if request.POST.get("action") == "take":
                return _take(request, coming)
        except PelkError as error:
            where = f"{error.path}: " if error.path else ""
            context["problem"] = f"{where}{error.message}."
        else:
            shown = {"preview": materials_preview(coming, upload.text)}
            return render(request, "ui/preview.html", shown)
    return render(request, "exchange/materials.html", context, status=400)


def _take(request: YardRequest, coming: list[Preview]) -> HttpResponse:
    count = take_in(yard=request.yard, by=request.user, items=[one.intake for one in coming])
    messages.success(request, said.IMPORTED.format(count=count) if count else said.NOTHING_DIFFERED)
    return redirect(f"{reverse('shelf:list')}?show=own")


@require_safe
def materials_json(request: YardRequest) -> HttpResponse:
    """Hand out the yard's materials as JSON."""
    return _file(as_json(_asked(request)), "application/json", "materials.json")


@require_safe
def materials_csv(request: YardRequest) -> HttpResponse:
    """Hand out the yard's materials as CSV."""
    return _file(as_csv(_asked(request)), "text/csv; charset=utf-8", "materials.csv")


@require_safe
def material_json(request: YardRequest, material: str) -> HttpResponse:
    """Hand out one material."""
    rows = Material.objects.visible_to(request.yard).filter(slug=material)
    material_row = rows.with_analysis().own_first().first()
    row = material_row or get_object_or_404(rows)
    return _file(as_json([row.core]), "application/json", f"{material}.json")


def _asked(request: YardRequest) -> list[CoreMaterial]:
    """Return the cores asked for: the yard's own, or all it may see."""
    rows = Material.objects.listed_for(request.yard)
    if request.GET.get("all") != "1":
        rows = rows.filter(yard=request.yard)
    return cores_of(list(rows.with_analysis()))


def _file(content: str, kind: str, name: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response
