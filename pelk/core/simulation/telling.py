"""What a measurement would tell: how much narrower a forecast is expected to be with it."""

from __future__ import annotations

from dataclasses import dataclass
from math import hypot

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.sources import cites

Floats = NDArray[np.float64]

# Of the logarithm of salts and of alkalinity; of container capacity, for the weight of a cup.
EC_SD, ALKALINITY_SD, CUP_SD = 0.25, 0.20, 0.03
PH_NOISE = {"checked pen": 0.10, "unchecked pen": 0.25, "strip": 0.40}
# A spoonful is not the heap; half of a pen's own offset is no offset of the mix.
SUBSAMPLE, PEN_OFFSET, UNSHARED = 0.12, 0.15, 0.5
# Three nodes stand for the noise of a reading: exact up to the fifth moment.
NODES = ((-(3**0.5), 1 / 6), (0.0, 2 / 3), (3**0.5, 1 / 6))
LEAST_EFFECTIVE = 20.0
LOW, HIGH = 0.1, 0.9


@dataclass(frozen=True, slots=True)
class Telling:
    """What a measurement would tell.

    Attributes
    ----------
    width_now, width_then : float
        From p10 to p90 of what is asked, before and (as expected) after. [as it is]
    """

    width_now: float
    width_then: float

    @property
    def shrink(self) -> float:
        """How much narrower it gets. [-]."""
        return 1 - self.width_then / self.width_now if self.width_now > 0 else 0.0

    @property
    def worth(self) -> float:
        """How much it takes off the width. [as it is]."""
        return self.width_now - self.width_then


@cites("pelk", "noise, one spoonful, and half of the pen's own offset")
def ph_sd(meter: str) -> float:
    """Return how far off one pH reading may be, with the pen's unshared offset.

    Parameters
    ----------
    meter : str
        Key of `PH_NOISE`.

    Returns
    -------
    float
        Standard deviation. [pH]
    """
    return hypot(PH_NOISE[meter], SUBSAMPLE, UNSHARED**0.5 * PEN_OFFSET)


@cites("pelk", "expected width over the draws and three nodes of noise; the Gaussian as control")
def told_by(seen: Floats, asked: Floats, sd: Floats | float) -> Telling:
    """Return what reading something would tell of what is asked.

    Parameters
    ----------
    seen : array, shape (n_draws,) or (n_draws, n_readings)
        What the measurement would show in each draw.
    asked : array, shape (n_draws,)
        What is asked, in each draw.
    sd : float or array, shape (n_readings,)
        How far off each reading may be, in the unit of `seen`.

    Returns
    -------
    Telling
        The larger of both reckonings: never more hopeful than either.
    """
    rows = np.asarray(seen, dtype=float).reshape(len(asked), -1)
    sds = np.broadcast_to(np.asarray(sd, dtype=float), rows.shape[1:])
    order = np.argsort(asked)
    sorted_ = asked[order]
    now = float(_widths(sorted_, np.ones((1, len(asked))))[0])
    then = now * control_share(rows, asked, sds)
    sampled = _sampled(rows, order, sorted_, sds)
    if sampled is not None:
        then = max(then, sampled)
    return Telling(now, min(then, now))


@cites("arithmetic", "the width of what is asked, given normal readings: sqrt(1 - r2)")
def control_share(seen: Floats, asked: Floats, sd: Floats) -> float:
    """Return the share of a width that is left by normal readings.

    Parameters
    ----------
    seen : array, shape (n_draws, n_readings)
        What each reading would show. [as it is]
    asked : array, shape (n_draws,)
        What is asked. [as it is]
    sd : array, shape (n_readings,)
        How far off each may be, in the unit of `seen`.

    Returns
    -------
    float
        Between 0 and 1. [-]
    """
    variance = float(np.var(asked))
    if variance <= 0:
        return 1.0
    off = seen - seen.mean(axis=0)
    covariance = off.T @ off / len(asked) + np.diag(np.square(sd))
    shared = off.T @ (asked - asked.mean()) / len(asked)
    explained = float(shared @ np.linalg.solve(covariance, shared)) / variance
    return float(np.sqrt(max(1 - explained, 0.0)))


def _sampled(seen: Floats, order: NDArray[np.intp], asked: Floats, sd: Floats) -> float | None:
    """Return the expected width by weighing the draws; None where too few carry it."""
    scaled = seen / sd
    count, readings = scaled.shape
    nodes: list[tuple[tuple[float, ...], float]] = [((), 1.0)]
    for _ in range(readings):
        nodes = [((*at, g), p * q) for at, p in nodes for g, q in NODES]
    total, effective = 0.0, []
    for at, chance in nodes:
        would = scaled + np.array(at)
        square = np.zeros((count, count))
        for i in range(readings):
            square += np.square(would[:, i][:, None] - scaled[:, i][None, :])
        weights = np.exp(-0.5 * (square - square.min(axis=1, keepdims=True)))
        weights /= weights.sum(axis=1, keepdims=True)
        effective.append(1 / np.square(weights).sum(axis=1))
        total += chance * float(_widths(asked, weights[:, order]).mean())
    return total if float(np.median(effective)) >= LEAST_EFFECTIVE else None


def _widths(ordered: Floats, weights: Floats) -> Floats:
    """Return p90 less p10 of ordered values under each row of weights."""
    upto = np.cumsum(weights, axis=1)
    middle = (upto - 0.5 * weights) / upto[:, -1:]
    return _at(ordered, middle, HIGH) - _at(ordered, middle, LOW)


def _at(ordered: Floats, middle: Floats, share: float) -> Floats:
    last = len(ordered) - 1
    right = np.clip((middle < share).sum(axis=1), 1, last)
    row = np.arange(len(middle))
    below, above = middle[row, right - 1], middle[row, right]
    part = np.clip((share - below) / np.maximum(above - below, 1e-12), 0.0, 1.0)
    return np.asarray(ordered[right - 1] + part * (ordered[right] - ordered[right - 1]))
