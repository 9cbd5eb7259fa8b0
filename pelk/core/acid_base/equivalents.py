"""One acidifier in place of another: by charge, never by weight."""

from pelk.core.acid_base.acids import (
    ACIDIFIERS,
    equivalents_of_weak_acid,
    kilos_for_a_kilo_of_sulfur,
)
from pelk.core.base.elements import SULFUR_MEQ_PER_G
from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites

# What fades within days, by the name of the library: acid, and mmol in a kilogram or a litre.
FADING_MMOL = {
    "citric-acid": ("citric", 5150.0),
    "vinegar-5pct": ("acetic", 833.0),
    "lemon-juice": ("citric", 286.0),
}


@cites("arithmetic", "charge of each product at the pH where it acts")
@answers
def equivalents_of_sulfur(kg: float, ph: float = 5.5) -> dict[str, tuple[float, bool]]:
    """Return what of each acidifier does what some sulfur does, and whether it lasts.

    Parameters
    ----------
    kg : float
        Elemental sulfur. [kg]
    ph : float
        Where organic acids act until they are eaten.

    Returns
    -------
    dict of str to (float, bool)
        By key of `Acidifier` or of `FADING_MMOL`: amount, in kg or L, and
        False for what fades within days.
    """
    by_product: dict[str, tuple[float, bool]] = {
        name: (kg * kilos_for_a_kilo_of_sulfur(name), True) for name in ACIDIFIERS
    }
    moles = kg * SULFUR_MEQ_PER_G
    for name, (acid, mmol) in FADING_MMOL.items():
        by_product[name] = (
            moles * 1000 / (mmol * float(equivalents_of_weak_acid(acid, ph))),
            False,
        )
    return by_product


@cites("arithmetic", "acid of one product over acid of the other")
@answers
def product_for(from_name: str, to_name: str, kg: float) -> float:
    """Return how much of one acidifier that lasts replaces some of another.

    Parameters
    ----------
    from_name, to_name : str
        ``sulfur`` or a key of `Acidifier`.
    kg : float
        Of the first. [kg]

    Returns
    -------
    float
        Of the second. [kg]

    Raises
    ------
    PelkError
        For a product that is not an acidifier that lasts.
    """
    per_sulfur: dict[str, float] = {name: kilos_for_a_kilo_of_sulfur(name) for name in ACIDIFIERS}
    per_sulfur["sulfur"] = 1.0
    for name in (from_name, to_name):
        if name not in per_sulfur:
            raise PelkError(f"found {name!r}, allowed: {', '.join(per_sulfur)}")
    return kg / per_sulfur[from_name] * per_sulfur[to_name]
