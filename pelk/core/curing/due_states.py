"""How something planned for a day stands: late, today, soon; and what overtakes it."""

from collections.abc import Callable, Iterable, Sequence
from datetime import date
from enum import StrEnum
from typing import TypeVar

SOON_DAYS = 7
# What one missed week ago is not nagged about for ever.
STALE_DAYS = 45

Row = TypeVar("Row")


class TaskState(StrEnum):
    """How something to do stands on a day."""

    LATE = "late"
    TODAY = "today"
    SOON = "soon"
    LATER = "later"
    WAITS = "waits"
    MISSED = "missed"
    DONE = "done"
    SKIPPED = "skipped"

    @property
    def is_open(self) -> bool:
        """Whether it waits for someone now."""
        return self in (TaskState.LATE, TaskState.TODAY)

    @property
    def is_ahead(self) -> bool:
        """Whether it is open or has a day to come."""
        return self.is_open or self in (TaskState.SOON, TaskState.LATER)


def task_state(on: date | None, today: date, *, missed_after_days: int | None = None) -> TaskState:
    """Return how something that nobody decided stands.

    Parameters
    ----------
    on : date or None
        Its day; None waits for something that has no day yet.
    today : date
        The day it is.
    missed_after_days : int, optional
        After so long nobody waits for it any more; without it it stays late. [d]

    Returns
    -------
    TaskState
        Never done nor skipped: that is somebody's deed.
    """
    if on is None:
        return TaskState.WAITS
    behind_days = (today - on).days
    if behind_days > 0:
        is_missed = missed_after_days is not None and behind_days > missed_after_days
        return TaskState.MISSED if is_missed else TaskState.LATE
    if behind_days == 0:
        return TaskState.TODAY
    return TaskState.SOON if -behind_days <= SOON_DAYS else TaskState.LATER


def without_overtaken(
    rows: Iterable[Row], *, is_overtaken_by: Callable[[Row, Row], bool]
) -> list[Row]:
    """Return the rows in their order, less those that a later one has overtaken.

    Parameters
    ----------
    rows : iterable
        In order of their days.
    is_overtaken_by : callable
        Whether the first row stands for nothing any more since there is the second.
    """
    ordered: Sequence[Row] = list(rows)
    return [
        row
        for i, row in enumerate(ordered)
        if not any(is_overtaken_by(row, later) for later in ordered[i + 1 :])
    ]
