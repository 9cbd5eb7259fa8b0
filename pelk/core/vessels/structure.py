"""Air and water of a mix after draining, by the height it stands in, and its wet weight."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.errors import UnknownError
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.materials.retention import retention_sets, saturated_content

# A heap or a full barrow: water drains over this height.
HEAP_HEIGHT_CM = 30.0
# A wrung-out sponge, as a share of container capacity.
SPONGE = 0.55
SATURATION_CAP = 0.97
SLICES = 100
# Share of coarse grains from which they touch, and how much more until nothing lies between them.
GRAINS_TOUCH, GRAINS_ALONE = 0.5, 0.4


@cites("vangenuchten1980", "eq. 21; sets are Pelk estimates shaped to handbook points")
def water_retained(
    suction_cm: NDArray[np.float64], saturated: float, residual: float, alpha: float, n: float
) -> NDArray[np.float64]:
    """Return the water content of a settled material under suction.

    Parameters
    ----------
    suction_cm : array, shape (n_heights,)
        Suction head. [cm]
    saturated, residual : float
        Water contents. [L/L]
    alpha, n : float
        Shape of the curve. [1/cm], [-]

    Returns
    -------
    array, shape (n_heights,)
        Water content. [L/L]
    """
    drained = (1 + (alpha * suction_cm) ** n) ** (1 - 1 / n)
    return residual + (saturated - residual) / drained


@cites("pelk", "grains touch from about half of the volume on; among fines their gaps are filled")
def gaps_open(parts: Sequence[tuple[Material, float]]) -> float:
    """Return how far the gaps between coarse grains stand open in a mix.

    Parameters
    ----------
    parts : sequence of (Material, float)
        Materials with their shares of loose volume. [-]

    Returns
    -------
    float
        0 where fines fill them, 1 where grains lie on grains. [-]
    """
    coarse = sum(x for m, x in parts if _is_coarse(m.retention_set))
    return min(max((coarse - GRAINS_TOUCH) / GRAINS_ALONE, 0.0), 1.0)


def _is_coarse(key: str) -> bool:
    return key in retention_sets() and retention_sets()[key][1] is not None


@cache
def _retention(key: str, height_cm: float) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return the water of a set at the middle of every slice of a height: alone, and filled."""
    suction = (np.arange(SLICES) + 0.5) / SLICES * height_cm
    alone, filled = retention_sets()[key]
    held = water_retained(suction, *alone)
    return held, held if filled is None else water_retained(suction, *filled)


@cache
def _easy(key: str) -> tuple[float, float]:
    """Return the water that a set gives up between 10 and 50 cm suction: alone, and filled."""
    span = np.array([10.0, 50.0])
    alone, filled = retention_sets()[key]
    given = [float(-np.diff(water_retained(span, *c))[0]) for c in (alone, filled or alone)]
    return given[0], given[1]


@dataclass(frozen=True, slots=True)
class Structure:
    """Air and water of a mix in a column, settled and drained.

    Attributes
    ----------
    total_porosity, air_filled, container_capacity : float
        All pores; air after draining; water after draining. [L/L]
    easily_available : float
        Water between 10 and 50 cm suction. [L/L]
    height_cm : float
        Of the column; results hold for that height only. [cm]
    """

    total_porosity: float
    air_filled: float
    container_capacity: float
    easily_available: float
    height_cm: float


@cites("pelk", "volume-weighted retention, solids conserved; +-5 points air, +-6 water")
@cites("fonteno", "container air tables, recalled")
def structure_of(parts: list[tuple[Material, float]], loss: float, height_cm: float) -> Structure:
    """Return the air and water of a mix after draining freely.

    Water is the mean of the parts' retention over the height, water table at the base;
    solids are conserved on blending, shrinkage removes only air.

    Parameters
    ----------
    parts : list of (Material, float)
        Materials with their shares of loose volume.
    loss : float
        Blending loss. [-]
    height_cm : float
        Height of the mix. [cm]

    Returns
    -------
    Structure
        For that height.

    Raises
    ------
    UnknownError
        When a part's retention is not known.
    """
    for material, _ in parts:
        if material.retention_set not in retention_sets():
            raise UnknownError(f"how much water {material.name} holds is not known")
    mix, gaps = 1 / (1 - loss), gaps_open(parts)
    curves = [(x, *_retention(m.retention_set, height_cm)) for m, x in parts]
    held = mix * np.sum([x * (gaps * a + (1 - gaps) * f) for x, a, f in curves], axis=0)
    porosity = 1 - mix * sum(x * (1 - saturated_content(m)) for m, x in parts)
    capacity = float(np.minimum(held, SATURATION_CAP * porosity).mean())
    given = [(x, *_easy(m.retention_set)) for m, x in parts]
    easy = mix * sum(x * (gaps * a + (1 - gaps) * f) for x, a, f in given)
    return Structure(porosity, porosity - capacity, capacity, easy, height_cm)


@cites("pelk", "volume-weighted retention, solids conserved; +-6 points")
def container_capacity(
    parts: list[tuple[Material, float]], loss: float, height_cm: float = HEAP_HEIGHT_CM
) -> float:
    """Return the water a mix holds after draining freely.

    Parameters
    ----------
    parts : list of (Material, float)
        Materials with their shares of loose volume.
    loss : float
        Blending loss. [-]
    height_cm : float
        Height of the mix. [cm]

    Returns
    -------
    float
        Water per litre of mix. [L/L]
    """
    return structure_of(parts, loss, height_cm).container_capacity


@cites("arithmetic", "dry weight of a moist material")
def dry_density(material: Material) -> float:
    """Return the dry weight of a loose litre.

    Parameters
    ----------
    material : Material
        With density and moisture on the wet basis.

    Returns
    -------
    float
        Dry weight. [kg/L]

    Raises
    ------
    UnknownError
        When its moisture was never measured.
    """
    if material.moisture_pct is None:
        raise UnknownError(f"the moisture of {material.name} is not known")
    return material.loose_density().typ * (1 - material.moisture_pct / 100)


@cites("arithmetic", "water wanted less water already there")
def water_to_add(
    parts: list[tuple[Material, float]], loss: float, capacity: float, wanted: float = SPONGE
) -> float:
    """Return the water that brings a fresh mix to a wrung-out sponge.

    Parameters
    ----------
    parts : list of (Material, float)
        Materials with their shares of loose volume.
    loss : float
        Blending loss. [-]
    capacity : float
        Container capacity of the mix. [L/L]
    wanted : float
        Share of container capacity. [-]

    Returns
    -------
    float
        Water per litre of mix; negative when it is too wet already. [L/L]
    """
    there = sum(x * (m.loose_density().typ - dry_density(m)) for m, x in parts)
    return wanted * capacity - there / (1 - loss)
