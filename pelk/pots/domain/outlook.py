"""What the judge sees ahead of some pots, kept so that Today reads and reckons nothing."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from pelk.core.advice.grades import Grade
from pelk.core.advice.judged_life import judge_life
from pelk.core.base.errors import PelkError
from pelk.pots.domain.due import rows_of
from pelk.pots.domain.planned import planned_events
from pelk.pots.models import PotGroup
from pelk.soils.domain.living import follow
from pelk.yards.extensions import DayEvent, events_of_yard
from pelk.yards.models import Yard

AHEAD_DAYS, SOON_DAYS = 90, 21


@dataclass(frozen=True, slots=True)
class PotsWarning:
    """Something that goes wrong with some pots, and from when."""

    group: PotGroup
    grade: str
    text: str
    on: date


def outlook_of(group: PotGroup, today: date) -> list[dict[str, Any]]:
    """Return what goes wrong in the next months, fed as planned; empty where nobody knows."""
    if group.soil is None:
        return []
    try:
        deeds = list(group.deeds.filter(deleted_at=None).answering())
        planned = planned_events(group, rows_of(group, deeds, today), today)
        until = today + timedelta(days=AHEAD_DAYS)
        forecast = follow(group.soil, until, samples=0, more=planned)
    except PelkError:
        return []
    day = max(group.soil.day_of(today), 0)
    return [
        {
            "grade": finding.grade.name.lower(),
            "text": finding.text,
            "on": group.soil.date_of(finding.from_day or day).isoformat(),
        }
        for finding in judge_life(forecast, day, forecast.life.days)
        if finding.grade >= Grade.DRIFTS
    ]


@events_of_yard.register
def warned_of(yard: Yard, today: date) -> list[DayEvent]:
    """Return what goes wrong with a yard's pots for the calendar, on the day that it begins."""
    return [
        DayEvent(
            f"pots-{group.pk}-ahead-{i}",
            f"{group.name}: {held['text']}",
            date.fromisoformat(held["on"]),
            group.get_absolute_url(),
        )
        for group in PotGroup.objects.of(yard).live().filter(outlook__isnull=False)
        for i, held in enumerate(group.outlook or [])
        if date.fromisoformat(held["on"]) >= today
    ]


def warnings_of(yard: Yard, today: date) -> Iterator[PotsWarning]:
    """Yield what goes wrong soon with a yard's pots, what harms first, then by date."""
    rows = []
    for group in PotGroup.objects.of(yard).live().filter(outlook__isnull=False):
        for held in group.outlook or []:
            on = date.fromisoformat(held["on"])
            if on <= today + timedelta(days=SOON_DAYS):
                rows.append(PotsWarning(group, held["grade"], held["text"], on))
    yield from sorted(rows, key=lambda w: (w.grade != Grade.HARMS.name.lower(), w.on))
