"""A practice heap on its page: what may be seen while it is played, and what was true after."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from django.utils.safestring import SafeString

from pelk.bench.pages.ahead import ahead_of
from pelk.core.curing.training_heap import (
    Case,
    Outcome,
    Played,
    Way,
    best_day,
    cases,
    did_nothing,
    planted,
    played,
)
from pelk.core.curing.training_probes import PROBES, looked
from pelk.core.materials.library import library
from pelk.cure.models import TrainingHeap
from pelk.cure.services.training import way_of
from pelk.ui.heap_picture import heap_svg
from pelk.ui.runway import Ahead, Runway, runway
from pelk.ui.textures import texture_of

WIDE, TALL = 620, 300
# Draws of what was known, shown beside what was true.
KNOWN_DRAWS = 200


@dataclass(frozen=True, slots=True)
class Scored:
    """One way of playing it, and what it came to."""

    who: str
    score: int
    lost: str
    day: int
    says: str


@dataclass(frozen=True, slots=True)
class Told:
    """What a probe said, and what was true."""

    day: int
    what: str
    said: str
    true: str


@dataclass(frozen=True, slots=True)
class Ended:
    """The truth, once it is planted."""

    outcome: Outcome
    scores: list[Scored]
    told: list[Told]
    would: list[Told]
    buffer: str
    warmer: str
    sulfur: str
    lime: str


def drawn(case: Case) -> SafeString:
    """Draw the heap of a story, its parts in layers."""
    return heap_svg(case.key, [(texture_of(library()[m]), n) for m, n in case.parts.items()])


def shown_doses(case: Case, way: Way) -> str:
    """Say what a way gives, in one line."""
    given = [f"{_name(s)} {g:g} g/L" for s, g in way.doses.items() if g]
    given += [f"day {d.day}: {_name(d.slug)} {d.g_per_l:g} g/L" for d in way.later]
    kept = [case.chosen(way.choice).title] if len(case.choices) > 1 else []
    return ", ".join([*given, *kept]) or "nothing"


def ended(row: TrainingHeap, game: Played) -> Ended:
    """Return how a planted practice heap came out, beside the other ways it could be played."""
    case, way, day = cases()[row.case], way_of(row), row.planted_day or 0
    mine, best = planted(case, game, day), best_day(case, game)
    ways = [("As the story had it", case.told), ("As its lesson has it", case.better)]
    scores = [_scored("You", mine, shown_doses(case, way))]
    for who, other in ways:
        outcome = planted(case, played(case, other, row.seed), other.plant)
        scores.append(_scored(who, outcome, shown_doses(case, other)))
    scores.append(_scored("Your doses, on their best day", best, shown_doses(case, way)))
    scores.append(_scored("Who did nothing", did_nothing(case, row.seed), "planted as it was"))
    truth = game.truth
    return Ended(
        outcome=mine,
        scores=scores,
        told=_told(row, game),
        would=[
            Told(day, name, looked(kind, case, way.choice, game, day, row.seed), "")
            for kind, name in PROBES.items()
        ],
        buffer=f"{truth.buffer:.2f}",
        warmer=f"{truth.warmer_c:+.1f}",
        sulfur=f"{truth.sulfur:.2f}",
        lime=f"{truth.lime:.2f}",
    )


def runway_of(row: TrainingHeap, game: Played, *, with_sums: bool) -> Runway:
    """Return what may be seen: the pen, the sums when asked; once planted, all known and true."""
    case, over = cases()[row.case], row.planted_day is not None
    shown: Ahead | None = None
    true: list[tuple[float, float]] = []
    if over:
        known = played(case, way_of(row), row.seed, samples=KNOWN_DRAWS).ahead
        shown = ahead_of(known)
        true = [(float(d), game.ph(d)) for d in range(len(shown.middle))]
    elif with_sums:
        believed = ahead_of(game.ahead)
        blank = np.asarray(believed.middle)
        shown = Ahead(low=blank, middle=blank, high=blank)
    return runway(
        shown,
        game.evaluation.ph_band,
        width=WIDE,
        height=TALL,
        readings=[(float(d), ph) for d, ph in row.probes],
        today=float(row.day),
        forecast_at_mixing=true,
    )


def _scored(who: str, outcome: Outcome, says: str) -> Scored:
    return Scored(who, outcome.score, f"{outcome.lost_share:.0%}", outcome.day, says)


def _told(row: TrainingHeap, game: Played) -> list[Told]:
    pens = [Told(d, "the pen", f"pH {ph:g}", f"{game.ph(d):.1f}") for d, ph in row.probes]
    return sorted(
        [*pens, *(Told(d, PROBES[kind], said, "") for d, kind, said in row.looks)],
        key=lambda t: t.day,
    )


def _name(slug: str) -> str:
    return library()[slug].short_name.lower()
