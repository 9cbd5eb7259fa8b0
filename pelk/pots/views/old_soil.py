"""Pages of old soil: one question a step, then what to do with it."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.old_soil.questions import BY_KEY, STEPS, UNKNOWN, families
from pelk.pots.domain.old_soil import OLD_MIX, step_of
from pelk.pots.forms.groups import OldSoilForm
from pelk.pots.models import OldSoil, PotGroup
from pelk.pots.pages import said as words
from pelk.pots.pages.old_soil import ENOUGH, old_soil_page, standing_soil
from pelk.pots.services import old_soil as services
from pelk.shelf.pages.material import handling_cautions
from pelk.shelf.selectors import known_materials
from pelk.ui.numbers import read_count, read_number
from pelk.ui.refusals import sentence
from pelk.ui.soil_pictures import soil_picture
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

PER_PAGE = 20


@require_http_methods(["GET", "POST"])
@once()
def soils(request: YardRequest) -> HttpResponse:
    """List what was looked at, and begin with another soil."""
    asked = request.GET.get("group", "")
    group = PotGroup.objects.of(request.yard).live().filter(pk=read_count(asked)).first()
    start = {"group": asked, "next_crop": group.crop if group else "fruiting"}
    form = OldSoilForm(request.POST or None, yard=request.yard, initial=start)
    if request.method == "POST" and form.is_valid():
        return redirect(services.begin_old_soil(yard=request.yard, by=request.user, **form.said))
    rows = OldSoil.objects.of(request.yard).live().select_related("group", "recipe", "yard")
    page = Paginator(rows, PER_PAGE).get_page(request.GET.get("page"))
    standing = [standing_soil(row) for row in page]
    context = {"form": form, "page": page, "standing": standing, "families": families()}
    return render(request, "pots/soils.html", context)


@require_safe
def old(request: YardRequest, soil: int) -> HttpResponse:
    """Ask the next question, or one again; beside it what follows so far."""
    return _shown(request, own_soil(request, soil), request.GET.get("step", ""))


def _shown(
    request: YardRequest, row: OldSoil, asked: str, problem: str = "", typed: str = ""
) -> HttpResponse:
    step = step_of(row, asked)
    answered = [_answered(row, s.key) for s in STEPS if s.key in row.answers]
    core = known_materials(request.yard, [OLD_MIX])[OLD_MIX].core
    context = {
        "soil": row,
        "step": step,
        "answered": answered,
        "problem": problem,
        "said": typed or row.answers.get(step.key, "") if step else "",
        "options": [(name, words, soil_picture(step.key, name)) for name, words, _ in step.options]
        if step
        else [],
        "line": [
            ("is-done" if s.key in row.answers else "is-now" if step and s.key == step.key else "")
            for s in STEPS
        ],
        "told": old_soil_page(row) if len(row.answers) >= ENOUGH else None,
        "litres": request.yard.measures.volume(row.litres),
        "cautions": handling_cautions([core]),
    }
    return render(request, "pots/old.html", context)


def _answered(row: OldSoil, key: str) -> tuple[str, str, str]:
    step, said = BY_KEY[key], row.answers[key]
    chosen = next((w for name, w, _ in step.options if name == said), None)
    if said == UNKNOWN:
        chosen = words.NOT_KNOWN
    return key, step.ask, chosen or f"{sig(said)} {step.unit}".strip()


@require_http_methods(["GET", "POST"])
def answer(request: YardRequest, soil: int) -> HttpResponse:
    """Keep an answer and go on to the next question; a GET sees the soil."""
    row = own_soil(request, soil)
    if request.method == "GET":
        return redirect(row)
    key, said = request.POST.get("key", ""), request.POST.get("said", "")
    step = BY_KEY.get(key)
    if step is None:
        return redirect(row)
    value: str | float = said
    if not step.options and said != UNKNOWN:
        number, (low, high) = read_number(said), step.limits
        if number is None or not low <= number <= high:
            problem = words.NOT_A_READING.format(text=said, low=low, high=high)
            return _shown(request, row, key, problem, said)
        value = number
    services.answer(soil=row, by=request.user, key=key, said=value)
    return redirect(row)


@require_POST
def mix(request: YardRequest, soil: int) -> HttpResponse:
    """Carry the prescription to the Bench."""
    row = own_soil(request, soil)
    try:
        recipe = services.mix_old_soil(soil=row, by=request.user)
    except PelkError as error:
        messages.error(request, words.NOTHING_TO_MIX.format(why=sentence(error)))
        return redirect(row)
    messages.success(request, words.ON_THE_BENCH.format(name=recipe.name))
    return redirect(recipe)


@require_safe
def store(request: YardRequest, soil: int) -> HttpResponse:
    """Show the card that goes with stored soil through the winter."""
    row = own_soil(request, soil)
    context = {
        "soil": row,
        "litres": request.yard.measures.volume(row.litres),
        "told": old_soil_page(row),
    }
    return render(request, "pots/store.html", context)


def own_soil(request: YardRequest, pk: int) -> OldSoil:
    """Return a live inspection of the yard, or 404."""
    row: OldSoil = get_object_or_404(OldSoil.objects.of(request.yard).live(), pk=pk)
    return row
