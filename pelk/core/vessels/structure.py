"""Air and water of a mix after draining, by the height it stands in, and its wet weight."""

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.errors import UnknownError
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.library import Material

# A heap or a full barrow: water drains over this height.
HEAP_HEIGHT_CM = 30.0
# A wrung-out sponge, as a share of container capacity.
SPONGE = 0.55
SATURATION_CAP = 0.97
SLICES = 100


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


def _sets() -> dict[str, tuple[float, ...]]:
    return {
        row["set"]: tuple(float(row[k]) for k in ("saturated", "residual", "alpha", "n"))
        for row in rows("retention.csv")
    }


@cache
def _retention(height_cm: float) -> dict[str, NDArray[np.float64]]:
    """Return the water of each set at the middle of every slice of a height."""
    suction = (np.arange(SLICES) + 0.5) / SLICES * height_cm
    return {key: water_retained(suction, *held) for key, held in _sets().items()}


@cache
def _saturated() -> dict[str, float]:
    return {key: held[0] for key, held in _sets().items()}


@cache
def _easy() -> dict[str, float]:
    """Return the water that each set gives up between 10 and 50 cm suction."""
    span = np.array([10.0, 50.0])
    return {key: float(-np.diff(water_retained(span, *held))[0]) for key, held in _sets().items()}


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
    table = _retention(height_cm)
    for material, _ in parts:
        if material.retention_set not in table:
            raise UnknownError(f"how much water {material.name} holds is not known")
    mix = 1 / (1 - loss)
    held = mix * np.sum([x * table[m.retention_set] for m, x in parts], axis=0)
    solids = sum(x * (1 - _saturated()[m.retention_set]) for m, x in parts)
    porosity = 1 - solids * mix
    capacity = float(np.minimum(held, SATURATION_CAP * porosity).mean())
    easy = mix * sum(x * _easy()[m.retention_set] for m, x in parts)
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
