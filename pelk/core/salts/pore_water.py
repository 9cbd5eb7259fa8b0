"""The salts of a mix, ion by ion, in the water of its saturated paste."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.elements import ATOMIC_MASS
from pelk.core.base.errors import UnknownError
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.materials.retention import saturated_content
from pelk.core.salts.solution import CHARGE, GYPSUM_MMOL_L, conductivity

Floats = NDArray[np.float64]

# A paste is nearly as wet as its pores; where retention is not known, as a mix usually is.
PASTE_OF_PORES, UNKNOWN_PASTE_L_L = 0.95, 0.85
UNKNOWN_EC = 0.3
# Charge of a material's own salts from their conductivity, meq/L of paste water: the
# conductivity of these shares turned round, within 3 % at 0.5 to 14 dS/m.
MEQ_AT_ONE_DS, EC_POWER = 8.65, 1.08
OWN_CATIONS = {"K": 0.40, "Na": 0.15, "Ca": 0.28, "Mg": 0.17}
OWN_ANIONS = {"Cl": 0.40, "SO4": 0.25, "HCO3": 0.20, "NO3": 0.15}
# Ammonium nitrate conducts this much better than a mean salt of the same charge (derived).
NITROGEN_CONDUCTS = 0.2
# Parts that buffer more than this hold calcium to give for anions. [meq/L/pH]
EXCHANGES = 5.0


@dataclass(frozen=True, slots=True)
class PoreSalts:
    """What the parts of a mix bring of salts, per litre of mix.

    Attributes
    ----------
    ions_meq_l : dict of str to float
        Their own salts, mineral nitrogen apart. [meq/L]
    paste_l_l : float
        Water of the saturated paste. [L/L]
    exchanges : bool
        Peat, bark, compost or soil is there to give calcium for anions.
    """

    ions_meq_l: dict[str, float]
    paste_l_l: float
    exchanges: bool


@cites("pelk", "0.95 of the pores, by volume, blending loss counted")
def paste_water(parts: Sequence[tuple[Material, float]], loss: float) -> float:
    """Return the water in the saturated paste of a litre of mix.

    Parameters
    ----------
    parts : sequence of (Material, float)
        Materials with their shares of loose volume. [-]
    loss : float
        Lost on blending. [-]

    Returns
    -------
    float
        Water. [L/L]
    """
    return sum(share * _paste(material) for material, share in parts) / (1 - loss)


def _paste(material: Material) -> float:
    try:
        return PASTE_OF_PORES * saturated_content(material)
    except UnknownError:
        return UNKNOWN_PASTE_L_L


@cites("pelk", "own salts of a material by usual shares of charge, mineral nitrogen apart")
def own_salts(
    parts: Sequence[tuple[Material, float]],
    loss: float,
    ammonium_mg_l: float = 0.0,
    nitrate_mg_l: float = 0.0,
) -> PoreSalts:
    """Return the salts that the parts bring, their mineral nitrogen counted elsewhere.

    Parameters
    ----------
    parts : sequence of (Material, float)
        Materials with their shares of loose volume. [-]
    loss : float
        Lost on blending. [-]
    ammonium_mg_l, nitrate_mg_l : float
        Mineral nitrogen of the parts on mixing day, which the course follows. [mg/L]

    Returns
    -------
    PoreSalts
        Per litre of mix.
    """
    whole = buffer = 0.0
    for material, share in parts:
        litres = share / (1 - loss)
        ec = material.ec.typ if material.ec else UNKNOWN_EC
        whole += litres * _paste(material) * MEQ_AT_ONE_DS * ec**EC_POWER
        buffer += litres * (material.buffer.typ if material.buffer else 0.0)
    ammonium, nitrate = (n / ATOMIC_MASS["N"] for n in (ammonium_mg_l, nitrate_mg_l))
    charge = whole - NITROGEN_CONDUCTS * (ammonium + nitrate) / 2
    ions = {ion: share * max(charge - ammonium, 0.0) for ion, share in OWN_CATIONS.items()}
    ions["NO3"] = max(OWN_ANIONS["NO3"] * charge - nitrate, 0.0)
    others = max(charge - nitrate - ions["NO3"], 0.0) / (1 - OWN_ANIONS["NO3"])
    ions |= {ion: share * others for ion, share in OWN_ANIONS.items() if ion != "NO3"}
    return PoreSalts(ions, paste_water(parts, loss), buffer > EXCHANGES)


@cites("pelk", "every ion once: the parts' own, what doses set free, nitrogen of the course")
def mix_ec(
    own: PoreSalts, doses_meq_l: Mapping[str, Floats], ammonium_mg_l: Floats, nitrate_mg_l: Floats
) -> Floats:
    """Return the salts of a mix over time, before any crop.

    Cations beyond the anions there are stay on the exchanger, calcium and magnesium first,
    then potassium; anions beyond them take calcium off it.

    Parameters
    ----------
    own : PoreSalts
        Of the parts.
    doses_meq_l : mapping of str to array
        ``K Na Ca Mg Cl SO4`` that the doses have set free, in a litre of mix, and
        ``gypsum``, all of it. [meq/L]
    ammonium_mg_l, nitrate_mg_l : array
        Of the course. [mg/L]

    Returns
    -------
    array
        Conductivity of the saturated extract. [dS/m]
    """
    none = np.zeros_like(np.asarray(nitrate_mg_l, dtype=float))
    ions = {ion: none + own.ions_meq_l.get(ion, 0.0) for ion in CHARGE}
    for ion, meq in doses_meq_l.items():
        if ion == "gypsum":
            continue
        ions[ion] = ions[ion] + np.maximum(meq, 0.0)
    dissolved = np.minimum(doses_meq_l.get("gypsum", none), 2 * GYPSUM_MMOL_L * own.paste_l_l)
    for ion in ("Ca", "SO4"):
        ions[ion] = ions[ion] + dissolved
    ions["NH4"] = ions["NH4"] + np.maximum(ammonium_mg_l, 0.0) / ATOMIC_MASS["N"]
    ions["NO3"] = ions["NO3"] + np.maximum(nitrate_mg_l, 0.0) / ATOMIC_MASS["N"]
    even = _balanced(ions, own.exchanges)
    return conductivity(
        {ion: meq / CHARGE[ion] / own.paste_l_l / 1000 for ion, meq in even.items()}
    )


def _balanced(ions: dict[str, Floats], exchanges: bool) -> dict[str, Floats]:
    """Return the ions with as much charge of one sign as of the other. [meq/L]."""
    cations = sum(ions[i] for i in ("K", "Na", "NH4", "Ca", "Mg"))
    anions = sum(ions[i] for i in ("NO3", "Cl", "SO4", "HCO3"))
    over, short = np.maximum(cations - anions, 0.0), np.maximum(anions - cations, 0.0)
    hard = ions["Ca"] + ions["Mg"]
    held = np.minimum(over, hard)
    kept = 1 - held / np.maximum(hard, 1e-12)
    potassium = ions["K"] - np.minimum(over - held, ions["K"])
    even = {**ions, "Ca": ions["Ca"] * kept, "Mg": ions["Mg"] * kept, "K": potassium}
    if exchanges or not np.all(cations > 0):
        even["Ca"] = even["Ca"] + short
        return even
    more = 1 + short / cations
    return {i: c * more if i in OWN_CATIONS or i == "NH4" else c for i, c in even.items()}
