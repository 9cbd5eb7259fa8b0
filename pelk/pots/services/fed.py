"""Giving pots a feed: the soil goes on with it, the shelf counts down."""

from __future__ import annotations

from datetime import date

from django.db import transaction

from pelk.core.materials.material import Material
from pelk.pots.domain.fed import Given
from pelk.pots.domain.planned import row_answered
from pelk.pots.models import PotDeed, PotGroup
from pelk.pots.services import stock
from pelk.pots.services.groups import refresh, write_deed
from pelk.soils.services.soils import write_event
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
    if (answers := row_answered(group, given, on)) is not None:
        deed.key = answers.key
    deed.save(update_fields=["event", "key"])
    stock.take(deed=deed, by=by, material=material, grams_each=given.grams)
    if refreshes:
        refresh(group)
    return deed
