"""Materials, their analyses, and what a yard has on its shelf."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import datetime
from functools import cached_property

import msgspec
from django.db import models
from django.db.models import Q

from pelk.core.materials import Material as CoreMaterial
from pelk.core.materials import short_name
from pelk.yards.models import Yard, YardScoped


class MaterialQuerySet(models.QuerySet["Material"]):
    """Materials a yard may see."""

    def visible_to(self, yard: Yard) -> MaterialQuerySet:
        """Keep the shared library and the yard's own."""
        return self.filter(Q(yard=None) | Q(yard=yard))

    def with_analysis(self) -> MaterialQuerySet:
        """Say which analysis is the newest: `Material.core` knows most of them already."""
        of_each = Analysis.objects.filter(material=models.OuterRef("pk"))
        return self.annotate(
            analysis_pk=models.Subquery(of_each.values("pk")[:1]),
            analysed_at=models.Subquery(of_each.values("created_at")[:1]),
        )

    def matching(self, words: str) -> MaterialQuerySet:
        """Keep those whose names or family hold every word."""
        found = self
        for word in words.lower().split():
            found = found.filter(search__contains=word)
        return found


class Material(models.Model):
    """A material: of the shared library (no yard) or a yard's own."""

    yard = models.ForeignKey(Yard, models.CASCADE, null=True, related_name="+")
    slug = models.SlugField(max_length=80)
    name = models.CharField(max_length=120)
    family = models.CharField(max_length=40)
    role = models.CharField(max_length=20)
    search = models.TextField()
    place = models.PositiveSmallIntegerField("place of the family", default=0)

    objects = MaterialQuerySet.as_manager()

    class Meta:
        ordering = ["place", "family", "name", "pk"]
        indexes = [models.Index(fields=["place", "family", "name", "id"])]
        constraints = [
            models.UniqueConstraint(fields=["yard", "slug"], name="one_slug_in_a_yard"),
            models.UniqueConstraint(
                fields=["slug"], condition=Q(yard=None), name="one_slug_in_the_library"
            ),
        ]

    @cached_property
    def core(self) -> CoreMaterial:
        """The material as the core knows it, by its newest analysis."""
        if getattr(self, "analysis_pk", None) is None:
            return self.analyses.all()[0].as_core()
        return cores_of([self])[0]

    @property
    def short_name(self) -> str:
        """The name without what stands in brackets."""
        return short_name(self.name)

    @property
    def is_part(self) -> bool:
        """Whether it goes in by volume as a part."""
        return self.role == "bulk"


class Analysis(models.Model):
    """What a material holds, by one source of knowledge; the newest counts."""

    class Origin(models.TextChoices):
        LIBRARY = "library", "starter library"

    material = models.ForeignKey(Material, models.CASCADE, related_name="analyses")
    origin = models.CharField(max_length=10, choices=Origin, default=Origin.LIBRARY)
    facts = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created_at", "-pk"]
        verbose_name_plural = "analyses"

    def as_core(self) -> CoreMaterial:
        """Return the analysis as the core knows it."""
        return msgspec.convert(self.facts, CoreMaterial)


# Analyses as the core knows them, by key and time: a row of analysis never changes.
_CORES: dict[tuple[int, datetime], CoreMaterial] = {}
MOST_CORES = 4000


def cores_of(rows: Iterable[Material]) -> list[CoreMaterial]:
    """Return materials read `with_analysis` as the core knows them, in one query at most."""
    keys = [(m.analysis_pk, m.analysed_at) for m in rows]  # type: ignore[attr-defined]
    missing = [pk for pk, at in keys if (pk, at) not in _CORES]
    if len(_CORES) + len(missing) > MOST_CORES:
        _CORES.clear()
        missing = [pk for pk, _ in keys]
    for row in Analysis.objects.filter(pk__in=missing) if missing else ():
        _CORES[row.pk, row.created_at] = row.as_core()
    return [_CORES[key] for key in keys]


class ShelfItem(YardScoped):
    """A material that a yard has at hand."""

    material = models.ForeignKey(Material, models.CASCADE, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["yard", "material"], name="once_on_a_shelf")
        ]
