"""Readings of a heap: what was measured; blank is not measured."""

from __future__ import annotations

from django.db import models
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.yards.models import YardScoped, YardScopedQuerySet


class ReadingQuerySet(YardScopedQuerySet):
    """Readings of a yard."""

    def for_batch(self, batch: Batch) -> ReadingQuerySet:
        """Keep the live readings of a heap, newest first."""
        return self.live().filter(yard_id=batch.yard_id, batch=batch)


class Reading(YardScoped):
    """One visit to a heap."""

    class PhMethod(models.TextChoices):
        SLURRY = "slurry", "slurry, 1 to 1"
        HALF = "1:2", "1 to 2"
        FIFTH = "1:5", "1 to 5"
        PASTE = "sme", "saturated paste"
        POUR = "pour", "pour-through"

    class Moisture(models.TextChoices):
        DUST = "dust", "dust"
        CRUMBLES = "crumbles", "no drop, crumbles"
        SPONGE = "sponge", "one or two drops"
        RUNS = "runs", "runs"

    class Smell(models.TextChoices):
        EARTHY = "earthy", "earthy"
        NONE = "none", "nothing"
        AMMONIA = "ammonia", "ammonia"
        SOUR = "sour", "sour"
        EGGS = "rotten-egg", "rotten eggs"

    batch = models.ForeignKey(Batch, models.CASCADE, related_name="readings")
    taken_at = models.DateTimeField("when", default=timezone.now)
    ph = models.FloatField("pH", null=True, blank=True)
    temperature_c = models.FloatField("heap °C", null=True, blank=True)
    ec_ds_m = models.FloatField("EC dS/m", null=True, blank=True)
    method = models.CharField(
        "how pH and EC", max_length=10, choices=PhMethod, default=PhMethod.SLURRY
    )
    moisture = models.CharField("squeeze", max_length=10, choices=Moisture, blank=True)
    smell = models.CharField(max_length=12, choices=Smell, blank=True)
    note = models.CharField(max_length=300, blank=True)

    objects = ReadingQuerySet.as_manager()  # type: ignore[misc]

    class Meta:
        ordering = ["-taken_at", "-pk"]
        indexes = [models.Index(fields=["batch", "-taken_at", "-id"])]
        constraints = [
            models.CheckConstraint(
                name="ph_can_be_true",
                condition=models.Q(ph__isnull=True) | models.Q(ph__range=(0, 14)),
            ),
            models.CheckConstraint(
                name="temperature_can_be_true",
                condition=models.Q(temperature_c__isnull=True)
                | models.Q(temperature_c__range=(-30, 90)),
            ),
            models.CheckConstraint(
                name="ec_can_be_true",
                condition=models.Q(ec_ds_m__isnull=True)
                | models.Q(ec_ds_m__range=(0, 50)),
            ),
        ]
