"""A batch cut into loads that a barrow holds and a person can push."""

from dataclasses import dataclass
from math import ceil

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites


@dataclass(frozen=True, slots=True)
class Loads:
    """Equal loads.

    Attributes
    ----------
    count : int
        How many.
    litres, kg : float
        Mixed soil in one of them, and its weight wet. [L], [kg]
    bound_by : str
        ``volume`` of the barrow or ``weight`` to push.
    """

    count: int
    litres: float
    kg: float
    bound_by: str


@cites("trade", "level barrow volumes; 50 kg rolled, 20 kg lifted")
@answers
def barrow_loads(
    mixed_l: float, wet_kg_l: float, barrow_l: float = 85.0, limit_kg: float = 50.0
) -> Loads:
    """Return the loads of a batch, spread evenly.

    Parameters
    ----------
    mixed_l : float
        Mixed soil. [L]
    wet_kg_l : float
        Weight watered and drained. [kg/L]
    barrow_l : float
        What the barrow holds struck level. [L]
    limit_kg : float
        Most to push. [kg]

    Returns
    -------
    Loads
        At least one.

    Raises
    ------
    PelkError
        When barrow, weight or limit are not above zero.
    """
    if min(mixed_l, wet_kg_l, barrow_l, limit_kg) <= 0:
        raise PelkError("a load needs a volume, a weight, a barrow and a limit")
    by_weight = limit_kg / wet_kg_l
    count = ceil(mixed_l / min(barrow_l, by_weight) - 1e-9)
    litres = mixed_l / count
    bound = "volume" if barrow_l <= by_weight else "weight"
    return Loads(count, litres, litres * wet_kg_l, bound)
