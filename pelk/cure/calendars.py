"""What is due as an iCalendar: a file, or an address a calendar reads by itself."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import timedelta

from django.utils import timezone

from pelk.cure.due import DueRow


def calendar_of(rows: Iterable[DueRow], name: str, host: str) -> bytes:
    """Return due things as all-day events; each keeps its name when its day shifts."""
    # Half a second to import: only who asks for a calendar waits for it.
    from icalendar import Calendar, Event  # noqa: PLC0415

    calendar = Calendar()
    calendar.add("prodid", "-//Pelk//Cure//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for row in rows:
        event = Event()
        event.add("uid", f"{row.batch.pk}-{row.due.key}@{host}")
        event.add("summary", f"{row.batch.code}: {row.name}")
        event.add("dtstart", row.on)
        event.add("dtend", row.on + timedelta(days=1))
        event.add("dtstamp", timezone.now())
        event.add("url", f"https://{host}/cure/{row.batch.pk}/")
        calendar.add_component(event)
    return bytes(calendar.to_ical())
