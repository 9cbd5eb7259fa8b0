"""What is to do with a heap and when: days since mixing, moving with its forecast."""

from collections.abc import Sequence
from dataclasses import dataclass

from pelk.core.base.sources import cites

MOISTEN, TURN, PROBE, SPROUT, READY, PLANT, FEED = (
    "moisten",
    "turn",
    "probe",
    "sprout",
    "ready",
    "plant",
    "feed",
)
WEEK = 7
# A fed heap is turned while it is hot, then once a month; an unfed one once.
TURNS_FED, TURNS_PLAIN = (3, 7, 14, 28), (14,)
FIRST_PROBES = (0, 3)
# Two readings three days apart decide; the sprout test takes four days of its own.
TWICE_DAYS, SPROUT_BEFORE = 3, 5
PLANT_AFTER = 1
LONGEST = 365
NAMES = {
    MOISTEN: "Squeeze-test it; water it if it crumbles",
    TURN: "Turn it",
    PROBE: "Read pH and temperature",
    SPROUT: "Sow the sprout test",
    READY: "Forecast ready: smell it, read pH twice, decide",
    PLANT: "Use it: plant or pot on",
    FEED: "Start feeding: its nitrogen is running out",
}


@dataclass(frozen=True, slots=True)
class Due:
    """Something to do.

    Attributes
    ----------
    key : str
        Which one of its kind, such as ``turn:2``; it stays when the day shifts.
    day : int
        Since mixing. [d]
    """

    key: str
    kind: str
    day: int

    @property
    def name(self) -> str:
        """What to do, in words."""
        return NAMES[self.kind]


@cites("trade", "squeezed and probed weekly, turned while hot, sprouted before planting")
def schedule(
    ready_day: int | None, horizon_days: int, *, is_fed: bool, run_out_day: int | None = None
) -> list[Due]:
    """Return what is to do with a heap, in order of its days.

    Parameters
    ----------
    ready_day : int or None
        When the sums say it is ready; None when not within the look ahead. [d]
    horizon_days : int
        How far the sums look. [d]
    is_fed : bool
        Whether it holds meals or manures that heat.
    run_out_day : int or None
        When its nitrogen runs out once planted. [d]
    """
    last = min(ready_day if ready_day is not None else horizon_days, LONGEST)
    weeks = range(WEEK, last, WEEK)
    planned = _each(PROBE, [*FIRST_PROBES, *weeks])
    planned += _each(MOISTEN, weeks)
    planned += _each(TURN, [d for d in (TURNS_FED if is_fed else TURNS_PLAIN) if d < last])
    if ready_day is not None:
        sprout = max(ready_day - SPROUT_BEFORE, 0)
        planned += [
            *_each(SPROUT, [sprout]),
            Due(f"{READY}:1", READY, ready_day),
            Due(f"{PROBE}:twice", PROBE, ready_day + TWICE_DAYS),
            Due(f"{PLANT}:1", PLANT, ready_day + TWICE_DAYS + PLANT_AFTER),
        ]
        if run_out_day is not None and run_out_day > ready_day:
            planned.append(Due(f"{FEED}:1", FEED, run_out_day))
    order = list(NAMES)
    return sorted(planned, key=lambda due: (due.day, order.index(due.kind)))


def _each(kind: str, days: Sequence[int]) -> list[Due]:
    return [Due(f"{kind}:{i}", kind, day) for i, day in enumerate(days, 1)]
