"""Potting on: into larger pots, with the root ball and fresh mix around it."""

from __future__ import annotations

from datetime import date

from django.db import transaction

from pelk.barrow.models import Batch
from pelk.core.base.errors import PelkError
from pelk.pots.models import PotFill, PotGroup
from pelk.pots.services.groups import GroupSaid, keep_group
from pelk.soils.models import SoilEvent
from pelk.soils.services.soils import write_event
from pelk.yards.models import User


@transaction.atomic
def pot_on(
    *, group: PotGroup, by: User | None, batch: Batch, said: GroupSaid, kept_l: float, on: date
) -> PotFill:
    """Put what grows in some pots into others; the mix between is of a heap.

    `said` describes the new pots, `kept_l` is the root ball of each. [L]

    Raises
    ------
    PelkError
        Where nobody knows what fills the pots, or the new ones hold no more than the ball.
    """
    if group.soil is None:
        raise PelkError("what fills these pots is not known: refill them instead", "batch")
    keep_group(yard=group.yard, by=by, group=group, **said)
    more_l = group.pot_l - kept_l
    if more_l <= 0:
        raise PelkError("the new pots hold no more than the root ball", "litres")
    settling = batch.evaluation(samples=0).volumes.settling
    data = {
        "batch": batch.pk,
        "kept_l": kept_l,
        "litres": group.pot_l,
        "height_cm": group.soil_height_cm,
        "count": group.count,
        "wall": group.made_of,
    }
    event = write_event(soil=group.soil, on=on, do=SoilEvent.Do.POTTED_ON, data=data)
    row: PotFill = PotFill.objects.create(
        yard=group.yard,
        group=group,
        batch=batch,
        what=batch.name,
        how=PotFill.How.POTTED,
        on=on,
        taken_l=more_l * group.count / (1 - settling),
        filled_count=group.count,
        event=event,
    )
    return row
