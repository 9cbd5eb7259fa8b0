"""Pages of a group's air, water and weight: a drain test, a lift test, more aggregate."""

from __future__ import annotations

from django import forms
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.bench.services import save_recipe
from pelk.core.base.errors import PelkError
from pelk.pots.domain.air import main_fill, perlite_of, with_aggregate
from pelk.pots.forms.air import DrainForm, LiftForm
from pelk.pots.models import PotDeed, PotGroup
from pelk.pots.pages import said
from pelk.pots.pages.air import air_of
from pelk.pots.services import groups as services
from pelk.pots.views.groups import own_group
from pelk.ui.refusals import sentence
from pelk.yards.middleware import YardRequest


@require_safe
def air(request: YardRequest, group: int) -> HttpResponse:
    """Show how some pots stand for air, water and weight."""
    return _shown(request, own_group(request, group))


@require_http_methods(["GET", "POST"])
def drained(request: YardRequest, group: int) -> HttpResponse:
    """Keep a drain test."""
    row, form = own_group(request, group), DrainForm(request.POST)
    if request.method == "GET":
        return redirect("pots:air", row.pk)
    if not form.is_valid():
        return _shown(request, row, drain=form)
    return _kept(request, row, PotDeed.Kind.DRAINED, form.figures)


@require_http_methods(["GET", "POST"])
def lifted(request: YardRequest, group: int) -> HttpResponse:
    """Keep a lift test."""
    row, form = own_group(request, group), LiftForm(request.POST, yard=request.yard)
    if request.method == "GET":
        return redirect("pots:air", row.pk)
    if not form.is_valid():
        return _shown(request, row, lift=form)
    return _kept(request, row, PotDeed.Kind.LIFTED, form.figures)


@require_POST
def open_up(request: YardRequest, group: int) -> HttpResponse:
    """Carry the perlite that gives the air wanted to the recipe, as its next version."""
    row = own_group(request, group)
    reading = air_of(row, list(row.deeds.filter(deleted_at=None)), timezone.localdate())
    fill = main_fill(row)
    recipe = fill.batch.recipe if fill and fill.batch else None
    if recipe is None or recipe.deleted_at or not reading.share:
        messages.error(request, said.NO_RECIPE)
        return redirect("pots:air", row.pk)
    document = with_aggregate(recipe.latest.as_document(), reading.share)
    note = said.AIR_FOR.format(name=row.name, share=reading.share)
    kept = save_recipe(
        yard=request.yard, by=request.user, document=document, recipe=recipe, note=note
    )
    messages.success(
        request, said.SAVED_WITH.format(name=kept.name, number=kept.latest.number, note=note)
    )
    return redirect(kept)


def _kept(
    request: YardRequest, row: PotGroup, kind: str, figures: dict[str, float]
) -> HttpResponse:
    on = timezone.localdate()
    try:
        services.write_deed(group=row, by=request.user, kind=kind, on=on, figures=figures)
    except PelkError as error:
        messages.error(request, sentence(error))
    return redirect("pots:air", row.pk)


def _shown(
    request: YardRequest,
    row: PotGroup,
    *,
    drain: forms.Form | None = None,
    lift: forms.Form | None = None,
) -> HttpResponse:
    deeds = list(row.deeds.filter(deleted_at=None))
    reading = air_of(row, deeds, timezone.localdate())
    return render(
        request,
        "pots/air.html",
        {
            "group": row,
            "reading": reading,
            "drain": drain or DrainForm(),
            "lift": lift or LiftForm(yard=request.yard),
            "weights": reading.weights(request.yard.measures),
            "perlite": perlite_of(row),
            "percent": f"{reading.share:.0%}" if reading.share else "",
        },
    )
