"""Giving pots a feed: the soil goes on with it, the shelf counts down."""

from __future__ import annotations

from datetime import date

from django.db import transaction

from pelk.core.base.errors import UnknownError
from pelk.core.materials.material import Material
from pelk.pots.domain.fed import Given
from pelk.pots.models import PotDeed, PotGroup
from pelk.pots.services.groups import refresh, write_deed
from pelk.shelf.services.bags import take_for_batch
from pelk.soils.services.soils import write_event
from pelk.yards.extensions import Use
from pelk.yards.models import User


@transaction.atomic
def give(
    *,
    group: PotGroup,
    by: User | None,
    given: Given,
    material: Material,
    on: date,
    said: str,
    refreshes: bool = True,
) -> PotDeed:
    """Write down what was given.

    Raises
    ------
    PelkError
        Where the soil cannot have got it; then nothing is written.
    """
    deed = write_deed(group=group, by=by, kind=PotDeed.Kind.FED, on=on, text=said, refreshes=False)
    if group.soil is not None:
        deed.event = write_event(soil=group.soil, on=on, do=given.do, data=given.data, said=said)
        deed.save(update_fields=["event"])
    if refreshes:
        refresh(group)
    kg = given.grams * group.count / 1000
    try:
        litres = kg / material.loose_density().typ
    except UnknownError:
        litres = 0.0
    take_for_batch(
        yard=group.yard,
        by=by,
        uses=[Use(given.slug, litres, kg)],
        text=f"given to {group.name}",
        url=group.get_absolute_url(),
    )
    return deed
