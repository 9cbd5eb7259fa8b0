"""The recipe book: a yard's recipes, and starting points by crop and school."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST, require_safe

from pelk.bench import services
from pelk.bench.domain.starting_points import starting_points
from pelk.bench.models import Recipe
from pelk.bench.pages import said
from pelk.bench.pages.book import book_rows, starting_mixes
from pelk.core.crops.groups import library as crops
from pelk.ui.pages import render_page
from pelk.ui.ph_dot import ph_scale_svg
from pelk.yards.middleware import YardRequest

PER_PAGE = 12
FRAGMENTS = {"book-list": "bench/_book_list.html"}


@require_safe
def book(request: YardRequest) -> HttpResponse:
    """List the yard's recipes; search them by word, tag and crop."""
    words, crop, tag = (request.GET.get(name, "")[:60] for name in ("q", "crop", "tag"))
    rows = Recipe.objects.of(request.yard).live().with_versions().matching(words)
    if crop in crops():
        rows = rows.filter(crop=crop)
    if tag:
        rows = rows.tagged(tag)
    page = Paginator(rows, PER_PAGE).get_page(request.GET.get("page"))
    query = request.GET.copy()
    query.pop("page", None)
    points = [p for p in starting_points().values() if not crop or p.document.crop == crop]
    context = {
        "page": page,
        "rows": book_rows(list(page), request.yard),
        "scale": ph_scale_svg(),
        "q": words,
        "crop": crop,
        "tag": tag,
        "crops": crops().values(),
        "query": f"{query.urlencode()}&" if query else "",
        "mixes": starting_mixes(points, request.yard),
        "tags": Recipe.objects.of(request.yard).live().tags_used(),
    }
    return render_page(request, "bench/book.html", context, fragments=FRAGMENTS)


@require_POST
def recipe_copy(request: YardRequest, recipe: int) -> HttpResponse:
    """Copy a recipe and open the copy."""
    return redirect(services.copy_recipe(recipe=own_recipe(request, recipe), by=request.user))


@require_POST
def recipe_rename(request: YardRequest, recipe: int) -> HttpResponse:
    """Give a recipe another name."""
    row, name = own_recipe(request, recipe), request.POST.get("name", "").strip()
    if name:
        services.rename_recipe(recipe=row, by=request.user, name=name)
    else:
        messages.error(request, said.NAMELESS)
    return redirect(row)


@require_POST
def recipe_plan(request: YardRequest, recipe: int) -> HttpResponse:
    """Plan a recipe as a next batch, or take that back."""
    row, planned = own_recipe(request, recipe), request.POST.get("planned") == "1"
    services.plan_recipe(recipe=row, by=request.user, planned=planned)
    return redirect("shelf:buying" if planned else row)


@require_POST
def recipe_tag(request: YardRequest, recipe: int) -> HttpResponse:
    """Give a recipe its tags."""
    row = own_recipe(request, recipe)
    services.tag_recipe(recipe=row, tags=request.POST.get("tags", ""))
    return redirect(row)


def own_recipe(request: YardRequest, pk: int) -> Recipe:
    """Return a live recipe of the yard, or 404."""
    rows = Recipe.objects.of(request.yard).live().with_versions()
    row: Recipe = get_object_or_404(rows, pk=pk)
    return row
