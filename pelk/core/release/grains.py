"""Limes, sulfur and free carbonate as grains: sizes, and how much of them is gone.

Every grain of a mineral loses diameter at the same rate, so one length says how much
of all sizes has reacted.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from itertools import pairwise
from math import log1p

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.elements import ATOMIC_MASS, CACO3_G_PER_EQ
from pelk.core.base.errors import PelkError
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.material import Material

Floats = NDArray[np.float64]
Sieves = tuple[tuple[float, float], ...]

# Diameter lost is tabulated evenly in log(1 + mm / FIRST_MM), past the coarsest grain.
FIRST_MM, MOST_MM, WEAR_NODES = 1e-4, 60.0, 500
WEAR_STEP = log1p(MOST_MM / FIRST_MM) / WEAR_NODES
BINS_A_SIEVE = 5
FINEST_MM = 0.004
# Sieve (upper mm, lower mm, efficiency) of the fineness schemes.
SCHEMES: dict[str, tuple[tuple[float, float, float], ...]] = {
    "ohio": ((2.36, 0.85, 0.2), (0.85, 0.25, 0.6), (0.25, 0, 1)),
    "iowa": ((4.75, 2.36, 0.1), (2.36, 0.25, 0.4), (0.25, 0, 1)),
    "kansas": ((2.36, 0.25, 0.5), (0.25, 0, 1)),
    "illinois_1yr": ((99, 2.36, 0.05), (2.36, 0.6, 0.2), (0.6, 0.25, 0.5), (0.25, 0, 1)),
    "illinois_4yr": ((99, 2.36, 0.15), (2.36, 0.6, 0.45), (0.6, 0.25, 1), (0.25, 0, 1)),
    "nsw": ((99, 0.85, 0.1), (0.85, 0.3, 0.6), (0.3, 0, 1)),
}
# Formula and equivalents of base of pure liming minerals.
MINERALS: dict[str, tuple[dict[str, int], int]] = {
    "calcite": ({"Ca": 1, "C": 1, "O": 3}, 2),
    "dolomite": ({"Ca": 1, "Mg": 1, "C": 2, "O": 6}, 4),
    "ca_hydroxide": ({"Ca": 1, "O": 2, "H": 2}, 2),
    "ca_oxide": ({"Ca": 1, "O": 1}, 2),
    "mg_oxide": ({"Mg": 1, "O": 1}, 2),
    "mg_hydroxide": ({"Mg": 1, "O": 2, "H": 2}, 2),
    "magnesite": ({"Mg": 1, "C": 1, "O": 3}, 2),
    "wollastonite": ({"Ca": 1, "Si": 1, "O": 3}, 2),
    "forsterite": ({"Mg": 2, "Si": 1, "O": 4}, 4),
    "k_bicarbonate": ({"K": 1, "H": 1, "C": 1, "O": 3}, 1),
}


@dataclass(frozen=True, slots=True)
class LimeGrade:
    """A commercial grade of lime, used where the label says nothing.

    Attributes
    ----------
    cce : float
        Calcium carbonate equivalent. [kg/kg]
    rate : float
        Speed relative to calcite. [-]
    delay_days, contact : float
        Of pellets: days until they fall apart, and share of the surface reached. [d], [-]
    passing : Sieves
        Mesh and share passing. [mm], [%]
    """

    cce: float
    rate: float
    delay_days: float
    contact: float
    passing: Sieves


@cache
def lime_grades() -> dict[str, LimeGrade]:
    """Return the grades of lime by key."""
    return {
        row["grade"]: LimeGrade(
            float(row["cce"]),
            float(row["rate"]),
            float(row["delay_days"]),
            float(row["contact"]),
            _sieves(row["passing"]),
        )
        for row in rows("lime_grades.csv")
    }


@cache
def sulfur_grades() -> dict[str, Sieves]:
    """Return the sizes of sulfur by grade: mesh and share passing. [mm], [%]."""
    return {row["grade"]: _sieves(row["passing"]) for row in rows("sulfur_grades.csv")}


def _sieves(text: str) -> Sieves:
    pairs = (step.split(":") for step in text.split())
    return tuple((float(mm), float(passing)) for mm, passing in pairs)


@cites("iupac2021", "formula mass and equivalents of base")
def mineral_cce(mineral: str) -> float:
    """Return the calcium carbonate equivalent of a pure liming mineral.

    Parameters
    ----------
    mineral : str
        One of `MINERALS`.

    Returns
    -------
    float
        Calcium carbonate equivalent. [%]

    Raises
    ------
    PelkError
        For a mineral that is not a lime.
    """
    if mineral not in MINERALS:
        raise PelkError(f"{mineral} is not one of {', '.join(MINERALS)}")
    formula, equivalents = MINERALS[mineral]
    mass = sum(ATOMIC_MASS[element] * count for element, count in formula.items())
    return 100 * equivalents / mass * CACO3_G_PER_EQ


@cites("arithmetic", "straight line in the logarithm of size")
def share_passing(sieves: Sequence[tuple[float, float]], size_mm: float) -> float:
    """Return the share of a powder finer than a size.

    Parameters
    ----------
    sieves : sequence of (float, float)
        Mesh and share passing. [mm], [%]
    size_mm : float
        The size. [mm]

    Returns
    -------
    float
        Share passing. [%]
    """
    if size_mm <= 0:
        return 0.0
    sizes, passing = zip(*sorted(sieves), strict=True)
    return float(np.interp(np.log(size_mm), np.log(sizes), passing))


@cites("lime_scores", "factors of Ohio, Iowa, Kansas, New South Wales, recalled")
@cites("illinois", "one-year and four-year factors")
def fineness_score(sieves: Sequence[tuple[float, float]], scheme: str) -> float:
    """Return the share of a lime that a state's scheme counts as effective.

    For comparing labels; the forecast uses the kinetics of grains.

    Parameters
    ----------
    sieves : sequence of (float, float)
        Mesh and share passing. [mm], [%]
    scheme : str
        One of `SCHEMES`.

    Returns
    -------
    float
        Effective share. [-]
    """
    return sum(
        (share_passing(sieves, upper) - share_passing(sieves, lower)) / 100 * efficiency
        for upper, lower, efficiency in SCHEMES[scheme]
    )


@cites("arithmetic", "each sieve interval cut into log-even bins")
def size_classes(sieves: Sieves, bins: int = BINS_A_SIEVE) -> tuple[Floats, Floats]:
    """Return diameters and their shares of mass.

    Parameters
    ----------
    sieves : Sieves
        Mesh and share passing. [mm], [%]
    bins : int
        In each interval.

    Returns
    -------
    tuple of array
        Diameters and mass shares. [mm], [-]
    """
    ordered = sorted(sieves)
    diameters: list[float] = []
    shares: list[float] = []
    for (fine, below), (coarse, above) in pairwise(ordered):
        if above <= below:
            continue
        edges = np.geomspace(fine, coarse, bins + 1)
        diameters += np.sqrt(edges[:-1] * edges[1:]).tolist()
        shares += [(above - below) / 100 / bins] * bins
    return np.array(diameters), np.array(shares)


@cites("swartzendruber1965", "shrinking spheres: 1 - (1 - L/d)^3")
def reacted_share(sieves: Sieves, lost_mm: float, rate: float = 1.0) -> float:
    """Return how much of a powder has reacted once its grains have lost a diameter.

    Parameters
    ----------
    sieves : Sieves
        Mesh and share passing. [mm], [%]
    lost_mm : float
        Diameter lost by calcite. [mm]
    rate : float
        Speed relative to calcite. [-]

    Returns
    -------
    float
        Share reacted. [-]
    """
    diameters, shares = size_classes(sieves)
    return float((1 - np.maximum(1 - lost_mm * rate / diameters, 0) ** 3) @ shares)


def reacted_curve(sieves: Sieves, rate: float = 1.0) -> Floats:
    """Return the share reacted along the even axis of diameter lost.

    Parameters
    ----------
    sieves : Sieves
        Mesh and share passing. [mm], [%]
    rate : float
        Speed relative to calcite. [-]

    Returns
    -------
    array, shape (WEAR_NODES + 1,)
        Share reacted. [-]
    """
    return _reacted_curve(sieves, rate)


@cache
def _reacted_curve(sieves: Sieves, rate: float) -> Floats:
    diameters, shares = size_classes(sieves)
    lost = FIRST_MM * np.expm1(np.arange(WEAR_NODES + 1) * WEAR_STEP)
    left = np.maximum(1 - lost[:, None] * rate / diameters, 0) ** 3
    reacted: Floats = (1 - left) @ shares / shares.sum()
    return reacted


def labelled(grade: LimeGrade, sieves: dict[str, float]) -> Sieves:
    """Return the sizes of a lime with the sieves of its label in place of the grade's.

    At and above the finest labelled sieve the label counts; below it the grade's shape,
    scaled to that value.
    """
    if not sieves:
        return grade.passing
    label = sorted((float(mm), passing) for mm, passing in sieves.items())
    finest, value = label[0]
    held = share_passing(grade.passing, finest)
    below = [
        (mm, passing * value / held) for mm, passing in grade.passing if mm < finest and held > 0
    ]
    passing = [*(below or [(FINEST_MM, 0.0)]), *label]
    return tuple(passing if passing[-1][1] >= 100 else [*passing, (passing[-1][0] * 2, 100.0)])


def lime_grade_of(material: Material) -> LimeGrade:
    """Return the grade of a liming material, its own speed in place of the grade's."""
    grade = lime_grades()[material.lime_grade]
    rate = material.lime_rate or grade.rate
    return LimeGrade(
        grade.cce, rate, grade.delay_days, grade.contact, labelled(grade, material.sieves)
    )
