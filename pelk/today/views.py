"""The page of the day."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from pelk.bench.models import Recipe
from pelk.core.base.rounding import sig
from pelk.pots.models import PotGroup
from pelk.today.domain.day import day_of_yard
from pelk.today.pages import said
from pelk.today.pages.jump import LONGEST, jumps
from pelk.today.pages.start import seasons_of_pots, start_page
from pelk.ui.numbers import read_number
from pelk.ui.resting_chart import lanes, resting_numbers
from pelk.ui.season_nitrogen import season_nitrogen_svg, season_numbers
from pelk.yards.middleware import YardRequest

WIDE, NARROW = 462, 358
USUAL_POT_L = 5.0
COLDEST, HOTTEST = -40.0, 55.0
TYPED = "weather"
# The elements that a list of places may stand in.
JUMP_LISTS = ("jump-page-list", "jump-list")


@require_safe
def today(request: YardRequest) -> HttpResponse:
    """Show what is due today, what comes this week, and how the heaps rest."""
    on = timezone.localdate()
    day = day_of_yard(request.yard, on, _typed(request))
    seasons = seasons_of_pots(request.yard, on)
    context = {
        "day": day,
        "seasons": [
            (css, season_nitrogen_svg(seasons, on, width))
            for css, width in (("only-l", WIDE), ("only-s", NARROW))
            if seasons
        ],
        "season_numbers": season_numbers(seasons, on),
        "air": sig(request.yard.measures.degrees(day.weather.air_c)),
        "degree_unit": request.yard.measures.degree_unit,
        "is_new": not Recipe.objects.of(request.yard).exists()
        and not PotGroup.objects.of(request.yard).exists(),
        "drawn": [
            (css, lanes(day.resting, on, width=width))
            for css, width in (("only-l", WIDE), ("only-s", NARROW))
        ],
        "resting_numbers": resting_numbers(day.resting),
    }
    return render(request, "today/today.html", context)


@require_safe
def start(request: YardRequest) -> HttpResponse:
    """Show where to begin, and mixes that work."""
    measures = request.yard.measures
    context = {
        "page": start_page(request.yard),
        "unit": measures.space_unit,
        "pot": sig(measures.space(USUAL_POT_L), 2),
    }
    return render(request, "today/start.html", context)


@require_safe
def jump(request: YardRequest) -> HttpResponse:
    """List what a few letters lead to: a page, a material, a recipe, a heap, some pots."""
    words, list_id = request.GET.get("q", ""), request.GET.get("list", "")
    rows = jumps(request.yard, words)
    count = f"{len(rows)} place{'' if len(rows) == 1 else 's'}" if words.strip() else ""
    context = {
        "q": words[:LONGEST],
        "jumps": rows,
        "heard": count,
        "list_id": list_id if list_id in JUMP_LISTS else JUMP_LISTS[0],
    }
    is_list = request.headers.get("HX-Request") == "true"
    template = "today/_jump_list.html" if is_list else "today/jump.html"
    return render(request, template, context)


@require_safe
def keys(request: YardRequest) -> HttpResponse:
    """List the keys that are the same on every page."""
    return render(request, "today/keys.html")


@require_POST
def weather(request: YardRequest) -> HttpResponse:
    """Take the day's warmth as it was typed; a blank goes back to the month's mean."""
    text = request.POST.get("air_c", "").strip()
    measures = request.yard.measures
    typed = read_number(text) if text else None
    value = None if typed is None else measures.celsius(typed)
    if text and (value is None or not COLDEST <= value <= HOTTEST):
        low, high = (sig(measures.degrees(c)) for c in (COLDEST, HOTTEST))
        messages.error(
            request,
            said.NOT_WARMTH.format(text=text, unit=measures.degree_unit, low=low, high=high),
        )
    elif value is None:
        request.session.pop(TYPED, None)
    else:
        request.session[TYPED] = [timezone.localdate().isoformat(), value]
    return redirect("today:today")


def _typed(request: YardRequest) -> float | None:
    """Return what was typed today; yesterday's no longer counts."""
    on, value = request.session.get(TYPED, ("", None))
    return value if on == timezone.localdate().isoformat() else None
