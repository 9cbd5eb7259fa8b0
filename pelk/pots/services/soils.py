"""What is written of pots, told to the soil in them."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from typing import Any

from pelk.core.base.errors import PelkError
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.soils.models import SoilEvent
from pelk.soils.services.soils import write_event

Do = SoilEvent.Do
Told = tuple[str, dict[str, Any]]


def _read(group: PotGroup, figures: dict[str, float]) -> Told:
    return Do.READ, {k: figures[k] for k in ("ph", "ec_ds_m") if k in figures}


def _harvested(group: PotGroup, figures: dict[str, float]) -> Told:
    return Do.HARVESTED, {"kg": figures.get("kg", 0.0) / group.count, "crop": group.crop}


# What is seen or done outside the plan, and what it is to the soil.
SEEN: dict[str, Callable[[PotGroup, dict[str, float]], Told]] = {
    PotDeed.Kind.READING: _read,
    PotDeed.Kind.HARVEST: _harvested,
    PotDeed.Kind.WATERED: lambda group, figures: (
        Do.WATERED,
        {"litres_week": figures["litres_week"]},
    ),
    PotDeed.Kind.RINSED: lambda group, figures: (Do.RINSED, {"litres": figures["litres"]}),
    PotDeed.Kind.CLEARED: lambda group, figures: (Do.CLEARED, {"roots_in": True}),
}


def lives_on(group: PotGroup, row: PotFill | PotDeed, do: str, data: dict[str, Any]) -> None:
    """Write into the soil what a row says; a soil that is not known, or cannot follow, is left."""
    if group.soil is None:
        return
    # What was written of pots before their soil was mixed is kept as a deed alone.
    with suppress(PelkError):
        row.event = write_event(
            soil=group.soil, on=row.on, do=do, data=data, said=str(getattr(row, "text", ""))
        )
        row.save(update_fields=["event"])
