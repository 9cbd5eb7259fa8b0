"""Recipes and versions side by side."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_safe

from pelk.bench.models import Recipe, RecipeVersion
from pelk.bench.pages import said
from pelk.bench.pages.comparison import MOST
from pelk.bench.pages.comparison import compare as side_by_side
from pelk.ui.numbers import read_counts
from pelk.yards.middleware import YardRequest


@require_safe
def compare(request: YardRequest) -> HttpResponse:
    """Set up to four recipes or versions side by side; the first is the yardstick."""
    versions = _asked(request)
    if len(versions) < 2:
        messages.info(request, said.COMPARE_HOW)
        return redirect("bench:book")
    if len(versions) > MOST:
        messages.info(request, said.FIRST_SHOWN.format(most=MOST))
    return render(
        request, "bench/compare.html", {"table": side_by_side(versions[:MOST], request.yard)}
    )


def _asked(request: YardRequest) -> list[RecipeVersion]:
    """Return the versions an address names: ``v`` by key, ``r`` the newest of a recipe."""

    def keys(name: str) -> list[int]:
        return read_counts(request.GET.getlist(name))[:20]

    mine = Recipe.objects.of(request.yard).live()
    rows = RecipeVersion.objects.filter(recipe__in=mine, pk__in=keys("v"))
    by_key = {v.pk: v for v in rows.select_related("recipe")}
    versions = [by_key[k] for k in keys("v") if k in by_key]
    newest = {r.pk: r.latest for r in mine.filter(pk__in=keys("r")).with_versions()}
    return versions + [newest[k] for k in keys("r") if k in newest]
