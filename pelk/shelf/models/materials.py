"""Materials, their analyses, a grower's own values, and what a yard has on its shelf."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime
from functools import cached_property
from typing import Any

from django.conf import settings
from django.db import models
from django.db.models import F, Q
from django.urls import reverse

from pelk.core.base.errors import UnknownError
from pelk.core.materials.facts import with_values
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.materials.material import Provenance, Range, from_stored, short_name
from pelk.yards.models import PutAway, Yard, YardScoped, YardScopedQuerySet


class MaterialQuerySet(models.QuerySet["Material"]):
    """Materials a yard may see."""

    def visible_to(self, yard: Yard) -> MaterialQuerySet:
        """Keep the shared library and the yard's own."""
        return self.filter(Q(yard=None) | Q(yard=yard))

    def of_the_library(self, yard: Yard) -> MaterialQuerySet:
        """Keep what of the shared library a yard has no row of its own for."""
        own = Material.objects.filter(yard=yard, deleted_at=None, slug=models.OuterRef("slug"))
        return self.filter(~models.Exists(own), yard=None)

    def listed_for(self, yard: Yard) -> MaterialQuerySet:
        """Keep what a list shows: nothing put away, the yard's own before the shared."""
        own = Material.objects.filter(yard=yard, deleted_at=None, slug=models.OuterRef("slug"))
        return self.visible_to(yard).filter(Q(yard=yard) | ~models.Exists(own), deleted_at=None)

    def own_first(self) -> MaterialQuerySet:
        """Put the yard's own before the shared, on every database."""
        return self.order_by(F("yard_id").desc(nulls_last=True))

    def with_analysis(self) -> MaterialQuerySet:
        """Say which analysis is the newest: `Material.core` knows most of them already."""
        return self.annotate(
            analysis_pk=models.F("current_id"), analysed_at=models.F("current__created_at")
        )

    def matching(self, words: str) -> MaterialQuerySet:
        """Keep those whose names or family hold every word."""
        rows = self
        for word in words.lower().split():
            rows = rows.filter(search__contains=word)
        return rows


class Material(PutAway):
    """A material: of the shared library (no yard) or a yard's own."""

    yard = models.ForeignKey(Yard, models.CASCADE, null=True, related_name="+")
    slug = models.SlugField(max_length=80)
    name = models.CharField(max_length=120)
    family = models.CharField(max_length=40)
    role = models.CharField(max_length=20)
    search = models.TextField()
    place = models.PositiveSmallIntegerField("place of the family", default=0)
    origin = models.CharField(max_length=20, blank=True)
    # Kept beside the analysis so that long lists can be put in order by it.
    n_pct = models.FloatField("nitrogen, %", null=True)
    like = models.ForeignKey(
        "self", models.SET_NULL, null=True, related_name="+", verbose_name="taken as like"
    )
    # What a file said of it beyond values: kept under the yard's own values.
    base = models.JSONField(null=True)
    current = models.ForeignKey(
        "Analysis",
        models.SET_NULL,
        null=True,
        related_name="+",
        verbose_name="the newest analysis: it counts",
    )

    objects = MaterialQuerySet.as_manager()

    class Meta:
        ordering = ["place", "family", "name", "pk"]
        indexes = [
            models.Index(fields=["yard", "place", "family", "name", "id"], name="shelf_by_family"),
            models.Index(fields=["yard", "-n_pct", "name", "id"], name="shelf_by_nitrogen"),
        ]
        constraints = [
            models.UniqueConstraint(fields=["yard", "slug"], name="one_slug_in_a_yard"),
            models.UniqueConstraint(
                fields=["slug"], condition=Q(yard=None), name="one_slug_in_the_library"
            ),
        ]

    def get_absolute_url(self) -> str:
        """Return its page on the shelf."""
        return reverse("shelf:material", args=[self.slug])

    @cached_property
    def core(self) -> CoreMaterial:
        """The material as the core knows it, by its newest analysis."""
        if getattr(self, "analysis_pk", None) is None:
            if self.current is None:
                raise UnknownError(f"nothing is known of {self.name} yet")
            return self.current.as_core()
        return cores_of([self])[0]

    def core_with(self, values: Mapping[str, Value]) -> CoreMaterial:
        """Return the material with some values laid over what counts now."""
        held = self.core
        if not values:
            return held
        own = {key: (v.range, v.provenance) for key, v in values.items()}
        usable = [k for k in held.usable if k not in values]
        usable += [k for k, v in values.items() if v.usable]
        return with_values(held, own, usable=usable)

    @property
    def short_name(self) -> str:
        """The name without what stands in brackets."""
        return short_name(self.name)

    @property
    def is_own(self) -> bool:
        """Whether a yard keeps it, with values of its own."""
        return self.yard_id is not None

    @property
    def is_part(self) -> bool:
        """Whether it goes in by volume as a part."""
        return self.role == "bulk"


class Analysis(models.Model):
    """What a material holds, by one source of knowledge; the newest counts."""

    class Origin(models.TextChoices):
        LIBRARY = "library", "starter library"
        OWN = "own", "the yard's own values"

    material = models.ForeignKey(Material, models.CASCADE, related_name="analyses")
    origin = models.CharField(max_length=10, choices=Origin, default=Origin.LIBRARY)
    facts = models.JSONField()
    created_at = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-created_at", "-pk"]
        verbose_name_plural = "analyses"

    def save(self, *args: Any, **kwargs: Any) -> None:
        """Keep it, and let it count: the newest does."""
        super().save(*args, **kwargs)
        self.material.current = self
        self.material.save(update_fields=["current"])

    def as_core(self) -> CoreMaterial:
        """Return the analysis as the core knows it."""
        return from_stored(self.facts)


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


class ValueQuerySet(YardScopedQuerySet):
    """What a yard said of its materials."""

    def that_count(self) -> dict[str, Value]:
        """Return the newest live value of each fact."""
        return {v.fact: v for v in self.live().order_by("created_at", "pk")}


class Value(YardScoped):
    """One value of a material as a grower has it: from a label, a lab, a scale, a guess.

    The newest that is not withdrawn counts; older ones can be had back.
    """

    class Mark(models.TextChoices):
        LABEL = "label", "from the label"
        LAB = "lab", "from the lab"
        YOURS = "yours", "measured here"
        GUESS = "guess", "your guess"

    material = models.ForeignKey(Material, models.CASCADE, related_name="values")
    fact = models.CharField(max_length=20)
    low = models.FloatField()
    typ = models.FloatField("typical")
    high = models.FloatField()
    usable = models.BooleanField("printed as available", default=False)
    mark = models.CharField("provenance", max_length=10, choices=Mark)
    dated = models.DateField(null=True)
    note = models.CharField(max_length=120, blank=True)
    bag = models.ForeignKey("Bag", models.CASCADE, null=True, related_name="values")
    report = models.ForeignKey("LabReport", models.CASCADE, null=True, related_name="values")
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    objects = ValueQuerySet.as_manager()  # type: ignore[misc]

    class Meta:
        ordering = ["-created_at", "-pk"]

    @property
    def range(self) -> Range:
        """Low, typical and high."""
        return Range(self.low, self.typ, self.high)

    @property
    def back_address(self) -> str:
        """Where it is taken back."""
        return reverse("shelf:value_back", args=[self.pk])

    @property
    def again_address(self) -> str:
        """Where it counts again."""
        return reverse("shelf:value_again", args=[self.pk])

    @property
    def provenance(self) -> Provenance:
        """Where it comes from, as the core knows it."""
        return Provenance(self.mark, str(self.dated or ""), self.note)


class ShelfItem(YardScoped):
    """A material that a yard has at hand; what its bags come to is kept for long lists."""

    material = models.ForeignKey(Material, models.CASCADE, related_name="items")
    left_l = models.FloatField("loosened litres left", null=True)
    left_kg = models.FloatField("kilograms left", null=True)
    price_l = models.FloatField("price of per litre, loosened", null=True)
    price_kg = models.FloatField("price of a kilogram", null=True)
    is_low = models.BooleanField(default=False)
    priced = models.ForeignKey(
        "Bag",
        models.SET_NULL,
        null=True,
        related_name="+",
        verbose_name="the newest bag with a price",
    )

    class Meta:
        constraints = [models.UniqueConstraint(fields=["yard", "material"], name="once_on_a_shelf")]
        indexes = [
            models.Index(fields=["yard", "price_l"], name="shelf_by_price"),
            models.Index(fields=["yard", "-left_l"], name="shelf_by_left"),
            models.Index(fields=["yard", "is_low"], name="shelf_low"),
        ]
