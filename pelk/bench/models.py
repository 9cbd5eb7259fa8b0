"""Recipes and their versions. A version is one ``pelk.mix/1`` document, never changed."""

from __future__ import annotations

from typing import Any

from django.conf import settings
from django.db import models
from django.db.models.functions import Cast
from django.urls import reverse
from django.utils import timezone

from pelk.bench.formats.documents import MixDocument, read
from pelk.yards.models import YardScoped, YardScopedQuerySet


class RecipeQuerySet(YardScopedQuerySet):
    """Recipes of a yard."""

    def with_versions(self) -> RecipeQuerySet:
        """Bring the versions along."""
        return self.prefetch_related("versions")

    def matching(self, words: str) -> RecipeQuerySet:
        """Keep those whose name, tags or materials hold every word."""
        rows = self
        for word in words.lower().split():
            rows = rows.filter(search__contains=word)
        return rows

    def tagged(self, tag: str) -> RecipeQuerySet:
        """Keep those with a tag."""
        return self.filter(search__contains=f"#{tag.lower()}#")

    def tags_used(self) -> list[str]:
        """Return all tags, each once, in order."""
        rows = self.exclude(tags="").values_list("tags", flat=True)
        return sorted({tag for row in rows for tag in row.split(", ")})

    def planned(self) -> RecipeQuerySet:
        """Keep those planned as the next batches."""
        return self.filter(planned_at__isnull=False)

    def naming(self, slug: str) -> RecipeQuerySet:
        """Keep those whose newest version names a material."""
        newest = RecipeVersion.objects.filter(recipe=models.OuterRef("pk"))
        text = Cast(models.Subquery(newest.values("document")[:1]), models.TextField())
        return self.annotate(newest=text).filter(newest__contains=f'"{slug}"')


class Recipe(YardScoped):
    """A named recipe."""

    name = models.CharField(max_length=80)
    # Kept beside the versions so that the book can be searched.
    crop = models.CharField(max_length=30, blank=True)
    tags = models.CharField(max_length=200, blank=True)
    search = models.TextField(blank=True)
    planned_at = models.DateTimeField("planned as a next batch", null=True)

    objects = RecipeQuerySet.as_manager()  # type: ignore[misc]

    class Meta:
        ordering = ["name", "pk"]

    def get_absolute_url(self) -> str:
        """Return its place on the Bench."""
        return reverse("bench:recipe", args=[self.pk])

    @property
    def latest(self) -> RecipeVersion:
        """The newest version."""
        return next(iter(self.versions.all()))


class RecipeVersion(models.Model):
    """What a recipe said at one time."""

    recipe = models.ForeignKey(Recipe, models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    document = models.JSONField()
    note = models.CharField("what changed", max_length=200, blank=True)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    created_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["-number"]
        constraints = [
            models.UniqueConstraint(fields=["recipe", "number"], name="one_version_of_a_number")
        ]

    def as_document(self) -> MixDocument:
        """Return the version as it was typed."""
        data: Any = self.document
        return read(data)


class FeedBlend(YardScoped):
    """Meals, dusts and salts mixed dry, kept in a tub."""

    name = models.CharField(max_length=80)

    class Meta:
        ordering = ["name", "pk"]

    def get_absolute_url(self) -> str:
        """Return its page."""
        return reverse("bench:blend", args=[self.pk])

    @property
    def latest(self) -> BlendVersion:
        """The newest version."""
        return next(iter(self.versions.all()))


class BlendVersion(models.Model):
    """What a blend was at one time: rows of material and parts, the tub, whom it feeds."""

    blend = models.ForeignKey(FeedBlend, models.CASCADE, related_name="versions")
    number = models.PositiveIntegerField()
    # As typed, by field of the form.
    document = models.JSONField()
    note = models.CharField("what changed", max_length=200, blank=True)
    created_at = models.DateTimeField(default=timezone.now, editable=False)

    class Meta:
        ordering = ["-number"]
        constraints = [
            models.UniqueConstraint(
                fields=["blend", "number"], name="one_blend_version_of_a_number"
            )
        ]


class FitAsked(YardScoped):
    """Doses to be fitted: what was asked, for a worker; its answer, for the page that waits."""

    posted = models.TextField()
    begun_at = models.DateTimeField(null=True)
    done_at = models.DateTimeField(null=True)
    answer = models.JSONField(null=True)

    class Meta:
        ordering = ["pk"]
        indexes = [models.Index(fields=["done_at", "id"])]
