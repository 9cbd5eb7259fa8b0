"""What is done to people and yards."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import TypedDict, Unpack

from django.db import IntegrityError, transaction
from django.db.models import F

from pelk.core.base.errors import PelkError
from pelk.core.base.regions import climates, regions
from pelk.core.salts.water_ions import WaterAnalysis
from pelk.yards.models import Membership, User, Yard


@dataclass(frozen=True, slots=True)
class Place:
    """Where a yard is: its territory, and what was chosen otherwise than usual there.

    Attributes
    ----------
    system, currency, climate : str
        Empty for what is usual in the territory.
    """

    region: str
    system: str = ""
    currency: str = ""
    climate: str = ""
    time_zone: str = ""


def settle_in(yard: Yard, place: Place) -> None:
    """Write what a place brings with it on a yard that is not kept yet."""
    region = regions()[place.region]
    yard.region = region.code
    usual = Yard.System.US if region.units == "us" else Yard.System.METRIC
    yard.system = Yard.System(place.system) if place.system else usual
    yard.currency = place.currency or region.currency or yard.currency
    yard.climate = place.climate or region.climate
    yard.normals_c = list(climates()[yard.climate].normals_c)
    yard.time_zone = place.time_zone


TAKEN = "There is already an account with this email. Sign in instead."


@transaction.atomic
def sign_up(
    *, email: str, password: str | None, yard_name: str, place: Place | None = None
) -> User:
    """Save a new person with a yard of their own; without a password nobody signs in by one.

    Raises
    ------
    PelkError
        When somebody signed up with this email meanwhile.
    """
    try:
        with transaction.atomic():
            user = User.objects.create_user(email=email, password=password)
    except IntegrityError as error:
        raise PelkError(TAKEN, "email") from error
    yard = Yard(name=yard_name)
    if place is not None:
        settle_in(yard, place)
    yard.save()
    Membership.objects.create(user=user, yard=yard)
    return user


@transaction.atomic
def sign_up_closed(*, email: str, yard_name: str, place: Place | None = None) -> User | None:
    """Save a new person without a password, who comes in by their link; None where taken.

    Who signed up with this email before and never followed the link keeps nothing: the yard
    is the one that is asked for now.
    """
    waiting = User.objects.filter(email=email).first()
    if waiting is not None and (waiting.is_active or waiting.last_login is not None):
        return None
    if waiting is not None:
        Yard.objects.filter(memberships__user=waiting).delete()
        waiting.delete()
    user = sign_up(email=email, password=None, yard_name=yard_name, place=place)
    user.is_active = False
    user.save(update_fields=["is_active"])
    return user


@transaction.atomic
def let_in(*, user: User, password: str) -> User:
    """Open the door to who followed the link, with the password that they set behind it."""
    user.set_password(password)
    user.is_active = True
    user.save(update_fields=["password", "is_active"])
    return user


class Settings(TypedDict, total=False):
    """What is typed of a yard."""

    name: str
    system: str
    region: str
    currency: str
    climate: str
    time_zone: str
    barrow_l: float
    barrow_limit_kg: float
    bucket_l: float
    normals_c: list[float]


@transaction.atomic
def keep_settings(
    *, yard: Yard, feeding_style: Mapping[str, str], **settings: Unpack[Settings]
) -> Yard:
    """Keep what was typed of a yard; its other fields stay as they are by now."""
    yard.lock()
    for name, value in settings.items():
        setattr(yard, name, value)
    yard.feeding_style = {**yard.feeding_style, **feeding_style}
    yard.save(update_fields=[*settings, "feeding_style"])
    return yard


@transaction.atomic
def keep_water(*, yard: Yard, analysis: WaterAnalysis) -> Yard:
    """Keep what a yard waters with."""
    yard.water = analysis.stored
    yard.save(update_fields=["water"])
    return yard


@transaction.atomic
def change_system(*, yard: Yard, system: str) -> Yard:
    """Switch a yard between metric and US amounts."""
    yard.system = Yard.System(system)
    yard.save(update_fields=["system"])
    return yard


MOST_PICTURES = 3000


@transaction.atomic
def count_picture(*, yard: Yard) -> None:
    """Count one more picture of a yard.

    Raises
    ------
    PelkError
        When it holds as many as a yard may.
    """
    rows = Yard.objects.filter(pk=yard.pk, pictures__lt=MOST_PICTURES)
    if not rows.update(pictures=F("pictures") + 1):
        raise PelkError(f"this yard holds its {MOST_PICTURES} pictures already", "file")
