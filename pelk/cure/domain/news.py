"""What a nose and a probe said of a heap lately: it outranks the sums, and grows old."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from pelk.barrow.models import Batch
from pelk.core.advice.vetoes import NEWS_DAYS
from pelk.core.simulation.forecast import surroundings_of
from pelk.core.simulation.readiness import LARGE_L, WARM_MOST_C, WARM_MOST_LARGE_C
from pelk.cure.domain.learning import day_of
from pelk.cure.models import Reading

# The air of a day and the probe's own error: so much warmer says nothing yet. [K]
PROBE_SLACK_C = 3.0


def recent_smell(batch: Batch, readings: Sequence[Reading], today: int) -> str:
    """Return what it smelt of at the last noting; old news counts no more."""
    newest = next((r for r in readings if r.smell), None)
    return str(newest.smell) if newest is not None and _is_news(batch, newest, today) else ""


def probed(batch: Batch, readings: Sequence[Reading], today: int) -> float | None:
    """Return the newest warmth that was read, while it is news. [°C]."""
    newest = _newest_warmth(batch, readings, today)
    return None if newest is None else newest.temperature_c


def is_warm(batch: Batch, litres: float, readings: Sequence[Reading], today: int) -> bool:
    """Return whether a probe found the heap warmer than the air of that day by more than it may."""
    newest = _newest_warmth(batch, readings, today)
    if newest is None or newest.temperature_c is None:
        return False
    # The air of the plan: what readings taught of the heap's surroundings is the heap's own warmth.
    plan, _ = batch.plan_as_mixed()
    air = np.atleast_1d(surroundings_of(plan.conditions).temperature_c)
    that_day = float(air[min(int(day_of(batch, newest)), len(air) - 1)])
    most = WARM_MOST_LARGE_C if litres > LARGE_L else WARM_MOST_C
    return newest.temperature_c - that_day > most + PROBE_SLACK_C


def _newest_warmth(batch: Batch, readings: Sequence[Reading], today: int) -> Reading | None:
    warm = (r for r in readings if r.temperature_c is not None)
    newest = next(warm, None)
    return newest if newest is not None and _is_news(batch, newest, today) else None


def _is_news(batch: Batch, reading: Reading, today: int) -> bool:
    return today - day_of(batch, reading) <= NEWS_DAYS
