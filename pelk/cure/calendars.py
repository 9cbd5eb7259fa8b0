"""What is due as an iCalendar: a file, or an address a calendar reads by itself.

Later stations add what is due with them: they register in `MORE` when they are loaded.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date, timedelta

from django.utils import timezone

from pelk.cure.due import DueRow, due_of_yard
from pelk.yards.models import Yard


@dataclass(frozen=True, slots=True)
class DayEvent:
    """Something to do on a day; it keeps its `uid` when its day shifts."""

    uid: str
    summary: str
    on: date
    path: str


MORE: list[Callable[[Yard, date], list[DayEvent]]] = []


def events_of(yard: Yard, today: date) -> list[DayEvent]:
    """Return what is due in a yard, with its heaps and further on."""
    heaps = [_event_of(row) for row in due_of_yard(yard, today)]
    return [*heaps, *(event for ask in MORE for event in ask(yard, today))]


def _event_of(row: DueRow) -> DayEvent:
    return DayEvent(
        f"{row.batch.pk}-{row.due.key}",
        f"{row.batch.code}: {row.name}",
        row.on,
        f"/cure/{row.batch.pk}/",
    )


def calendar_of(events: Iterable[DayEvent], name: str, host: str) -> bytes:
    """Return due things as all-day events."""
    # Half a second to import: only who asks for a calendar waits for it.
    from icalendar import Calendar, Event  # noqa: PLC0415

    calendar = Calendar()
    calendar.add("prodid", "-//Pelk//Cure//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for each in events:
        event = Event()
        event.add("uid", f"{each.uid}@{host}")
        event.add("summary", each.summary)
        event.add("dtstart", each.on)
        event.add("dtend", each.on + timedelta(days=1))
        event.add("dtstamp", timezone.now())
        event.add("url", f"https://{host}{each.path}")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
