"""The page that takes a recipe from the Bench to planted."""

from __future__ import annotations

from datetime import timedelta

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from pelk.barrow.services import StoppedError
from pelk.bench.formats.documents import DocumentError
from pelk.bench.models import Recipe
from pelk.bench.pages.said import NOT_TO_BE_MADE
from pelk.bench.pages.verdicts import graded
from pelk.bench.selectors import evaluated
from pelk.core.advice.judgement import AT_ONCE, judge
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.simulation.readiness import HELD_UP
from pelk.pots.forms.plant_today import PlantTodayForm
from pelk.pots.pages import said
from pelk.pots.services.plant_today import plant_today
from pelk.ui.refusals import sentence
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest


@require_http_methods(["GET", "POST"])
@once()
def plant_recipe(request: YardRequest, recipe: int) -> HttpResponse:
    """Ask for the plant and the pots; POST mixes, fills and plants."""
    row = get_object_or_404(Recipe.objects.of(request.yard).live().with_versions(), pk=recipe)
    document = row.latest.as_document()
    try:
        evaluation = evaluated(document, request.yard)
    except DocumentError:
        messages.error(request, NOT_TO_BE_MADE)
        return redirect(row)
    form = PlantTodayForm(request.POST or None, yard=request.yard, document=document)
    judgement = judge(evaluation)
    ready = judgement.ready_day
    unmet = _unmet(evaluation) if ready is None or ready > AT_ONCE else []
    if request.method == "POST" and form.is_valid():
        try:
            group = plant_today(
                recipe=row,
                by=request.user,
                at=form.at,
                group=form.chosen,
                said=form.said,
                reason=form.cleaned_data["reason"],
                unmet=unmet,
            )
        except StoppedError as error:
            form.add_error("reason", sentence(error))
        else:
            messages.success(request, said.PLANTED.format(name=group.name))
            return redirect(group)
    context = {
        "recipe": row,
        "form": form,
        "makes": request.yard.measures.volume(evaluation.volumes.mixed_l),
        "harms": [f for f in graded(judgement) if f.band == "harm"],
        "stops": evaluation.stops,
        "unmet": unmet,
        "ready_on": timezone.localdate() + timedelta(days=ready) if ready is not None else None,
    }
    return render(request, "pots/plant_today.html", context)


def _unmet(evaluation: Evaluation) -> list[str]:
    """Return what a mix that was made today would still wait for."""
    ready = evaluation.forecast.ready if evaluation.forecast else None
    waits = ready.waiting_for if ready else ()
    return [HELD_UP[wait] for wait in waits] or ["ready"]
