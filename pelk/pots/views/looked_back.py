"""A season looked back on, and the next mix made from what it taught."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from pelk.bench.pages.said import SAVED
from pelk.bench.services import save_recipe
from pelk.pots.domain.looked_back import looked_back, seasons_ended, with_changes
from pelk.pots.pages import said
from pelk.pots.pages.looked_back import page_of
from pelk.pots.views.groups import own_group
from pelk.yards.middleware import YardRequest


@require_http_methods(["GET", "POST"])
def season(request: YardRequest, group: int, year: int) -> HttpResponse:
    """Show a season; POST keeps its mix, bettered, as the next version of its recipe."""
    row, today = own_group(request, group), timezone.localdate()
    years = seasons_ended(row, today)
    if year not in years:
        raise Http404
    back = looked_back(row, year, today)
    recipe = back.batch.recipe if back.batch else None
    if request.method == "POST":
        if recipe is None or recipe.deleted_at or not back.changes:
            messages.error(request, said.NO_RECIPE)
            return redirect("pots:looked_back", row.pk, year)
        document = with_changes(recipe.latest.as_document(), back.changes)
        note = said.AFTER_SEASON.format(
            name=row.name, year=year, why=" ".join(c.reason for c in back.changes)
        )
        kept = save_recipe(
            yard=request.yard, by=request.user, document=document, recipe=recipe, note=note[:200]
        )
        messages.success(request, SAVED.format(name=kept.name, number=kept.latest.number))
        return redirect(kept)
    context = {
        "group": row,
        "year": year,
        "years": years,
        "back": back,
        "page": page_of(back, request.yard),
        "recipe": recipe if recipe and not recipe.deleted_at else None,
    }
    return render(request, "pots/looked_back.html", context)
