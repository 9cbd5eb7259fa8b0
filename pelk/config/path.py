"""The path of work: stations, which one the page is at, and what is live in each."""

from dataclasses import dataclass

from django.http import HttpRequest
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from pelk.barrow.models import Batch
from pelk.bench.models import Recipe
from pelk.shelf.models import ShelfItem
from pelk.yards.models import Yard


@dataclass(frozen=True, slots=True)
class Station:
    """A place on the path; without an address it is not built yet."""

    key: str
    name: str
    url: str
    count: str
    later: str
    here: bool


def _count(found: int, word: str = "") -> str:
    return f"{found} {word}".strip() if found else ""


def _counts(yard: Yard) -> dict[str, str]:
    """Return what is live in each station, in few questions."""
    batches = Batch.objects.of(yard).live().tally()
    return {
        "shelf": _count(ShelfItem.objects.of(yard).count()),
        "bench": _count(Recipe.objects.of(yard).live().count()),
        "barrow": _count(batches["open"], "open"),
        "cure": _count(batches["mixed"]),
    }


ORDER = [
    ("shelf", "Shelf", "shelf:list", ""),
    ("bench", "Bench", "bench:book", ""),
    ("barrow", "Barrow", "barrow:batches", ""),
    ("cure", "Cure", "cure:heaps", ""),
    ("pots", "Pots", "", "Pots will keep what is planted, fed and judged old."),
    ("log", "Log", "log:log", ""),
]
TODAY = ("today", "Today", "", "Today will gather what is due across the yard.")
PH_DESK = ("ph", "pH desk", "", "The pH desk will weigh ways to raise and lower pH.")


def path_strip(request: HttpRequest) -> dict[str, object]:
    """Give every page its path strip."""
    here = request.resolver_match.app_name if request.resolver_match else ""
    yard: Yard | None = getattr(request, "yard", None)

    def stations() -> list[Station]:
        counts = _counts(yard) if yard else {}
        return [_station(row, here, counts.get(row[0], "")) for row in ORDER]

    return {
        "stations": SimpleLazyObject(stations),
        "today_station": _station(TODAY, here),
        "ph_station": _station(PH_DESK, here),
    }


def _station(row: tuple[str, str, str, str], here: str, count: str = "") -> Station:
    key, name, url, later = row
    return Station(key, name, reverse(url) if url else "", count, later, key == here)
