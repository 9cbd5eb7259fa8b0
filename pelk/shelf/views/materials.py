"""The list, one material, and materials of one's own."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.core.base.sources import MARKS
from pelk.shelf.domain.families import FAMILIES
from pelk.shelf.forms.materials import AddForm, label_elements
from pelk.shelf.models.materials import Material
from pelk.shelf.pages import said
from pelk.shelf.pages.glance import glance
from pelk.shelf.pages.listing import ORIGINS, ROLES, SORTS, Asked, listing
from pelk.shelf.pages.material import material_page
from pelk.shelf.pages.taught import taught_said
from pelk.shelf.services import materials as services
from pelk.ui.numbers import read_count
from pelk.ui.pages import render_page
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

FRAGMENTS = {"shelf-list": "shelf/_list.html", "label-says": "shelf/_label_says.html"}
MONTHS = (
    "January",
    "February",
    "March",
    "April",
    "May",
    "June",
    "July",
    "August",
    "September",
    "October",
    "November",
    "December",
)


@require_safe
def shelf_list(request: YardRequest) -> HttpResponse:
    """List the materials; search them, narrow them, put them in order."""
    context = {**listed(request), "material": None, "glance": glance(request.yard)}
    return render_page(request, "shelf/list.html", context, fragments=FRAGMENTS)


@require_safe
def material(request: YardRequest, material: str) -> HttpResponse:
    """Show one material: what is known of it, on what ground, and what it does."""
    context = page_of(request, own_or_shared(request, material))
    return render_page(request, "shelf/list.html", context, fragments=FRAGMENTS)


@require_POST
def keep(request: YardRequest, material: str) -> HttpResponse:
    """Put a material on the yard's shelf, or take it off."""
    row = own_or_shared(request, material)
    on = request.POST.get("on") == "1"
    services.keep_on_shelf(yard=request.yard, by=request.user, materials=[row], on=on)
    return redirect("shelf:material", material)


@require_http_methods(["GET", "POST"])
@once()
def add(request: YardRequest) -> HttpResponse:
    """Add a material of one's own, by its label."""
    like = request.GET.get("like", "")
    form = AddForm(request.POST or None, yard=request.yard, initial={"like": like})
    if request.method == "POST" and form.is_valid():
        own = form.save(request.yard, request.user)
        messages.success(request, said.IS_ON_SHELF.format(name=own.name))
        return redirect("shelf:material", own.slug)
    context = {"form": form, "says": label_elements(request.POST)}
    return render(request, "shelf/add.html", context)


@require_safe
def label_says(request: YardRequest) -> HttpResponse:
    """Answer a label being typed with the elements it means."""
    return render(request, "shelf/_label_says.html", {"says": label_elements(request.GET)})


def own_or_shared(request: YardRequest, slug: str) -> Material:
    """Return a material by its slug, the yard's own before the shared one."""
    visible = Material.objects.visible_to(request.yard).with_analysis()
    rows = visible.filter(slug=slug).select_related("like").own_first()
    return rows.first() or get_object_or_404(rows)


def _own(request: YardRequest, slug: str) -> Material:
    return get_object_or_404(Material, yard=request.yard, slug=slug)


def page_of(request: YardRequest, row: Material, **more: Any) -> dict[str, Any]:
    """Return what the page of a material shows, and the list beside it."""
    oxide, month = (request.GET.get("as") == "oxide", read_count(request.GET.get("from", "")))
    at = month - 1 if month and 1 <= month <= 12 else None
    drawn = "fact" in more or "label_form" in more
    read = material_page(row, request.yard, oxide=oxide, month=at, with_places=not drawn)
    return {
        **listed(request),
        "material": row,
        "core": read.core,
        "read": read,
        "oxide": oxide,
        "marks": MARKS,
        "months": list(enumerate(MONTHS, start=1)),
        "taught": [] if drawn else taught_said(read.core, request.yard),
        "figure": read.figures.get(request.GET.get("why", "")),
        **more,
    }


def listed(request: YardRequest) -> dict[str, Any]:
    """Return the list on the left."""
    asked = Asked.of(request.GET)
    return {
        "shelf": listing(request.yard, asked, request.GET.get("page")),
        "asked": asked,
        "sorts": SORTS.items(),
        "families": FAMILIES.items(),
        "origins": ORIGINS,
        "roles": ROLES.items(),
    }
