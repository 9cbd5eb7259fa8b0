"""What a day holds: gathered from the stations, reckoned by none."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from itertools import islice

from django.urls import reverse

from pelk.barrow.domain.schedule_cache import ready_date
from pelk.barrow.models import Batch
from pelk.bench.models import Recipe
from pelk.core.curing.due_states import TaskState
from pelk.core.curing.weather import weather_says
from pelk.cure.domain.due import DueRow, due_of_heaps, heaps_of
from pelk.cure.models import Reading
from pelk.log.models import Entry
from pelk.pots.domain.due import FeedRow, due_of_pots
from pelk.pots.domain.outlook import PotsWarning, warnings_of
from pelk.pots.models import PotGroup
from pelk.shelf.models.materials import ShelfItem
from pelk.ui.resting_chart import Resting
from pelk.yards.models import Yard

OPEN, LOW, LATELY, LANES, POTS = 20, 8, 6, 14, 40
# A sentence in this state asks for a measurement; the others say why none is worth it.
WORTH = "wait"
THIRSTY = (Reading.Moisture.DUST, Reading.Moisture.CRUMBLES)


@dataclass(frozen=True, slots=True)
class Weather:
    """How warm it is: typed today, or the mean of the month."""

    air_c: float
    is_typed: bool
    state: str
    says: str


@dataclass(frozen=True, slots=True)
class DryHeap:
    """A heap that wants water."""

    batch: Batch
    squeeze: str
    at: datetime


@dataclass(frozen=True, slots=True)
class ToMeasure:
    """Something whose next measurement is worth while."""

    name: str
    url: str
    say: str


@dataclass(frozen=True, slots=True)
class Day:
    """Everything the page shows."""

    on: date
    open_batches: list[Batch]
    due: list[DueRow]
    soon: list[DueRow]
    pots: list[FeedRow]
    pots_soon: list[FeedRow]
    dry: list[DryHeap]
    low: list[ShelfItem]
    planned: int
    lately: list[Entry]
    harms: list[tuple[Batch, str]]
    ahead: list[PotsWarning]
    measure: list[ToMeasure]
    resting: list[Resting]
    weather: Weather

    @property
    def count(self) -> int:
        """How many things wait."""
        return len(self.open_batches) + len(self.due) + len(self.dry) + len(self.pots)


def day_of_yard(yard: Yard, on: date, typed_c: float | None) -> Day:
    """Return what is due in a yard on a day."""
    heaps = heaps_of(yard)
    rows = due_of_heaps(yard, heaps, on)
    pots = due_of_pots(yard, on)
    entries = Entry.objects.of(yard)[:LATELY]
    low = ShelfItem.objects.of(yard).filter(is_low=True).select_related("material")
    barrow = Batch.objects.of(yard).live().at_the_barrow()
    return Day(
        on=on,
        open_batches=list(barrow.defer("document", "analyses", "shown")[:OPEN]),
        due=[row for row in rows if row.is_open],
        soon=[row for row in rows if row.state == TaskState.SOON],
        pots=[row for row in pots if row.is_open][:POTS],
        pots_soon=[row for row in pots if row.state == TaskState.SOON][:POTS],
        dry=_dry(heaps),
        low=list(low[:LOW]),
        planned=Recipe.objects.of(yard).live().planned().count(),
        lately=list(entries),
        resting=[_resting(heap) for heap in heaps[:LANES]],
        harms=_harms(heaps[:LANES]),
        ahead=list(islice(warnings_of(yard, on), LATELY)),
        measure=_measure(yard, heaps[:LANES]),
        weather=_weather(yard, on, typed_c),
    )


def _measure(yard: Yard, heaps: list[Batch]) -> list[ToMeasure]:
    """Return what is worth measuring, as it was reckoned last: of heaps, then of pots."""
    held = [
        (h.code, reverse("cure:heap", args=[h.pk]), (h.schedule_cache or {}).get("measure"))
        for h in heaps
    ]
    groups = PotGroup.objects.of(yard).live().filter(measure__isnull=False)
    held += [(g.name, g.get_absolute_url(), g.measure) for g in groups.only("name", "measure")]
    worth = [ToMeasure(name, url, kept[1]) for name, url, kept in held if kept and kept[0] == WORTH]
    return worth[:LATELY]


def _harms(heaps: list[Batch]) -> list[tuple[Batch, str]]:
    """Return what the judge holds against heaps that rest, the first of each."""
    held = [(heap, (heap.schedule_cache or {}).get("harms") or []) for heap in heaps]
    return [(heap, harms[0]) for heap, harms in held if harms]


def _dry(heaps: list[Batch]) -> list[DryHeap]:
    """Return the heaps whose newest squeeze crumbled."""
    dry = []
    for heap in heaps:
        squeeze, at = (heap.schedule_cache or {}).get("squeeze") or ("", "")
        if squeeze in THIRSTY:
            word = str(Reading.Moisture(squeeze).label)
            dry.append(DryHeap(heap, word, datetime.fromisoformat(at)))
    return dry


def _resting(heap: Batch) -> Resting:
    schedule_cache = heap.schedule_cache or {}
    early, late = schedule_cache.get("between", (None, None))

    def on(day: int | None) -> date | None:
        return None if day is None else heap.date_of(day)

    return Resting(
        heap.code,
        heap.name,
        reverse("cure:heap", args=[heap.pk]),
        heap.date_of(0),
        ready_date(heap),
        on(early),
        on(late),
    )


def _weather(yard: Yard, on: date, typed_c: float | None) -> Weather:
    air = yard.normals_c[on.month - 1] if typed_c is None else typed_c
    return Weather(air, typed_c is not None, *weather_says(air))
