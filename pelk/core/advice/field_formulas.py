"""The static formulas of field tables for lime and sulfur, to hold the model against."""

from pelk.core.base.elements import CACO3_G_PER_EQ, SULFUR_MEQ_PER_G
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.release.grains import fineness_score, lime_grade_of

# Share of lime that mixing uses, of sulfur that a season oxidises.
MIXING, OXIDISED = 0.8, 0.85


@cites("lime_scores", "effective calcium carbonate equivalent")
@cites("pelk", "mixing efficiency 0.8, fitted to soil lime tables")
@answers
def field_lime(base_meq_l: float, lime: Material, scheme: str = "ohio") -> float:
    """Return the lime of the static field formula, to compare with a table.

    Parameters
    ----------
    base_meq_l : float
        Needed. [meq/L]
    lime : Material
        Product.
    scheme : str
        Fineness scheme.

    Returns
    -------
    float
        Dose. [g/L]
    """
    grade = lime_grade_of(lime)
    cce = lime.cce.typ / 100 if lime.cce else grade.cce
    score = cce * fineness_score(grade.passing, scheme)
    return base_meq_l * CACO3_G_PER_EQ / 1000 / score / MIXING


@cites("blueberry_sulfur", "table met within 12 % with e_S 0.85 and buffers set to it")
@answers
def field_sulfur(acid_meq_l: float, depth_cm: float) -> float:
    """Return the sulfur of the static field formula for a bed.

    Parameters
    ----------
    acid_meq_l : float
        Needed, free carbonate included. [meq/L]
    depth_cm : float
        Worked in to this depth. [cm]

    Returns
    -------
    float
        Elemental sulfur. [g/m2]
    """
    return acid_meq_l * depth_cm * 10 / SULFUR_MEQ_PER_G / OXIDISED
