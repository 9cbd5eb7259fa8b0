"""A solution of salts: activity, ion pairs, and what it conducts."""

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites

Floats = NDArray[np.float64]

# Limiting conductivity of ions, S cm2/eq, and their charge.
LIMITING = {
    "K": 73.5,
    "Na": 50.1,
    "NH4": 73.5,
    "Ca": 59.5,
    "Mg": 53.0,
    "NO3": 71.4,
    "Cl": 76.3,
    "SO4": 80.0,
    "HCO3": 44.5,
}
CHARGE = {"K": 1, "Na": 1, "NH4": 1, "Ca": 2, "Mg": 2, "NO3": 1, "Cl": 1, "SO4": 2, "HCO3": 1}
# log10 K of pairs with sulfate at 25 C; those of single charges keep a charge of their own.
PAIR_LOG_K = {"Ca": 2.30, "Mg": 2.37, "K": 0.85, "Na": 0.70, "NH4": 1.10}
DEBYE_A, MOST_IONIC_MOL_L, ROUNDS = 0.509, 0.5, 12
# Powers of the activity coefficients in a conductivity: a fit, rms 0.9 % on 15 solutions.
SINGLE_POWER, DOUBLE_POWER = 0.72, 0.335
# What gypsum alone dissolves to.
GYPSUM_MMOL_L = 15.1


@cites("davies1962", "activity coefficient of a single charge; a double one is its fourth power")
def single_activity(ionic_mol_l: Floats | float) -> Floats:
    """Return the activity coefficient of a single charge.

    Parameters
    ----------
    ionic_mol_l : array or float
        Ionic strength, counted to 0.5 at most. [mol/L]

    Returns
    -------
    array
        Coefficient. [-]
    """
    strength = np.minimum(np.asarray(ionic_mol_l, dtype=float), MOST_IONIC_MOL_L)
    root = np.sqrt(strength)
    return np.asarray(10.0 ** (-DEBYE_A * (root / (1 + root) - 0.3 * strength)))


@cites("crc", "limiting ionic conductivities at 25 C; constants of sulfate pairs")
@cites("davies1962", "activity of the ions that stay free")
@cites("handbook60", "saturated gypsum reads about 2.2 dS/m")
@cites("pelk", "powers of the activity fitted to solutions of a speciation code")
def conductivity(ions_mol_l: Mapping[str, Floats | float]) -> Floats:
    """Return what a solution conducts, its ions paired with sulfate where they pair.

    Parameters
    ----------
    ions_mol_l : mapping of str to array or float
        ``K Na NH4 Ca Mg NO3 Cl SO4 HCO3`` in the solution; all of one shape. [mol/L]

    Returns
    -------
    array
        Conductivity at 25 °C. [dS/m]
    """
    total = {ion: np.maximum(np.asarray(c, dtype=float), 0.0) for ion, c in ions_mol_l.items()}
    none = np.zeros_like(sum(total.values(), np.float64(0.0)))
    sulfate = free_sulfate = total.get("SO4", none)
    metals = {ion: total[ion] for ion in PAIR_LOG_K if ion in total}
    free = dict(metals)
    lone = sum((total[ion] for ion in total if ion not in PAIR_LOG_K and ion != "SO4"), none)
    single = none + 1.0
    for _ in range(ROUNDS):
        singles, doubles = lone, free_sulfate
        for ion, left in free.items():
            if CHARGE[ion] == 1:
                singles = singles + metals[ion]  # free, or paired with a charge of one left
            else:
                doubles = doubles + left
        single = single_activity(0.5 * (singles + 4 * doubles))
        paired = {
            ion: 10.0 ** PAIR_LOG_K[ion] * (single**8 if CHARGE[ion] == 2 else single**4)
            for ion in free
        }
        bound = sum((paired[ion] * free[ion] for ion in free), none)
        free = {
            ion: 0.5 * (free[ion] + metals[ion] / (1 + paired[ion] * free_sulfate)) for ion in free
        }
        free_sulfate = 0.5 * (free_sulfate + sulfate / (1 + bound))
    by_charge = {1: single**SINGLE_POWER, 2: (single**4) ** DOUBLE_POWER}
    loose = {**total, **free, "SO4": free_sulfate}
    ec = sum((LIMITING[i] * CHARGE[i] * c * by_charge[CHARGE[i]] for i, c in loose.items()), none)
    pairs = (LIMITING[i] * (metals[i] - free[i]) * by_charge[1] for i in free if CHARGE[i] == 1)
    return np.asarray(ec + 0.5 * sum(pairs, none))


@cites("crc", "the same sum for one solution")
@answers
def ec_of_solution(ions_mmol_l: Mapping[str, float]) -> float:
    """Return the conductivity of a solution by its ions.

    Parameters
    ----------
    ions_mmol_l : mapping of str to float
        Ions by name, nitrogen and sulfur as the ion. [mmol/L]

    Returns
    -------
    float
        Conductivity at 25 °C. [dS/m]

    Raises
    ------
    PelkError
        Naming an ion that is not known.
    """
    for ion in ions_mmol_l:
        if ion not in LIMITING:
            raise PelkError(f"found {ion!r}, allowed: {', '.join(LIMITING)}", "ions_mmol_l")
    return float(conductivity({ion: c / 1000 for ion, c in ions_mmol_l.items()}))
