"""Pots by the volume they truly hold, not by the number on them."""

from dataclasses import dataclass
from functools import cache

from pelk.core.errors import PelkError
from pelk.core.materials import Range
from pelk.core.plans import Vessels
from pelk.core.sources import cites
from pelk.core.tables import number, rows

# Exact: the US liquid gallon is 231 cubic inches.
US_GALLON_L = 3.785411784


@dataclass(frozen=True, slots=True)
class VesselKind:
    """A kind of pot.

    Attributes
    ----------
    litres : Range or None
        True volume to the brim of a trade class; None when it must be typed.
    fill : float
        Share of the brim volume that is filled, headspace left. [-]
    """

    slug: str
    name: str
    litres: Range | None
    fill: float


@cache
def kinds() -> dict[str, VesselKind]:
    """Return the kinds of vessel by slug."""
    return {row["kind"]: _kind(row) for row in rows("vessels.csv")}


def _kind(row: dict[str, str]) -> VesselKind:
    typ = number(row["litres"])
    litres = (
        None
        if typ is None
        else Range(float(row["litres_low"]), typ, float(row["litres_high"]))
    )
    return VesselKind(row["kind"], row["name"], litres, float(row["fill"]))


@cites("ansi_z60", "container classes, cubic inches")
@cites("trade", "a pot is filled to 0.88 of its brim")
def filled_volume(vessels: Vessels, path: str = "batch.vessels") -> float:
    """Return the litres of settled soil a number of pots takes.

    Parameters
    ----------
    vessels : Vessels
        How many of what kind. Trade classes have their true volume.
    path : str
        Where it was typed, for the message.

    Returns
    -------
    float
        Filled volume of all of them, headspace left. [L]

    Raises
    ------
    PelkError
        For a kind that is not known, or one whose litres must be typed.
    """
    kind = kinds().get(vessels.kind)
    if kind is None:
        raise PelkError(
            f"found {vessels.kind!r}, allowed: {', '.join(kinds())}", f"{path}.kind"
        )
    brim = vessels.litres or (kind.litres and kind.litres.typ)
    if not brim:
        raise PelkError(f"say how many litres one {kind.name} holds", f"{path}.litres")
    return vessels.count * brim * kind.fill
