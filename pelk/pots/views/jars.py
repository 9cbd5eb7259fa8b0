"""Pages of jar tests: set up, wait, read, dose."""

from __future__ import annotations

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from pelk.core.advice.jar_tests import FACTORS
from pelk.core.base.rounding import sig
from pelk.pots.forms.jars import JarForm
from pelk.pots.models import JarTest
from pelk.pots.pages import said
from pelk.pots.pages.jars import answer_of, jars_of, read_from
from pelk.pots.services import jars as services
from pelk.shelf.pages.material import handling_cautions
from pelk.shelf.selectors import known_materials
from pelk.ui.numbers import read_number
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

PER_PAGE = 20
LOWEST_PH, HIGHEST_PH = 2.0, 11.0


@require_http_methods(["GET", "POST"])
@once()
def begin(request: YardRequest) -> HttpResponse:
    """Set up five jars, or go on with some."""
    form = JarForm(request.POST or None, yard=request.yard)
    if request.method == "POST" and form.is_valid():
        return redirect(services.begin_jars(yard=request.yard, by=request.user, **form.said))
    rows = JarTest.objects.of(request.yard).live()
    page = Paginator(rows, PER_PAGE).get_page(request.GET.get("page"))
    return render(request, "pots/jars_begin.html", {"form": form, "page": page})


@require_http_methods(["GET", "POST"])
def jars(request: YardRequest, jars: int) -> HttpResponse:
    """Show what to do with the jars, take what they read, and say the dose."""
    row = own_jars(request, jars)
    typed = [request.POST.get(f"ph-{i}", "") for i in range(1, len(FACTORS) + 1)]
    problems = ["" if _fits(text) else said.NOT_A_PH.format(text=text) for text in typed]
    if request.method == "POST" and not any(problems):
        read = [read_number(text) if text.strip() else None for text in typed]
        services.read_jars(jars=row, by=request.user, read=read)
        return redirect(row)
    core = known_materials(request.yard, [row.material])[row.material].core
    first, last = read_from(row, core)
    answer = jars_of(row)
    kept = ["" if jar.read is None else f"{jar.read:g}" for jar in answer]
    shown = typed if request.method == "POST" else kept
    return render(
        request,
        "pots/jars.html",
        {
            "test": row,
            "material": core,
            "first": first,
            "last": last,
            "is_early": timezone.localdate() < first,
            "rows": list(
                zip(
                    answer,
                    shown,
                    problems if request.method == "POST" else [""] * len(answer),
                    strict=True,
                )
            ),
            "answer": answer_of(row),
            "jar": request.yard.measures.volume(row.jar_l),
            "estimate": f"{sig(row.estimate_g_l, 3)} g/L",
            "cautions": handling_cautions([core]),
        },
    )


def _fits(text: str) -> bool:
    value = read_number(text) if text.strip() else LOWEST_PH
    return value is not None and LOWEST_PH <= value <= HIGHEST_PH


def own_jars(request: YardRequest, pk: int) -> JarTest:
    """Return a live jar test of the yard, or 404."""
    row: JarTest = get_object_or_404(JarTest.objects.of(request.yard).live(), pk=pk)
    return row
