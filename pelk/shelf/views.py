"""Pages of the shelf."""

from itertools import groupby

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.views.decorators.http import require_POST, require_safe

from pelk.core.sources import MARKS
from pelk.shelf.families import FAMILIES
from pelk.shelf.models import Material, cores_of
from pelk.shelf.selectors import shelf_slugs
from pelk.shelf.services.materials import keep_on_shelf
from pelk.shelf.tables import analysis_rows, physical_rows
from pelk.sources.selectors import works_named_in
from pelk.ui.pages import render_page
from pelk.yards.middleware import YardRequest

PER_PAGE = 60
FRAGMENTS = {"shelf-list": "shelf/_list.html"}


@require_safe
def shelf_list(request: YardRequest) -> HttpResponse:
    """List the materials by family; search and narrow them."""
    context = {**_listing(request), "material": None}
    return render_page(request, "shelf/list.html", context, fragments=FRAGMENTS)


@require_safe
def material(request: YardRequest, material: str) -> HttpResponse:
    """Show one material, its analysis, and where each value comes from."""
    row = _material(request, material)
    oxide = request.GET.get("as") == "oxide"
    context = {
        **_listing(request),
        "material": row,
        "core": row.core,
        "analysis": analysis_rows(row.core, oxide=oxide),
        "physical": physical_rows(row.core),
        "oxide": oxide,
        "works": works_named_in(row.core.provenance),
        "marks": MARKS,
    }
    return render_page(request, "shelf/list.html", context, fragments=FRAGMENTS)


@require_POST
def material_keep(request: YardRequest, material: str) -> HttpResponse:
    """Put a material on the yard's shelf, or take it off."""
    row = _material(request, material)
    on = request.POST.get("on") == "1"
    keep_on_shelf(yard=request.yard, by=request.user, materials=[row], on=on)
    return redirect("shelf:material", material)


def _material(request: YardRequest, slug: str) -> Material:
    visible = Material.objects.visible_to(request.yard).with_analysis()
    rows = visible.filter(slug=slug).order_by("-yard_id")
    return rows.first() or get_object_or_404(rows)


def _listing(request: YardRequest) -> dict[str, object]:
    """Return the list on the left: what is asked for, by family, one page of it."""
    mine = shelf_slugs(request.yard)
    words, show = request.GET.get("q", ""), request.GET.get("show", "")
    found = Material.objects.visible_to(request.yard).matching(words)
    if show == "parts":
        found = found.filter(role="bulk")
    elif show == "doses":
        found = found.exclude(role="bulk")
    elif show == "mine":
        found = found.filter(slug__in=mine)
    page = Paginator(found.with_analysis(), PER_PAGE).get_page(request.GET.get("page"))
    cores_of(page.object_list)
    families = [
        (FAMILIES.get(family, family), list(members))
        for family, members in groupby(page, key=lambda m: m.family)
    ]
    return {
        "families": families, "page": page, "mine": mine, "q": words, "show": show,
        "query": request.GET.urlencode(),
    }  # fmt: skip
