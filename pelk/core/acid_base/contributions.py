"""What a gram of a material brings to the rows of a proposal."""

from collections.abc import Mapping

from pelk.core.acid_base.acids import excess_base_of
from pelk.core.base.elements import ATOMIC_MASS, SULFUR_MEQ_PER_G, base_meq_per_g
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.salts.salts import MG_PER_MEQ


@cites("arithmetic", "base of lime, acid of sulfur and of nitrified nitrogen")
def lasting_meq_per_g(material: Material, nitrogen_mg_g: float) -> float:
    """Return what a gram of a product leaves in the mix, unplanted.

    Parameters
    ----------
    material : Material
        The product.
    nitrogen_mg_g : float
        That it sets free in the time looked at. [mg/g]

    Returns
    -------
    float
        Base +, acid -. [meq/g]
    """
    meq = 0.0
    if material.lime_grade and material.cce:
        meq += base_meq_per_g(material.cce.typ / 100)
    elemental = material.composition.get("S elemental")
    if material.acidity_role == "sulfur" and elemental:
        meq -= SULFUR_MEQ_PER_G * elemental.typ / 100
    elif material.acidity_role == "strong_acid" and material.acid_base:
        meq += base_meq_per_g(material.acid_base / 100)
    elif material.acidity_role == "organic_n":
        # Unplanted and nitrified: one milliequivalent of acid a millimole of nitrogen.
        meq += excess_base_of(material) / 1000 - max(nitrogen_mg_g, 0.0) / ATOMIC_MASS["N"]
    return meq


def ions_meq(material: Material, free: Mapping[str, float]) -> tuple[float, float]:
    """Return the cations and anions that a material sets free.

    Parameters
    ----------
    material : Material
        Only magnesium of salts and calcium of gypsum count as dissolved.
    free : mapping of str to float
        What it has set free of each element. [mg/L]

    Returns
    -------
    tuple of float
        Cations and anions. [meq/L], [meq/L]
    """
    cations = free["K"] / MG_PER_MEQ["K"] + free["Na"] / MG_PER_MEQ["Na"]
    if material.availability_class in ("salt", "langbeinite"):
        cations += free["Mg"] / MG_PER_MEQ["Mg"]
    if material.availability_class == "gypsum":
        cations += free["Ca"] / MG_PER_MEQ["Ca"]
    anions = free["Cl"] / MG_PER_MEQ["Cl"] + free["S"] / MG_PER_MEQ["SO4"]
    return cations, anions + max(free["N"], 0.0) / ATOMIC_MASS["N"]
