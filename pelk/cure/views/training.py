"""The practice heap: choose a story, dose, wait, probe, decide; then see what was true."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods

from pelk.core.curing.training_heap import LAST_DAY, Case, cases, played
from pelk.core.curing.training_probes import PROBES
from pelk.core.materials.library import library
from pelk.cure.models import TrainingHeap
from pelk.cure.pages import said
from pelk.cure.pages.practice import drawn, ended, runway_of, shown_doses
from pelk.cure.services import training as services
from pelk.ui.numbers import read_number
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

MINE = 12
WAITS = (3, 7, 14, 30)
MOST_G_L = 10.0
LATER = (
    "lime-dolomitic-ground",
    "lime-calcitic-ground",
    "sulfur-dusting",
    "feather-meal",
    "gypsum",
)


@require_http_methods(["GET", "POST"])
@once()
def stories(request: YardRequest) -> HttpResponse:
    """List the stories; POST mixes a heap by one of them."""
    typed: dict[str, str] = {}
    problem, chosen = "", request.POST.get("case", request.GET.get("case", ""))
    case, again = cases().get(chosen), _again(request)
    if request.method == "POST":
        if case is None:
            raise Http404
        typed = {slug: request.POST.get(slug, "") for slug in case.offered}
        doses, problem = _doses(case, typed)
        if not problem:
            kept = request.POST.get("choice", "")
            row = services.begin(
                yard=request.yard,
                by=request.user,
                case=case.key,
                doses=doses,
                choice=kept if kept in case.choices else "",
                seed=again.seed if again else None,
            )
            return redirect(row)
    mine = TrainingHeap.objects.of(request.yard).live()[:MINE]
    context = {
        "cases": [(one, drawn(one)) for one in cases().values()],
        "drawn": drawn(case) if case else "",
        "case": case,
        "again": again,
        "problem": problem,
        "offered": _offered(case, typed) if case else [],
        "parts": _parts(case) if case else [],
        "choice": request.POST.get("choice", ""),
        "mine": [(row, cases()[row.case].title) for row in mine if row.case in cases()],
    }
    return render(request, "cure/practice.html", context)


def _again(request: YardRequest) -> TrainingHeap | None:
    """Return the heap whose hidden truth is played once more."""
    asked = (request.POST if request.method == "POST" else request.GET).get("again", "")
    rows = TrainingHeap.objects.of(request.yard).live()
    return rows.filter(pk=int(asked)).first() if asked.isdecimal() and len(asked) < 15 else None


def _doses(case: Case, typed: dict[str, str]) -> tuple[dict[str, float], str]:
    doses = {}
    for slug, most in case.offered.items():
        value = read_number(typed[slug]) if typed[slug].strip() else 0.0
        if value is None or not 0 <= value <= most:
            name = library()[slug].short_name.lower()
            return {}, said.GIVE_WHICH.format(name=name, most=most)
        doses[slug] = value
    return doses, ""


def _offered(case: Case, typed: dict[str, str]) -> list[dict[str, Any]]:
    return [
        {
            "slug": slug,
            "name": library()[slug].short_name,
            "most": f"{most:g}",
            "value": typed.get(slug, f"{case.told.doses.get(slug, 0):g}"),
        }
        for slug, most in case.offered.items()
    ]


def _parts(case: Case) -> list[str]:
    return [f"{n:g} {library()[slug].spoken_name}" for slug, n in case.parts.items()]


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
    case, with_sums = cases()[row.case], request.GET.get("sums", "") == "1"
    way = services.way_of(row)
    game = played(case, way, row.seed)
    context = {
        "heap": row,
        "case": case,
        "parts": _parts(case),
        "waits": WAITS,
        "given": shown_doses(case, way),
        "looks": [(day, PROBES[kind], said) for day, kind, said in reversed(row.looks)],
        "probes": PROBES.items(),
        "later": tuple((s, library()[s].short_name.lower()) for s in LATER),
        "last_day": LAST_DAY,
        "run": runway_of(row, game, with_sums=with_sums),
        "sums": with_sums,
        "end": ended(row, game) if row.planted_day is not None else None,
    }
    return render(request, "cure/practice_heap.html", context)


def _act(request: YardRequest, row: TrainingHeap) -> None:
    verb, _, rest = request.POST.get("action", "").partition(":")
    if verb == "wait" and rest in {str(d) for d in WAITS}:
        services.wait(heap=row, days=int(rest))
    elif verb == "probe":
        services.probe(heap=row)
    elif verb == "look":
        services.look(heap=row, kind=rest)
    elif verb == "check":
        services.check(heap=row)
    elif verb == "plant":
        services.plant(heap=row, by=request.user)
    elif verb == "give":
        slug, grams = (request.POST.get("slug", ""), read_number(request.POST.get("grams", "")))
        if slug not in LATER or grams is None or not 0 < grams <= MOST_G_L:
            messages.error(request, said.GIVE_HOW.format(most=MOST_G_L))
        else:
            services.give(heap=row, slug=slug, g_per_l=grams)
