"""Jar tests: the dose read off jars of the mix itself, with how sure it is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.errors import PelkError, UnreachableError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites

Floats = NDArray[np.float64]

LEAST_JARS, CURVED_FROM = 3, 4
LEAST_SD, REFITS, SEED = 0.10, 400, 0
FACTORS = (0.0, 0.5, 1.0, 1.5, 2.0)


@dataclass(frozen=True, slots=True)
class JarDose:
    """The dose that jars give. [g/L]."""

    g_per_l: float
    low: float
    high: float


@answers
def jar_doses(estimate_g_l: float, jar_l: float) -> list[tuple[float, float]]:
    """Return the doses of five jars around an estimate.

    Parameters
    ----------
    estimate_g_l : float
        What Pelk computes. [g/L]
    jar_l : float
        Mix in a jar. [L]

    Returns
    -------
    list of (float, float)
        Rate, and grams for the jar. [g/L], [g]
    """
    if estimate_g_l <= 0 or jar_l <= 0:
        raise PelkError("jars need a dose and a volume above zero")
    return [(f * estimate_g_l, f * estimate_g_l * jar_l) for f in FACTORS]


@cites("pelk", "quadratic or straight fit, 400 parametric refits, no extrapolation")
@answers
def jar_dose(
    doses_g_l: Sequence[float],
    ph: Sequence[float],
    target_ph: float,
    sd: float = LEAST_SD,
    seed: int = SEED,
) -> JarDose:
    """Return the dose for a pH, read off jars.

    Parameters
    ----------
    doses_g_l, ph : sequence of float
        Of each jar, read on one day with one meter. [g/L], [pH]
    target_ph : float
        Wanted.
    sd : float
        Noise of a reading. [pH]
    seed : int
        Fixes the refits.

    Returns
    -------
    JarDose
        With the range of 8 in 10.

    Raises
    ------
    UnreachableError
        When the target is outside what the jars reached: make another jar.
    """
    x, y = np.asarray(doses_g_l, float), np.asarray(ph, float)
    if len(x) != len(y) or len(x) < LEAST_JARS:
        raise PelkError(f"a jar test needs {LEAST_JARS} jars or more", "jars")
    if not (np.isfinite(x).all() and np.isfinite(y).all()) or np.ptp(x) <= 0:
        raise PelkError("the jars need different doses and a pH each", "jars")
    scale = float(x.max())
    u = x / scale
    line = _fit(u, y)
    dose = _invert(line, target_ph) * scale
    if not (np.isfinite(dose) and x.min() - 1e-9 <= dose <= x.max() + 1e-9):
        raise UnreachableError(
            f"pH {target_ph:g} is outside what the jars reached, {y.min():.1f} to "
            f"{y.max():.1f}: make another jar",
            "target_ph",
        )
    rest = y - np.polyval(line, u)
    freedom = max(len(x) - len(line), 1)
    noise = max(sd, float(np.sqrt((rest**2).sum() / freedom)))
    rng = np.random.default_rng(seed)
    fitted = np.polyval(line, u)
    again = [
        _invert(_fit(u, fitted + rng.normal(0, noise, len(x))), target_ph) * scale
        for _ in range(REFITS)
    ]
    low, high = np.nanpercentile(again, [10, 90])
    return JarDose(float(dose), float(low), float(high))


def _fit(u: Floats, y: Floats) -> Floats:
    """Return a curve that does not turn within the jars, or a straight line."""
    if len(u) >= CURVED_FROM:
        curve = np.polyfit(u, y, 2)
        slopes = np.polyval(np.polyder(curve), [0.0, float(u.max())])
        if (slopes > 0).all() or (slopes < 0).all():
            return curve
    return np.polyfit(u, y, 1)


def _invert(line: Floats, target: float) -> float:
    if len(line) == 2:
        return float((target - line[1]) / line[0]) if line[0] else float("nan")
    a, b, c = line
    root = b * b - 4 * a * (c - target)
    if root < 0:
        return float("nan")
    ways = [(-b + s * np.sqrt(root)) / (2 * a) for s in (1, -1)]
    good = [w for w in ways if (b + 2 * a * w) * b > 0]
    return float(min(good, key=lambda w: abs(w - 0.5))) if good else float("nan")
