"""Two things of a kind side by side: how far apart they are, and how sure that is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pelk.core.base.errors import UnknownError
from pelk.core.base.sources import cites

# Eight in ten of a normal lie within so many standard deviations.
WITHIN = 1.2816
# One plant from its neighbour in the same bed, coefficient of variation of what is picked.
PLANT_CV = 0.35
# One bed from the next that had the same, for light, wind and the hose.
BED_CV = 0.10


@dataclass(frozen=True, slots=True)
class Apart:
    """How far the second is from the first: the middle, and where eight in ten would lie.

    Attributes
    ----------
    count : int
        Comparisons it rests on.
    """

    middle: float
    low: float
    high: float
    count: int

    @property
    def is_told(self) -> bool:
        """Whether they are apart at all, by more than chance and the pen."""
        return self.low > 0 or self.high < 0


@cites("arithmetic", "mean of differences on the days both cover, with the pen's doubt")
def apart_in_time(
    first: Sequence[tuple[float, float]], second: Sequence[tuple[float, float]], sd: float
) -> Apart:
    """Return how far the second course of readings is over the first.

    Each reading of one is set against the other's line between its readings; days that only
    one of them covers say nothing.

    Parameters
    ----------
    first, second : sequence of (float, float)
        Day since mixing and what was read.
    sd : float
        Doubt of one reading, in its unit.

    Raises
    ------
    UnknownError
        When they share no days.
    """
    if not first or not second:
        raise UnknownError("one of them was not read")
    (a_days, a), (b_days, b) = _series(first), _series(second)
    low, high = max(a_days[0], b_days[0]), min(a_days[-1], b_days[-1])
    days = np.unique(np.concatenate([a_days, b_days]))
    days = days[(days >= low) & (days <= high)]
    if not len(days):
        raise UnknownError("they were not read on the same days since mixing")
    off = np.interp(days, b_days, b) - np.interp(days, a_days, a)
    count = len(days)
    # Each pen reading stands in one or two of the differences: no more are independent than
    # the rarer of the two was read within these days.
    free = min(_within(a_days, low, high), _within(b_days, low, high), count)
    spread = float(off.std(ddof=1)) if count > 1 else 0.0
    doubt = WITHIN * float(np.sqrt((2 * sd**2 + spread**2) / max(free, 1)))
    middle = float(off.mean())
    return Apart(middle, middle - doubt, middle + doubt, count)


def _series(pairs: Sequence[tuple[float, float]]) -> tuple[np.ndarray, np.ndarray]:
    table = np.array(sorted(pairs), dtype=float)
    days, at = np.unique(table[:, 0], return_inverse=True)
    return days, np.bincount(at, table[:, 1]) / np.bincount(at)


def _within(days: np.ndarray, low: float, high: float) -> int:
    return int(((days >= low) & (days <= high)).sum())


@cites("pelk", "plants of a bed differ by a third, beds alike by a tenth")
def apart_in_yield(
    first_kg: float, first_plants: int, second_kg: float, second_plants: int
) -> Apart:
    """Return how far the second is over the first in what a plant gave, as a share of it. [-].

    Parameters
    ----------
    first_kg, second_kg : float
        Picked in all. [kg]
    first_plants, second_plants : int
        How many gave it.

    Raises
    ------
    UnknownError
        When nothing was picked of the first.
    """
    if first_kg <= 0 or second_kg <= 0 or not first_plants or not second_plants:
        raise UnknownError("nothing was weighed of one of them")
    ratio = (second_kg / second_plants) / (first_kg / first_plants)
    sd = float(np.sqrt(PLANT_CV**2 / first_plants + PLANT_CV**2 / second_plants + 2 * BED_CV**2))
    return Apart(
        ratio - 1,
        ratio * float(np.exp(-WITHIN * sd)) - 1,
        ratio * float(np.exp(WITHIN * sd)) - 1,
        min(first_plants, second_plants),
    )
