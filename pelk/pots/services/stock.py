"""What goes from the shelf to some pots, and back where it was not given after all."""

from __future__ import annotations

from pelk.core.base.errors import UnknownError
from pelk.core.materials.material import Material
from pelk.pots.models import PotDeed
from pelk.shelf.services.bags import take_for_batch, turn_back
from pelk.yards.extensions import Use
from pelk.yards.models import User


def take(*, deed: PotDeed, by: User | None, material: Material, grams_each: float) -> None:
    """Count the shelf down by what each pot of a group got."""
    group = deed.group
    kg = grams_each * group.count / 1000
    try:
        litres = kg / material.loose_density().typ
    except UnknownError:
        litres = 0.0
    take_for_batch(
        yard=group.yard,
        by=by,
        uses=[Use(material.slug, litres, kg)],
        text=f"given to {group.name}",
        url=url_of(deed),
    )


def turn(deed: PotDeed) -> None:
    """Give back what was taken for a deed that was struck out, or take it again."""
    word = "not given" if deed.deleted_at else "given"
    text = f"{word} to {deed.group.name} after all"
    turn_back(yard=deed.group.yard, by=None, text=text, url=url_of(deed))


def url_of(deed: PotDeed) -> str:
    """Return what the shelf knows as the place of what was taken for a deed."""
    return f"{deed.group.get_absolute_url()}#deed-{deed.pk}"
