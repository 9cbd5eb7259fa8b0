"""Water a mix holds after draining, and so what it weighs wet."""

from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.errors import UnknownError
from pelk.core.materials import Material
from pelk.core.sources import cites
from pelk.core.tables import rows

# A heap or a full barrow: water drains over this height.
HEAP_HEIGHT_CM = 30.0
# A wrung-out sponge, as a share of container capacity.
SPONGE = 0.55
SATURATION_CAP = 0.97
SLICES = 61


@cites("vangenuchten1980", "eq. 21; sets are Pelk estimates shaped to handbook points")
def water_retained(
    suction_cm: NDArray[np.float64], saturated: float, residual: float,
    alpha: float, n: float,
) -> NDArray[np.float64]:  # fmt: skip
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


@cache
def _retention(height_cm: float) -> dict[str, NDArray[np.float64]]:
    """Return the water of each set at every slice of a height; the base is saturated."""
    suction = np.linspace(0, height_cm, SLICES)
    return {
        row["set"]: water_retained(
            suction, *(float(row[k]) for k in ("saturated", "residual", "alpha", "n"))
        )
        for row in rows("retention.csv")
    }


@cites("pelk", "volume-weighted retention, solids conserved; +-6 points")
def container_capacity(
    parts: list[tuple[Material, float]], loss: float, height_cm: float = HEAP_HEIGHT_CM
) -> float:
    """Return the water a mix holds after draining freely.

    The mean of the parts' retention over the height, water table at the base;
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
    float
        Water per litre of mix. [L/L]

    Raises
    ------
    UnknownError
        When a part's retention is not known.
    """
    table = _retention(height_cm)
    for material, _ in parts:
        if material.retention_set not in table:
            raise UnknownError(f"how much water {material.name} holds is not known")
    curves = [x * table[m.retention_set] for m, x in parts]
    held = np.sum(curves, axis=0) / (1 - loss)
    solids = sum(x - curve[0] for (_, x), curve in zip(parts, curves, strict=True))
    porosity = 1 - float(solids) / (1 - loss)
    return float(np.minimum(held, SATURATION_CAP * porosity).mean())


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
    parts: list[tuple[Material, float]], loss: float, capacity: float,
    wanted: float = SPONGE,
) -> float:  # fmt: skip
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
