"""The practice heap: choose a story, dose, wait, probe, decide; then see what was true."""

from __future__ import annotations

from typing import Any

import numpy as np
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods

from pelk.bench.pages.bench_page import ahead_of
from pelk.core.curing.training_heap import LAST_DAY, Case, Played, best_day, cases, planted, played
from pelk.core.materials.library import library
from pelk.cure.models import TrainingHeap
from pelk.cure.services import training as services
from pelk.ui.numbers import read_number
from pelk.ui.runway import Ahead, Runway, runway
from pelk.yards.middleware import YardRequest

WIDE, TALL, MINE = 620, 300, 12
WAITS = (3, 7, 14, 30)
MOST_G_L = 10.0
LATER = ("lime-dolomitic-ground", "lime-calcitic-ground", "sulfur-dusting")


@require_http_methods(["GET", "POST"])
def stories(request: YardRequest) -> HttpResponse:
    """List the stories; POST mixes a heap by one of them."""
    typed: dict[str, str] = {}
    problem, chosen = "", request.POST.get("case", request.GET.get("case", ""))
    case = cases().get(chosen)
    if request.method == "POST":
        if case is None:
            raise Http404
        typed = {slug: request.POST.get(slug, "") for slug in case.offered}
        doses, problem = _doses(case, typed)
        if not problem:
            row = services.begin(yard=request.yard, by=request.user, case=case.key, doses=doses)
            return redirect(row)
    mine = TrainingHeap.objects.of(request.yard).live()[:MINE]
    context = {
        "cases": cases().values(),
        "case": case,
        "problem": problem,
        "offered": _offered(case, typed) if case else [],
        "parts": _parts(case) if case else [],
        "mine": [(row, cases()[row.case].title) for row in mine if row.case in cases()],
    }
    return render(request, "cure/practice.html", context)


def _doses(case: Case, typed: dict[str, str]) -> tuple[dict[str, float], str]:
    doses = {}
    for slug, most in case.offered.items():
        value = read_number(typed[slug]) if typed[slug].strip() else 0.0
        if value is None or not 0 <= value <= most:
            name = library()[slug].short_name.lower()
            return {}, f"Write {name} as a number from 0 to {most:g} g/L."
        doses[slug] = value
    return doses, ""


def _offered(case: Case, typed: dict[str, str]) -> list[dict[str, Any]]:
    return [
        {
            "slug": slug,
            "name": library()[slug].short_name,
            "most": f"{most:g}",
            "value": typed.get(slug, f"{case.doses.get(slug, 0):g}"),
        }
        for slug, most in case.offered.items()
    ]


def _parts(case: Case) -> list[str]:
    return [f"{n:g} {library()[slug].short_name.lower()}" for slug, n in case.parts.items()]


@require_http_methods(["GET", "POST"])
def heap(request: YardRequest, heap: int) -> HttpResponse:
    """Play a practice heap; planted, it shows what was true and what the decision cost."""
    row = get_object_or_404(TrainingHeap.objects.of(request.yard).live(), pk=heap)
    if row.case not in cases():
        raise Http404
    if request.method == "POST":
        if row.planted_day is None:
            _act(request, row)
        return redirect(row)
    case, asked = cases()[row.case], request.GET.get("sums", "")
    game = played(case, row.doses, services.given_of(row), row.seed)
    context = {
        "heap": row,
        "case": case,
        "parts": _parts(case),
        "waits": WAITS,
        "doses": [(library()[s].short_name.lower(), g) for s, g in row.doses.items() if g],
        "given": [(d, library()[s].short_name.lower(), g) for d, s, g in row.given],
        "later": tuple((s, library()[s].short_name.lower()) for s in LATER),
        "last_day": LAST_DAY,
        "run": _runway(row, game, with_sums=asked == "1"),
        "sums": asked == "1",
    }
    if row.planted_day is not None:
        outcome, best = planted(case, game, row.planted_day), best_day(case, game)
        told = played(case, case.doses, [], row.seed)
        context |= {
            "outcome": outcome,
            "best": best,
            "told": planted(case, told, row.planted_day),
            "truth_buffer": f"{game.truth.buffer:.2f} times",
            "lost": f"{outcome.lost_share:.0%}",
            "best_lost": f"{best.lost_share:.0%}",
            "told_lost": f"{planted(case, told, row.planted_day).lost_share:.0%}",
        }
    return render(request, "cure/practice_heap.html", context)


def _act(request: YardRequest, row: TrainingHeap) -> None:
    verb, _, rest = request.POST.get("action", "").partition(":")
    if verb == "wait" and rest in {str(d) for d in WAITS}:
        services.wait(heap=row, days=int(rest))
    elif verb == "probe":
        services.probe(heap=row)
    elif verb == "check":
        services.check(heap=row)
    elif verb == "plant":
        services.plant(heap=row, by=request.user)
    elif verb == "give":
        slug, grams = (request.POST.get("slug", ""), read_number(request.POST.get("grams", "")))
        if slug not in LATER or grams is None or not 0 < grams <= MOST_G_L:
            messages.error(request, f"Write how much as a number up to {MOST_G_L:g} g/L.")
        else:
            services.give(heap=row, slug=slug, g_per_l=grams)


def _runway(row: TrainingHeap, game: Played, *, with_sums: bool) -> Runway:
    """Return what may be seen: the pen, and the sums when asked; the truth once it is planted."""
    believed = ahead_of(game.ahead)
    shown: Ahead | None = believed if with_sums else None
    told: list[tuple[float, float]] = []
    if row.planted_day is not None:
        true = np.array([game.ph(day) for day in range(len(believed.middle))])
        shown = Ahead(low=true, middle=true, high=true)
        told = [(float(d), float(ph)) for d, ph in enumerate(believed.middle)]
    return runway(
        shown,
        game.evaluation.ph_band,
        width=WIDE,
        height=TALL,
        readings=[(float(d), ph) for d, ph in row.probes],
        today=float(row.day),
        forecast_at_mixing=told,
    )
