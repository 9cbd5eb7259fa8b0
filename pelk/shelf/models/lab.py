"""Reports of laboratories, and samples sent to the simulated one."""

from __future__ import annotations

from django.conf import settings
from django.db import models
from django.urls import reverse
from django.utils import timezone

from pelk.core.lab.lab_reports import BASES, METHODS
from pelk.core.salts.salts import METHODS as EC_METHODS
from pelk.shelf.models.materials import Material
from pelk.yards.models import YardScoped


class LabReport(YardScoped):
    """A report as it was pasted, with what the grower decided on each odd row.

    Nothing of it counts until it is taken; then its values stand on the material.
    """

    class State(models.TextChoices):
        DRAFT = "draft", "not taken yet"
        TAKEN = "taken", "taken"

    material = models.ForeignKey(Material, models.CASCADE, related_name="+")
    lab = models.CharField(max_length=80, blank=True)
    dated = models.DateField(default=timezone.localdate)
    method = models.CharField(max_length=10, choices=list(METHODS.items()))
    basis = models.CharField(max_length=10, choices=list(BASES.items()), default="dry")
    ec_method = models.CharField(max_length=15, choices=[(m, m) for m in EC_METHODS], default="1:5")
    text = models.TextField()
    # By line: "leave", "keep", or a typed number that stands for what was printed.
    decisions = models.JSONField(default=dict)
    state = models.CharField(max_length=10, choices=State, default=State.DRAFT)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")

    class Meta:
        ordering = ["-created_at", "-pk"]

    def get_absolute_url(self) -> str:
        """Return where it is read."""
        return reverse("shelf:report", args=[self.pk])


class Sample(YardScoped):
    """A sample sent to the simulated laboratory of the demo."""

    material = models.ForeignKey(Material, models.CASCADE, related_name="+")
    label = models.CharField(max_length=60)
    due_at = models.DateTimeField()

    class Meta:
        ordering = ["-created_at", "-pk"]

    @property
    def is_back(self) -> bool:
        """Whether the report has come."""
        return self.due_at <= timezone.now()
