"""Readings of a heap: what was measured; blank is not measured."""

from __future__ import annotations

from datetime import timedelta
from secrets import token_urlsafe
from uuid import uuid4

from django.db import models
from django.urls import reverse
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.acid_base.ph_meters import GOOD_FOR_DAYS, MeterCheck, check_meter
from pelk.core.curing.sprout_test import SproutVerdict, sprout_verdict
from pelk.yards.models import YardScoped, YardScopedQuerySet


class ReadingQuerySet(YardScopedQuerySet):
    """Readings of a yard."""

    def for_batch(self, batch: Batch) -> ReadingQuerySet:
        """Keep the live readings of a heap, newest first."""
        return self.live().filter(yard_id=batch.yard_id, batch=batch)

    def by_hand(self) -> ReadingQuerySet:
        """Leave out what a logger wrote: its days stand for that (`LoggedImport.days`)."""
        return self.filter(imported=None)


def heap_address(batch_pk: int) -> str:
    """Return where a heap's page is."""
    return reverse("cure:heap", args=[batch_pk])


class LoggedImport(YardScoped):
    """A logger's file as it was taken in: undone as one; its days stand for its lines.

    `days` holds for each day: the moment, how many, and the median (and the spread) of pH,
    EC and warmth, where they were measured.
    """

    batch = models.ForeignKey(Batch, models.CASCADE, related_name="imports")
    name = models.CharField(max_length=120, blank=True)
    count = models.PositiveIntegerField(default=0)
    days = models.JSONField(default=list)

    class Meta:
        ordering = ["-created_at", "-pk"]


class LoggerShape(YardScoped):
    """What a yard answered about files of one shape: units, and the order of dates."""

    shape = models.CharField(max_length=24)
    answers = models.JSONField(default=dict)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["yard", "shape"], name="one_shape_a_yard")]


class Reading(YardScoped):
    """One visit to a heap."""

    class PhMethod(models.TextChoices):
        SLURRY = "slurry", "slurry, 1 to 1"
        HALF = "1:2", "1 to 2"
        FIFTH = "1:5", "1 to 5"
        PASTE = "sme", "saturated paste"
        POUR = "pour", "pour-through"
        PEN = "pen", "pen in the heap"

    class Moisture(models.TextChoices):
        DUST = "dust", "dust-dry"
        CRUMBLES = "crumbles", "crumbles, no drop"
        SPONGE = "sponge", "holds, one or two drops"
        RUNS = "runs", "water runs out"

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
        "measured by", max_length=10, choices=PhMethod, default=PhMethod.SLURRY
    )
    moisture = models.CharField("squeeze", max_length=10, choices=Moisture, blank=True)
    smell = models.CharField(max_length=12, choices=Smell, blank=True)
    note = models.CharField(max_length=300, blank=True)
    # Which pen it was read with, where the yard has several.
    pen = models.CharField("pen", max_length=60, blank=True)
    # Asked about because it is far from what was expected, and said to be so.
    is_sure = models.BooleanField(default=False)
    imported = models.ForeignKey(
        LoggedImport, models.CASCADE, null=True, blank=True, related_name="readings"
    )
    corrects = models.OneToOneField(
        "self", models.SET_NULL, null=True, blank=True, related_name="corrected_by"
    )

    objects = ReadingQuerySet.as_manager()  # type: ignore[misc]
    # The check in two buffers that its pen was read by, and whether one lies near; told by
    # `domain.visits`.
    pen_check: MeterCheckRow | None = None
    is_near_a_check = False

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
                condition=models.Q(ec_ds_m__isnull=True) | models.Q(ec_ds_m__range=(0, 50)),
            ),
        ]

    @property
    def mended_ph(self) -> float | None:
        """What it really was by the check before it; as the pen said where none lies near."""
        if self.ph is None or self.pen_check is None or self.pen_check.verdict.state == "bad":
            return self.ph
        return self.pen_check.verdict.mended(self.ph)

    @property
    def is_mended(self) -> bool:
        """Whether the check before it moves what the pen said by what can be read."""
        mended = self.mended_ph
        return mended is not None and self.ph is not None and abs(mended - self.ph) >= 0.05

    @property
    def meter(self) -> str:
        """How closely its pen is believed."""
        return "checked pen" if self.is_near_a_check else "unchecked pen"


class SproutTest(YardScoped):
    """Cress sown in the mix and beside it, counted some days later."""

    batch = models.ForeignKey(Batch, models.CASCADE, related_name="sprout_tests")
    sown_at = models.DateTimeField(default=timezone.now)
    seeds = models.PositiveSmallIntegerField("seeds in each dish", default=20)
    sprouted = models.PositiveSmallIntegerField("sprouted in the mix", null=True)
    sprouted_control = models.PositiveSmallIntegerField("sprouted in the control", null=True)
    root_mm = models.FloatField("mean root length in the mix, mm", null=True)
    root_control_mm = models.FloatField("mean root length in the control, mm", null=True)
    counted_at = models.DateTimeField(null=True)

    class Meta:
        ordering = ["-sown_at", "-pk"]

    @property
    def verdict(self) -> SproutVerdict | None:
        """What it says; None until it is counted."""
        if (
            self.sprouted is None
            or self.sprouted_control is None
            or self.root_mm is None
            or self.root_control_mm is None
        ):
            return None
        counted = self.counted_at or timezone.now()
        return sprout_verdict(
            self.seeds,
            self.sprouted,
            self.sprouted_control,
            self.root_mm,
            self.root_control_mm,
            (counted - self.sown_at).total_seconds() / 86400,
        )


def photo_path(photo: HeapPhoto, filename: str) -> str:
    """Return where a picture is kept: by yard and heap, under a name nobody guesses."""
    return f"heaps/{photo.yard_id}/{photo.batch_id}/{uuid4().hex}"


class HeapPhoto(YardScoped):
    """A picture of a heap."""

    batch = models.ForeignKey(Batch, models.CASCADE, related_name="photos")
    file = models.FileField(upload_to=photo_path)
    kind = models.CharField(max_length=20)
    note = models.CharField(max_length=200, blank=True)
    taken_at = models.DateTimeField(default=timezone.now)

    class Meta:
        ordering = ["-taken_at", "-pk"]


class MeterCheckRow(YardScoped):
    """A pen checked in two buffers."""

    meter = models.CharField("pen", max_length=60, default="pen")
    checked_at = models.DateTimeField(default=timezone.now)
    read_low = models.FloatField("read in pH 4.01")
    read_high = models.FloatField("read in pH 7.00")

    class Meta:
        ordering = ["-checked_at", "-pk"]
        verbose_name = "meter check"

    @property
    def verdict(self) -> MeterCheck:
        """What the two buffers say."""
        return check_meter(self.read_low, self.read_high)

    @classmethod
    def pen_is_checked(cls, yard_id: int) -> bool:
        """Whether the newest check of a yard's pen was good and not long ago."""
        last = cls.objects.filter(yard_id=yard_id, deleted_at=None).first()
        if last is None or timezone.now() - last.checked_at > timedelta(days=GOOD_FOR_DAYS):
            return False
        return last.verdict.state == "good"


class Decision(YardScoped):
    """What a grower did about something due: done, skipped, or put off."""

    class Kind(models.TextChoices):
        DONE = "done", "done"
        SKIPPED = "skipped", "skipped"
        SNOOZED = "snoozed", "put off"

    batch = models.ForeignKey(Batch, models.CASCADE, related_name="decisions")
    key = models.CharField(max_length=20)
    kind = models.CharField(max_length=8, choices=Kind)
    until = models.DateField("put off until", null=True)

    class Meta:
        ordering = ["-created_at", "-pk"]
        constraints = [models.UniqueConstraint(fields=["batch", "key"], name="decided_once")]


class PlantedAnyway(YardScoped):
    """A heap used before it was ready, and why."""

    batch = models.OneToOneField(Batch, models.CASCADE, related_name="planted_anyway")
    reason = models.CharField(max_length=300)
    unmet = models.JSONField("what was not met")


class CalendarFeed(YardScoped):
    """A private address under which a calendar reads what is due; it can be revoked."""

    token = models.CharField(max_length=64, unique=True, default=token_urlsafe)

    class Meta:
        ordering = ["-created_at"]


class TrainingHeap(YardScoped):
    """A simulated heap that is played: what was given, read and decided; its truth is hidden."""

    case = models.CharField(max_length=40)
    seed = models.PositiveIntegerField()
    doses = models.JSONField("given on mixing day, g/L", default=dict)
    given = models.JSONField("given later", default=list)
    choice = models.CharField("how it is kept", max_length=20, blank=True)
    probes = models.JSONField("what the pen said", default=list)
    looks = models.JSONField("what else was looked at", default=list)
    day = models.PositiveSmallIntegerField(default=0)
    pen_checked = models.BooleanField(default=False)
    planted_day = models.PositiveSmallIntegerField(null=True)

    class Meta:
        ordering = ["-created_at", "-pk"]

    def get_absolute_url(self) -> str:
        """Return its page."""
        return reverse("cure:training_heap", args=[self.pk])
