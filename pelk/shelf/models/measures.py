"""What a hand, a scoop, a shovel or a barrow of this yard holds."""

from __future__ import annotations

from django.conf import settings
from django.db import models

from pelk.core.materials.material import Range
from pelk.yards.models import YardScoped


class HandMeasure(YardScoped):
    """A measure as this yard fills it; the newest of a kind counts."""

    class State(models.TextChoices):
        AS_USED = "as used", "as I use it"
        DRY = "dry", "drier than that"
        WET = "wet", "wetter than that"

    kind = models.CharField(max_length=20)
    low_ml = models.FloatField()
    ml = models.FloatField("one holds, mL")
    high_ml = models.FloatField()
    weighings = models.JSONField("as they were read")
    of = models.CharField("what was measured", max_length=120, blank=True)
    state = models.CharField(max_length=10, choices=State, default=State.AS_USED)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["-created_at", "-pk"]

    @property
    def range(self) -> Range:
        """One of it. [mL]."""
        return Range(self.low_ml, self.ml, self.high_ml)
