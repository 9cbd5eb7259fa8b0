"""What readings teach: buffer, rates and carbonate of this heap, by their priors.

The offset of a pen and the buffer trade off against each other, so the offset is never
told as the pen's fault; a check in pH 7.00 fixes it far better.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.salts_on_pens import PhMethod, lowered_by_salts
from pelk.core.base.errors import OutOfRangeError, PelkError
from pelk.core.base.sources import cites
from pelk.core.salts.pore_water import UNKNOWN_EC
from pelk.core.simulation.ensemble import SPREADS, Posterior
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import with_buffer
from pelk.core.simulation.run import Draws, Surroundings, Trace, simulate

Floats = NDArray[np.float64]

NOISE = {"checked pen": 0.10, "unchecked pen": 0.25, "strip": 0.40}
SUBSAMPLE = 0.12
# Buffer, lime rate, sulfur rate, carbonate that meets the mix (ln), offset (pH).
BUFFER_AT, LIME_AT, SULFUR_AT, CARBONATE_AT, OFFSET_AT = range(5)
PRIOR_SD = np.array([0.28, 0.40, 0.55, SPREADS["carbonate"], 0.15])
# Less aged carbonate than this teaches nothing of its share.
TELLING_CARBONATE_MEQ_L = 3.0
CLIP = (0.4, 2.5)
FEW, ODD_SIGMAS = 3, 3.0
# Of what stays unknown of the readings' offset, this much is the mix's own pH, the rest
# the pen's; set so that 8 in 10 draws of the priors come true (check F03).
OWN_SHARE = 0.5
STEP, MOST_CALLS = 1e-2, 15
# Nearer than this share is nearer than any pen.
CLOSE = 1e-4


@dataclass(frozen=True, slots=True, kw_only=True)
class PhReading:
    """A pH read off a heap.

    Attributes
    ----------
    day, ph : float
        When, and what the pen showed. [d], [pH]
    method, meter : str
        One of `PhMethod`; one of `NOISE`.
    meter_bias : float
        What the pen shows too much. [pH]
    sme_ds_m, own_ds_m : float
        Salts of the mix on the day and of its parts alone, in the saturated extract. [dS/m]
    """

    day: float
    ph: float
    method: str = PhMethod.SLURRY
    meter: str = "unchecked pen"
    meter_bias: float = 0.0
    sme_ds_m: float = UNKNOWN_EC
    own_ds_m: float = UNKNOWN_EC

    @property
    def on_slurry(self) -> float:
        """The reading as a 1:1 slurry with the parts' own salts would show it."""
        lowered = lowered_by_salts(self.sme_ds_m, self.own_ds_m, self.method)
        return self.ph + lowered - self.meter_bias

    @property
    def sd(self) -> float:
        """How far off it may be."""
        if self.meter not in NOISE:
            raise PelkError(f"found {self.meter!r}, allowed: {', '.join(NOISE)}", "meter")
        return float(np.hypot(NOISE[self.meter], SUBSAMPLE))


@dataclass(frozen=True, slots=True)
class Calibration:
    """What the readings say of a heap.

    Attributes
    ----------
    buffer, lime, sulfur, carbonate : float
        Times the central line. [-]
    offset : float
        Shift of the readings that fits best; not the pen's bias. [pH]
    posterior : Posterior
        To draw a fan from.
    misses : tuple of float
        Reading less model. [pH]
    odd : tuple of int
        Readings over three sigma off: look at them again.
    """

    buffer: float
    lime: float
    sulfur: float
    carbonate: float
    offset: float
    posterior: Posterior
    misses: tuple[float, ...]
    odd: tuple[int, ...]


@cites("pelk", "MAP with Laplace covariance; priors as the fan draws them")
def calibrate(heap: Heap, around: Surroundings, readings: Sequence[PhReading]) -> Calibration:
    """Return what the pH readings of a heap teach about it.

    Fewer than three fit buffer and offset only; a rate is fitted only where its product
    is there. Readings three sigma off are fitted again by a robust loss.

    Parameters
    ----------
    heap, around
        As the forecast knows them.
    readings : sequence of PhReading
        At least one.

    Returns
    -------
    Refit
        Multipliers and their covariance.

    Raises
    ------
    PelkError
        Without readings, or with one that cannot be.
    """

    def predict(theta: Floats, at: Floats) -> Floats:
        return predicted(heap, around, at, max(int(np.ceil(at.max())), 1), theta)

    return calibrate_by(heap, readings, predict)


Predict = Callable[[Floats, Floats], Floats]


def calibrate_by(heap: Heap, readings: Sequence[PhReading], predict: Predict) -> Calibration:
    """Return what readings teach of a heap whose course is run by `predict`.

    Parameters
    ----------
    heap : Heap
        As it was mixed: what there is to learn of.
    readings : sequence of PhReading
        At least one.
    predict : callable
        From logarithms of the factors, as of `predicted`, and days to the pH on those days.

    Returns
    -------
    Calibration
        Multipliers and their covariance.

    Raises
    ------
    PelkError
        Without readings, or with one that cannot be.
    """
    if not readings:
        raise PelkError("there is no pH reading to learn from", "readings")
    for i, reading in enumerate(readings):
        if not (np.isfinite(reading.ph) and 0 < reading.ph < 14 and reading.day >= 0):
            raise OutOfRangeError(
                f"found pH {reading.ph:g} on day {reading.day:g}", f"readings[{i}]"
            )
    observed = np.array([r.on_slurry for r in readings])
    sigma = np.array([r.sd for r in readings])
    at = np.array([r.day for r in readings])
    enough = len(readings) >= FEW
    active = [BUFFER_AT, OFFSET_AT]
    active += [LIME_AT] if enough and any(s.is_lime for s in heap.solids) else []
    active += [SULFUR_AT] if enough and heap.sulfurs else []
    aged_meq_l = sum(s.base_meq_l for s in heap.solids if s.part is not None)
    active += [CARBONATE_AT] if enough and aged_meq_l > TELLING_CARBONATE_MEQ_L else []
    active.sort()
    prior = prior_sd(heap)
    fitted, jacobian, misses = _fit(predict, at, observed, sigma, prior, active, "linear")
    odd = tuple(int(i) for i in np.flatnonzero(np.abs(misses) > ODD_SIGMAS * sigma))
    if odd:
        fitted, jacobian, misses = _fit(predict, at, observed, sigma, prior, active, "huber")
        odd = tuple(int(i) for i in np.flatnonzero(np.abs(misses) > ODD_SIGMAS * sigma))
    full = np.diag(prior**2)
    scale = prior[active]
    full[np.ix_(active, active)] = np.linalg.inv(jacobian.T @ jacobian) * np.outer(scale, scale)
    factors = np.clip(np.exp(fitted[:OFFSET_AT]), *CLIP)
    buffer, lime, sulfur, carbonate = factors.tolist()
    offset_sd = float(np.sqrt(full[OFFSET_AT, OFFSET_AT]))
    learned = full[:OFFSET_AT, :OFFSET_AT]
    return Calibration(
        buffer,
        lime,
        sulfur,
        carbonate,
        float(fitted[OFFSET_AT]),
        Posterior(np.log(factors), learned, OWN_SHARE * offset_sd),
        tuple(float(m) for m in misses),
        odd,
    )


def prior_sd(heap: Heap) -> Floats:
    """Return the spreads of the factors, in their order, with what the yard knows of its bags."""
    held = [(c.litres * c.buffer, c.buffer_doubt) for c in heap.components]
    whole = sum(buffer for buffer, _ in held)
    buffer = sum(b * doubt for b, doubt in held) / whole if whole > 0 else 1.0
    return np.asarray(PRIOR_SD * np.array([buffer, *heap.doubt, 1.0]))


def _fit(
    predict: Predict,
    at: Floats,
    observed: Floats,
    sigma: Floats,
    prior: Floats,
    active: list[int],
    loss: str,
) -> tuple[Floats, Floats, Floats]:
    from scipy.optimize import least_squares  # noqa: PLC0415  (loaded once readings are fitted)

    def theta(z: Floats) -> Floats:
        whole = np.zeros(len(prior))
        whole[active] = z * prior[active]
        return whole

    runs: dict[bytes, Floats] = {}

    def miss(z: Floats) -> Floats:
        t = theta(z)
        # The offset only shifts the line: it needs no course of its own.
        key = t[:OFFSET_AT].tobytes()
        if key not in runs:
            runs[key] = predict(t, at)
        return observed - (runs[key] + t[OFFSET_AT])

    result = least_squares(
        lambda z: np.concatenate([miss(z) / sigma, z]),
        np.zeros(len(active)),
        diff_step=STEP,
        max_nfev=MOST_CALLS,
        loss=loss,
        ftol=CLOSE,
        xtol=CLOSE,
    )
    return theta(result.x), result.jac, miss(result.x)


def predicted(heap: Heap, around: Surroundings, at: Floats, days: int, theta: Floats) -> Floats:
    """Return the pH of the central line on some days with factors on it.

    Parameters
    ----------
    heap, around
        As the forecast knows them.
    at : array
        Days. [d]
    days : int
        Length of the course. [d]
    theta : array, shape (5,)
        Logarithms of the factors on buffer, lime rate, sulfur rate and carbonate; the fifth
        is not used.

    Returns
    -------
    array
        pH on each of the days.
    """
    buffer, lime, sulfur, carbonate = np.exp(
        np.clip(theta[:OFFSET_AT], *np.log([0.2, 5.0]))
    ).tolist()
    draws = Draws(lime=lime, sulfur=sulfur, carbonate=carbonate)
    trace = simulate(with_buffer(heap, buffer), around, days, draws)
    return np.interp(at, trace.edges, trace["ph"])


@cites("pelk", "importance weights on the draws of a fan")
def weigh_draws(
    trace: Trace, readings: Sequence[tuple[str, float, float, float]]
) -> tuple[Floats, float]:
    """Return how well each draw of a fan fits what was measured.

    Parameters
    ----------
    trace : Trace
        Of a fan.
    readings : sequence of (str, float, float, float)
        Name of the value, day, reading and its standard deviation (of the logarithm for
        ammonium). [-], [d], [as named], [as named]

    Returns
    -------
    tuple
        Weights that sum to one, and the effective number of draws; under 20 the heap
        behaves unlike the estimate.
    """
    score = np.zeros(trace["ph"].shape[1])
    for name, day, value, sd in readings:
        line = trace[name]
        at = np.array([np.interp(day, trace.edges, line[:, k]) for k in range(line.shape[1])])
        if name == "ammonium_mg_l":
            off = np.log(np.maximum(at, 1.0)) - np.log(max(value, 1.0))
        else:
            off = at - value
        score -= 0.5 * np.minimum((off / sd) ** 2, 12.0)
    weights = np.exp(score - score.max())
    weights /= weights.sum()
    return weights, float(1 / np.sum(weights**2))
