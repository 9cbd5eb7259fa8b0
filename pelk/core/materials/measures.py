"""Units of dose, kitchen measures, and the way between weight and volume.

The core knows a unit as a `DoseUnit`: what it counts and how large it is. Names
and their parsing are the edge's business.
"""

from dataclasses import dataclass
from functools import cache
from math import sqrt

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.material import Range

SYSTEMS = ("metric", "us")
# Exact: the US cup is 1/16 of the liquid gallon of 231 cubic inches.
CUP_ML = {"metric": 250.0, "us": 236.5882365}
TABLESPOONS_A_CUP = {"metric": 250 / 15, "us": 16.0}
TEASPOONS_A_TABLESPOON = 3


# One handful of a person who has measured ten.
HAND_SPREAD = 0.15


@dataclass(frozen=True, slots=True)
class DoseUnit:
    """A unit a dose or a volume is typed in.

    Attributes
    ----------
    kind : str
        ``mass`` (``size`` in g), ``volume`` (``size`` in L) or ``share``
        (``size`` in litres a litre).
    per_l : float or None
        Litres of mix the rate counts by; None for the whole batch. [L]
    low, high : float
        Honest spread of the measure, as factors of ``size``.
    """

    name: str
    kind: str
    size: float
    per_l: float | None = None
    low: float = 1.0
    high: float = 1.0

    @property
    def is_rate(self) -> bool:
        """Whether the amount counts by volume of mix."""
        return self.per_l is not None

    @property
    def is_by_hand(self) -> bool:
        """Whether the measure differs from person to person."""
        return self.high > self.low


GRAMS_PER_LITRE = DoseUnit("g/L", "mass", 1.0, 1.0)


@cache
@cites("trade", "handfuls, scoops and shovels with their spread")
def yard_measures() -> dict[str, Range]:
    """Return the volumes of hand and yard measures. [mL]."""
    return {
        row["unit"]: Range(float(row["low_ml"]), float(row["ml"]), float(row["high_ml"]))
        for row in rows("yard_measures.csv")
    }


@cites("arithmetic", "weight is volume times bulk density")
@answers
def grams_in(volume_l: float, density_kg_l: float) -> float:
    """Return what a loose volume weighs.

    Parameters
    ----------
    volume_l : float
        Loose, struck level, not packed. [L]
    density_kg_l : float
        Loose bulk density. [kg/L]

    Returns
    -------
    float
        Weight. [g]

    Examples
    --------
    >>> round(grams_in(0.2365882365, 1.30), 1)
    307.6
    """
    return volume_l * density_kg_l * 1000


@cites("arithmetic", "volume is weight over bulk density")
@answers
def litres_of(mass_g: float, density_kg_l: float) -> float:
    """Return the loose volume of a weight.

    Parameters
    ----------
    mass_g : float
        Weight. [g]
    density_kg_l : float
        Loose bulk density. [kg/L]

    Returns
    -------
    float
        Loose volume. [L]
    """
    return mass_g / (density_kg_l * 1000)


@cites("arithmetic", "area times depth is volume")
@answers
def rate_from_area(rate_g_m2: float, depth_cm: float) -> float:
    """Return the rate per volume of a rate per area worked in to a depth.

    Parameters
    ----------
    rate_g_m2 : float
        Spread on the ground. [g/m2]
    depth_cm : float
        Worked in to this depth. [cm]

    Returns
    -------
    float
        Rate. [g/L]

    Raises
    ------
    PelkError
        When there is no depth.
    """
    if depth_cm <= 0:
        raise PelkError("a rate per area needs the depth it is worked in to")
    return rate_g_m2 / (10 * depth_cm)


def level_measures(volume_ml: float, system: str) -> list[tuple[float, str]]:
    """Return a dose as level kitchen measures, largest first.

    Rounded as a person measures: quarter cups from four cups up, cups and
    tablespoons below, tablespoons and half teaspoons, quarter teaspoons, and eighths
    below one.

    Parameters
    ----------
    volume_ml : float
        Loose volume. [mL]
    system : str
        ``metric`` (250 mL cup) or ``us`` (236.6 mL cup).

    Returns
    -------
    list of tuple
        Count and name, such as ``[(0.75, "cup"), (1, "tbsp")]``; empty when less
        than a sixteenth of a teaspoon: weigh it.
    """
    cup = CUP_ML[system]
    tbsp = cup / TABLESPOONS_A_CUP[system]
    tsp = tbsp / TEASPOONS_A_TABLESPOON
    if volume_ml >= 4 * cup:
        return [(round(volume_ml / cup * 4) / 4, "cup")]
    if volume_ml >= cup / 4:
        return _steps(volume_ml, (cup / 4, 0.25, "cup"), (tbsp, 1.0, "tbsp"))
    if volume_ml >= tbsp:
        return _steps(volume_ml, (tbsp, 1.0, "tbsp"), (tsp / 2, 0.5, "tsp"))
    parts = 8 if volume_ml < tsp else 4
    count = round(volume_ml / (tsp / parts)) / parts
    return [(count, "tsp")] if count else []


def _steps(
    volume_ml: float, large: tuple[float, float, str], small: tuple[float, float, str]
) -> list[tuple[float, str]]:
    """Fill with the large measure, the rest rounded to the small one."""
    size, step, name = large
    many = int(volume_ml / size + 1e-9)
    rest = round((volume_ml - many * size) / small[0])
    if rest * small[0] >= size * 0.9:
        many, rest = many + 1, 0
    ladder = [(many * step, name)]
    return [*ladder, (rest * small[1], small[2])] if rest else ladder


@dataclass(frozen=True, slots=True)
class Calibrated:
    """A person's own measure: how much one of it is, and how far one may be off.

    Attributes
    ----------
    each : Range
        One of it. [mL or g]
    count_spread : float
        Of ten of them, relative. [-]
    """

    each: Range
    count_spread: float


@cites("pelk", "one handful of a calibrated person is off by 15 %, ten by 5 to 8 %")
@answers
def calibrate(total: float, count: int) -> Calibrated:
    """Return a person's own handful, scoop or shovel.

    Parameters
    ----------
    total : float
        What some of them came to, in a jug or on a scale. [mL or g]
    count : int
        How many; ten is right. [-]

    Returns
    -------
    Calibrated
        One of them, with its spread.

    Raises
    ------
    PelkError
        When nothing was measured.
    """
    if not (total > 0 and count > 0):
        raise PelkError("measure a few of them together, ten is right")
    one = total / count
    return Calibrated(
        Range(one * (1 - HAND_SPREAD), one, one * (1 + HAND_SPREAD)), HAND_SPREAD / sqrt(count)
    )


@cites("en12580", "loosened volume of packed material")
@cites("trade", "bales hold 1.6 to 2.2 times their compressed volume, bricks 11 to 16 L/kg")
@answers
def loosened_litres(packed_l: float, factor: float) -> float:
    """Return the loose litres of a bale or a stacked bag.

    Parameters
    ----------
    packed_l : float
        As packed. [L]
    factor : float
        Light peat 1.9, dark peat 1.5, wood fibre 2.5, a stacked bag 1.25. [-]

    Returns
    -------
    float
        Loose. [L]
    """
    return packed_l * factor


@cites("arithmetic", "dry matter kept, water changed")
@answers
def at_moisture(value: float, from_pct: float, to_pct: float) -> float:
    """Return a content at another moisture, dry matter kept.

    Parameters
    ----------
    value : float
        Of the weight, at the first moisture. [as it is]
    from_pct, to_pct : float
        Wet-basis moistures. [%]

    Returns
    -------
    float
        At the second moisture. [as it is]
    """
    return value * (100 - to_pct) / (100 - from_pct)


@cites("arithmetic", "dry matter of a litre kept, water changed, swelling left out")
@answers
def density_at_moisture(density_kg_l: float, from_pct: float, to_pct: float) -> float:
    """Return the weight of a loose litre at another moisture.

    Parameters
    ----------
    density_kg_l : float
        At the first moisture. [kg/L]
    from_pct, to_pct : float
        Wet-basis moistures. [%]

    Returns
    -------
    float
        At the second moisture: more water, more weight. [kg/L]
    """
    return density_kg_l * (100 - from_pct) / (100 - to_pct)
