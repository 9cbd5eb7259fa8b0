"""Geometry of the resting lanes: one line a heap, from mixing day to the days it may be ready."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from pelk.ui.chart_numbers import ChartNumbers, lane_numbers
from pelk.ui.days import short_day
from pelk.ui.scales import Scale, Tick

LEFT, ROW, TOP, FOOT, RIGHT = 126, 42, 34, 8, 10
BACK_DAYS, AHEAD_DAYS = 7, 90
MOST_DAYS = 400
MONTH_PX, TEXT_PX = 26, 60


@dataclass(frozen=True, slots=True)
class Resting:
    """A heap as a lane needs it: mixed on a day, ready between two days."""

    code: str
    name: str
    url: str
    made: date
    ready: date | None
    early: date | None
    late: date | None


@dataclass(frozen=True, slots=True)
class Lane:
    """One drawn lane."""

    code: str
    name: str
    url: str
    y: int
    start: float
    end: float
    box_x: float
    box_width: float
    text: str
    text_x: float
    anchor: str
    says: str


@dataclass(frozen=True, slots=True)
class Lanes:
    """All lanes on one stretch of days."""

    width: int
    height: int
    today: float
    top: int
    base: int
    lanes: list[Lane]
    months: list[Tick]


def lanes(heaps: Sequence[Resting], today: date, *, width: int) -> Lanes | None:
    """Lay out the lanes; None where nothing rests."""
    if not heaps:
        return None
    first = min([today, *(h.made for h in heaps)]) - timedelta(days=BACK_DAYS)
    first = max(first, today - timedelta(days=MOST_DAYS))
    ends = [h.late or h.ready or today for h in heaps]
    last = min(
        max([today + timedelta(days=AHEAD_DAYS // 3), *ends]) + timedelta(days=BACK_DAYS),
        today + timedelta(days=MOST_DAYS),
    )
    days = (last - first).days
    x = Scale(0, days, LEFT, width - RIGHT)
    height = TOP + ROW * len(heaps) + FOOT
    return Lanes(
        width=width,
        height=height,
        today=x((today - first).days),
        top=TOP - 6,
        base=height - FOOT,
        lanes=[_lane(h, i, first, days, x) for i, h in enumerate(heaps)],
        months=_months(first, days, x),
    )


def resting_numbers(heaps: Sequence[Resting]) -> ChartNumbers:
    """Return the same lanes as a table."""

    def told(day: date | None) -> str:
        return f"{day:%-d %b %Y}" if day else "–"

    heads = ("heap", "name", "mixed", "ready about", "likely from", "to")
    days = ((h, (h.made, h.ready, h.early, h.late)) for h in heaps)
    return lane_numbers(
        "heaps-curing", heads, [(h.code, h.name, *(told(d) for d in each)) for h, each in days]
    )


def _lane(heap: Resting, row: int, first: date, days: int, x: Scale) -> Lane:
    def at(day: date) -> float:
        return x(min(max((day - first).days, 0), days))

    start = at(heap.made)
    if heap.ready is None:
        end, box, wide, text = x(days), x(days), 0.0, "not in sight"
    else:
        box = at(heap.early or heap.ready)
        end = box
        wide = max(at(heap.late) - box if heap.late else x(days) - box, 3.0)
        text = short_day(heap.ready)
    is_left = box + wide > x(days) - TEXT_PX
    says = (
        f"{heap.code} {heap.name}, mixed {short_day(heap.made)}, "
        f"{'ready about ' + text if heap.ready else text}"
    )
    return Lane(
        heap.code,
        heap.name,
        heap.url,
        TOP + ROW * row + ROW // 2,
        start,
        end,
        box,
        round(wide, 1),
        text,
        box - 6 if is_left else box + wide + 6,
        "end" if is_left else "start",
        says,
    )


def _months(first: date, days: int, x: Scale) -> list[Tick]:
    """Mark the first of each month that has room for its name."""
    ticks = []
    step = 1 if days < 200 else 2
    for d in range(1, days):
        day = first + timedelta(days=d)
        if day.day == 1 and day.month % step == 0 and x(d) < x(days) - MONTH_PX:
            ticks.append(Tick(x(d), f"{day:%b}"))
    return ticks
