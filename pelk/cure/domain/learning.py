"""What a heap's readings teach: its evaluation with the forecast fitted to them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pelk.barrow.models import Batch
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.plans.plan import MOISTURE
from pelk.core.simulation.calibration import Calibration, PhReading, calibrate
from pelk.core.simulation.forecast import Observed
from pelk.core.simulation.initial_state import starting_at
from pelk.core.simulation.run import Surroundings
from pelk.cure.models import MeterCheckRow, Reading

# A reading this early is where the heap starts; later ones teach how it goes on.
FIRST_DAY = 1.0
# Readings that are looked at: the newest of a heap.
MOST = 100
# A pH so far outside the forecast is asked about before it is kept.
FAR_PH, JUMP_PH, JUMP_DAYS = 0.6, 1.0, 3.0
METHODS = {
    Reading.PhMethod.SLURRY: "1:1 slurry",
    Reading.PhMethod.HALF: "1:2",
    Reading.PhMethod.FIFTH: "1:5",
    Reading.PhMethod.PASTE: "saturated paste",
    Reading.PhMethod.POUR: "pour-through",
    Reading.PhMethod.PEN: "saturated paste",
}
SQUEEZE = {
    Reading.Moisture.DUST: 0.10,
    Reading.Moisture.CRUMBLES: MOISTURE["dry"],
    Reading.Moisture.SPONGE: MOISTURE["moist"],
    Reading.Moisture.RUNS: MOISTURE["wet"],
}


@dataclass(frozen=True, slots=True)
class Learned:
    """An evaluation that has seen the readings, and what they taught."""

    evaluation: Evaluation
    taught: Calibration | None
    count: int = 0


def day_of(batch: Batch, reading: Reading) -> float:
    """Return the days since mixing at which a reading was taken."""
    return max((reading.taken_at - batch.made_at).total_seconds() / 86400, 0.0)


def learned(batch: Batch, readings: Sequence[Reading]) -> Learned:
    """Return what a batch comes to by its readings; newest first.

    A pen that passed its buffers within the month is believed more closely.
    """
    pen_is_checked = MeterCheckRow.pen_is_checked(batch.yard_id)
    plain = batch.evaluation(samples=0)
    ahead = plain.forecast
    visits = [r for r in reversed(readings) if ahead and day_of(batch, r) <= ahead.days]
    if ahead is None or not visits:
        return Learned(batch.evaluation(), None)
    around = _seen_around(ahead.around, batch, visits, ahead.days)
    ph = [
        PhReading(
            day=day_of(batch, r),
            ph=r.ph,
            method=METHODS[Reading.PhMethod(r.method)],
            meter="checked pen" if pen_is_checked else "unchecked pen",
        )
        for r in visits
        if r.ph is not None
    ]
    first = next((p.on_slurry for p in ph if p.day <= FIRST_DAY), None)
    heap = ahead.heap if first is None else starting_at(ahead.heap, first)
    later = [p for p in ph if p.day > FIRST_DAY]
    taught = calibrate(heap, around, later) if later else None
    observed = Observed(start_ph=first, around=around, learned=taught.posterior if taught else None)
    return Learned(batch.evaluation(observed=observed), taught, len(ph))


def _seen_around(
    around: Surroundings, batch: Batch, observed: Sequence[Reading], days: int
) -> Surroundings:
    """Return where the heap lay by what was probed and squeezed; the last one goes on."""
    warm = [(day_of(batch, r), r.temperature_c) for r in observed if r.temperature_c is not None]
    wet = [
        (day_of(batch, r), SQUEEZE[Reading.Moisture(r.moisture)]) for r in observed if r.moisture
    ]
    return replace(
        around,
        temperature_c=_series(warm, days, around.temperature_c),
        moisture=_series(wet, days, around.moisture),
    )


def _series(
    observed: Sequence[tuple[float, float]], days: int, plain: float | np.ndarray
) -> float | np.ndarray:
    if not observed:
        return plain
    at, values = zip(*observed, strict=True)
    return np.interp(np.arange(days + 0.5), at, values)


def doubts(
    batch: Batch, readings: Sequence[Reading], ph: float | None, method: str, day: float
) -> str:
    """Return what is odd about a pH before it is kept; empty where nothing is.

    On mixing day nothing is: a pen that says neutral then is expected, and sets the start.
    """
    if ph is None or day <= FIRST_DAY:
        return ""
    ahead = learned(batch, readings).evaluation.forecast
    if ahead is None or day > ahead.days:
        return ""
    reading = PhReading(day=day, ph=ph, method=METHODS[Reading.PhMethod(method)])
    days = np.arange(ahead.days + 1)
    low, high = (float(np.interp(day, days, ahead.ph[i])) for i in (0, 2))
    if not low - FAR_PH <= reading.on_slurry <= high + FAR_PH:
        return f"pH {ph:g} is far from the {low:.1f} to {high:.1f} the sums expect today."
    last = next((r for r in readings if r.ph is not None and r.method == method), None)
    if last is not None and last.ph is not None and abs(last.ph - ph) > JUMP_PH:
        since = day - day_of(batch, last)
        if 0 <= since <= JUMP_DAYS:
            return f"pH {ph:g} is a jump from {last.ph:g}, {since:.0f} days before."
    return ""
