"""Planting some pots: what goes into them, and what grew in them before."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from pelk.core.crops.named import agreed, crops_named, family_of
from pelk.core.old_soil.inspection import is_same_family
from pelk.core.vessels.planting import MULCH_CM
from pelk.pots.domain.fed import Given
from pelk.pots.models import PotDeed, PotGroup


@dataclass(frozen=True, slots=True)
class HolePiece:
    """Something for the planting hole: what a pot gets, as it was said, and loose. [L]."""

    given: Given
    name: str
    litres: float


@dataclass(frozen=True, slots=True)
class Asked:
    """How some pots are to be built. [cm]."""

    mulch_cm: float = MULCH_CM
    is_half: bool = False
    is_wet_below: bool = False
    hole: tuple[HolePiece, ...] = ()


# A family waits so long before it comes back into the same soil.
ROTATION_DAYS = 3 * 365


def family_named(plant: str) -> str:
    """Return the family of a plant by its name; empty where nobody knows it."""
    return agreed(crops_named(plant), "family") or family_of(plant)


@dataclass(frozen=True, slots=True)
class GrewHere:
    """What grew in the same soil, of which family, and since when."""

    name: str
    family: str
    since: date


def same_family(group: PotGroup, plant: str, on: date) -> GrewHere | None:
    """Return what of a plant's family grew in the same soil within three years; None else."""
    family = family_named(plant)
    if not family:
        return None
    since = max(on - timedelta(days=ROTATION_DAYS), group.soil.mixed_on if group.soil else date.min)
    grown = group.deeds.filter(deleted_at=None, kind=PotDeed.Kind.PLANTED, on__gte=since, on__lt=on)
    for deed in grown.order_by("-on"):
        before = deed.text.partition(" (")[0]
        if is_same_family(family_named(before) or deed.text, family):
            return GrewHere(before, family, deed.on)
    return None
