"""Dry feed blends: try one, keep it, print the lid of its tub."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from pelk.bench import services
from pelk.bench.forms.blends import BlendForm, as_posted
from pelk.bench.models import BlendVersion, FeedBlend
from pelk.bench.pages import said
from pelk.bench.pages.blend import BlendPage, blend_page
from pelk.bench.pages.options import name_options
from pelk.bench.selectors import choices
from pelk.bench.views.bench import VERSIONS
from pelk.bench.views.book import PER_PAGE
from pelk.ui.numbers import read_count
from pelk.ui.pages import render_page
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

# What a new blend begins with, by common practice: nitrogen, phosphorus, potassium.
BEGIN = {
    "m1": "Feather meal",
    "p1": "2",
    "m2": "Bone meal, steamed",
    "p2": "2",
    "m3": "Kelp meal",
    "p3": "1",
    "m4": "Sulfate of potash, mined",
    "p4": "1",
}


@require_safe
def blends(request: YardRequest) -> HttpResponse:
    """List the yard's dry feed blends."""
    rows = FeedBlend.objects.of(request.yard).live()
    page = Paginator(rows, PER_PAGE).get_page(request.GET.get("page"))
    return render(request, "bench/blends.html", {"page": page})


@require_http_methods(["GET", "POST"])
@once("keep")
def new(request: YardRequest) -> HttpResponse:
    """Try a new blend; keep it."""
    return _blend(request, None)


@require_http_methods(["GET", "POST"])
def blend(request: YardRequest, blend: int) -> HttpResponse:
    """Try a blend otherwise; keep it so."""
    return _blend(request, own_blend(request, blend))


def _blend(request: YardRequest, row: FeedBlend | None) -> HttpResponse:
    version = _version(request, row) if row else None
    typed = request.POST if request.method == "POST" else version and as_posted(version.document)
    if typed is None:
        first = BlendForm(yard=request.yard)
        typed = {b.name: b.value() or "" for b in first} | {
            "tub_unit": first["tub_unit"].value() or "kg",
            "pot_unit": first["pot_unit"].value() or "L",
            "sack": first["sack"].value() or "all-purpose-5-5-5",
            **as_posted(BEGIN),
        }
    form = BlendForm(typed, yard=request.yard)
    read: BlendPage | None = None
    if form.is_valid():
        if request.POST.get("action") == "keep":
            kept = services.keep_blend(
                yard=request.yard,
                by=request.user,
                blend=row,
                name=form.cleaned_data["name"],
                document=form.document,
                note=request.POST.get("version_note", ""),
            )
            messages.success(request, said.SAVED.format(name=kept.name, number=kept.latest.number))
            return redirect(kept)
        read = blend_page(form, request.yard, timezone.localdate())
    names = name_options(choices(request.yard)["doses"])
    context = {
        "form": form,
        "row": row,
        "read": read,
        "names": names,
        "version": version,
        "versions": row.versions.all()[:VERSIONS] if row else [],
        "note": request.POST.get("version_note", ""),
    }
    fragments = {"blend-read": "bench/_blend_read.html"}
    return render_page(request, "bench/blend.html", context, fragments=fragments)


def _version(request: YardRequest, row: FeedBlend) -> BlendVersion:
    """Return the version an address asks for, or the newest."""
    asked = read_count(request.GET.get("version", "")) or 0
    return row.versions.filter(number=asked).first() or row.latest


def own_blend(request: YardRequest, pk: int) -> FeedBlend:
    """Return a live blend of the yard, or 404."""
    rows = FeedBlend.objects.of(request.yard).live()
    row: FeedBlend = get_object_or_404(rows, pk=pk)
    return row
