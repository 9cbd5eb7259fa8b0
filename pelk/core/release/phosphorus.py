"""Phosphorus by form and pH: how much of it a season sets free."""

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows

Floats = NDArray[np.float64]

# The most that mineral soil binds of what is set free, and the share of soil that binds it (1/e).
FIXED_BY_SOIL, SOIL_SHARE = 0.45, 0.12
UNSURE = frozenset(["bone_meal", "fishbone", "rock_phos", "mixed_p"])
UNSURE_SPAN = (0.5, 1.3)


@dataclass(frozen=True, slots=True)
class PhosphorusClass:
    """How a form of phosphorus is set free.

    Attributes
    ----------
    now, most : float
        Shares of total phosphorus that are free at once, and that can be. [-]
    ph_mid, slope : float
        Where half of that is lost to pH, and how sharply. [pH], [1/pH]
    k : float
        Rate at 22 °C. [1/d]
    base_meq_per_mmol, base_k : float
        Acid that calcium phosphate eats for each mmol of P, and its rate at 22 °C: what is
        free at once meets the acid of the mix over weeks. [meq/mmol], [1/d]
    """

    now: float
    most: float
    ph_mid: float
    slope: float
    k: float
    base_meq_per_mmol: float
    base_k: float


@cache
def phosphorus_classes() -> dict[str, PhosphorusClass]:
    """Return the classes by key."""
    return {
        row["class"]: PhosphorusClass(
            float(row["now"]),
            float(row["most"]),
            float(row["ph_mid"]),
            float(row["slope"]),
            float(row["k"]),
            float(row["base_meq_per_mmol"]),
            float(row["base_k"]),
        )
        for row in rows("phosphorus_classes.csv")
    }


@cites("khasawneh1978", "phosphate rock needs acid; shape is a Pelk estimate")
@cites("pelk", "share by pH and time, set to extension statements")
def season_phosphorus(form: str, ph: float, rate_days: float) -> float:
    """Return the share of total phosphorus set free at a steady pH.

    ``(now + (most - now) (1 - e^{-k t})) / (1 + 10^(slope (pH - mid)))``.

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
    return float(_by_ph(held, np.float64(ph)) * _reached(held, np.float64(rate_days)))


def _reached(held: PhosphorusClass, rate_days: Floats | np.float64) -> Floats:
    """Return the share of total phosphorus that time has freed, before pH. [-]."""
    return np.asarray(held.now + (held.most - held.now) * -np.expm1(-held.k * rate_days))


@cites("pelk", "0.45 (0.3 to 0.6) bound by soil alone, half of it by 8 % of soil: judgement")
@answers
def left_by_soil(mineral_soil: float) -> float:
    """Return the share of free phosphorus that mineral soil leaves in solution.

    Parameters
    ----------
    mineral_soil : float
        Share of mineral soil by volume. [-]

    Returns
    -------
    float
        Share, falling smoothly with soil. [-]
    """
    return float(1 - FIXED_BY_SOIL * -np.expm1(-mineral_soil / SOIL_SHARE))


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
    reached = _reached(held, rate_days)
    middle = _by_ph(held, (ph[1:] + ph[:-1]) / 2)
    steps = middle * np.diff(reached)
    start = _by_ph(held, ph[:1]) * reached[:1]
    return np.asarray(total_mg_l * np.concatenate([start, start + np.cumsum(steps)]))
