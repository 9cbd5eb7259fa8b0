"""Jar tests: the dose read off jars of the mix itself, with how sure it is."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.errors import PelkError, UnreachableError
from pelk.core.base.guards import answers
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites

Floats = NDArray[np.float64]

LEAST_JARS, CURVED_FROM = 3, 4
LEAST_SD, REFITS, SEED = 0.10, 400, 0
# Less is what two readings of one jar differ by; a wider range is no dose.
LEAST_MOVED, WIDEST = 0.2, 2.5
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
    raises: bool = True,
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
    raises : bool
        What the dose does to a pH: lime raises it.

    Returns
    -------
    JarDose
        With the range of 8 in 10; nothing where the plain jar is there already.

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
    if ((y < 2) | (y > 12)).any():
        raise PelkError("a pH under 2 or over 12 is no jar of soil: read it again", "jars")
    _refuse_what_does_not_move(x, y, raises=raises)
    scale = float(x.max())
    u = x / scale
    line = _fit(u, y)
    plain = float(np.polyval(line, 0.0))
    if (plain >= target_ph) if raises else (plain <= target_ph):
        return JarDose(0.0, 0.0, 0.0)
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
    if high - max(low, 0.0) > WIDEST * dose:
        raise PelkError(
            f"the jars lie too far from one line to tell a dose: anything from "
            f"{sig(max(low, 0.0), 2)} to {sig(high, 2)} g/L would fit. Stir and read them again",
            "jars",
        )
    return JarDose(float(dose), float(max(low, 0.0)), float(high))


def _refuse_what_does_not_move(x: Floats, y: Floats, *, raises: bool) -> None:
    """Raise where jars do not differ, or go the wrong way: then they tell no dose."""
    first, last = float(y[np.argmin(x)]), float(y[np.argmax(x)])
    if np.ptp(y) < LEAST_MOVED:
        raise PelkError(
            f"the jars hardly differ, {y.min():.1f} to {y.max():.1f}: it has not worked yet, or "
            "the mix holds its pH harder than was thought. Wait a week and read them again",
            "jars",
        )
    moved = (last - first) * (1 if raises else -1)
    if moved < LEAST_MOVED / 2:
        raise PelkError(
            f"the pH goes from {first:.1f} to {last:.1f} as the dose goes up, which is the wrong "
            "way: are the jars mixed up?",
            "jars",
        )


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
