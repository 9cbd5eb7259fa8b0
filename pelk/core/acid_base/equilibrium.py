"""A charge balance come to rest, and how sure that rest is."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import exp, hypot

import numpy as np

from pelk.core.acid_base.buffering import PH_GRID, BlendCurve, Carbonate
from pelk.core.base.sources import cites

# p10 and p90 of a normal spread.
Z = 1.2816
# Doubt, as ln-sd: buffer capacity, free carbonate of the parts, lime's CCE.
BUFFER_SD, CARBONATE_SD, CCE_SD = 0.28, 0.6, 0.05


@dataclass(frozen=True, slots=True)
class Settled:
    """A charge balance come to rest.

    Attributes
    ----------
    ph : float
        Where it rests.
    carbonate_left_meq_l : float
        Solid base that did not dissolve. [meq/L]
    """

    ph: float
    carbonate_left_meq_l: float


@cites("arithmetic", "charge balance; solids dissolve only below saturation")
def settle(curve: BlendCurve, base_meq_l: float, carbonates: Sequence[Carbonate]) -> Settled:
    """Return where a blend rests with dissolved base and solid carbonates.

    The root of ``Q(pH) - A - sum(X of solids whose saturation pH > pH)``, which
    rises with pH, read off the grid of 0.01.

    Parameters
    ----------
    curve : BlendCurve
        The blend.
    base_meq_l : float
        Net base added and dissolved; acid is negative. [meq/L]
    carbonates : sequence of Carbonate
        Solid base.

    Returns
    -------
    Settled
        Within pH 2 to 10.
    """
    short = curve.base_meq_l - base_meq_l
    for c in carbonates:
        short = short - c.base_meq_l * (c.saturation_ph > PH_GRID)
    ph = float(np.interp(0.0, short, PH_GRID))
    solid = sum(c.base_meq_l for c in carbonates)
    used = min(max(curve.base_at(ph) - base_meq_l, 0.0), solid)
    left = solid - used
    return Settled(ph, left if left > 1e-3 * max(solid, 1.0) else 0.0)


@cites("pelk", "one doubt at a time, deviations added in quadrature")
def settled_span(curve: BlendCurve, acid: float, lime: float) -> tuple[float, float]:
    """Return the range of the settled pH that 8 in 10 real lots should keep.

    Parameters
    ----------
    curve : BlendCurve
        The parts.
    acid, lime : float
        Net acid (negative) and solid base of the doses. [meq/L]

    Returns
    -------
    tuple of float
        Low and high. [pH]
    """
    middle = _end(curve, acid, lime)
    below, above = 0.0, 0.0
    for sign_pair in _doubts(curve, acid, lime):
        off = [end - middle for end in sign_pair]
        below = hypot(below, min(*off, 0.0))
        above = hypot(above, max(*off, 0.0))
    return max(middle - below, 2.0), min(middle + above, 10.0)


def _end(curve: BlendCurve, acid: float, lime: float) -> float:
    return settle(curve, acid, [*curve.carbonates, Carbonate(lime)]).ph


def _doubts(curve: BlendCurve, acid: float, lime: float) -> list[tuple[float, float]]:
    """Return the settled pH at both ends of each doubt."""

    def buffered(z: float) -> float:
        scaled = replace(curve, buffer_meq_l=curve.buffer_meq_l * exp(z * BUFFER_SD))
        return _end(scaled, acid, lime)

    def shifted(z: float) -> float:
        extra = z * curve.start_ph_sd * curve.capacity_at(curve.start_ph)
        return _end(curve, acid + extra, lime)

    def carbonated(z: float) -> float:
        factor = exp(z * CARBONATE_SD)
        carbonates = tuple(
            Carbonate(c.base_meq_l * factor, c.saturation_ph) for c in curve.carbonates
        )
        return _end(replace(curve, carbonates=carbonates), acid, lime)

    def limed(z: float) -> float:
        return _end(curve, acid, lime * exp(z * CCE_SD))

    ways = [buffered, shifted]
    ways += [carbonated] if curve.carbonates else []
    ways += [limed] if lime else []
    return [(way(-Z), way(Z)) for way in ways]
