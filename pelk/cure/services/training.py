"""What is done with a practice heap; none of it touches a real one."""

from secrets import randbelow

from django.db import transaction

from pelk.core.curing.training_heap import LAST_DAY, Given, Way, cases, played
from pelk.core.curing.training_probes import CRESS_DAYS, PROBES, looked, pen_reading
from pelk.cure.models import TrainingHeap
from pelk.log.models import Station
from pelk.log.services.record import record
from pelk.yards.models import User, Yard

SEEDS = 100_000


@transaction.atomic
def begin(
    *,
    yard: Yard,
    by: User | None,
    case: str,
    doses: dict[str, float],
    choice: str = "",
    seed: int | None = None,
) -> TrainingHeap:
    """Mix a practice heap with one's own doses; a seed plays a hidden truth again."""
    row: TrainingHeap = TrainingHeap.objects.create(
        yard=yard,
        case=case,
        doses=doses,
        choice=choice,
        seed=randbelow(SEEDS) if seed is None else seed,
    )
    title = cases()[case].title
    record(
        yard=yard,
        by=by,
        station=Station.CURE,
        text=f"Practice heap begun: {title}",
        url=row.get_absolute_url(),
    )
    return row


@transaction.atomic
def wait(*, heap: TrainingHeap, days: int) -> None:
    """Let days go by."""
    heap.lock()
    if heap.planted_day is not None:
        return
    heap.day = min(heap.day + days, LAST_DAY)
    heap.save(update_fields=["day"])


@transaction.atomic
def probe(*, heap: TrainingHeap) -> None:
    """Read the pen."""
    heap.lock()
    case = cases()[heap.case]
    off = 0.0 if heap.pen_checked else case.pen_off
    game = played(case, way_of(heap), heap.seed)
    ph = pen_reading(game, heap.day, off, heap.seed + len(heap.probes))
    heap.probes = [*heap.probes, [heap.day, ph]]
    heap.save(update_fields=["probes"])


@transaction.atomic
def look(*, heap: TrainingHeap, kind: str) -> None:
    """Smell, measure, feel, squeeze, or sow cress, which takes its days."""
    heap.lock()
    if heap.planted_day is not None or kind not in PROBES:
        return
    case = cases()[heap.case]
    game = played(case, way_of(heap), heap.seed)
    said = looked(kind, case, heap.choice, game, heap.day, heap.seed + len(heap.looks))
    heap.looks = [*heap.looks, [heap.day, kind, said]]
    if kind == "cress":
        heap.day = min(heap.day + CRESS_DAYS, LAST_DAY)
    heap.save(update_fields=["looks", "day"])


@transaction.atomic
def check(*, heap: TrainingHeap) -> None:
    """Stand the pen in its buffers and set it right."""
    heap.lock()
    heap.pen_checked = True
    heap.save(update_fields=["pen_checked"])


@transaction.atomic
def give(*, heap: TrainingHeap, slug: str, g_per_l: float) -> None:
    """Give lime or sulfur on the day it is."""
    heap.lock()
    if heap.planted_day is not None:
        return
    heap.given = [*heap.given, [heap.day, slug, g_per_l]]
    heap.save(update_fields=["given"])


@transaction.atomic
def plant(*, heap: TrainingHeap, by: User | None) -> None:
    """Plant it: the truth comes out."""
    heap.lock()
    if heap.planted_day is not None:
        return
    heap.planted_day = heap.day
    heap.save(update_fields=["planted_day"])
    record(
        yard=heap.yard,
        by=by,
        station=Station.CURE,
        url=heap.get_absolute_url(),
        text=f"Practice heap planted on day {heap.day}: {cases()[heap.case].title}",
    )


def way_of(heap: TrainingHeap) -> Way:
    """Return how a practice heap was played so far."""
    later = tuple(Given(int(day), slug, float(grams)) for day, slug, grams in heap.given)
    return Way(heap.doses, later, heap.planted_day or 0, heap.choice)
