"""What later stations tell the shelf: where a material is used, what is needed next.

The shelf knows no later station; they register here when they are loaded.
"""

from collections.abc import Callable
from dataclasses import dataclass

from pelk.yards.models import Yard


@dataclass(frozen=True, slots=True)
class Use:
    """So much of one material, by both measures."""

    slug: str
    litres: float
    kg: float


@dataclass(frozen=True, slots=True)
class Need:
    """What one planned batch will take."""

    name: str
    url: str
    uses: tuple[Use, ...]


@dataclass(frozen=True, slots=True)
class Place:
    """Where a material is used."""

    name: str
    url: str


USES: list[Callable[[Yard, str], list[Place]]] = []
NEEDS: list[Callable[[Yard], list[Need]]] = []


def places_of(yard: Yard, slug: str) -> list[Place]:
    """Return where a yard uses a material."""
    return [place for ask in USES for place in ask(yard, slug)]


def needs_of(yard: Yard) -> list[Need]:
    """Return what a yard's planned batches will take."""
    return [need for ask in NEEDS for need in ask(yard)]
