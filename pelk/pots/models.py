"""Pots in groups, and what went into them: filled at once, in layers, topped up later."""

from __future__ import annotations

from typing import Any, Self
from uuid import uuid4

from django.db import models
from django.urls import reverse
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.crops.pests import PESTS
from pelk.core.plans.plan import Vessels
from pelk.core.simulation.life import Pot
from pelk.core.vessels.planting import surface_by_height, surface_of
from pelk.core.vessels.trade_pots import filled_volume, kinds
from pelk.soils.models import Soil, SoilEvent
from pelk.yards.models import YardScoped, YardScopedQuerySet

# What the core calls a pot, where a grower says it otherwise.
POT_WORDS = {"clay": "terracotta", "ground": "bed"}


class PotGroup(YardScoped):
    """Some pots of one kind that are planted and fed alike."""

    class Made(models.TextChoices):
        PLASTIC = "plastic", "plastic"
        CLAY = "clay", "clay, unglazed"
        GLAZED = "glazed", "glazed"
        FABRIC = "fabric", "fabric"
        WOOD = "wood", "wood"
        GROUND = "ground", "the ground"

    class Habit(models.TextChoices):
        NORMAL = "normal", "when it dries"
        OVER = "over", "often, a bit too much"
        UNDER = "under", "rarely"

    name = models.CharField(max_length=80)
    place = models.CharField(max_length=60, blank=True)
    kind = models.CharField("kind of pot", max_length=20)
    litres = models.FloatField("litres to the brim, each", null=True, blank=True)
    # Of the vessel inside; without it a pot is taken as high as it is wide. [cm]
    height_cm = models.FloatField("high", null=True, blank=True)
    count = models.PositiveIntegerField("how many")
    made_of = models.CharField(max_length=10, choices=Made, default=Made.PLASTIC)
    crop = models.CharField("crop group", max_length=30)
    plant = models.CharField(max_length=80, blank=True)
    family = models.CharField("plant family", max_length=60, blank=True)
    planted_on = models.DateField(null=True, blank=True)
    plants = models.FloatField("plants in each", default=1.0)
    note = models.CharField(max_length=300, blank=True)
    habit = models.CharField("watered", max_length=10, choices=Habit, default=Habit.NORMAL)
    dressing = models.CharField("Top-dressed with", max_length=80, blank=True)
    liquid = models.CharField("liquid feed", max_length=80, blank=True)
    # Of liquid feeds, over what is usual for the crop.
    strength = models.FloatField("strength of liquid feeds", default=1.0)
    # What goes wrong with them in the next months, by the newest sums.
    outlook: Any = models.JSONField("what lies ahead", null=True, blank=True, editable=False)
    # What to measure next, as a state and a sentence.
    measure: Any = models.JSONField("to measure next", null=True, blank=True, editable=False)
    # What fills them, as one soil that goes on; None where nobody knows what it was mixed of.
    soil = models.ForeignKey(
        Soil, models.SET_NULL, null=True, blank=True, related_name="groups", editable=False
    )
    # The plan of its feeding by the newest sums, so that Today reads and reckons nothing.
    plan = models.JSONField("feeding plan", null=True, blank=True, editable=False)

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
    def pot_l(self) -> float:
        """Settled soil in one. [L]."""
        return filled_volume(self.vessels) / self.count

    @property
    def surface_cm2(self) -> float:
        """Surface of the soil in one. [cm2]."""
        return surface_by_height(self.pot_l, self.soil_height_cm)

    @property
    def soil_height_cm(self) -> float:
        """How high the soil stands in one. [cm]."""
        if self.height_cm is None:
            return self.pot_l * 1000 / surface_of(self.pot_l)
        kind = kinds().get(self.kind)
        return self.height_cm * (kind.fill if kind else 1.0)

    @property
    def pot(self) -> Pot:
        """One of them, as a soil's life reckons with it."""
        return Pot(
            litres=self.pot_l, height_cm=self.soil_height_cm, count=self.count, wall=self.made_of
        )

    @property
    def kind_name(self) -> str:
        """What the pots are called."""
        pot_kind = kinds().get(self.kind)
        return pot_kind.name if pot_kind else self.kind


class PotFill(YardScoped):
    """Mix that went into a group of pots."""

    class How(models.TextChoices):
        FILLED = "filled", "filled"
        LAYER = "layer", "a layer"
        TOPPED = "topped", "topped up"
        POTTED = "potted", "potted on"

    group = models.ForeignKey(PotGroup, models.CASCADE, related_name="fills")
    batch = models.ForeignKey(Batch, models.SET_NULL, null=True, blank=True, related_name="fills")
    what = models.CharField("of what", max_length=120)
    how = models.CharField(max_length=8, choices=How, default=How.FILLED)
    on = models.DateField(default=timezone.localdate)
    # Loose litres that were taken to the pots, and what was reckoned for as many.
    taken_l = models.FloatField()
    reckoned_l = models.FloatField(null=True)
    filled_count = models.PositiveIntegerField(null=True)
    # What it did to the soil that goes on.
    event = models.OneToOneField(
        SoilEvent, models.SET_NULL, null=True, blank=True, related_name="fill", editable=False
    )
    # How many seasons the soil had seen before; new mix has seen none.
    seasons = models.PositiveSmallIntegerField(default=0)

    class Meta:
        ordering = ["-on", "-pk"]

    @property
    def ratio(self) -> float | None:
        """Taken over reckoned, where both are known."""
        return self.taken_l / self.reckoned_l if self.reckoned_l else None


SAID = {
    "ph": "pH {:.1f}",
    "ec_ds_m": "{:.1f} dS/m",
    "age_h": "{:g} hours old",
    "stars": "{:g} of 5 stars",
    "air": "{:.0%} air",
    "water": "{:.0%} water",
    "days": "{:g} days between",
    "leaves": "{:g} leaves",
}
POURED = {"litres_week": " a pot each week", "litres": " through each pot"}


WEIGHED = {"kg": "", "wet_kg": " watered", "dry_kg": " thirsty"}


class PotDeedQuerySet(YardScopedQuerySet):
    """Deeds by what they matter to: a tub that is tapped daily has thousands."""

    def answering(self) -> Self:
        """Keep what answers a row of the plan."""
        return self.filter(key__gt="")

    def guarding(self) -> Self:
        """Keep what a harvest may have to wait for."""
        kinds = (PotDeed.Kind.MANURE, PotDeed.Kind.TEA)
        return self.filter(models.Q(kind__in=kinds) | models.Q(event__isnull=False))

    def planning(self) -> Self:
        """Keep what moves the plan: readings, and what waits for a bud or a leaf."""
        kinds = (PotDeed.Kind.READING, PotDeed.Kind.BUDS, PotDeed.Kind.LEAVES)
        return self.filter(kind__in=kinds)


class PotDeed(YardScoped):
    """What was done with a group of pots, or seen on it."""

    class Kind(models.TextChoices):
        DONE = "done", "done"
        SKIPPED = "skipped", "skipped"
        READING = "reading", "reading"
        BUDS = "buds", "flower buds seen"
        LEAVES = "leaves", "true leaves well grown"
        TEA = "tea", "tea brewed"
        MANURE = "manure", "raw manure given"
        DRAINED = "drained", "drain test"
        LIFTED = "lifted", "lift test"
        HARVEST = "harvest", "harvest"
        STARS = "stars", "season rated"
        PLANTED = "planted", "planted"
        NOTE = "note", "note"
        FED = "fed", "fed"
        WATERED = "watered", "watered"
        RINSED = "rinsed", "rinsed"
        CLEARED = "cleared", "cleared"
        SAW = "saw", "seen"

    group = models.ForeignKey(PotGroup, models.CASCADE, related_name="deeds")
    kind = models.CharField(max_length=10, choices=Kind)
    # Which row of the plan it answers.
    key = models.CharField(max_length=40, blank=True)
    on = models.DateField(default=timezone.localdate)
    text = models.CharField(max_length=300, blank=True)
    # What it did to the soil that goes on.
    event = models.OneToOneField(
        SoilEvent, models.SET_NULL, null=True, blank=True, related_name="deed", editable=False
    )
    # What was measured: ph, ec_ds_m, kg, air and the like.
    figures = models.JSONField(default=dict, blank=True)

    objects = PotDeedQuerySet.as_manager()  # type: ignore[misc]

    class Meta:
        ordering = ["-on", "-pk"]
        indexes = [
            models.Index(fields=["group", "-on", "-id"]),
            models.Index(fields=["yard", "key"]),
            models.Index(fields=["group", "kind"]),
        ]

    @property
    def says(self) -> str:
        """What it was, with its numbers and words."""
        held = self.figures
        numbers = [form.format(held[k]) for k, form in SAID.items() if k in held]
        measures = self.group.yard.measures
        numbers += [
            f"{measures.mass(1000 * held[k])}{words}" for k, words in WEIGHED.items() if k in held
        ]
        numbers += [
            f"{measures.volume(held[k])}{words}" for k, words in POURED.items() if k in held
        ]
        if "height_cm" in held:
            numbers.append(f"{measures.span(held['height_cm'])} tall")
        if held.get("flower"):
            numbers.append("first flower")
        numbers += [PESTS[slug].name for slug in PESTS if held.get(slug)]
        said = ", ".join([str(self.get_kind_display()), *numbers])
        return f"{said}: {self.text}" if self.text else said


def photo_path(photo: PotPhoto, filename: str) -> str:
    """Return where a picture is kept: by yard and group, under a name nobody guesses."""
    return f"pots/{photo.yard_id}/{photo.group_id}/{uuid4().hex}.jpg"


class PotPhoto(YardScoped):
    """A picture of some pots on a day, and the same very small for the diary."""

    group = models.ForeignKey(PotGroup, models.CASCADE, related_name="photos")
    deed = models.ForeignKey(
        PotDeed, models.SET_NULL, null=True, blank=True, related_name="photos", editable=False
    )
    on = models.DateField(default=timezone.localdate)
    file = models.FileField(upload_to=photo_path)
    thumb = models.FileField(upload_to=photo_path)
    note = models.CharField(max_length=200, blank=True)

    class Meta:
        ordering = ["-on", "-pk"]


class OldSoil(YardScoped):
    """Last year's soil under inspection: what was answered, what was decided."""

    group = models.ForeignKey(
        PotGroup, models.SET_NULL, null=True, blank=True, related_name="inspections"
    )
    name = models.CharField(max_length=80)
    litres = models.FloatField("of soil, settled")
    pot_l = models.FloatField("of one pot")
    made_of = models.CharField(max_length=12)
    habit = models.CharField(max_length=10, default="normal")
    kind = models.CharField(max_length=10, default="container")
    next_crop = models.CharField(max_length=30)
    last_family = models.CharField(max_length=60, blank=True)
    next_family = models.CharField(max_length=60, blank=True)
    answers = models.JSONField(default=dict)
    # What an earlier filling left, by element; only where it was one of the yard's heaps.
    left_mg_l = models.JSONField(default=dict, blank=True)
    recipe = models.ForeignKey(
        "bench.Recipe", models.SET_NULL, null=True, blank=True, related_name="+"
    )
    told_at = models.DateTimeField("decided", null=True, blank=True)

    class Meta:
        ordering = ["-created_at", "-pk"]

    def get_absolute_url(self) -> str:
        """Return its page."""
        return reverse("pots:old", args=[self.pk])


class JarTest(YardScoped):
    """Five jars of a mix with rising doses: the dose read off the mix itself."""

    name = models.CharField(max_length=80)
    material = models.CharField("dose of", max_length=80)
    estimate_g_l = models.FloatField("as Pelk computes it")
    jar_l = models.FloatField("mix in a jar")
    target_ph = models.FloatField("wanted")
    litres = models.FloatField("of mix to dose", null=True)
    # pH of each jar as it was read, in the order of the doses; None is not read yet.
    read = models.JSONField(default=list, blank=True)
    read_on = models.DateField(null=True, blank=True)

    class Meta:
        ordering = ["-created_at", "-pk"]

    def get_absolute_url(self) -> str:
        """Return its page."""
        return reverse("pots:jars", args=[self.pk])
