"""A soil and what happened to it: rows of truth, from which its course is reckoned each time."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from django.db import models
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.simulation.life import Pot
from pelk.yards.models import YardScoped


class Soil(YardScoped):
    """What fills some pots of one kind, from the day it was mixed.

    `pot` is one pot as the core reckons with it: litres of settled soil, height, wall.
    """

    name = models.CharField(max_length=120)
    batch = models.ForeignKey(Batch, models.SET_NULL, null=True, blank=True, related_name="soils")
    mixed_on = models.DateField()
    litres = models.FloatField("settled, in one pot")
    height_cm = models.FloatField("of the soil")
    count = models.PositiveIntegerField("pots", default=1)
    wall = models.CharField(max_length=10, default="plastic")
    saucer = models.BooleanField(default=False)
    roof = models.BooleanField("no rain reaches it", default=False)
    # What its readings taught, with the key of what it was learned from; reckoned anew otherwise.
    lesson = models.JSONField("what readings taught", null=True, blank=True, editable=False)

    class Meta:
        ordering = ["-mixed_on", "-pk"]
        constraints = [
            models.CheckConstraint(
                name="soils_are_real", condition=models.Q(litres__gt=0) & models.Q(height_cm__gt=0)
            )
        ]

    @property
    def pot(self) -> Pot:
        """One pot of it, as the core reckons."""
        return Pot(
            litres=self.litres,
            height_cm=self.height_cm,
            count=self.count,
            wall=self.wall,
            saucer=self.saucer,
        )

    def day_of(self, on: date) -> int:
        """Return the day since mixing of a date."""
        return (on - self.mixed_on).days

    def date_of(self, day: int) -> date:
        """Return the date of a day since mixing."""
        return self.mixed_on + timedelta(days=day)


class SoilEvent(YardScoped):
    """Something that was done to a soil, or read of it, on a day; amounts are for one pot.

    `data` holds base units by `do`, as `pelk.core.simulation.life` takes them; `said` is what
    was written.
    """

    class Do(models.TextChoices):
        PLANTED = "planted", "planted"
        DRESSED = "dressed", "dressed"
        POURED = "poured", "poured"
        RINSED = "rinsed", "rinsed"
        WATERED = "watered", "watered"
        TOPPED = "topped", "topped up"
        POTTED_ON = "potted_on", "potted on"
        READ = "read", "read"
        HARVESTED = "harvested", "picked"
        CLEARED = "cleared", "cleared"
        RESTED = "rested", "put to rest"

    soil = models.ForeignKey(Soil, models.CASCADE, related_name="events")
    on = models.DateField(default=timezone.localdate)
    do = models.CharField(max_length=10, choices=Do)
    data: Any = models.JSONField(default=dict, blank=True)
    said = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["on", "pk"]
        indexes = [models.Index(fields=["soil", "on", "id"])]
