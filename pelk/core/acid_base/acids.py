"""Acids: mineral ones that stay, organic ones that fade, and those in fertilisers."""

from collections.abc import Mapping
from enum import StrEnum

from pelk.core.base.arithmetic import ONE, Arithmetic, Lane
from pelk.core.base.elements import ATOMIC_MASS, CACO3_G_PER_EQ, SULFUR_MEQ_PER_G
from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material


class Acidifier(StrEnum):
    """A pure acidifier that lasts; half of its ammonium is nitrified where it says so."""

    ALUMINIUM_SULFATE_18_WATER = "aluminium-sulfate-18-water"
    ALUMINIUM_SULFATE_14_WATER = "aluminium-sulfate-14-water"
    FERROUS_SULFATE_7_WATER = "ferrous-sulfate-7-water"
    FERROUS_SULFATE_1_WATER = "ferrous-sulfate-1-water"
    FERRIC_SULFATE = "ferric-sulfate"
    AMMONIUM_SULFATE_ALL_NITRIFIED = "ammonium-sulfate-all-nitrified"
    AMMONIUM_SULFATE_HALF = "ammonium-sulfate-half"
    SULFURIC_ACID = "sulfuric-acid"


# Formula and equivalents of acid of pure acidifiers, reacted completely.
ACIDIFIERS: dict[Acidifier, tuple[dict[str, int], int]] = {
    Acidifier.ALUMINIUM_SULFATE_18_WATER: ({"Al": 2, "S": 3, "O": 30, "H": 36}, 6),
    Acidifier.ALUMINIUM_SULFATE_14_WATER: ({"Al": 2, "S": 3, "O": 26, "H": 28}, 6),
    Acidifier.FERROUS_SULFATE_7_WATER: ({"Fe": 1, "S": 1, "O": 11, "H": 14}, 2),
    Acidifier.FERROUS_SULFATE_1_WATER: ({"Fe": 1, "S": 1, "O": 5, "H": 2}, 2),
    Acidifier.FERRIC_SULFATE: ({"Fe": 2, "S": 3, "O": 12}, 6),
    Acidifier.AMMONIUM_SULFATE_ALL_NITRIFIED: ({"N": 2, "H": 8, "S": 1, "O": 4}, 4),
    Acidifier.AMMONIUM_SULFATE_HALF: ({"N": 2, "H": 8, "S": 1, "O": 4}, 3),
    Acidifier.SULFURIC_ACID: ({"H": 2, "S": 1, "O": 4}, 2),
}
PK: dict[str, tuple[float, ...]] = {
    "citric": (3.128, 4.761, 6.396),
    "acetic": (4.756,),
    "phosphoric": (2.148, 7.198, 12.35),
}
# Share eaten in a day at 25 °C; phosphoric acid stays.
FADES_PER_DAY = {"citric": 0.25, "acetic": 0.35, "phosphoric": 0.0}
# Millimoles in a gram (citric, dry) or, for liquids, in a gram at 1 kg/L.
WEAK: dict[str, tuple[str, float]] = {
    "citric-acid": ("citric", 5.15),
    "vinegar-5pct": ("acetic", 0.833),
    "lemon-juice": ("citric", 0.286),
}
# Charge of each element as it counts in the excess base of a fertiliser.
BASES = {"Ca": 2, "Mg": 2, "K": 1, "Na": 1}
ACIDS = {"P": 1, "S": 2, "Cl": 1}
NITROGEN_COUNTED = 0.5
# A percent of nitrogen, half of it counted, in meq/kg; CaCO3 in meq for kg/100 kg.
HALF_N_MEQ_KG = NITROGEN_COUNTED * 1e4 / ATOMIC_MASS["N"]
CACO3_MEQ_KG = 1e4 / CACO3_G_PER_EQ


@cites("iupac2021", "formula mass and equivalents of acid")
@answers
def acid_meq_per_g(acidifier: str) -> float:
    """Return the acid in a gram of a pure acidifier.

    Parameters
    ----------
    acidifier : str
        A key of `Acidifier`.

    Returns
    -------
    float
        Acid. [meq/g]
    """
    if acidifier not in set(Acidifier):
        raise PelkError(f"{acidifier} is not one of {', '.join(Acidifier)}")
    formula, equivalents = ACIDIFIERS[Acidifier(acidifier)]
    mass = sum(ATOMIC_MASS[element] * count for element, count in formula.items())
    return 1000 * equivalents / mass


@cites("arithmetic", "acid of a gram of sulfur over acid of a gram of the other")
@answers
def kilos_for_a_kilo_of_sulfur(acidifier: str) -> float:
    """Return how much of an acidifier does what a kilogram of sulfur does.

    Parameters
    ----------
    acidifier : str
        A key of `Acidifier`.

    Returns
    -------
    float
        Product for a kilogram of sulfur. [kg/kg]
    """
    return SULFUR_MEQ_PER_G / acid_meq_per_g(acidifier)


@cites("crc", "dissociation constants")
def equivalents_of_weak_acid(acid: str, ph: Lane, x: Arithmetic = ONE) -> Lane:
    """Return the mean negative charge of a molecule of a weak acid.

    Parameters
    ----------
    acid : str
        ``citric``, ``acetic`` or ``phosphoric``.
    ph : float or array
        Of the solution.
    x : Arithmetic
        Floats or arrays.

    Returns
    -------
    float or array
        Charge. [eq/mol]
    """
    term, top, bottom = 1.0, 0.0, 1.0
    for step, pk in enumerate(PK[acid], 1):
        term = term * x.exp((ph - pk) * 2.302585092994046)
        top, bottom = top + step * term, bottom + term
    return top / bottom


@cites("pierre1933", "base of the product apart from its nitrogen")
def excess_base(content_pct: Mapping[str, float]) -> float:
    """Return the base that a fertiliser brings apart from its nitrogen.

    Parameters
    ----------
    content_pct : mapping of str to float
        Elements in the product. [%]

    Returns
    -------
    float
        Base +, acid -. [meq/kg]
    """

    def meq(valences: Mapping[str, int]) -> float:
        return sum(content_pct.get(e, 0.0) * 1e4 / ATOMIC_MASS[e] * z for e, z in valences.items())

    return meq(BASES) - meq(ACIDS)


@cites("pierre1933", "potential acidity, half the nitrogen counted; the AOAC method")
@answers
def potential_acidity(content_pct: Mapping[str, float]) -> float:
    """Return the lime that undoes the lasting acid of a fertiliser.

    Parameters
    ----------
    content_pct : mapping of str to float
        Elements in the product. [%]

    Returns
    -------
    float
        Acid +. [kg CaCO3/100 kg]
    """
    nitrogen = content_pct.get("N", 0.0) * HALF_N_MEQ_KG
    return (nitrogen - excess_base(content_pct)) / CACO3_MEQ_KG


@cites("pierre1933", "the library's acid-base value with its half of nitrogen given back")
@answers
def excess_base_of_value(acid_base_kg_per_100kg: float, nitrogen_pct: float) -> float:
    """Return the excess base behind an acid-base value that counts half the nitrogen.

    Parameters
    ----------
    acid_base_kg_per_100kg : float
        Base +. [kg CaCO3/100 kg]
    nitrogen_pct : float
        Nitrogen. [%]

    Returns
    -------
    float
        Base +. [meq/kg]
    """
    return CACO3_MEQ_KG * acid_base_kg_per_100kg + HALF_N_MEQ_KG * nitrogen_pct


@cites("pelk", "calcium and phosphorus of apatite and shell counted where they dissolve")
def excess_base_of(material: Material) -> float:
    """Return the excess base of a fertiliser as it comes free, apart from nitrogen.

    Bone and guano leave out apatite's calcium and phosphorus, which count as they
    dissolve; crab and shrimp leave out the calcium of their shell, which counts as lime.

    Parameters
    ----------
    material : Material
        A meal, blend or salt.

    Returns
    -------
    float
        Base +. [meq/kg]
    """
    nitrogen = material.composition.get("N")
    if material.acid_base is None:
        return 0.0
    without: tuple[str, ...] = ()
    if material.phosphorus_class in ("bone_meal", "fishbone", "rock_phos"):
        without = ("Ca", "P")
    elif material.lime_grade:
        without = ("Ca",)
    if not without:
        return excess_base_of_value(material.acid_base, nitrogen.typ if nitrogen else 0.0)
    weights = {"K": material.season_k, "Ca": material.season_ca_mg, "Mg": material.season_ca_mg}
    content = {
        element: span.typ * (weights.get(element) or 1.0)
        for element, span in material.composition.items()
        if element not in without
    }
    return excess_base(content)
