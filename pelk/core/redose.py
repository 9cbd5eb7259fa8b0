"""How much more lime or sulfur a heap wants now, or to wait: what has not worked yet counts."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pelk.core.aim import Aim, aim_for
from pelk.core.errors import PelkError
from pelk.core.forecast import Forecast
from pelk.core.materials import Material
from pelk.core.plans import Conditions
from pelk.core.sources import cites

# A dose is judged by what it has done after a quarter of a year.
WORK_DAYS = 90
# Nearer than a pen can tell: wait.
NEAR = 0.15
INSIDE = 0.2


@dataclass(frozen=True, slots=True)
class Redose:
    """Advice for a heap on a day.

    Attributes
    ----------
    ph_by_itself : float
        Where it goes with what is in it, a quarter of a year on. [pH]
    target_ph : float
        Just inside the band on the side it misses. [pH]
    aim : Aim or None
        What to add; None is to wait.
    problem : str
        Why there is no dose, where there is none.
    """

    ph_by_itself: float
    target_ph: float
    aim: Aim | None = None
    problem: str = ""


@cites(
    "pelk", "the forecast counts what has not worked; the rest is dosed on the same curve"
)
def redose(
    ahead: Forecast, conditions: Conditions, band: tuple[float, float], today: int,
    limes: Sequence[Material], sulfurs: Sequence[Material],
) -> Redose:  # fmt: skip
    """Return what to add to a heap, or that waiting is enough.

    Parameters
    ----------
    ahead : Forecast
        Of the heap, by its readings.
    conditions : Conditions
        Where it lies.
    band : tuple of float
        Wanted pH.
    today : int
        Days since mixing. [d]
    limes, sulfurs : sequence of Material
        To choose from, the preferred first.
    """
    series = ahead.line.daily("ph")
    last = len(series) - 1
    then = float(series[min(today + WORK_DAYS, last)])
    low, high = band
    target = float(np.clip(then, low, high))
    if abs(target - then) <= NEAR:
        return Redose(then, target)
    inside = min(INSIDE, (high - low) / 2)
    target += inside if target > then else -inside
    # The dose acts from today, on the course it would have acted on from mixing day.
    fresh = float(series[min(WORK_DAYS, last)])
    try:
        aim = aim_for(ahead, conditions, fresh + target - then, WORK_DAYS, limes, sulfurs)
    except PelkError as error:
        return Redose(then, target, problem=error.message)
    return Redose(then, target, aim if aim.plan else None)
