"""Pots by the volume they truly hold, not by the number on them."""

from dataclasses import dataclass
from functools import cache
from math import pi, sqrt

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.base.tables import number, rows
from pelk.core.materials.material import Range
from pelk.core.plans.plan import Vessels

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
        None if typ is None else Range(float(row["litres_low"]), typ, float(row["litres_high"]))
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
        raise PelkError(f"found {vessels.kind!r}, allowed: {', '.join(kinds())}", f"{path}.kind")
    brim = vessels.litres or (kind.litres and kind.litres.typ)
    if not brim:
        raise PelkError(f"say how many litres one {kind.name} holds", f"{path}.litres")
    return vessels.count * brim * kind.fill


@cites("arithmetic", "frustum of a round pot; length by width by height, narrowed alike")
@answers
def volume_by_size(
    top_cm: float, height_cm: float, bottom_cm: float | None = None, length_cm: float | None = None
) -> float:
    """Return what a vessel holds to the brim, by its inside.

    Parameters
    ----------
    top_cm, height_cm : float
        Across the top, and high. [cm]
    bottom_cm : float, optional
        Across the bottom; as wide as the top where it is not said. [cm]
    length_cm : float, optional
        Of the top of a trough, a box or a bed; round without it. [cm]

    Returns
    -------
    float
        [L]
    """
    for name, value in (
        ("top_cm", top_cm),
        ("height_cm", height_cm),
        ("bottom_cm", bottom_cm),
        ("length_cm", length_cm),
    ):
        if value is not None and value <= 0:
            raise PelkError(f"found {value:g} cm, allowed: over 0", name)
    bottom = top_cm if bottom_cm is None else bottom_cm
    if length_cm is None:
        upper, lower = pi / 4 * top_cm**2, pi / 4 * bottom**2
    else:
        upper, lower = top_cm * length_cm, bottom * length_cm * bottom / top_cm
    return height_cm / 3 * (upper + lower + sqrt(upper * lower)) / 1000
