"""Beginning a soil, and writing down what happened to it."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from django.db import transaction
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.simulation.life import Pot
from pelk.soils.domain.living import life_of
from pelk.soils.models import Soil, SoilEvent
from pelk.yards.models import Yard

SAID_MAX = 200


@transaction.atomic
def begin_soil(*, yard: Yard, batch: Batch, pot: Pot, name: str) -> Soil:
    """Let a heap go into pots: one soil from its mixing day on."""
    row: Soil = Soil.objects.create(
        yard=yard,
        batch=batch,
        name=name[:120],
        mixed_on=timezone.localdate(batch.made_at),
        litres=pot.litres,
        height_cm=pot.height_cm,
        count=pot.count,
        wall=pot.wall,
        saucer=pot.saucer,
    )
    return row


@transaction.atomic
def write_event(
    *, soil: Soil, on: date, do: str, data: dict[str, Any], said: str = ""
) -> SoilEvent:
    """Write down what was done to a soil; what cannot be is refused whole.

    Raises
    ------
    PelkError
        For a day before it was mixed, or an event that cannot be.
    """
    soil.lock()
    row = SoilEvent(yard=soil.yard, soil=soil, on=on, do=do, data=data, said=said[:SAID_MAX])
    life_of(soil, max(on, soil.mixed_on) + timedelta(days=1), [row])
    row.save()
    return row
