"""Batches as made: frozen plan, loads, ticks."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date, timedelta
from typing import Any

from django.conf import settings
from django.db import models
from django.db.models.functions import Cast
from django.urls import reverse
from django.utils import timezone

from pelk.bench.formats.documents import MixDocument, read
from pelk.bench.formats.planning import as_plan
from pelk.bench.models import Recipe
from pelk.core.evaluation.evaluate import Evaluation, evaluate, heap_as_mixed
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.materials.material import Range, from_stored
from pelk.core.plans.as_mixed import as_mixed
from pelk.core.plans.plan import Plan
from pelk.core.simulation.ensemble import SAMPLES
from pelk.core.simulation.forecast import Observed
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.run import Surroundings
from pelk.ui.units import Measures
from pelk.yards.models import YardScoped, YardScopedQuerySet


class BatchQuerySet(YardScopedQuerySet):
    """Batches of a yard."""

    def at_the_barrow(self) -> BatchQuerySet:
        """Keep what is still being mixed."""
        return self.filter(finished_at__isnull=True)

    def naming(self, slug: str) -> BatchQuerySet:
        """Keep those whose frozen recipe names a material, the newest first."""
        text = Cast("document", models.TextField())
        held = self.annotate(as_text=text).filter(as_text__contains=f'"{slug}"')
        return held.order_by("-made_at", "-pk")

    def open_first(self) -> BatchQuerySet:
        """Put what is still being mixed first, then the newest."""
        mixed = models.F("finished_at").desc(nulls_first=True)
        return self.order_by(mixed, "-made_at", "-pk")

    def tally(self) -> dict[str, int]:
        """Count what is being mixed (``open``) and what has been (``mixed``)."""
        return self.order_by().aggregate(
            open=models.Count("pk", filter=models.Q(finished_at=None)),
            mixed=models.Count("pk", filter=~models.Q(finished_at=None)),
        )

    def in_cure(self) -> BatchQuerySet:
        """Keep what has been mixed."""
        return self.filter(finished_at__isnull=False)


class Batch(YardScoped):
    """A recipe as made: its own copy of recipe, analyses and yard measures.

    Editing the recipe, a material or the yard later changes no batch.
    """

    recipe = models.ForeignKey(Recipe, models.SET_NULL, null=True, related_name="batches")
    code = models.CharField(max_length=12)
    name = models.CharField(max_length=80)
    version = models.PositiveIntegerField()
    document = models.JSONField()
    analyses = models.JSONField()
    yard_measures = models.JSONField()
    shown = models.JSONField()
    shown_by = models.CharField(max_length=20)
    # What really went in, where it differs: loose litres by part, grams by dose.
    as_mixed = models.JSONField("what really went in", null=True, blank=True)
    # The forecast of mixing day: pH by day, ready days, and the version that said so.
    forecast_at_mixing = models.JSONField("forecast made on mixing day", null=True, blank=True)
    # What the newest sums say of its days, so that long lists need not reckon every heap.
    schedule_cache = models.JSONField("days by the newest sums", default=dict, blank=True)
    override_reason = models.CharField(max_length=300, blank=True)
    made_at = models.DateTimeField(default=timezone.now)
    finished_at = models.DateTimeField(null=True, blank=True)

    objects = BatchQuerySet.as_manager()  # type: ignore[misc]

    class Meta:
        ordering = ["-made_at", "-pk"]
        verbose_name_plural = "batches"
        constraints = [models.UniqueConstraint(fields=["yard", "code"], name="one_code_in_a_yard")]
        indexes = [models.Index(fields=["yard", "-made_at", "-id"])]

    def get_absolute_url(self) -> str:
        """Return its card at the Barrow."""
        return reverse("barrow:card", args=[self.pk])

    def as_document(self) -> MixDocument:
        """Return the recipe as it was frozen."""
        data: Any = self.document
        return read(data)

    def date_of(self, day: int) -> date:
        """Return the date of a day since mixing, as the yard counts days."""
        return timezone.localtime(self.made_at).date() + timedelta(days=day)

    @property
    def measures(self) -> Measures:
        """How the yard read its amounts when it was begun."""
        return Measures(self.yard_measures["system"])

    def evaluation(
        self, *, samples: int = SAMPLES, observed: Observed | None = None, as_planned: bool = False
    ) -> Evaluation:
        """Return what the frozen batch comes to, computed from its own copies.

        `observed` is what was read of it; `samples` of 0 leaves the fan out; `as_planned`
        leaves out that something else went in.
        """
        plan, shelf = self.plan() if as_planned else self.plan_as_mixed()
        return evaluate(plan, shelf, samples=samples, observed=observed)

    def heap_as_mixed(self) -> tuple[Heap, Surroundings] | None:
        """Return the heap on mixing day and where it lies; None where its pH is not known."""
        return heap_as_mixed(*self.plan_as_mixed())

    def plan_as_mixed(self) -> tuple[Plan, dict[str, CoreMaterial]]:
        """Return the plan by what really went in, with its materials."""
        plan, shelf = self.plan()
        if self.as_mixed:
            plan = self.plan_of(self.as_mixed["litres"], self.as_mixed["grams"])
        return plan, shelf

    def plan(self) -> tuple[Plan, dict[str, CoreMaterial]]:
        """Return the plan as frozen, with its materials."""
        held = [from_stored(facts) for facts in self.analyses]
        hands = {k: Range(*v) for k, v in self.yard_measures.get("hands", {}).items()}
        return as_plan(self.as_document(), {m.slug: m for m in held}, hands)

    def plan_of(self, litres: Mapping[str, float], grams: Sequence[float]) -> Plan:
        """Return the plan with other amounts."""
        return as_mixed(self.plan()[0], litres, grams, self.yard_measures.get("pot_cm"))


class Tick(models.Model):
    """One step of one load, done."""

    batch = models.ForeignKey(Batch, models.CASCADE, related_name="ticks")
    load = models.PositiveSmallIntegerField()
    step = models.CharField(max_length=90)
    at = models.DateTimeField(default=timezone.now)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["at", "pk"]
        constraints = [
            models.UniqueConstraint(fields=["batch", "load", "step"], name="ticked_once")
        ]
