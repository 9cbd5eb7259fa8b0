"""Vessels by their inside measures: round, square, boxes, troughs, bags, baskets.

Headspace comes off the height first, and the width at the fill line is the vessel's
own there: it costs more than its share.
"""

from math import pi, sqrt

from pelk.core.base.errors import OutOfRangeError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites

BAG_FILL, LINER = 0.90, 0.90
MOST_CM = 1000.0


@cites("trade", "1.5 cm small, 2.5 cm middling, 4.5 cm large")
@answers
def usual_headspace(litres: float) -> float:
    """Return the headspace that a pot of a size is given by custom.

    Parameters
    ----------
    litres : float
        Of the pot. [L]

    Returns
    -------
    float
        Headspace. [cm]
    """
    if litres < 3:
        return 1.5
    return 2.5 if litres <= 30 else 4.5


def _filled(height_cm: float, headspace_cm: float, **sides: float) -> float:
    """Return the filled height, or say which measure cannot be."""
    for name, value in {"height_cm": height_cm, **sides}.items():
        if not 0 < value <= MOST_CM:
            raise OutOfRangeError(f"found {value:g}, allowed: over 0 to {MOST_CM:g} cm", name)
    if not 0 <= headspace_cm < height_cm:
        raise OutOfRangeError(
            f"found {headspace_cm:g}, allowed: from 0 to under the height", "headspace_cm"
        )
    return height_cm - headspace_cm


@cites("arithmetic", "circle times height")
@answers
def cylinder(diameter_cm: float, height_cm: float, headspace_cm: float = 0.0) -> float:
    """Return the volume of a straight round pot.

    Parameters
    ----------
    diameter_cm, height_cm : float
        Inside. [cm]
    headspace_cm : float
        Left empty at the top. [cm]

    Returns
    -------
    float
        Volume. [L]
    """
    fill = _filled(height_cm, headspace_cm, diameter_cm=diameter_cm)
    return pi * diameter_cm**2 / 4 * fill / 1000


@cites("arithmetic", "frustum of a cone, pi h/12 (D2 + D d + d2)")
@answers
def tapered(top_cm: float, bottom_cm: float, height_cm: float, headspace_cm: float = 0.0) -> float:
    """Return the volume of a round pot wider at the top.

    Parameters
    ----------
    top_cm, bottom_cm, height_cm : float
        Diameters and height, inside. [cm]
    headspace_cm : float
        Left empty at the top. [cm]

    Returns
    -------
    float
        Volume. [L]

    Examples
    --------
    >>> round(tapered(25, 18, 22), 3), round(tapered(25, 18, 22, 2.5), 3)
    (8.058, 6.869)
    """
    fill = _filled(height_cm, headspace_cm, top_cm=top_cm, bottom_cm=bottom_cm)
    line = bottom_cm + (top_cm - bottom_cm) * fill / height_cm
    return pi * fill / 12 * (line**2 + line * bottom_cm + bottom_cm**2) / 1000


@cites("arithmetic", "frustum of a pyramid")
@answers
def tapered_square(
    top_cm: float, bottom_cm: float, height_cm: float, headspace_cm: float = 0.0
) -> float:
    """Return the volume of a square pot wider at the top.

    Parameters
    ----------
    top_cm, bottom_cm, height_cm : float
        Sides and height, inside. [cm]
    headspace_cm : float
        Left empty at the top. [cm]

    Returns
    -------
    float
        Volume. [L]
    """
    fill = _filled(height_cm, headspace_cm, top_cm=top_cm, bottom_cm=bottom_cm)
    line = bottom_cm + (top_cm - bottom_cm) * fill / height_cm
    above, below = line**2, bottom_cm**2
    return fill / 3 * (above + below + sqrt(above * below)) / 1000


@cites("arithmetic", "length times width times depth")
@answers
def box(length_cm: float, width_cm: float, height_cm: float, headspace_cm: float = 0.0) -> float:
    """Return the volume of a box or a bed, boards taken off.

    Parameters
    ----------
    length_cm, width_cm, height_cm : float
        Inside. [cm]
    headspace_cm : float
        Left empty at the top. [cm]

    Returns
    -------
    float
        Volume. [L]
    """
    fill = _filled(height_cm, headspace_cm, length_cm=length_cm, width_cm=width_cm)
    return length_cm * width_cm * fill / 1000


@cites("arithmetic", "prismoidal rule, exact for sloped sides")
@answers
def trough(
    top_cm: tuple[float, float],
    bottom_cm: tuple[float, float],
    height_cm: float,
    headspace_cm: float = 0.0,
) -> float:
    """Return the volume of a trough with sloped sides.

    Parameters
    ----------
    top_cm, bottom_cm : tuple of float
        Length and width at the rim and at the base, inside. [cm]
    height_cm : float
        Inside. [cm]
    headspace_cm : float
        Left empty at the top. [cm]

    Returns
    -------
    float
        Volume. [L]
    """
    fill = _filled(
        height_cm,
        headspace_cm,
        length_cm=top_cm[0],
        width_cm=top_cm[1],
        bottom_length_cm=bottom_cm[0],
        bottom_width_cm=bottom_cm[1],
    )
    line = [b + (t - b) * fill / height_cm for t, b in zip(top_cm, bottom_cm, strict=True)]
    middle = [(a + b) / 2 for a, b in zip(line, bottom_cm, strict=True)]
    areas = line[0] * line[1] + 4 * middle[0] * middle[1] + bottom_cm[0] * bottom_cm[1]
    return fill / 6 * areas / 1000


@cites("trade", "a fabric bag is filled to nine tenths of its cylinder")
@answers
def fabric_bag(diameter_cm: float, height_cm: float) -> float:
    """Return the volume of a fabric bag as it is filled.

    Parameters
    ----------
    diameter_cm, height_cm : float
        Nominal. [cm]

    Returns
    -------
    float
        Volume. [L]
    """
    return cylinder(diameter_cm, height_cm) * BAG_FILL


@cites("arithmetic", "cone, or half a sphere")
@cites("trade", "a liner takes a tenth")
@answers
def basket(diameter_cm: float, height_cm: float | None = None, *, lined: bool = False) -> float:
    """Return the volume of a hanging basket.

    Parameters
    ----------
    diameter_cm : float
        At the rim. [cm]
    height_cm : float or None
        Of a cone; None is half a sphere. [cm]
    lined : bool
        With moss or felt inside.

    Returns
    -------
    float
        Volume. [L]
    """
    _filled(height_cm or diameter_cm, 0.0, diameter_cm=diameter_cm)
    half = pi * diameter_cm**3 / 12 if height_cm is None else pi * diameter_cm**2 * height_cm / 12
    return half / 1000 * (LINER if lined else 1.0)


@cites("arithmetic", "diameter from the circumference")
@answers
def diameter_of(circumference_cm: float) -> float:
    """Return the diameter of a pot measured around.

    Parameters
    ----------
    circumference_cm : float
        Around. [cm]

    Returns
    -------
    float
        Diameter. [cm]
    """
    return circumference_cm / pi
