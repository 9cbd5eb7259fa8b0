"""What is due as an iCalendar: a file, or an address a calendar reads by itself."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from datetime import timedelta

from django.utils import timezone

from pelk.yards.extensions import DayEvent
from pelk.yards.models import Yard


def calendar_of(
    events: Iterable[DayEvent], name: str, yard: Yard, address: Callable[[str], str]
) -> bytes:
    """Return due things as all-day events.

    What an event is called stays, whatever address it is asked on; its link is that address's.
    """
    # Half a second to import: only who asks for a calendar waits for it.
    from icalendar import Calendar, Event  # noqa: PLC0415

    calendar = Calendar()
    calendar.add("prodid", "-//Pelk//Cure//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for each in events:
        event = Event()
        event.add("uid", f"{each.uid}@yard-{yard.pk}.pelk")
        event.add("summary", each.summary)
        event.add("dtstart", each.on)
        event.add("dtend", each.on + timedelta(days=1))
        event.add("dtstamp", timezone.now())
        event.add("url", address(each.path))
        calendar.add_component(event)
    return bytes(calendar.to_ical())
