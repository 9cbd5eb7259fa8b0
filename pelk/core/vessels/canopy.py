"""What leaves and sun take from a pot, what rain brings, and what drains."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.sources import cites
from pelk.core.vessels.watering import DAYLIGHT, WALLS

Floats = NDArray[np.float64]

INDOORS = 0.16
USUAL_LEACHING, SAUCER_LEACHING, MOST_LEACHING = 0.15, 0.0, 0.8
MOST_LEAF = 2.2
THIRSTY = 0.35


@cites("fao_training3", "ET0 = p (0.46 T + 8), recalled")
def evaporation_mm(temperature_c: Floats, daylight: float = DAYLIGHT) -> Floats:
    """Return what a day takes from an open, well-watered surface.

    Parameters
    ----------
    temperature_c : array
        Of each day. [°C]
    daylight : float
        Of the day as a share of the year's; indoors 0.16. [-]

    Returns
    -------
    array
        [mm/d]
    """
    return np.asarray(np.maximum(daylight * (0.46 * temperature_c + 8), 0.0))


@cites("arithmetic", "mm over a depth of 10 mm to the litre and square decimetre")
@cites("pelk", "leaves 0.8, 1.3 or 2.2 of the surface, by how far they cover it; walls add")
def taken_l_l(
    evaporated_mm: Floats, leaf: Floats, cover: Floats, height_cm: float, wall: str
) -> Floats:
    """Return what a litre of soil loses to leaves and air in a day.

    Parameters
    ----------
    evaporated_mm : array
        Of an open surface. [mm/d]
    leaf, cover : array
        Leaves over the surface; how far they are grown. [-]
    height_cm : float
        Of the soil. [cm]
    wall : str
        Key of `WALLS`.

    Returns
    -------
    array
        [L/L/d]
    """
    lost = evaporated_mm * leaf * cover / (10 * height_cm)
    return np.asarray(lost * WALLS.get(wall, 1.0))


@dataclass(frozen=True, slots=True)
class DailyWater:
    """Water of each day. [L/L/d].

    Attributes
    ----------
    given, rain, drained : array
        From the can, from the sky, out below.
    thirsty : array of bool
        Days on which the plant wanted more than there was.
    """

    given: Floats
    rain: Floats
    drained: Floats
    thirsty: NDArray[np.bool_]


@cites("arithmetic", "what is given covers what leaves take, and a share more drains")
def daily_water(
    taken: Floats, rain: Floats, leaching: float, given: float | None = None
) -> DailyWater:
    """Return what is given and what drains, day by day.

    Parameters
    ----------
    taken, rain : array
        By leaves and air; from the sky. [L/L/d]
    leaching : float
        Share of what is given that drains. [-]
    given : float, optional
        What the grower says he gives; without it as much as it needs. [L/L/d]
    """
    held = min(max(leaching, 0.0), MOST_LEACHING)
    if given is None:
        need = np.maximum(taken - rain, 0.0) / (1 - held)
        return DailyWater(
            need,
            rain,
            held * need + np.maximum(rain - taken, 0.0),
            np.zeros(len(taken), dtype=bool),
        )
    always = np.full_like(taken, given)
    return DailyWater(always, rain, np.maximum(always + rain - taken, 0.0), always + rain < taken)
