"""Writing the log: called by the services of all stations, inside their transaction."""

from datetime import datetime

from django.utils import timezone

from pelk.log.models import Entry, Station
from pelk.yards.models import User, Yard


def record(
    *,
    yard: Yard,
    by: User | None,
    station: Station,
    text: str,
    url: str = "",
    at: datetime | None = None,
) -> Entry:
    """Write one deed; `at` is when it happened, where that is not now."""
    return Entry.objects.create(
        yard=yard,
        by=by,
        by_name=by.shown_name[:80] if by else "",
        station=station,
        text=text[:300],
        url=url,
        at=at or timezone.now(),
    )
