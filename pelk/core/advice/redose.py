"""How much more lime or sulfur a heap wants now, or to wait: the one answer, asked of a heap."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pelk.core.advice.dose_for_ph import Errand
from pelk.core.advice.giving_doses import Advice, advise
from pelk.core.advice.ph_answer import Outcome, PhAnswer, ph_answer
from pelk.core.advice.vetoes import NEWS_DAYS, is_lime, no_lime_now
from pelk.core.base.errors import OutOfRangeError
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.simulation.forecast import Forecast
from pelk.core.simulation.run import LONGEST_DAYS

# A dose is judged by what it has done after a quarter of a year.
WORK_DAYS = 90
# An older heap is followed no further.
OLDEST_DAYS = LONGEST_DAYS - WORK_DAYS
# Nearer to the band than a pen can tell: wait.
NEAR = 0.15
INSIDE = 0.2
# One reading teaches, it does not command: two, so many days apart, may.
READINGS_ASKED, DAYS_APART = 2, 3.0
# A reading this far off its own forecast is read again before anything is given. [pH]
APART = 0.4
GIVEN = (Outcome.DOSE, Outcome.TOO_SLOW)


@dataclass(frozen=True, slots=True)
class Redose:
    """Advice for a heap on a day.

    Attributes
    ----------
    answer : PhAnswer
        The one answer, for a pH just inside the band on the side it misses.
    advice : Advice or None
        How much of a dose at once, and how long to wait.
    asks_reading : bool
        A dose waits for a second reading, three days from the first.
    """

    answer: PhAnswer
    advice: Advice | None = None
    asks_reading: bool = False


@cites("pelk", "two readings three days apart before anything is added")
def is_read_enough(reading_days: Sequence[float]) -> bool:
    """Return whether readings are enough to add by: two of them, three days apart. [d]."""
    if len(reading_days) < READINGS_ASKED:
        return False
    return max(reading_days) - min(reading_days) >= DAYS_APART


@cites("pelk", "the course run on with the dose given on its day; what has not worked counts")
def redose(
    ahead: Forecast,
    band: tuple[float, float],
    today: int,
    limes: Sequence[Material],
    sulfurs: Sequence[Material],
    reading_days: Sequence[float] = (),
    *,
    last: tuple[float, float] | None = None,
    smells: bool = False,
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
    reading_days : sequence of float
        When its pH was read. [d]
    last : tuple of float, optional
        The newest reading: its day and the pH of the mix itself. [d], [pH]
    smells : bool
        Of ammonia, by a nose of these days: no lime, whatever the sums say.

    Raises
    ------
    OutOfRangeError
        For a heap older than `OLDEST_DAYS`.
    """
    if today > OLDEST_DAYS:
        raise OutOfRangeError(f"found {today} days, allowed: up to {OLDEST_DAYS}", "today")
    day = today + WORK_DAYS
    then = ahead.ph_on(day)
    low, high = band
    target = float(np.clip(then, low, high))
    if abs(target - then) > NEAR:
        inside = min(INSIDE, (high - low) / 2)
        target += inside if target > then else -inside
    heap, draws = ahead.as_learned
    errand = Errand(target_ph=target, day=day, given=today, band=band, draws=draws, is_mixed=True)
    answer = ph_answer(heap, ahead.around, errand, limes, sulfurs, ahead.learned, with_range=True)
    if answer.outcome not in GIVEN or answer.material is None:
        return Redose(answer)
    if not is_read_enough(reading_days):
        return Redose(answer, asks_reading=True)
    if is_lime(answer.material) and (smells or no_lime_now(ahead, today)):
        problem = "there is too much ammonium in it for lime: turn it, and wait"
        return Redose(
            replace(answer, outcome=Outcome.NO_WAY, plan=None, material=None, problem=problem)
        )
    if last is not None and today - last[0] <= NEWS_DAYS:
        off = abs(last[1] - ahead.ph_on(round(last[0])))
        if low <= last[1] <= high or off > APART:
            return Redose(answer, asks_reading=True)
    advice = advise(
        answer.kind,
        answer.g_per_l,
        grade=answer.material.lime_grade or answer.material.sulfur_grade,
        gap=target - then,
        temperature_c=float(np.mean(ahead.around.temperature_c)),
    )
    return Redose(answer, advice)
