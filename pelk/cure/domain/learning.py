"""What a heap's readings teach: its evaluation with the forecast fitted to them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from hashlib import sha256
from typing import Any

import msgspec
import numpy as np

from pelk import VERSION
from pelk.barrow.models import Batch
from pelk.core.acid_base.salts_on_pens import PhMethod
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.plans.plan import MOISTURE
from pelk.core.salts.pore_water import UNKNOWN_EC
from pelk.core.simulation.calibration import Calibration, PhReading, calibrate
from pelk.core.simulation.ensemble import Posterior
from pelk.core.simulation.forecast import Observed, surroundings_of
from pelk.core.simulation.initial_state import starting_at
from pelk.core.simulation.run import Surroundings
from pelk.cure.models import MeterCheckRow, Reading

# A reading this early is where the heap starts; later ones teach how it goes on.
FIRST_DAY = 1.0
# A pH so far outside the forecast is asked about before it is kept.
FAR_PH, JUMP_PH, JUMP_DAYS = 0.6, 1.0, 3.0
METHODS = {
    Reading.PhMethod.SLURRY: PhMethod.SLURRY,
    Reading.PhMethod.HALF: PhMethod.HALF,
    Reading.PhMethod.FIFTH: PhMethod.FIFTH,
    Reading.PhMethod.PASTE: PhMethod.PASTE,
    Reading.PhMethod.POUR: PhMethod.POUR,
    Reading.PhMethod.PEN: PhMethod.PASTE,
}
SQUEEZE = {
    Reading.Moisture.DUST: 0.10,
    Reading.Moisture.CRUMBLES: MOISTURE["dry"],
    Reading.Moisture.SPONGE: MOISTURE["moist"],
    Reading.Moisture.RUNS: MOISTURE["wet"],
}


@dataclass(frozen=True, slots=True)
class Lesson:
    """What a heap's readings taught, as it is remembered on the batch.

    Attributes
    ----------
    key : str
        Of the readings, of what went in, of the pen and of the core that it was learned with.
    start_ph : float or None
        Read on mixing day.
    taught : Calibration or None
        What later readings say; None without one.
    count : int
        Readings of pH that were looked at.
    band : tuple of list of float
        p10 and p90 of the pH by day, once it was evaluated; empty before.
    """

    key: str
    start_ph: float | None = None
    taught: Calibration | None = None
    count: int = 0
    band: tuple[list[float], list[float]] = ([], [])


@dataclass(frozen=True, slots=True)
class Learned:
    """An evaluation that has seen the readings, and what they taught."""

    evaluation: Evaluation
    lesson: Lesson
    pen_is_checked: bool = False

    @property
    def taught(self) -> Calibration | None:
        """What later readings say of the heap."""
        return self.lesson.taught

    @property
    def count(self) -> int:
        """How many readings of pH were looked at."""
        return self.lesson.count


def day_of(batch: Batch, reading: Reading) -> float:
    """Return the days since mixing at which a reading was taken."""
    return max((reading.taken_at - batch.made_at).total_seconds() / 86400, 0.0)


def learned(batch: Batch, readings: Sequence[Reading]) -> Learned:
    """Return what a batch comes to by its readings; newest first.

    What they taught is worked out once and remembered (`remember`): the calibration runs the
    heap a dozen times.
    """
    pen_is_checked = MeterCheckRow.pen_is_checked(batch.yard_id)
    lesson = remembered(batch, readings, pen_is_checked)
    if lesson is None:
        lesson = _learn(batch, readings, pen_is_checked)
    observed = _observed(batch, readings, lesson)
    return Learned(batch.evaluation(observed=observed), lesson, pen_is_checked)


def _learn(batch: Batch, readings: Sequence[Reading], pen_is_checked: bool) -> Lesson:
    """Return what readings teach of a heap, newest first.

    A pen that passed its buffers within the month is believed more closely.
    """
    key, mixed = _key(batch, readings, pen_is_checked), batch.heap_as_mixed()
    visits = _visits(batch, readings)
    if mixed is None or not visits:
        return Lesson(key)
    heap, around = mixed
    around = _seen_around(around, batch, visits, _days(batch))
    ph = [
        _as_read(batch, day_of(batch, r), mended, r.method, _meter(r, is_checked=pen_is_checked))
        for r in visits
        if (mended := r.mended_ph) is not None
    ]
    first = next((p.on_slurry for p in ph if p.day <= FIRST_DAY), None)
    later = [p for p in ph if p.day > FIRST_DAY]
    start = heap if first is None else starting_at(heap, first)
    return Lesson(key, first, calibrate(start, around, later) if later else None, len(ph))


def _observed(batch: Batch, readings: Sequence[Reading], lesson: Lesson) -> Observed | None:
    """Return what was read of a heap, as its evaluation takes it."""
    visits = _visits(batch, readings)
    if not visits:
        return None
    around = surroundings_of(batch.plan_as_mixed()[0].conditions)
    around = _seen_around(around, batch, visits, _days(batch))
    taught = lesson.taught
    return Observed(
        start_ph=lesson.start_ph, around=around, learned=taught.posterior if taught else None
    )


def own_ph(batch: Batch, reading: Reading) -> float | None:
    """Return the pH of the mix itself by a reading: salts and the way of reading given back."""
    mended = reading.mended_ph
    if mended is None:
        return None
    return _as_read(batch, day_of(batch, reading), mended, reading.method).on_slurry


def _meter(reading: Reading, *, is_checked: bool) -> str:
    """Return how closely a reading is believed: by a check near it, or the newest of all."""
    return "checked pen" if is_checked and not reading.pen else reading.meter


def _as_read(
    batch: Batch, day: float, ph: float, method: str, meter: str = "unchecked pen"
) -> PhReading:
    sme, own = _salts_on(batch, day)
    kind = METHODS[Reading.PhMethod(method)]
    return PhReading(day=day, ph=ph, method=kind, meter=meter, sme_ds_m=sme, own_ds_m=own)


def _salts_on(batch: Batch, day: float) -> tuple[float, float]:
    """Return the salts forecast for a day, and those of the parts alone. [dS/m].

    Batches made before these were kept are taken for unfed.
    """
    told = batch.shown.get("ec_ds_m") or {}
    if "parts" not in told:
        return UNKNOWN_EC, UNKNOWN_EC
    days = sorted(int(key) for key in told if key.isdigit())
    return float(np.interp(day, days, [told[str(d)] for d in days])), told["parts"]


def _days(batch: Batch) -> int:
    return batch.as_document().days


def _visits(batch: Batch, readings: Sequence[Reading]) -> list[Reading]:
    """Return the readings within the forecast, the oldest first."""
    return [r for r in reversed(readings) if day_of(batch, r) <= _days(batch)]


def _key(batch: Batch, readings: Sequence[Reading], pen_is_checked: bool) -> str:
    """Return what a lesson is known by: it holds until one of these changes."""
    rows = [
        (r.pk, r.taken_at.isoformat(), r.mended_ph, r.temperature_c, r.moisture, r.method, r.meter)
        for r in readings
    ]
    said = [VERSION, pen_is_checked, batch.as_mixed, batch.made_at.isoformat(), rows]
    return sha256(msgspec.json.encode(said)).hexdigest()


def remembered(batch: Batch, readings: Sequence[Reading], pen_is_checked: bool) -> Lesson | None:
    """Return the lesson that a batch remembers of just these readings, or None."""
    kept = (batch.schedule_cache or {}).get("lesson")
    if kept is None or kept["key"] != _key(batch, readings, pen_is_checked):
        return None
    taught = kept["taught"]
    if taught is not None:
        mean, covariance, own_ph_sd = taught["posterior"]
        posterior = Posterior(np.array(mean), np.array(covariance), own_ph_sd)
        taught = Calibration(
            taught["buffer"],
            taught["lime"],
            taught["sulfur"],
            taught["carbonate"],
            taught["offset"],
            posterior,
            tuple(taught["misses"]),
            tuple(taught["odd"]),
        )
    return Lesson(kept["key"], kept["start_ph"], taught, kept["count"], tuple(kept["band"]))


def as_kept(learning: Learned) -> dict[str, Any]:
    """Return a lesson as plain values, with the band of pH that its evaluation gave."""
    lesson, ahead = learning.lesson, learning.evaluation.forecast
    taught = lesson.taught
    band = [[], []] if ahead is None else [np.round(ahead.ph[i], 3).tolist() for i in (0, 2)]
    return {
        "key": lesson.key,
        "start_ph": lesson.start_ph,
        "count": lesson.count,
        "band": band,
        "taught": None
        if taught is None
        else {
            "buffer": taught.buffer,
            "lime": taught.lime,
            "sulfur": taught.sulfur,
            "carbonate": taught.carbonate,
            "offset": taught.offset,
            "misses": list(taught.misses),
            "odd": list(taught.odd),
            "posterior": [
                taught.posterior.mean.tolist(),
                taught.posterior.covariance.tolist(),
                taught.posterior.own_ph_sd,
            ],
        },
    }


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


@dataclass(frozen=True, slots=True)
class FarOff:
    """A pH far from where the forecast has it today: between low and high."""

    ph: float
    low: float
    high: float


@dataclass(frozen=True, slots=True)
class Jump:
    """A pH far from the one read some days earlier."""

    ph: float
    last: float
    days: float


def doubts(
    batch: Batch, readings: Sequence[Reading], ph: float | None, method: str, day: float
) -> FarOff | Jump | None:
    """Return what is odd about a pH before it is kept; None where nothing is.

    On mixing day nothing is: a pen that says neutral then is expected, and sets the start.
    """
    if ph is None or day <= FIRST_DAY:
        return None
    lows, highs = _band(batch, readings)
    if day > len(lows) - 1:
        return None
    reading = _as_read(batch, day, ph, method)
    days = np.arange(len(lows))
    low, high = (float(np.interp(day, days, edge)) for edge in (lows, highs))
    if not low - FAR_PH <= reading.on_slurry <= high + FAR_PH:
        return FarOff(ph, low, high)
    last = next((r for r in readings if r.ph is not None and r.method == method), None)
    if last is not None and last.ph is not None and abs(last.ph - ph) > JUMP_PH:
        since = day - day_of(batch, last)
        if 0 <= since <= JUMP_DAYS:
            return Jump(ph, last.ph, since)
    return None


def _band(batch: Batch, readings: Sequence[Reading]) -> Sequence[Sequence[float]]:
    """Return p10 and p90 of a heap's pH by day: as remembered, else worked out."""
    lesson = remembered(batch, readings, MeterCheckRow.pen_is_checked(batch.yard_id))
    if lesson is not None and lesson.band[0]:
        return lesson.band
    ahead = learned(batch, readings).evaluation.forecast
    return ([], []) if ahead is None else (ahead.ph[0], ahead.ph[2])
