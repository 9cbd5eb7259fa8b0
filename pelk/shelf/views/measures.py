"""Weigh a cup; how big is my handful, scoop, shovel, barrow."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods, require_safe

from pelk.core.base.errors import PelkError
from pelk.shelf.domain.hand_measures import KINDS, hand_rows, what_changes
from pelk.shelf.forms.measures import CupForm, HandForm
from pelk.shelf.pages import said
from pelk.shelf.pages.measures import HOW, with_uses
from pelk.shelf.services import measures as services
from pelk.shelf.views.materials import own_or_shared
from pelk.ui.pages import render_page
from pelk.ui.refusals import sentence
from pelk.yards.middleware import YardRequest


@require_safe
def measures(request: YardRequest) -> HttpResponse:
    """List what a handful, a scoop, a shovel and a barrow hold here."""
    return render(request, "shelf/measures.html", {"rows": with_uses(hand_rows(request.yard))})


@require_http_methods(["GET", "POST"])
def calibrate(request: YardRequest, kind: str) -> HttpResponse:
    """Guide three weighings of a measure; keep what they come to."""
    if kind not in KINDS:
        raise Http404
    form = HandForm(request.POST or None, kind=KINDS[kind], yard=request.yard)
    tried = form.tried() if request.method == "POST" else None
    keeping = request.POST.get("action") == "keep"
    if keeping and form.is_valid() and tried is not None:
        services.keep_measure(
            yard=request.yard,
            by=request.user,
            kind=kind,
            one_ml=tried.one_ml,
            weighings=tried.values,
            of=tried.of,
            state=form.cleaned_data["state"],
        )
        messages.success(request, said.MEASURE_SAVED.format(name=KINDS[kind].name))
        return redirect("shelf:measures")
    context = {
        "form": form,
        "kind": KINDS[kind],
        "how": HOW[kind],
        "tried": tried,
        "changes": what_changes(request.yard, kind, tried.one_ml) if tried else [],
    }
    fragments = {"tried": "shelf/_tried.html"}
    return render_page(request, "shelf/calibrate.html", context, fragments=fragments)


@require_http_methods(["GET", "POST"])
def cup(request: YardRequest, material: str) -> HttpResponse:
    """Weigh a level cup of a material."""
    row = own_or_shared(request, material)
    form = CupForm(request.POST or None, yard=request.yard, material=row)
    tried = form.tried() if request.method == "POST" else None
    if request.POST.get("action") == "keep" and form.is_valid() and tried is not None:
        try:
            own = services.keep_cup(
                yard=request.yard,
                by=request.user,
                material=row,
                density=tried.density,
                moisture_pct=tried.moisture_pct,
                note=tried.note,
            )
        except PelkError as error:
            form.add_error(None, sentence(error))
        else:
            messages.success(request, said.CUP_KEPT)
            return redirect("shelf:material", own.slug)
    context = {"form": form, "material": row, "tried": tried}
    fragments = {"tried": "shelf/_tried_cup.html"}
    return render_page(request, "shelf/cup.html", context, fragments=fragments)
