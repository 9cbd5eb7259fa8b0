"""Pots in groups, and what went into them: filled at once, in layers, topped up later."""

from __future__ import annotations

from django.db import models
from django.urls import reverse
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.plans import Vessels
from pelk.core.vessels import kinds
from pelk.yards.models import YardScoped


class PotGroup(YardScoped):
    """Some pots of one kind that are planted and fed alike."""

    class Made(models.TextChoices):
        PLASTIC = "plastic", "plastic"
        CLAY = "clay", "clay, unglazed"
        GLAZED = "glazed", "glazed"
        FABRIC = "fabric", "fabric"
        WOOD = "wood", "wood"
        GROUND = "ground", "the ground"

    name = models.CharField(max_length=80)
    place = models.CharField(max_length=60, blank=True)
    kind = models.CharField("kind of pot", max_length=20)
    litres = models.FloatField("litres to the brim, each", null=True, blank=True)
    count = models.PositiveIntegerField("how many")
    made_of = models.CharField(max_length=10, choices=Made, default=Made.PLASTIC)
    crop = models.CharField("crop group", max_length=30)
    plant = models.CharField(max_length=80, blank=True)
    family = models.CharField("plant family", max_length=60, blank=True)
    planted_on = models.DateField(null=True, blank=True)
    note = models.CharField(max_length=300, blank=True)

    class Meta:
        ordering = ["place", "name", "pk"]
        constraints = [
            models.CheckConstraint(
                name="pots_are_real",
                condition=models.Q(count__gt=0)
                & (models.Q(litres__isnull=True) | models.Q(litres__gt=0)),
            )
        ]

    def get_absolute_url(self) -> str:
        """Return its page."""
        return reverse("pots:group", args=[self.pk])

    @property
    def vessels(self) -> Vessels:
        """The pots as the core reckons with them."""
        return Vessels(kind=self.kind, count=self.count, litres=self.litres)

    @property
    def kind_name(self) -> str:
        """What the pots are called."""
        found = kinds().get(self.kind)
        return found.name if found else self.kind


class PotFill(YardScoped):
    """Mix that went into a group of pots."""

    class How(models.TextChoices):
        FILLED = "filled", "filled"
        LAYER = "layer", "a layer"
        TOPPED = "topped", "topped up"

    group = models.ForeignKey(PotGroup, models.CASCADE, related_name="fills")
    batch = models.ForeignKey(
        Batch, models.SET_NULL, null=True, blank=True, related_name="fills"
    )
    what = models.CharField("of what", max_length=120)
    how = models.CharField(max_length=8, choices=How, default=How.FILLED)
    on = models.DateField(default=timezone.localdate)
    # Loose litres that were taken to the pots, and what was reckoned for as many.
    taken_l = models.FloatField()
    reckoned_l = models.FloatField(null=True)
    filled_count = models.PositiveIntegerField(null=True)
    # How many seasons the soil had seen before; new mix has seen none.
    seasons = models.PositiveSmallIntegerField(default=0)

    class Meta:
        ordering = ["-on", "-pk"]

    @property
    def ratio(self) -> float | None:
        """Taken over reckoned, where both are known."""
        return self.taken_l / self.reckoned_l if self.reckoned_l else None
