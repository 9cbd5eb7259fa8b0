"""Phosphorus by form and pH: how much of it a season sets free."""

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.sources import cites
from pelk.core.base.tables import rows

Floats = NDArray[np.float64]

# Mineral soil binds what is set free.
FIXED_BY_SOIL, SOIL_SHARE = 0.6, 0.20
UNSURE = frozenset(["bone_meal", "fishbone", "rock_phos", "mixed_p"])
UNSURE_SPAN = (0.5, 1.3)


@dataclass(frozen=True, slots=True)
class PhosphorusClass:
    """How a form of phosphorus is set free.

    Attributes
    ----------
    most : float
        Share of total phosphorus that can be. [-]
    ph_mid, slope : float
        Where half of that is lost to pH, and how sharply. [pH], [1/pH]
    k : float
        Rate at 22 °C. [1/d]
    base_meq_per_mmol : float
        Acid that apatite eats for each mmol of P. [meq/mmol]
    """

    most: float
    ph_mid: float
    slope: float
    k: float
    base_meq_per_mmol: float


@cache
def phosphorus_classes() -> dict[str, PhosphorusClass]:
    """Return the classes by key."""
    return {
        row["class"]: PhosphorusClass(
            float(row["most"]),
            float(row["ph_mid"]),
            float(row["slope"]),
            float(row["k"]),
            float(row["base_meq_per_mmol"]),
        )
        for row in rows("phosphorus_classes.csv")
    }


@cites("khasawneh1978", "phosphate rock needs acid; shape is a Pelk estimate")
@cites("pelk", "share by pH and time, set to extension statements")
def season_phosphorus(form: str, ph: float, rate_days: float) -> float:
    """Return the share of total phosphorus set free at a steady pH.

    ``most / (1 + 10^(slope (pH - mid))) (1 - e^{-k t})``.

    Parameters
    ----------
    form : str
        A key of `phosphorus_classes`.
    ph : float
        Of the mix.
    rate_days : float
        Days at 22 °C and ideal moisture. [d]

    Returns
    -------
    float
        Share. [-]
    """
    held = phosphorus_classes()[form]
    return float(held.most * _by_ph(held, np.float64(ph)) * -np.expm1(-held.k * rate_days))


def _by_ph(held: PhosphorusClass, ph: Floats | np.float64) -> Floats:
    return np.asarray(1 / (1 + 10 ** (held.slope * (ph - held.ph_mid))))


def phosphorus_free(
    held: PhosphorusClass, total_mg_l: float, ph: Floats, rate_days: Floats
) -> Floats:
    """Return the phosphorus set free by each day of a course whose pH moves.

    Parameters
    ----------
    held : PhosphorusClass
        The form.
    total_mg_l : float
        All of it. [mg/L]
    ph : array, shape (n_days,)
        Of the mix.
    rate_days : array, shape (n_days,)
        Days at 22 °C and ideal moisture since mixing. [d]

    Returns
    -------
    array, shape (n_days,)
        Set free so far; never falls. [mg/L]
    """
    gone = -np.expm1(-held.k * rate_days)
    middle = _by_ph(held, (ph[1:] + ph[:-1]) / 2)
    steps = held.most * middle * np.diff(gone)
    start = held.most * _by_ph(held, ph[:1]) * gone[:1]
    return np.asarray(total_mg_l * np.concatenate([start, start + np.cumsum(steps)]))
