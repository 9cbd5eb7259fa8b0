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
from pelk.core.curing.logger_csv import decoded
from pelk.core.materials.material import Material as CoreMaterial
from pelk.exchange.domain.materials import Preview, as_csv, as_json, preview
from pelk.exchange.domain.recognise import FileKind, kind_of
from pelk.shelf.forms.lab import ReportForm
from pelk.shelf.models.materials import Material, cores_of
from pelk.shelf.services.intake import take_in
from pelk.ui.numbers import read_count
from pelk.yards.middleware import YardRequest

LARGEST = 8_000_000
SHOWN, HEAPS = 60, 60
UNKNOWN = (
    "This is no logger's file, no laboratory's report, and no materials that Pelk wrote. A "
    "logger's file has a column of times, a report a name, a number and a unit in each line."
)
NOT_TEXT = "This file is not text: choose a .json or .csv file that Pelk wrote, or one like it."


class SentOn(HttpResponseRedirect):
    """The same body once more, at the page that shows what it would change."""

    status_code = 307


@require_http_methods(["GET", "POST"])
def bring_in(request: YardRequest) -> HttpResponse:
    """Take any file: see what it is, and hand it to where it is looked at before it counts."""
    context: dict[str, Any] = {"text": "", "problem": "", "kind": ""}
    if request.method == "POST":
        if request.POST.get("action") == "to-heap":
            return _to_heap(request)
        text, name, problem = _any_text(request)
        kind = kind_of(text) if not problem else FileKind.UNKNOWN
        context |= {"text": text, "name": name, "kind": kind.value}
        if problem or kind is FileKind.UNKNOWN:
            context["problem"] = problem or UNKNOWN
        elif kind is FileKind.LOGGER:
            heaps = Batch.objects.of(request.yard).live().in_cure()
            context["heaps"] = heaps.only("code", "name", "made_at", "yard_id")[:HEAPS]
        elif kind is FileKind.LAB:
            context["form"] = ReportForm(yard=request.yard, initial={"text": text})
        else:
            return SentOn(reverse("exchange:materials"))
    return render(
        request, "exchange/bring_in.html", context, status=400 if context["problem"] else 200
    )


def _to_heap(request: YardRequest) -> HttpResponse:
    pk = read_count(request.POST.get("heap", "")) or 0
    heap = get_object_or_404(Batch.objects.of(request.yard).live(), pk=pk)
    return SentOn(reverse("cure:logger", args=[heap.pk]))


def _any_text(request: YardRequest) -> tuple[str, str, str]:
    """Return a file's text whatever wrote it, its name, and why it is refused."""
    file = request.FILES.get("file")
    if file is None:
        text = request.POST.get("text", "")
        return text, "", "" if text.strip() else "Choose a file, or paste its text."
    if (file.size or 0) > LARGEST:
        return "", "", "That is more than 8 MB. Import it in parts."
    return decoded(file.read()), file.name or "", ""


@require_http_methods(["GET", "POST"])
def materials(request: YardRequest) -> HttpResponse:
    """Show what a file would change; the second POST takes it in, all or nothing."""
    context: dict[str, Any] = {"shown": None, "text": "", "problem": ""}
    if request.method == "POST":
        text, problem = _text(request)
        context |= {"text": text, "problem": problem}
        if not problem:
            try:
                previews = preview(text, request.yard)
                if request.POST.get("action") == "take":
                    return _take(request, previews)
                context |= _shown(previews)
            except PelkError as error:
                context["problem"] = (
                    f"{error.path}: {error.message}." if error.path else f"{error.message}."
                )
    status = 400 if context["problem"] else 200
    return render(request, "exchange/materials.html", context, status=status)


def _text(request: YardRequest) -> tuple[str, str]:
    file = request.FILES.get("file")
    if file is None:
        text = request.POST.get("text", "")
        return text, "" if text.strip() else "Choose a file, or paste its text."
    if (file.size or 0) > LARGEST:
        return "", "That is more than 8 MB. Import it in parts."
    try:
        return file.read().decode("utf-8-sig"), ""
    except UnicodeDecodeError:
        return "", NOT_TEXT


def _take(request: YardRequest, previews: list[Preview]) -> HttpResponse:
    count = take_in(yard=request.yard, by=request.user, items=[one.intake for one in previews])
    messages.success(
        request, f"{count} taken in." if count else "Nothing differed, so nothing was changed."
    )
    return redirect(f"{reverse('shelf:list')}?show=own")


def _shown(previews: list[Preview]) -> dict[str, Any]:
    new = [one for one in previews if one.is_new]
    changed = [one for one in previews if not one.is_new and one.changes]
    return {
        "shown": [*new, *changed][:SHOWN],
        "more": max(len(new) + len(changed) - SHOWN, 0),
        "new": len(new),
        "changed": len(changed),
        "same": len(previews) - len(new) - len(changed),
    }


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
