"""How a loose material holds water: its porosity and the shape of its curve."""

from functools import cache
from typing import NamedTuple

from pelk.core.base.errors import UnknownError
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.material import Material


class Retention(NamedTuple):
    """Porosity of a material, and the shape of its retention curve."""

    saturated: float
    residual: float
    alpha: float
    n: float


@cache
def retention_sets() -> dict[str, tuple[Retention, Retention | None]]:
    """Return the curve of each set, and for coarse grains the one with their gaps filled."""
    curves = {}
    for row in rows("retention.csv"):
        saturated = float(row["saturated"])
        alone = Retention(saturated, *(float(row[k]) for k in ("residual", "alpha", "n")))
        filled = [row[f"{k}_filled"] for k in ("residual", "alpha", "n")]
        among_fines = Retention(saturated, *map(float, filled)) if all(filled) else None
        curves[row["set"]] = (alone, among_fines)
    return curves


@cites("pelk", "total porosity of the retention sets, by volume")
def saturated_content(material: Material) -> float:
    """Return the water of a loose litre with every pore full.

    Parameters
    ----------
    material : Material
        A part.

    Returns
    -------
    float
        Its pores. [L/L]

    Raises
    ------
    UnknownError
        When its retention is not known.
    """
    if material.retention_set not in retention_sets():
        raise UnknownError(f"how much water {material.name} holds is not known")
    return retention_sets()[material.retention_set][0].saturated
