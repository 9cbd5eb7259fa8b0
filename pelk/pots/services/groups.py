"""What is done with pots."""

from datetime import date, datetime, time
from typing import TypedDict, Unpack

import msgspec
from django.db import transaction
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.base.rounding import sig
from pelk.core.crops.named import agreed, crops_named
from pelk.core.curing.schedule import PLANT
from pelk.cure.models import Decision
from pelk.cure.services import due as cure_due
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.pots.domain.due import FeedRow
from pelk.pots.domain.feeding import reckon
from pelk.pots.domain.outlook import outlook_of
from pelk.pots.domain.planned import fed_by_plan
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.pots.selectors import is_used_up, seasons_in
from pelk.pots.services import soils, stock
from pelk.soils.models import SoilEvent
from pelk.soils.services.soils import begin_soil
from pelk.ui.measure_says import MeasureSaid
from pelk.yards.models import User, Yard


class GroupSaid(TypedDict, total=False):
    """What is said of some pots, in litres and centimetres."""

    name: str
    place: str
    kind: str
    litres: float | None
    height_cm: float | None
    count: int
    made_of: str
    crop: str
    plant: str
    family: str
    planted_on: date | None
    note: str
    habit: str
    plants: float
    dressing: str
    liquid: str
    strength: float


@transaction.atomic
def keep_group(
    *, yard: Yard, by: User | None, group: PotGroup | None = None, **said: Unpack[GroupSaid]
) -> PotGroup:
    """Keep a group of pots as it was described."""
    row = group or PotGroup(yard=yard)
    is_new = row.pk is None
    if not is_new:
        row.lock()
    for name, value in said.items():
        setattr(row, name, value)
    row.save()
    refresh(row)
    many = f"{row.count} pot{'' if row.count == 1 else 's'}"
    _note(row, by, f"{row.name}: {many} {'set up' if is_new else 'changed'}")
    return row


@transaction.atomic
def fill(
    *,
    group: PotGroup,
    by: User | None,
    what: str,
    taken_l: float,
    how: str,
    on: date,
    batch: Batch | None = None,
    reckoned_l: float | None = None,
    filled_count: int | None = None,
    seasons: int = 0,
    plants: bool = False,
) -> PotFill:
    """Write down what went into a group of pots; planting them says so on the group."""
    group.lock()
    if batch is not None:
        batch.lock()
    seasons = seasons or seasons_in(batch)
    row: PotFill = PotFill.objects.create(
        yard=group.yard,
        group=group,
        batch=batch,
        what=what[:120],
        taken_l=taken_l,
        how=how,
        on=on,
        reckoned_l=reckoned_l,
        filled_count=filled_count,
        seasons=seasons,
    )
    _into_the_soil(group, row, batch)
    if plants:
        group.planted_on = on
        group.save(update_fields=["planted_on"])
        deed = PotDeed.objects.create(
            yard=group.yard,
            group=group,
            kind=PotDeed.Kind.PLANTED,
            on=on,
            text=(f"{group.plant} ({group.family})" if group.family else group.plant) or group.crop,
        )
        soils.lives_on(
            group, deed, SoilEvent.Do.PLANTED, {"crop": group.crop, "plants": group.plants}
        )
    if batch is not None and is_used_up(batch):
        cure_due.decide(
            batch=batch, by=by, key=f"{PLANT}:1", name="planted", kind=Decision.Kind.DONE
        )
    refresh(group)
    litres = group.yard.measures.volume(taken_l)
    many = f", {sig(filled_count)} pot{'' if filled_count == 1 else 's'}" if filled_count else ""
    heap = f"{batch.code}, {what}" if batch is not None and batch.code not in what else what
    _note(group, by, f"{group.name}: {row.get_how_display()} with {litres} of {heap}{many}", on)
    return row


@transaction.atomic
def decide(*, row: FeedRow, by: User | None, kind: str, on: date) -> PotDeed:
    """Tick a row of the plan, or skip it."""
    row.group.lock()
    ticked = PotDeed.objects.of(row.group.yard).live().filter(group=row.group, key=row.key)
    earlier: PotDeed | None = ticked.first()
    if earlier is not None:
        return earlier
    what = f"{row.feeding.kind}: {row.feeding.what}"
    deed: PotDeed = PotDeed.objects.create(
        yard=row.group.yard,
        group=row.group,
        kind=kind,
        key=row.key,
        on=on,
        text=f"{what}, {row.amount}"[:300] if row.amount else what,
    )
    if kind == PotDeed.Kind.DONE:
        told = fed_by_plan(row.group, row.feeding)
        if told is not None:
            soils.lives_on(row.group, deed, told.do, told.data)
            if told.material is not None:
                stock.take(deed=deed, by=by, material=told.material, grams_each=told.grams)
    word = "" if kind == PotDeed.Kind.DONE else " skipped"
    _note(row.group, by, f"{row.group.name}: {deed.text}{word}", on)
    return deed


@transaction.atomic
def write_deed(
    *,
    group: PotGroup,
    by: User | None,
    kind: str,
    on: date,
    text: str = "",
    figures: dict[str, float] | None = None,
    refreshes: bool = True,
) -> PotDeed:
    """Write down what was seen or done outside the plan; the plan is reckoned again.

    Who writes many at once `refreshes` by himself at the end.
    """
    group.lock()
    deed: PotDeed = PotDeed.objects.create(
        yard=group.yard, group=group, kind=kind, on=on, text=text[:300], figures=figures or {}
    )
    told = soils.SEEN[kind](group, figures or {}) if kind in soils.SEEN else None
    if told is not None:
        soils.lives_on(group, deed, *told)
    if refreshes:
        refresh(group)
    _note(group, by, f"{group.name}: {deed.says}", on)
    return deed


@transaction.atomic
def plant_again(*, group: PotGroup, by: User | None, plant: str, on: date) -> PotDeed:
    """Plant something in the soil that is there; what the pots grow is that from now on."""
    group.lock()
    meant = crops_named(plant)
    group.plant, group.planted_on = plant[:80], on
    group.family = agreed(meant, "family")
    group.crop = agreed(meant, "group") or group.crop
    group.save(update_fields=["plant", "planted_on", "family", "crop"])
    deed: PotDeed = PotDeed.objects.create(
        yard=group.yard,
        group=group,
        kind=PotDeed.Kind.PLANTED,
        on=on,
        text=f"{plant} ({group.family})" if group.family else plant,
    )
    data = {"crop": group.crop, "plants": group.plants}
    soils.lives_on(group, deed, SoilEvent.Do.PLANTED, data)
    refresh(group)
    _note(group, by, f"{group.name}: {deed.says}", on)
    return deed


@transaction.atomic
def plant_beside(*, group: PotGroup, by: User | None, plant: str, on: date) -> PotDeed:
    """Plant something beside what grows there: they share the soil from that day on."""
    group.lock()
    meant = crops_named(plant)
    slug = agreed(meant, "group") or group.crop
    if plant.lower() not in group.plant.lower():
        group.plant = " and ".join(filter(None, (group.plant, plant)))[:80]
        group.save(update_fields=["plant"])
    family = agreed(meant, "family")
    deed: PotDeed = PotDeed.objects.create(
        yard=group.yard,
        group=group,
        kind=PotDeed.Kind.PLANTED,
        on=on,
        text=f"{plant} ({family}), beside" if family else f"{plant}, beside",
    )
    soils.lives_on(group, deed, SoilEvent.Do.PLANTED, {"crop": slug, "plants": group.plants})
    refresh(group)
    _note(group, by, f"{group.name}: {deed.says}", on)
    return deed


def _into_the_soil(group: PotGroup, row: PotFill, batch: Batch | None) -> None:
    """Let a filling begin a new soil, or go on the one that is there."""
    if row.how == PotFill.How.FILLED:
        group.soil = None
        if batch is not None and batch.finished_at is not None:
            pot = soils.pot_as_filled(group, row, batch)
            group.soil = begin_soil(yard=group.yard, batch=batch, pot=pot, name=group.name)
            soils.bring_readings(group.soil, batch)
        group.save(update_fields=["soil"])
        return
    if batch is None:
        return
    litres = soils.settled_each(group, row, batch)
    soils.lives_on(group, row, SoilEvent.Do.TOPPED, {"batch": batch.pk, "litres": litres})


def refresh(group: PotGroup) -> None:
    """Reckon a group's feeding again, and keep it."""
    plan = reckon(group, timezone.localdate())
    group.plan = None if plan is None else msgspec.to_builtins(plan)
    group.outlook = outlook_of(group, timezone.localdate())
    group.save(update_fields=["plan", "outlook"])


def keep_measure(group: PotGroup, said: MeasureSaid | None) -> None:
    """Keep what to measure next for Today, where it has changed."""
    kept = [said.state, said.say] if said else None
    if group.measure != kept:
        group.measure = kept
        PotGroup.objects.filter(pk=group.pk).update(measure=kept)


def _note(group: PotGroup, by: User | None, text: str, on: date | None = None) -> None:
    """Write the log: under the day it happened, at noon where that is past."""
    at = None
    if on is not None and on < timezone.localdate():
        at = timezone.make_aware(datetime.combine(on, time(12)))
    url = group.get_absolute_url()
    record(yard=group.yard, by=by, station=Station.POTS, text=text, url=url, at=at)


def _refresh_its_group(row: PotFill | PotDeed) -> None:
    if row.event is not None:
        row.event.deleted_at = row.deleted_at
        row.event.save(update_fields=["deleted_at"])
    if isinstance(row, PotDeed) and row.kind in (PotDeed.Kind.FED, PotDeed.Kind.DONE):
        stock.turn(row)
    refresh(row.group)


GROUPS = Shelving(
    model=PotGroup,
    station=Station.POTS,
    says=lambda row, word: f"{row.name} {word}",
    address=PotGroup.get_absolute_url,
)
FILLS = Shelving(
    model=PotFill,
    station=Station.POTS,
    says=lambda row, word: f"{row.group.name}: a filling {word}",
    away="struck out",
    locks=lambda row: row.group,
    then=_refresh_its_group,
    address=lambda row: row.group.get_absolute_url(),
    away_address=lambda row: row.group.get_absolute_url(),
)
DEEDS = Shelving(
    model=PotDeed,
    station=Station.POTS,
    says=lambda row, word: f"{row.group.name}: {row.get_kind_display()} {word}",
    away="struck out",
    locks=lambda row: row.group,
    then=_refresh_its_group,
    address=lambda row: row.group.get_absolute_url(),
    away_address=lambda row: row.group.get_absolute_url(),
)
