"""User, yard, membership, and the base of all that belongs to a yard."""

from __future__ import annotations

from typing import Any, Self

from django.contrib.auth.base_user import BaseUserManager
from django.contrib.auth.models import AbstractUser
from django.contrib.sessions.base_session import AbstractBaseSession
from django.db import models
from django.utils import timezone

from pelk.core.base.regions import regions
from pelk.core.materials.feeding_styles import FeedingStyle
from pelk.core.materials.material import Range
from pelk.core.salts.water_ions import WaterAnalysis
from pelk.ui.money import Money
from pelk.ui.units import Measures

# How far a bucket that is filled by eye may be off.
CARRIED = 0.15


class UserManager(BaseUserManager["User"]):
    """People are known by their email."""

    def create_user(self, email: str, password: str | None = None, **extra: Any) -> User:
        """Save a person with a hashed password."""
        user = self.model(email=email.strip().lower(), **extra)
        user.set_password(password)
        user.save()
        return user

    def get_by_natural_key(self, username: str | None) -> User:
        """Find a person whatever the case of the email."""
        return self.get(email=(username or "").strip().lower())


class Lockable(models.Model):
    """A row that services change."""

    class Meta:
        abstract = True

    def lock(self) -> None:
        """Read the row anew and keep it from others until the transaction ends.

        What was loaded before may have been changed by somebody else since.
        """
        self.refresh_from_db(from_queryset=type(self)._base_manager.select_for_update())


class User(AbstractUser):
    """A person."""

    username = None  # type: ignore[assignment]
    email = models.EmailField("email", unique=True)

    # Asked to be forgotten; until then it can be taken back.
    ends_at = models.DateTimeField(null=True, blank=True, editable=False)

    USERNAME_FIELD = "email"
    REQUIRED_FIELDS = []

    @property
    def shown_name(self) -> str:
        """What others of the yard read of them: never the whole email."""
        return self.first_name or self.email.partition("@")[0]

    objects = UserManager()  # type: ignore[assignment, misc]


# Means of the months in a mild, wet place, from memory: to be replaced by one's own.
MILD_NORMALS = (6.0, 6.0, 8.0, 10.0, 13.0, 16.0, 18.0, 18.0, 16.0, 12.0, 9.0, 7.0)


def mild_normals() -> list[float]:
    """Return the normals a new yard starts with."""
    return list(MILD_NORMALS)


class Yard(Lockable):
    """A place where mixes are made, with its measures."""

    class System(models.TextChoices):
        METRIC = "metric", "litres and grams"
        US = "us", "gallons and ounces"

    name = models.CharField(max_length=80)
    system = models.CharField(max_length=10, choices=System, default=System.METRIC)
    barrow_l = models.FloatField("barrow, level, litres", default=85)
    barrow_limit_kg = models.FloatField("most to push, kg", default=50)
    bucket_l = models.FloatField("bucket, litres", default=10)
    # Territory: what its words, spoons and gallons mean.
    region = models.CharField("where it is", max_length=2, blank=True)
    currency = models.CharField(max_length=3, default="EUR")
    climate = models.CharField("climate it was begun with", max_length=40, blank=True)
    time_zone = models.CharField("time zone", max_length=60, blank=True)
    normals_c = models.JSONField("mean of each month, °C", default=mild_normals)
    # What one of each calibrated measure holds: low, typical, high in mL.
    hands = models.JSONField("own handfuls and scoops", default=dict)
    # What it waters with, as `WaterAnalysis` stores it.
    water = models.JSONField("water", default=dict)
    feeding_style = models.JSONField("how the grower works", default=dict)
    created_at = models.DateTimeField(auto_now_add=True)
    # Ever taken in; a struck-out one can be brought back, and so still counts.
    pictures = models.PositiveIntegerField(default=0, editable=False)
    # Asked to be deleted; until then it can be taken back.
    ends_at = models.DateTimeField(null=True, blank=True, editable=False)

    class Meta:
        constraints = [
            models.CheckConstraint(
                name="yard_measures_are_real",
                condition=models.Q(barrow_l__gt=0, barrow_limit_kg__gt=0, bucket_l__gt=0),
            )
        ]

    @property
    def measures(self) -> Measures:
        """How this yard reads its amounts."""
        return Measures(self.system)

    @property
    def is_comma(self) -> bool:
        """Whether decimals are written with a comma there."""
        known = regions().get(self.region)
        return known is not None and known.is_comma

    @property
    def money(self) -> Money:
        """How this yard writes what things cost."""
        return Money(self.currency)

    @property
    def hand_measures(self) -> dict[str, Range]:
        """What one of each measure holds, as this yard fills it. [mL]."""
        carried = {"bucket": self.bucket_l * 1000, "barrow": self.barrow_l * 1000}
        filled = {k: Range((1 - CARRIED) * ml, ml, (1 + CARRIED) * ml) for k, ml in carried.items()}
        return filled | {kind: Range(*held) for kind, held in self.hands.items()}

    @property
    def water_analysis(self) -> WaterAnalysis:
        """What it waters with."""
        return WaterAnalysis.of(self.water)

    @property
    def style(self) -> FeedingStyle:
        """How the grower works, where they have said so."""
        return FeedingStyle.of(self.feeding_style)


class Role(models.TextChoices):
    """What a person may do in a yard."""

    KEEPER = "keeper", "keeper"
    HAND = "hand", "hand"
    GUEST = "guest", "guest, reads only"


class Membership(Lockable):
    """A person's place in a yard."""

    role = models.CharField(max_length=10, choices=Role, default=Role.KEEPER)
    user = models.ForeignKey(User, models.CASCADE, related_name="memberships")
    yard = models.ForeignKey(Yard, models.CASCADE, related_name="memberships")

    class Meta:
        ordering = ["pk"]
        constraints = [models.UniqueConstraint(fields=["user", "yard"], name="one_place_in_a_yard")]


class Invitation(Lockable):
    """A link into a yard, good once and for some days; the table holds its hash."""

    yard = models.ForeignKey(Yard, models.CASCADE, related_name="invitations")
    # Whose going ends it; none in links made before these were kept.
    author = models.ForeignKey("User", models.CASCADE, null=True, related_name="invited")
    role = models.CharField(max_length=10, choices=Role, default=Role.HAND)
    token = models.CharField(max_length=64, unique=True)
    ends_at = models.DateTimeField()
    used_at = models.DateTimeField(null=True)


class YardScopedQuerySet(models.QuerySet[Any]):
    """The one way to what a yard keeps."""

    def of(self, yard: Yard) -> Self:
        """Keep what belongs to a yard."""
        return self.filter(yard=yard)

    def live(self) -> Self:
        """Leave out what was deleted and can still be brought back."""
        return self.filter(deleted_at__isnull=True)


class PutAway(Lockable):
    """Something that is deleted softly: put away, and brought back."""

    yard: Any
    deleted_at = models.DateTimeField(null=True, blank=True, editable=False)

    class Meta:
        abstract = True

    def put_away(self) -> bool:
        """Delete softly; return whether it was this call that did it."""
        self.deleted_at = timezone.now()
        rows = type(self)._base_manager.filter(pk=self.pk, deleted_at=None)
        return rows.update(deleted_at=self.deleted_at) == 1

    def bring_back(self) -> bool:
        """Undo the delete; return whether it was this call that did it."""
        self.deleted_at = None
        rows = type(self)._base_manager.filter(pk=self.pk, deleted_at__isnull=False)
        return rows.update(deleted_at=None) == 1


class YardScoped(PutAway):
    """Something a yard keeps; deleting is soft and can be undone."""

    yard = models.ForeignKey(Yard, models.CASCADE, related_name="+")
    created_at = models.DateTimeField(default=timezone.now, editable=False)

    objects = YardScopedQuerySet.as_manager()

    class Meta:
        abstract = True


class Session(AbstractBaseSession):
    """A signed-in browser: the hash of its key, whose it is, and what it calls itself."""

    user = models.ForeignKey(User, models.CASCADE, null=True, related_name="sessions")
    browser = models.CharField(max_length=120, blank=True)
    begun_at = models.DateTimeField(default=timezone.now)

    @classmethod
    def get_session_store_class(cls) -> Any:
        """Return what reads and writes it."""
        from pelk.yards.doors.sessions import SessionStore  # noqa: PLC0415

        return SessionStore


class Tally(models.Model):
    """How often something was asked since when."""

    key = models.CharField(max_length=120, unique=True)
    since = models.DateTimeField()
    count = models.PositiveIntegerField(default=0)


class Done(models.Model):
    """A form that makes something, sent once: its key, and where the first answer led."""

    key = models.CharField(max_length=64)
    user = models.ForeignKey(User, models.CASCADE, related_name="+")
    at = models.DateTimeField(default=timezone.now)
    led_to = models.CharField(max_length=300, blank=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["user", "key"], name="done_once")]
