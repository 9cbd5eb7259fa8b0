"""What the newest sums say of a heap's days: kept on the batch for lists and schedules."""

from __future__ import annotations

from datetime import date
from typing import Any

from pelk.barrow.models import Batch
from pelk.core.advice.judgement import judge
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.simulation.readiness import HELD_UP, is_fed


def ready_date(batch: Batch) -> date | None:
    """Return when a heap is ready by its newest sums: the one date that every page shows."""
    day = (batch.schedule_cache or {}).get("ready")
    return None if day is None else batch.date_of(day)


def schedule_cache_of(evaluation: Evaluation) -> dict[str, Any]:
    """Return the days a schedule needs, as they are kept."""
    ahead, charge = evaluation.forecast, evaluation.supply
    ready = ahead.ready if ahead else None
    return {
        "ready": ready.p50 if ready else None,
        "between": [ready.p10, ready.p90] if ready else [None, None],
        "days": ahead.days if ahead else 0,
        "is_fed": is_fed([(d.material, d.g_per_l) for d in evaluation.doses]),
        "waits": HELD_UP[ready.waiting_for[0]] if ready and ready.waiting_for else "",
        "harms": [finding.text for finding in judge(evaluation).harms],
        "run_out": charge.elements["N"].season.run_out_day if charge else None,
    }
