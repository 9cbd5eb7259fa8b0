"""What is done at the barrow."""

from collections.abc import Mapping
from datetime import datetime
from typing import Any

from django.db import transaction
from django.urls import reverse
from django.utils import timezone
from msgspec import UNSET

from pelk import VERSION
from pelk.barrow.domain.mixing_vessels import NO_LIMIT_KG, MixedIn
from pelk.barrow.domain.schedule_cache import schedule_cache_of
from pelk.barrow.models import Batch, Tick
from pelk.bench.formats.documents import write
from pelk.bench.models import Recipe
from pelk.bench.selectors import evaluated, materials_of, uses_of
from pelk.core.advice.judgement import judge
from pelk.core.advice.report import report
from pelk.core.base.errors import PelkError
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.material import as_stored
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.shelf.services.bags import take_anew_for_batch, take_for_batch
from pelk.yards.extensions import Use
from pelk.yards.models import User, Yard

REASON_LENGTH = 300


class StoppedError(PelkError):
    """A caution stops the batch from being made."""


@transaction.atomic
def make_batch(
    *,
    recipe: Recipe,
    by: User | None,
    reason: str = "",
    at: datetime | None = None,
    mixed_in: MixedIn | None = None,
    there: Mapping[str, float] | None = None,
) -> Batch:
    """Freeze the newest version of a recipe as a batch to be mixed.

    `mixed_in` is what its loads are cut for, the yard's barrow without a word; `there`
    is what lies in it already, loose litres by slug.

    Raises
    ------
    StoppedError
        When a caution stops it and no reason was typed, or none can override it.
    """
    yard, version = recipe.yard, recipe.latest
    yard.lock()  # codes are given out one after the other
    document = version.as_document()
    document.name = recipe.name
    if document.conditions is not UNSET and document.conditions.monthly_c is not None:
        # Out of doors the months count from the day it is really begun.
        document.conditions.start = timezone.localdate(at).isoformat()
    held = materials_of(document, yard)
    evaluation = evaluated(document, yard, held)
    stops, judgement = evaluation.stops, judge(evaluation)
    if any(stop.severity == "hard" for stop in stops):
        raise StoppedError("This cannot be made: " + stops[0].text)
    is_held = bool(stops or judgement.harms)
    if is_held and not reason.strip():
        raise StoppedError("Say why you are making it anyway.", "reason")
    held_in = mixed_in or MixedIn("barrow", yard.barrow_l, yard.barrow_limit_kg)
    batch: Batch = Batch.objects.create(
        yard=yard,
        recipe=recipe,
        code=_next_code(yard, recipe.name),
        name=recipe.name,
        version=version.number,
        document=write(document),
        analyses=[as_stored(row.core) for row in held.values()],
        yard_measures={
            "system": yard.system,
            "mixed_in": held_in.kind,
            "barrow_l": held_in.litres,
            "barrow_limit_kg": held_in.limit_kg or NO_LIMIT_KG,
            "bucket_l": yard.bucket_l,
            "hands": {k: [v.low, v.typ, v.high] for k, v in yard.hand_measures.items()},
            "there": dict(there or {}),
            "pot_cm": evaluation.pot.height_cm if evaluation.pot else None,
        },
        shown=report(evaluation, judgement),
        shown_by=VERSION,
        override_reason=reason.strip()[:REASON_LENGTH] if is_held else "",
        made_at=at or timezone.now(),
    )
    # The batch takes its recipe's place on the buying list.
    Recipe.objects.of(yard).filter(pk=recipe.pk).update(planned_at=None)
    litres = yard.measures.volume(evaluation.volumes.mixed_l)
    _note(batch, by, f"{batch.code}: {batch.name} v{batch.version}, {litres}, begun", at)
    return batch


def _next_code(yard: Yard, name: str) -> str:
    """Return the next code of that initial: T1, T2, …; numbers are never used again."""
    letter = next((c.upper() for c in name if c.isascii() and c.isalpha()), "B")
    used = Batch.objects.of(yard).filter(code__startswith=letter)
    numbers = [int(code[1:]) for code in used.values_list("code", flat=True)]
    return f"{letter}{max(numbers, default=0) + 1}"


@transaction.atomic
def tick(*, batch: Batch, by: User | None, load: int, step: str, done: bool) -> None:
    """Tick a step of a load, or take the tick back."""
    if done:
        Tick.objects.get_or_create(batch=batch, load=load, step=step, defaults={"by": by})
    else:
        Tick.objects.filter(batch=batch, load=load, step=step).delete()


@transaction.atomic
def finish_batch(*, batch: Batch, by: User | None, at: datetime | None = None) -> None:
    """Say that a batch is mixed: it goes to Cure, and the shelf counts down."""
    batch.lock()
    if batch.finished_at is None:
        batch.finished_at = at or timezone.now()
        evaluation = batch.evaluation()
        batch.forecast_at_mixing, batch.schedule_cache = (
            _forecast_at_mixing(evaluation),
            schedule_cache_of(evaluation),
        )
        batch.save(update_fields=["finished_at", "forecast_at_mixing", "schedule_cache"])
        take_for_batch(
            yard=batch.yard,
            by=by,
            uses=_uses(batch),
            at=at,
            text=f"{batch.code} {batch.name}",
            url=batch.get_absolute_url(),
        )
        _note(
            batch,
            by,
            f"{batch.code} mixed and moved to Cure",
            at,
            url=reverse("cure:heap", args=[batch.pk]),
        )


def _forecast_at_mixing(evaluation: Evaluation) -> dict[str, Any] | None:
    """Return the forecast of mixing day as it is kept: later readings never change it."""
    ahead = evaluation.forecast
    if ahead is None:
        return None
    ready = ahead.ready
    return {
        "ph": [round(float(ph), 3) for ph in ahead.ph[1]],
        "ready": [ready.p10, ready.p50, ready.p90],
        "by": VERSION,
    }


def _uses(batch: Batch) -> list[Use]:
    """Return what is taken off the shelf: what went in, less what was there already."""
    shown = report(batch.evaluation(samples=0)) if batch.as_mixed else batch.shown
    there = batch.yard_measures.get("there", {})
    taken = []
    for use in uses_of(shown):
        left = 1 - there.get(use.slug, 0.0) / use.litres if use.litres else 1.0
        share = max(left, 0.0)
        taken.append(Use(use.slug, use.litres * share, use.kg * share))
    return taken


@transaction.atomic
def record_as_mixed(
    *, batch: Batch, by: User | None, litres: dict[str, float], grams: list[float]
) -> None:
    """Keep what really went in; every number of the batch is reckoned with it from then on."""
    batch.lock()
    batch.as_mixed = {"litres": litres, "grams": grams}
    batch.save(update_fields=["as_mixed"])
    _count_anew(batch, by)
    _note(batch, by, f"{batch.code}: what went in differed from the plan", None)


@transaction.atomic
def forget_as_mixed(*, batch: Batch, by: User | None) -> None:
    """Say that it went in as planned after all."""
    batch.lock()
    batch.as_mixed = None
    batch.save(update_fields=["as_mixed"])
    _count_anew(batch, by)
    _note(batch, by, f"{batch.code}: it went in as planned after all", None)


def _count_anew(batch: Batch, by: User | None) -> None:
    """Bring the shelf to what went in, where it was counted down already."""
    if batch.finished_at is not None:
        take_anew_for_batch(
            yard=batch.yard,
            by=by,
            uses=_uses(batch),
            text=f"{batch.code} {batch.name}",
            url=batch.get_absolute_url(),
        )


def _note(batch: Batch, by: User | None, text: str, at: datetime | None, url: str = "") -> None:
    record(
        yard=batch.yard,
        by=by,
        station=Station.BARROW,
        text=text,
        url=url or batch.get_absolute_url(),
        at=at,
    )


BATCHES = Shelving(
    model=Batch,
    station=Station.BARROW,
    says=lambda row, word: f"{row.code} {word}",
    address=Batch.get_absolute_url,
)
