"""The path of work: stations, which one the page is at, and what is live in each."""

from dataclasses import dataclass
from typing import Any

from django.db.models import Count, OuterRef, QuerySet, Subquery
from django.db.models.functions import Coalesce
from django.http import HttpRequest
from django.urls import reverse
from django.utils.functional import SimpleLazyObject

from pelk.barrow.models import Batch
from pelk.bench.models import Recipe
from pelk.pots.models import PotGroup
from pelk.shelf.models.materials import ShelfItem
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


def _of(rows: QuerySet[Any]) -> Coalesce:
    """Return how many of a yard's rows there are, as part of one question."""
    mine = rows.filter(yard=OuterRef("pk")).order_by()
    return Coalesce(Subquery(mine.values("yard").annotate(n=Count("pk")).values("n")), 0)


def _counts(yard: Yard) -> dict[str, str]:
    """Return what is live in each station, in one question."""
    counts = Yard.objects.filter(pk=yard.pk).values_list(
        _of(ShelfItem.objects.all()),
        _of(ShelfItem.objects.filter(is_low=True)),
        _of(Recipe.objects.live()),
        _of(Batch.objects.live().at_the_barrow()),
        _of(Batch.objects.live().filter(finished_at__isnull=False)),
        _of(PotGroup.objects.live()),
    )
    shelf, low, recipes, opened, mixed, pots = counts[0]
    return {
        "shelf": f"{shelf or ''}{f', {low} low' if low else ''}",
        "bench": str(recipes or ""),
        "barrow": f"{opened} open" if opened else "",
        "cure": str(mixed or ""),
        "pots": str(pots or ""),
    }


ORDER = [
    ("shelf", "Shelf", "shelf:list", ""),
    ("bench", "Bench", "bench:book", ""),
    ("barrow", "Barrow", "barrow:batches", ""),
    ("cure", "Cure", "cure:heaps", ""),
    ("pots", "Pots", "pots:groups", ""),
    ("log", "Log", "log:log", ""),
]
TODAY = ("today", "Today", "today:today", "")
PH_DESK = ("ph", "pH desk", "pots:ph_desk", "")
PH_PAGES = ("pots:ph_desk", "pots:jars_begin", "pots:jars")


def path_strip(request: HttpRequest) -> dict[str, object]:
    """Give every page its path strip."""
    app = request.resolver_match.app_name if request.resolver_match else ""
    here = "shelf" if app == "exchange" else app
    if request.resolver_match and request.resolver_match.view_name in PH_PAGES:
        here = "ph"
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
