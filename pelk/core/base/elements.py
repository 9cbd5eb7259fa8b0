"""Atomic masses; how much element is in an oxide; equivalents of charge."""

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites

# IUPAC abridged standard atomic masses, g/mol.
ATOMIC_MASS = {
    "H": 1.008,
    "B": 10.81,
    "C": 12.011,
    "N": 14.007,
    "O": 15.999,
    "Na": 22.990,
    "Mg": 24.305,
    "Al": 26.982,
    "Si": 28.085,
    "P": 30.974,
    "S": 32.06,
    "Cl": 35.45,
    "K": 39.098,
    "Ca": 40.078,
    "Fe": 55.845,
}
OXIDES = {
    "P2O5": ("P", 2, 5),
    "K2O": ("K", 2, 1),
    "CaO": ("Ca", 1, 1),
    "MgO": ("Mg", 1, 1),
    "SO3": ("S", 1, 3),
    "SiO2": ("Si", 1, 2),
    "B2O3": ("B", 2, 3),
}
LABEL_OXIDE = {"P": "P2O5", "K": "K2O", "Ca": "CaO", "Mg": "MgO", "S": "SO3"}

# Half a mole of CaCO3: grams of calcium carbonate to one equivalent of base.
CACO3_G_PER_EQ = (ATOMIC_MASS["Ca"] + ATOMIC_MASS["C"] + 3 * ATOMIC_MASS["O"]) / 2  # 50.04
# S + 1.5 O2 + H2O -> 2 H+ + SO4: milliequivalents of acid from a gram of sulfur.
SULFUR_MEQ_PER_G = 2000 / ATOMIC_MASS["S"]  # 62.38


@cites("iupac2021", "abridged standard atomic masses")
def element_in_oxide(oxide: str) -> float:
    """Return the mass of element in a mass of its oxide.

    Parameters
    ----------
    oxide : str
        One of ``P2O5 K2O CaO MgO SO3 SiO2 B2O3``.

    Returns
    -------
    float
        Mass fraction. [-]

    Raises
    ------
    PelkError
        For an oxide that labels do not use.

    Examples
    --------
    >>> round(element_in_oxide("P2O5"), 4)
    0.4364
    """
    if oxide not in OXIDES:
        raise PelkError(f"{oxide} is not one of {', '.join(OXIDES)}")
    element, atoms, oxygens = OXIDES[oxide]
    mass = atoms * ATOMIC_MASS[element]
    return mass / (mass + oxygens * ATOMIC_MASS["O"])


@cites("iupac2021", "abridged standard atomic masses")
@answers
def base_meq_per_g(calcium_carbonate_equivalent: float) -> float:
    """Return the base in a gram of a liming material.

    Parameters
    ----------
    calcium_carbonate_equivalent : float
        Neutralising value as a fraction of pure calcium carbonate. [kg/kg]

    Returns
    -------
    float
        Base. [meq/g]

    Examples
    --------
    >>> round(base_meq_per_g(1.0), 2)
    19.98
    """
    return calcium_carbonate_equivalent * 1000 / CACO3_G_PER_EQ
