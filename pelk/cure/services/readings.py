"""Readings of a heap: kept, corrected, struck out; the heap's days move with them."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any, TypedDict, Unpack

from django.db import transaction
from django.utils import timezone

from pelk.barrow.domain.schedule_cache import schedule_cache_of
from pelk.barrow.models import Batch
from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.curing.logged_days import LoggedDay, by_day
from pelk.core.curing.logger_csv import LoggedRow
from pelk.core.curing.schedule import MOISTEN, PROBE
from pelk.core.evaluation.evaluate import soil_as_mixed
from pelk.core.simulation.evidence import evidence_of
from pelk.cure.domain.due import due_rows
from pelk.cure.domain.learning import Learned, as_kept, learned
from pelk.cure.domain.measure_next import next_for
from pelk.cure.domain.visits import visits_of
from pelk.cure.models import Decision, LoggedImport, LoggerShape, Reading, heap_address
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.shelf.models.bags import Bag
from pelk.shelf.services.evidence import keep_evidence
from pelk.ui.measure_says import measure_said
from pelk.yards.models import User, Yard

# A visit a day early counts for the probe that is due.
EARLY_DAYS = 1
CHUNK = 1000


class Measured(TypedDict, total=False):
    """What one visit measured; what is left out was not."""

    ph: float | None
    temperature_c: float | None
    ec_ds_m: float | None
    method: str
    pen: str
    moisture: str
    smell: str
    note: str
    is_sure: bool


@transaction.atomic
def record_reading(
    *, batch: Batch, by: User | None, taken_at: datetime | None = None, **measured: Unpack[Measured]
) -> Reading:
    """Keep what was measured on a visit to a heap."""
    batch.lock()
    at = taken_at or timezone.now()
    row: Reading = Reading.objects.create(yard=batch.yard, batch=batch, taken_at=at, **measured)
    look_again(batch)
    _probed(row)
    record(
        yard=batch.yard,
        by=by,
        station=Station.CURE,
        at=at,
        text=_words(row),
        url=heap_address(batch.pk),
    )
    return row


def _probed(reading: Reading) -> None:
    """Mark what a due probe, or a squeeze, was waiting for as done."""
    batch, day = reading.batch, timezone.localtime(reading.taken_at).date()
    kinds = {PROBE} | ({MOISTEN} if reading.moisture else set())
    decisions = Decision.objects.of(batch.yard).filter(batch=batch)
    for row in due_rows(batch, decisions, day):
        if row.due.kind in kinds and row.on <= day + timedelta(days=EARLY_DAYS):
            Decision.objects.get_or_create(
                batch=batch,
                key=row.due.key,
                defaults={"yard": batch.yard, "kind": Decision.Kind.DONE},
            )


@transaction.atomic
def correct_reading(
    *,
    reading: Reading,
    by: User | None,
    taken_at: datetime | None = None,
    **measured: Unpack[Measured],
) -> Reading:
    """Keep a reading as it should have been; the old one stays visible, struck out.

    Raises
    ------
    PelkError
        When it was struck out or corrected by somebody else meanwhile.
    """
    reading.batch.lock()
    if not reading.put_away():
        raise PelkError("this reading was struck out or corrected meanwhile")
    row: Reading = Reading.objects.create(
        yard=reading.yard,
        batch=reading.batch,
        taken_at=taken_at or reading.taken_at,
        corrects=reading,
        **measured,
    )
    look_again(reading.batch)
    record(
        yard=reading.yard,
        by=by,
        station=Station.CURE,
        text=f"Corrected. {_words(row)}; was {_words(reading).partition(': ')[2]}",
        url=heap_address(reading.batch_id),
    )
    return row


@transaction.atomic
def record_logged(
    *, batch: Batch, by: User | None, rows: Sequence[tuple[LoggedRow, float]], name: str = ""
) -> int:
    """Keep the readings of a data logger that are not there yet; undone as one.

    Returns how many were new: a second import of the same lines adds nothing.
    """
    batch.lock()
    logged = Reading.objects.for_batch(batch).filter(imported__isnull=False)
    there = {at.timestamp() for at in logged.values_list("taken_at", flat=True)}
    new = [(row, at) for row, at in rows if at not in there]
    if not new:
        return 0
    days = by_day([replace(row, at=_local(at)) for row, at in new])
    taken: LoggedImport = LoggedImport.objects.create(
        yard=batch.yard, batch=batch, name=name[:120], count=len(new), days=_as_kept(days)
    )
    Reading.objects.bulk_create(
        [
            Reading(
                yard=batch.yard,
                batch=batch,
                imported=taken,
                taken_at=datetime.fromtimestamp(at, UTC),
                ph=row.ph,
                ec_ds_m=row.ec_ds_m,
                temperature_c=row.temperature_c,
                method=Reading.PhMethod.PEN,
                note="logger",
            )
            for row, at in new
        ],
        CHUNK,
    )
    look_again(batch)
    record(
        yard=batch.yard,
        by=by,
        station=Station.CURE,
        url=heap_address(batch.pk),
        text=f"{batch.code}: {len(new)} readings of a data logger, {len(days)} days",
    )
    return len(new)


def _local(at: float) -> datetime:
    return timezone.localtime(datetime.fromtimestamp(at, UTC))


def _as_kept(days: Sequence[LoggedDay]) -> list[dict[str, Any]]:
    """Return days as plain values; what was not measured is left out."""
    return [
        {"at": day.at.isoformat(), "count": day.count}
        | {
            key: value
            for key in ("ph", "ec_ds_m", "temperature_c", "ph_spread")
            if (value := getattr(day, key)) is not None
        }
        for day in days
    ]


@transaction.atomic
def answer_about(*, yard: Yard, shape: str, answers: dict[str, str]) -> None:
    """Keep what was answered about files of a shape, for the next of them."""
    LoggerShape.objects.update_or_create(yard=yard, shape=shape, defaults={"answers": answers})


def _with_its_readings(row: LoggedImport) -> None:
    """Let the readings of an import go and come with it; the heap is looked at again."""
    row.readings.all().update(deleted_at=row.deleted_at)
    look_again(row.batch)


def look_at_unseen_heaps(**_: object) -> None:
    """Write down the days of heaps that were mixed before days were written down."""
    for batch in Batch.objects.in_cure().filter(schedule_cache={}):
        look_again(batch)


def look_again(batch: Batch) -> None:
    """Write down what the newest sums and the newest squeeze say of a heap."""
    newest = visits_of(batch)
    learning = learned(batch, newest)
    _write_down(batch, newest, learning, _measure(batch, learning))


def keep_one_date(
    batch: Batch, newest: list[Reading], learning: Learned, measure: list[str] | None
) -> None:
    """Write down what a heap's page shows where other pages still have it otherwise."""
    shown = schedule_cache_of(learning.evaluation) | {"measure": measure}
    held = batch.schedule_cache or {}
    if any(held.get(key) != value for key, value in shown.items()):
        _write_down(batch, newest, learning, measure)


def _write_down(
    batch: Batch, newest: list[Reading], learning: Learned, measure: list[str] | None
) -> None:
    squeezed = next((r for r in newest if r.moisture), None)
    batch.schedule_cache = schedule_cache_of(learning.evaluation) | {
        "squeeze": [squeezed.moisture, squeezed.taken_at.isoformat()] if squeezed else None,
        "lesson": as_kept(learning),
        "measure": measure,
    }
    batch.save(update_fields=["schedule_cache"])
    _teach_the_yard(batch, newest, learning)


def _teach_the_yard(batch: Batch, newest: list[Reading], learning: Learned) -> None:
    """Keep what the readings of a heap say of the materials in it."""
    plan, shelf = batch.plan_as_mixed()
    try:
        soil = soil_as_mixed(plan, shelf)
    except PelkError:
        return
    meter = "checked pen" if learning.pen_is_checked else "unchecked pen"
    lesson = learning.lesson
    seen = evidence_of(soil, lesson.taught, lesson.start_ph, meter)
    yard: Yard = batch.yard
    keep_evidence(
        yard=yard,
        seen=seen,
        source=f"heap:{batch.pk}",
        said_of=f"heap {batch.code}",
        url=heap_address(batch.pk),
        on=batch.date_of(0),
        lots=Bag.objects.of(yard).lots_on({row.slug for row in seen}, batch.date_of(0)),
    )


def _measure(batch: Batch, learning: Learned) -> list[str] | None:
    """Return what to measure next as Today shows it: a state and a sentence."""
    advised = next_for(learning, (timezone.now() - batch.made_at).days)
    said = measure_said(advised, batch.date_of) if advised else None
    return [said.state, said.say] if said else None


def _words(reading: Reading) -> str:
    """Write a reading as the log says it."""
    said = [f"pH {sig(reading.ph)}"] if reading.ph is not None else []
    if reading.temperature_c is not None:
        said.append(reading.yard.measures.warmth(reading.temperature_c, 3))
    if reading.ec_ds_m is not None:
        said.append(f"EC {sig(reading.ec_ds_m)}")
    said += [
        str(label)
        for label in (reading.get_moisture_display(), reading.get_smell_display(), reading.note)
        if label
    ]
    return f"{reading.batch.code}: {', '.join(said)}"


def _stands_alone(reading: Reading) -> bool:
    """Return whether no other reading stands for it."""
    return not Reading.objects.live().filter(corrects=reading).exists()


READINGS = Shelving(
    model=Reading,
    station=Station.CURE,
    says=lambda row, word: f"Reading {word}. {_words(row)}",
    away="struck out",
    locks=lambda row: row.batch,
    then=lambda row: look_again(row.batch),
    may_come_back=_stands_alone,
    address=lambda row: heap_address(row.batch_id),
    away_address=lambda row: heap_address(row.batch_id),
)
IMPORTS = Shelving(
    model=LoggedImport,
    station=Station.CURE,
    says=lambda row, word: f"{row.batch.code}: {row.count} readings of a logger {word}",
    away="undone",
    locks=lambda row: row.batch,
    then=_with_its_readings,
    address=lambda row: heap_address(row.batch_id),
    away_address=lambda row: heap_address(row.batch_id),
)
