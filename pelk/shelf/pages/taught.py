"""What a yard's heaps taught of a material, as its page says it."""

from __future__ import annotations

from dataclasses import dataclass
from math import exp

from django.utils import timezone

from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.materials.taught import Factor, taught_says
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.evidence import Evidence, Lesson, lessons_of
from pelk.yards.models import Yard

NAMES = {
    Factor.PH: "own pH",
    Factor.BUFFER: "hold on its pH",
    Factor.LIME: "pace of this lime",
    Factor.SULFUR: "pace of this sulfur",
    Factor.CARBONATE: "free lime in it",
}


@dataclass(frozen=True, slots=True)
class TaughtRow:
    """One heap's evidence."""

    evidence: Evidence
    says: str
    is_odd: bool


@dataclass(frozen=True, slots=True)
class TaughtSaid:
    """A factor in a sentence, with the heaps that taught it."""

    name: str
    say: str
    rows: list[TaughtRow]


def taught_said(core: CoreMaterial, yard: Yard) -> list[TaughtSaid]:
    """Return what the yard's heaps taught of a material, factor by factor."""
    rows = Evidence.objects.of(yard).by_material([core.slug]).get(core.slug, [])
    if not rows:
        return []
    lots = Bag.objects.of(yard).lots_on([core.slug], timezone.localdate())
    lessons = lessons_of(core, rows, lots.get(core.slug, ""))
    return [_said(lesson) for lesson in lessons]


def _said(lesson: Lesson) -> TaughtSaid:
    rows = [
        TaughtRow(row, _off(lesson.factor, row.value, row.error), is_odd)
        for row, is_odd in lesson.rows
    ]
    say = "nothing: the heaps contradict one another"
    if lesson.taught is not None:
        say = taught_says(lesson.factor, lesson.taught)
    return TaughtSaid(NAMES[lesson.factor], say, rows)


def _off(factor: Factor, value: float, error: float) -> str:
    """Write one heap's evidence."""
    if factor is Factor.PH:
        return f"{value:+.2f} pH, give or take {error:.2f}"
    low, high = (100 * (exp(value + side * error) - 1) for side in (-1, 1))
    return f"{100 * (exp(value) - 1):+.0f} % ({low:+.0f} to {high:+.0f} %)"
