"""What is written of pots, told to the soil in them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.simulation.life import Pot
from pelk.cure.domain.visits import checks_of, together
from pelk.cure.models import MeterCheckRow, Reading
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.soils.models import Soil, SoilEvent
from pelk.soils.services.soils import write_event

Do = SoilEvent.Do
Told = tuple[str, dict[str, Any]]


def _read(group: PotGroup, figures: dict[str, float]) -> Told:
    held: dict[str, Any] = {k: figures[k] for k in ("ph", "ec_ds_m") if k in figures}
    if "ph" in held and MeterCheckRow.pen_is_checked(group.yard_id):
        held["checked"] = True
    return Do.READ, {**held, "method": "pour-through"}


def _harvested(group: PotGroup, figures: dict[str, float]) -> Told:
    return Do.HARVESTED, {"kg": figures.get("kg", 0.0) / group.count, "crop": group.crop}


# What is seen or done outside the plan, and what it is to the soil.
SEEN: dict[str, Callable[[PotGroup, dict[str, float]], Told | None]] = {
    PotDeed.Kind.READING: _read,
    PotDeed.Kind.HARVEST: _harvested,
    PotDeed.Kind.WATERED: lambda group, figures: (
        (Do.WATERED, {"litres_week": figures["litres_week"]}) if figures else None
    ),
    PotDeed.Kind.RINSED: lambda group, figures: (Do.RINSED, {"litres": figures["litres"]}),
    PotDeed.Kind.CLEARED: lambda group, figures: (Do.CLEARED, {"roots_in": True}),
}


# How Cure writes a method, and how a life does.
METHODS = {Reading.PhMethod.POUR: "pour-through", Reading.PhMethod.PEN: "paste"}


def bring_readings(soil: Soil, batch: Batch) -> None:
    """Let what was read of a heap in Cure stand in the soil that goes on in pots."""
    visits = list(Reading.objects.for_batch(batch).filter(corrected_by=None))
    rows = []
    for visit in reversed(together(batch, visits, (), checks_of(batch.yard))):
        held = {"ph": visit.ph, "ec_ds_m": visit.ec_ds_m}
        data: dict[str, Any] = {k: v for k, v in held.items() if v is not None}
        on = timezone.localdate(visit.taken_at)
        if data and on >= soil.mixed_on:
            data["method"] = METHODS.get(Reading.PhMethod(visit.method), visit.method)
            if visit.ph is not None and visit.is_near_a_check:
                data["checked"] = True
            rows.append(SoilEvent(yard=soil.yard, soil=soil, on=on, do=Do.READ, data=data))
    SoilEvent.objects.bulk_create(rows)


# Nearer than this to what the pots hold, they are full.
FULL = 0.9


def settled_each(group: PotGroup, row: PotFill, batch: Batch) -> float:
    """Return what a filling comes to in one pot, settled. [L]."""
    settling = batch.evaluation(samples=0).volumes.settling
    return row.taken_l * (1 - settling) / (row.filled_count or group.count)


def pot_as_filled(group: PotGroup, row: PotFill, batch: Batch) -> Pot:
    """Return one pot as it was filled: half of it where half went in, to be topped up later."""
    litres = settled_each(group, row, batch)
    pot = group.pot
    if litres >= FULL * pot.litres:
        return pot
    return replace(pot, litres=litres, height_cm=pot.height_cm * litres / pot.litres)


def lives_on(group: PotGroup, row: PotFill | PotDeed, do: str, data: dict[str, Any]) -> None:
    """Write into the soil what a row says; without a known soil there is nothing to write into.

    What was done to pots before their soil was mixed is kept as a deed alone.

    Raises
    ------
    PelkError
        Where the soil cannot follow: the deed is not kept either, and its writer is told.
    """
    if group.soil is None or row.on < group.soil.mixed_on:
        return
    row.event = write_event(
        soil=group.soil, on=row.on, do=do, data=data, said=str(getattr(row, "text", ""))
    )
    row.save(update_fields=["event"])
