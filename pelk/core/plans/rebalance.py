"""Edits of a recipe that keep a sum: percents that stay a hundred, boundaries moved."""

from collections.abc import Sequence

from pelk.core.base.errors import PelkError
from pelk.core.base.sources import cites

WHOLE = 100.0
LEAST = 0.01


@cites("arithmetic", "what is neither locked nor at hand shares the rest as before")
def rebalanced(percents: Sequence[float], at: int, locked: Sequence[int] = ()) -> list[float]:
    """Return percents that come to a hundred after one of them was changed.

    Parameters
    ----------
    percents : sequence of float
        As they stand, the changed one with its new value. [%]
    at : int
        Place of the changed one.
    locked : sequence of int
        Places that must not move.

    Returns
    -------
    list of float
        The changed and the locked as they are; the others in their old proportion. [%]

    Raises
    ------
    PelkError
        When the rest has no room, or nothing is left to move.
    """
    fixed = {*locked, at}
    held = sum(percents[i] for i in fixed)
    free = [i for i in range(len(percents)) if i not in fixed]
    room = WHOLE - held
    if not free:
        if abs(room) < LEAST * len(percents):
            return list(percents)
        raise PelkError("all other lines are locked: open one", "bulk")
    if room < LEAST * len(free):
        raise PelkError("that leaves no room for the other lines", f"bulk[{at}].parts")
    before = sum(percents[i] for i in free)
    shares = [percents[i] / before if before > 0 else 1 / len(free) for i in free]
    moved = list(percents)
    for i, share in zip(free, shares, strict=True):
        moved[i] = room * share
    return moved
