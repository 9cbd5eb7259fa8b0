"""How often some pots are watered: by what was tapped, and by the lift test."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, timedelta
from itertools import pairwise
from statistics import median

from pelk.pots.models import PotDeed

# So many gaps, within so many days, say how often.
TELL_PACE = (PotDeed.Kind.WATERED, PotDeed.Kind.LIFTED)
LEAST_GAPS, LOOKS_BACK = 3, 60


@dataclass(frozen=True, slots=True)
class Pace:
    """How often some pots were watered, and about when. [d]."""

    days: float
    on: date


def pace_of(deeds: Iterable[PotDeed], today: date) -> Pace | None:
    """Return how many days lie between waterings, by taps before the lift test; None unknown."""
    deeds = list(deeds)
    days = sorted({d.on for d in deeds if is_tap(d) and d.on > today - timedelta(days=LOOKS_BACK)})
    gaps = [(later - before).days for before, later in pairwise(days)]
    if len(gaps) >= LEAST_GAPS:
        return Pace(float(median(gaps)), days[-1])
    timed = next(
        (d for d in deeds if d.kind == PotDeed.Kind.LIFTED and d.figures.get("days")), None
    )
    return Pace(timed.figures["days"], timed.on) if timed else None


def is_tap(deed: PotDeed) -> bool:
    """Return whether a deed says no more than that they were watered that day."""
    return deed.kind == PotDeed.Kind.WATERED and not deed.figures
