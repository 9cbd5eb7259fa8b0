"""The record of deeds: append-only."""

from datetime import date

from django.conf import settings
from django.db import models
from django.utils import timezone

from pelk.yards.models import Yard


class Station(models.TextChoices):
    """Where a deed was done."""

    SHELF = "shelf", "Shelf"
    BENCH = "bench", "Bench"
    BARROW = "barrow", "Barrow"
    CURE = "cure", "Cure"
    POTS = "pots", "Pots"
    NOTE = "note", "Notes"


class EntryQuerySet(models.QuerySet["Entry"]):
    """Entries of a yard."""

    def of(self, yard: Yard) -> "EntryQuerySet":
        """Keep what happened in a yard, newest first."""
        return self.filter(yard=yard).order_by("-at", "-pk")

    def asked(
        self,
        *,
        kind: str = "",
        words: str = "",
        since: date | None = None,
        until: date | None = None,
    ) -> "EntryQuerySet":
        """Keep what was done at a station, says every word, and fell between two days."""
        entries = self.filter(station=kind) if kind in Station.values else self
        for word in words.split():
            entries = entries.filter(text__icontains=word)
        if since is not None:
            entries = entries.filter(at__date__gte=since)
        if until is not None:
            entries = entries.filter(at__date__lte=until)
        return entries


class Entry(models.Model):
    """One deed, in words."""

    yard = models.ForeignKey(Yard, models.CASCADE, related_name="+")
    # When it happened, and when it was written down.
    at = models.DateTimeField(default=timezone.now)
    written_at = models.DateTimeField(default=timezone.now, editable=False)
    by = models.ForeignKey(settings.AUTH_USER_MODEL, models.SET_NULL, null=True, related_name="+")
    # What the yard read of them then; it goes when the account goes.
    by_name = models.CharField(max_length=80, blank=True)
    station = models.CharField(max_length=10, choices=Station)
    text = models.CharField(max_length=300)
    url = models.CharField(max_length=200, blank=True)

    objects = EntryQuerySet.as_manager()

    class Meta:
        indexes = [models.Index(fields=["yard", "-at", "-id"])]
        verbose_name_plural = "entries"

    @property
    def day(self) -> date:
        """The day it happened, in the yard's own time."""
        return timezone.localdate(self.at)

    @property
    def is_written_later(self) -> bool:
        """Whether it was written down on another day than it happened."""
        return timezone.localdate(self.written_at) != timezone.localdate(self.at)
