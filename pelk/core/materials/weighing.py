"""A few weighings into a measure: the mean, and how far one of them may be off."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import sqrt
from statistics import fmean, median, stdev

from pelk.core.base.errors import OutOfRangeError, PelkError
from pelk.core.base.guards import answers
from pelk.core.base.quantities import DENSITY
from pelk.core.base.sources import cites
from pelk.core.materials.material import Range
from pelk.core.materials.measures import HAND_SPREAD

# A weighing further from the others than this is asked about.
ODD_ONE = 0.40
# Eight in ten fall inside, so one in ten on each side.
EIGHT_IN_TEN = 0.9
FEWEST, MOST = 1, 10


@dataclass(frozen=True, slots=True)
class Weighed:
    """What some weighings of one measure say.

    Attributes
    ----------
    one : Range
        One of it, eight in ten between low and high. [as weighed]
    doubt : float
        How far the mean itself may be off. [as weighed]
    count : int
        How many were weighed. [-]
    odd : tuple of int
        Places of weighings far from the others.
    """

    one: Range
    doubt: float
    count: int
    odd: tuple[int, ...] = ()


@cites("student1908", "t of n - 1 degrees; one more fall is sqrt(1 + 1/n) wide")
@cites("pelk", "never taken as steadier than a third of a hand's usual 15 %")
def weighed(values: Sequence[float]) -> Weighed:
    """Return the mean of some weighings and where the next one should fall.

    ``mean +- t s sqrt(1 + 1/n)``; a single weighing is given a hand's usual spread.

    Parameters
    ----------
    values : sequence of float
        One to ten weighings of the same measure. [g or mL]

    Returns
    -------
    Weighed
        In the same unit.

    Raises
    ------
    PelkError
        When there is none, or one of them is not a weight.
    """
    if not FEWEST <= len(values) <= MOST:
        raise PelkError("weigh it three times, ten at most", "weighings")
    for value in values:
        if not 0 < value < 1e6:
            raise OutOfRangeError(f"found {value:g}, allowed: more than 0", "weighings")
    mean, count = fmean(values), len(values)
    middle = median(values)
    odd = tuple(i for i, v in enumerate(values) if abs(v - middle) > ODD_ONE * middle)
    if count == 1:
        half = doubt = HAND_SPREAD * mean
    else:
        spread = max(_t(count - 1) * stdev(values), HAND_SPREAD / 3 * mean)
        half, doubt = spread * sqrt(1 + 1 / count), spread / sqrt(count)
    return Weighed(Range(max(mean - half, mean * 0.1), mean, mean + half), doubt, count, odd)


def _t(degrees: int) -> float:
    """Return Student's t that leaves one in ten above it."""
    from scipy.special import stdtrit  # noqa: PLC0415  (loaded once something is weighed)

    return float(stdtrit(degrees, EIGHT_IN_TEN))


@cites("arithmetic", "weight over volume")
def density_of(grams: Weighed, measure_ml: float) -> Range:
    """Return the weight of a litre from weighings of a cup.

    Parameters
    ----------
    grams : Weighed
        What the level cup holds. [g]
    measure_ml : float
        Volume of the cup. [mL]

    Returns
    -------
    Range
        Loose bulk density. [kg/L]

    Raises
    ------
    OutOfRangeError
        When nothing weighs that.
    """
    if measure_ml <= 0:
        raise OutOfRangeError("say how much the cup holds", "cup")
    densities = [g / measure_ml for g in (grams.one.low, grams.one.typ, grams.one.high)]
    for value in densities:
        DENSITY.check(value, "weighings")
    return Range(*densities)


@cites("arithmetic", "volume is weight over bulk density, both with their doubt")
def volume_of(grams: Weighed, density_kg_l: Range) -> Range:
    """Return the volume of a hand's measure from weighings of a known material.

    Parameters
    ----------
    grams : Weighed
        One handful, scoop or shovel. [g]
    density_kg_l : Range
        Of what was weighed. [kg/L]

    Returns
    -------
    Range
        One of it; the density's doubt is the same each time and is added in
        quadrature. [mL]
    """
    typ = grams.one.typ / density_kg_l.typ
    below, above = (
        sqrt(hand**2 + stuff**2)
        for hand, stuff in (
            (1 - grams.one.low / grams.one.typ, 1 - density_kg_l.typ / density_kg_l.high),
            (grams.one.high / grams.one.typ - 1, density_kg_l.typ / density_kg_l.low - 1),
        )
    )
    return Range(typ * max(1 - below, 0.1), typ, typ * (1 + above))


@cites("arithmetic", "what drying takes away is water")
@answers
def moisture_by_drying(fresh_g: float, dried_g: float) -> float:
    """Return the moisture of a sample weighed before and after drying.

    Parameters
    ----------
    fresh_g, dried_g : float
        The same sample, as used and dried to a steady weight. [g]

    Returns
    -------
    float
        Wet basis. [%]

    Raises
    ------
    OutOfRangeError
        When it did not grow lighter.
    """
    if not 0 < dried_g <= fresh_g:
        raise OutOfRangeError(
            f"found {dried_g:g} g dried of {fresh_g:g} g fresh, allowed: no heavier", "dried"
        )
    return 100 * (1 - dried_g / fresh_g)
