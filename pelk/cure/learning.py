"""What a heap's readings teach: its evaluation with the forecast fitted to them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from pelk.barrow.models import Batch
from pelk.core.course import Surroundings
from pelk.core.evaluate import Evaluation
from pelk.core.forecast import Seen
from pelk.core.heap import starting_at
from pelk.core.plans import MOISTURE
from pelk.core.refit import PhReading, Refit, refit
from pelk.cure.models import Reading

# A reading this early is where the heap starts; later ones teach how it goes on.
FIRST_DAY = 1.0
METHODS = {
    Reading.PhMethod.SLURRY: "1:1 slurry", Reading.PhMethod.HALF: "1:2",
    Reading.PhMethod.FIFTH: "1:5", Reading.PhMethod.PASTE: "saturated paste",
    Reading.PhMethod.POUR: "pour-through",
}  # fmt: skip
SQUEEZE = {
    Reading.Moisture.DUST: 0.10, Reading.Moisture.CRUMBLES: MOISTURE["dry"],
    Reading.Moisture.SPONGE: MOISTURE["moist"], Reading.Moisture.RUNS: MOISTURE["wet"],
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Learned:
    """An evaluation that has seen the readings, and what they taught."""

    evaluation: Evaluation
    taught: Refit | None
    count: int = 0


def day_of(batch: Batch, reading: Reading) -> float:
    """Return the days since mixing at which a reading was taken."""
    return max((reading.taken_at - batch.made_at).total_seconds() / 86400, 0.0)


def learned(batch: Batch, readings: Sequence[Reading]) -> Learned:
    """Return what a batch comes to by its readings; newest first."""
    plain = batch.evaluation(samples=0)
    ahead = plain.forecast
    visits = [r for r in reversed(readings) if ahead and day_of(batch, r) <= ahead.days]
    if ahead is None or not visits:
        return Learned(batch.evaluation(), None)
    around = _seen_around(ahead.around, batch, visits, ahead.days)
    ph = [
        PhReading(
            day=day_of(batch, r), ph=r.ph, method=METHODS[Reading.PhMethod(r.method)]
        )
        for r in visits
        if r.ph is not None
    ]
    first = next((p.on_slurry for p in ph if p.day <= FIRST_DAY), None)
    heap = ahead.heap if first is None else starting_at(ahead.heap, first)
    later = [p for p in ph if p.day > FIRST_DAY]
    taught = refit(heap, around, later) if later else None
    seen = Seen(
        start_ph=first, around=around, learned=taught.posterior if taught else None
    )
    return Learned(batch.evaluation(seen=seen), taught, len(ph))


def _seen_around(
    around: Surroundings, batch: Batch, seen: Sequence[Reading], days: int
) -> Surroundings:
    """Return where the heap lay by what was probed and squeezed; the last one goes on."""
    warm = [
        (day_of(batch, r), r.temperature_c) for r in seen if r.temperature_c is not None
    ]
    wet = [
        (day_of(batch, r), SQUEEZE[Reading.Moisture(r.moisture)])
        for r in seen
        if r.moisture
    ]
    return replace(
        around,
        temperature_c=_series(warm, days, around.temperature_c),
        moisture=_series(wet, days, around.moisture),
    )


def _series(
    seen: Sequence[tuple[float, float]], days: int, plain: float | np.ndarray
) -> float | np.ndarray:
    if not seen:
        return plain
    at, values = zip(*seen, strict=True)
    return np.interp(np.arange(days + 0.5), at, values)
