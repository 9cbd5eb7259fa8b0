"""What salts do to a pH reading: a pen in a salty slurry shows less than the mix's own pH."""

from enum import StrEnum
from math import log10

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.salts.salts import METHODS

# Lowered by this for each tenfold of salts (0.40 to 0.65); never by more than the second.
PER_TENFOLD, MOST_LOWERED = 0.52, 1.0
# Below this a slurry's own carbon dioxide and the pen rule.
LEAST_DS_M = 0.2
CACL2_DS_M = 2.3


class PhMethod(StrEnum):
    """How a pH is read."""

    SLURRY = "1:1 slurry"
    PASTE = "saturated paste"
    HALF = "1:2"
    FIFTH = "1:5"
    POUR = "pour-through"
    CACL2 = "0.01 M CaCl2"
    KCL = "1 M KCl"


# The saturated extract over the liquid that the pen stands in.
DILUTED = {
    PhMethod.SLURRY: 1.8,
    PhMethod.PASTE: 1.0,
    PhMethod.HALF: METHODS["1:2"],
    PhMethod.FIFTH: METHODS["1:5"],
    PhMethod.POUR: 1.0,
}


@cites("pelk", "0.52 from memory, set to readings in calcium chloride; only the change counts")
@answers
def lowered_by_salts(sme_ds_m: float, own_ds_m: float, method: str = PhMethod.SLURRY) -> float:
    """Return how much lower a pen shows than the course of the pH.

    The parts' own pH were read in their own salts, in a 1:1 slurry: only what salts have
    changed since, and another method, count.

    Parameters
    ----------
    sme_ds_m, own_ds_m : float
        Salts of the mix now, and of its parts alone, in the saturated extract. [dS/m]
    method : str
        One of `PhMethod`.

    Returns
    -------
    float
        Lowering; negative in a thinner slurry. [pH]

    Raises
    ------
    PelkError
        By a method that is not known.
    """
    if method not in set(PhMethod):
        raise PelkError(f"found {method!r}, allowed: {', '.join(PhMethod)}", "method")
    if method == PhMethod.KCL:
        return MOST_LOWERED
    known = PhMethod(method)
    now = CACL2_DS_M if known is PhMethod.CACL2 else sme_ds_m / DILUTED[known]
    before = max(own_ds_m / DILUTED[PhMethod.SLURRY], LEAST_DS_M)
    return min(PER_TENFOLD * log10(max(now, LEAST_DS_M) / before), MOST_LOWERED)
