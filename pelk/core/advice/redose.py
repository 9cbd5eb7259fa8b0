"""How much more lime or sulfur a heap wants now, or to wait: what has not worked yet counts."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pelk.core.advice.dose_for_ph import MOST_LIME_G_L, MOST_SULFUR_G_L, Advice, advise
from pelk.core.base.sources import cites
from pelk.core.materials.library import Material
from pelk.core.simulation.forecast import Forecast
from pelk.core.simulation.initial_state import Heap, with_doses
from pelk.core.simulation.run import Surroundings, simulate

# A dose is judged by what it has done after a quarter of a year.
WORK_DAYS = 90
# Nearer than a pen can tell: wait.
NEAR = 0.15
INSIDE = 0.2
HALVINGS = 12
NEAR_PH = 0.02


@dataclass(frozen=True, slots=True)
class Redose:
    """Advice for a heap on a day.

    Attributes
    ----------
    ph_by_itself : float
        Where it goes with what is in it, a quarter of a year on. [pH]
    target_ph : float
        Just inside the band on the side it misses. [pH]
    material : Material or None
        What to add; None is to wait.
    g_per_l : float
        Of it, in all. [g/L]
    advice : Advice or None
        How much of that at once, and how long to wait.
    problem : str
        Why there is no dose, where there is none.
    """

    ph_by_itself: float
    target_ph: float
    material: Material | None = None
    g_per_l: float = 0.0
    advice: Advice | None = None
    problem: str = ""


@cites("pelk", "the course run on with the dose given on its day; what has not worked counts")
def redose(
    ahead: Forecast,
    band: tuple[float, float],
    today: int,
    limes: Sequence[Material],
    sulfurs: Sequence[Material],
) -> Redose:
    """Return what to add to a heap, or that waiting is enough.

    Parameters
    ----------
    ahead : Forecast
        Of the heap, by its readings.
    band : tuple of float
        Wanted pH.
    today : int
        Days since mixing. [d]
    limes, sulfurs : sequence of Material
        To choose from, the preferred first.
    """
    series = ahead.line.daily("ph")
    day = today + WORK_DAYS
    then = float(series[min(day, len(series) - 1)])
    low, high = band
    target = float(np.clip(then, low, high))
    if abs(target - then) <= NEAR:
        return Redose(then, target)
    inside = min(INSIDE, (high - low) / 2)
    kind, choices = ("lime", limes) if target > then else ("sulfur", sulfurs)
    target += inside if target > then else -inside
    if not choices:
        return Redose(then, target, problem=f"there is no {kind} to dose")
    material = choices[0]
    most = MOST_LIME_G_L if kind == "lime" else MOST_SULFUR_G_L
    dose = _dose(ahead.heap, ahead.around, material, (today, day), target, most)
    if dose is None:
        return Redose(then, target, problem=f"no {kind} brings it to {target:.1f} by then")
    grade = material.lime_grade or material.sulfur_grade
    warm = float(np.mean(ahead.around.temperature_c))
    advice = advise(kind, dose, grade=grade, gap=target - then, temperature_c=warm)
    return Redose(then, target, material, dose, advice)


def _dose(
    heap: Heap,
    around: Surroundings,
    material: Material,
    days: tuple[int, int],
    target: float,
    most: float,
) -> float | None:
    """Return the dose given on the first day that has brought the target by the second."""
    given, judged = days

    def missed(g_per_l: float) -> float:
        dosed = with_doses(heap, [(material, g_per_l)], day=float(given))
        return float(simulate(dosed, around, judged)["ph"][-1]) - target

    least = 0.0
    start = missed(least)
    if start * missed(most) > 0:
        return None
    for _ in range(HALVINGS):
        middle = (least + most) / 2
        off = missed(middle)
        if abs(off) < NEAR_PH:
            return middle
        if off * start > 0:
            least = middle
        else:
            most = middle
    return (least + most) / 2
