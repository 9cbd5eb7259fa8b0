"""Materials, their analyses, and what a yard has on its shelf."""

from __future__ import annotations

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
        """Bring the analyses along."""
        return self.prefetch_related("analyses")

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
        return next(iter(self.analyses.all())).as_core()

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


class ShelfItem(YardScoped):
    """A material that a yard has at hand."""

    material = models.ForeignKey(Material, models.CASCADE, related_name="+")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["yard", "material"], name="once_on_a_shelf")
        ]
