"""What readings taught of a yard's materials, heap by heap."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from math import log

from django.db import models
from django.utils import timezone

from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.materials.material import Taught
from pelk.core.materials.taught import USUAL_SD, Estimate, Factor, learned_of
from pelk.yards.models import YardScoped, YardScopedQuerySet


class EvidenceQuerySet(YardScopedQuerySet):
    """What counts, by material."""

    def by_material(self, slugs: Iterable[str]) -> dict[str, list[Evidence]]:
        """Return what is not forgotten of some materials."""
        by_slug: dict[str, list[Evidence]] = {}
        for row in self.live().filter(material__in=set(slugs)):
            by_slug.setdefault(row.material, []).append(row)
        return by_slug


class Evidence(YardScoped):
    """What one heap said of one factor of a material; put away, it is forgotten.

    `value` and `error` are off the book: of pH as they are, else of the logarithm. `against`
    is what the book said then.
    """

    material = models.CharField(max_length=80)
    factor = models.CharField(max_length=10, choices=[(f.value, f.value) for f in Factor])
    value = models.FloatField()
    error = models.FloatField()
    against = models.FloatField(default=0.0)
    # Where it was read: what names it for good, what it is called, and its page.
    source = models.CharField(max_length=40)
    said_of = models.CharField(max_length=80)
    url = models.CharField(max_length=200, blank=True)
    lot = models.CharField("bag", max_length=40, blank=True)
    on = models.DateField(default=timezone.localdate)
    core = models.CharField("version of the sums", max_length=20, blank=True)

    objects = EvidenceQuerySet.as_manager()  # type: ignore[misc]

    class Meta:
        ordering = ["-on", "-pk"]
        constraints = [
            models.UniqueConstraint(
                fields=["yard", "source", "material", "factor"], name="one_evidence_a_heap"
            )
        ]
        indexes = [models.Index(fields=["yard", "material"])]

    def against_book(self, core: CoreMaterial) -> Estimate:
        """Return it off the book as it stands now: a value that was mended since moves it."""
        value = self.value
        if self.factor == Factor.PH and core.ph and self.against:
            value += self.against - core.ph.typ
        elif self.factor == Factor.BUFFER and core.buffer and self.against:
            value += log(self.against / core.buffer.typ)
        return Estimate(value, self.error, self.lot)


@dataclass(frozen=True, slots=True)
class Lesson:
    """A factor of a material as a yard knows it, and the evidence, the odd rows marked."""

    factor: Factor
    taught: Taught | None
    rows: list[tuple[Evidence, bool]]


def lessons_of(core: CoreMaterial, rows: Sequence[Evidence], lot: str = "") -> list[Lesson]:
    """Return what some evidence teaches of a material; `lot` is the bag used now."""
    lessons = []
    for factor in Factor:
        held = [row for row in rows if row.factor == factor]
        if not held:
            continue
        learned = learned_of([row.against_book(core) for row in held], USUAL_SD[factor], lot)
        odd = learned.odd if learned else ()
        marked = [(row, i in odd) for i, row in enumerate(held)]
        lessons.append(Lesson(factor, learned.taught if learned else None, marked))
    return lessons
