"""How long a pot's water lasts: what it holds against what the month takes."""

from collections.abc import Sequence
from dataclasses import dataclass

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.materials.material import Range

# Daylight of a day as a share of the year's, in the coldest and the warmest month of a
# yard with summer and winter; where they hardly differ it stays in the middle.
DAYLIGHT, DAYLIGHT_SPAN, SEASONAL_C = 0.27, 0.08, 12.0
# Leaves spread past the rim, and pots lose water through their walls.
SPREAD = (0.8, 1.3, 2.2)
# Of an open surface's loss, what a square metre of leaves loses: half grown to closed. Judgement.
CANOPY = (0.5, 0.8, 1.1)
WALLS = {"plastic": 1.0, "glazed": 1.0, "wood": 1.1, "clay": 1.3, "fabric": 1.5, "ground": 0.9}
# Pots are watered when half of what they hold is gone, sooner or later by habit.
TAKEN = {"over": 0.3, "normal": 0.5, "under": 0.7}
WATER_KG_L = 1.0
LEAST_MM = 0.3


@dataclass(frozen=True, slots=True)
class PotWeight:
    """What one pot weighs. [kg].

    Attributes
    ----------
    watered_kg, thirsty_kg : float
        Drained after watering, and when it wants water again.
    between_l : float
        Water between the two. [L]
    """

    watered_kg: float
    thirsty_kg: float
    between_l: float


@cites("arithmetic", "dry weight and held water; thirsty once the habit's share of it is gone")
@answers
def pot_weight(
    pot_l: float, dry_kg_l: float, capacity: float, habit: str = "normal", pot_kg: float = 0.0
) -> PotWeight:
    """Return what a pot weighs watered and thirsty.

    Parameters
    ----------
    pot_l : float
        Settled soil. [L]
    dry_kg_l : float
        Dry weight of a litre. [kg/L]
    capacity : float
        Water held after draining. [L/L]
    habit : str
        Key of `TAKEN`.
    pot_kg : float
        Of the pot and the plant. [kg]
    """
    if habit not in TAKEN:
        raise PelkError(f"found {habit!r}, allowed: {', '.join(TAKEN)}", "habit")
    if pot_l <= 0:
        raise PelkError("found no soil, allowed: over 0 L", "pot_l")
    between = TAKEN[habit] * capacity * pot_l
    watered = pot_kg + pot_l * (dry_kg_l + capacity * WATER_KG_L)
    return PotWeight(watered, watered - between * WATER_KG_L, between)


@cites(
    "fao_training3",
    "ET0 = p (0.46 T + 8), recalled; p from the span of the yard's months, a judgement",
)
def water_taken(normals_c: Sequence[float], month: int) -> float:
    """Return what a month's day takes from an open, well-watered surface.

    Parameters
    ----------
    normals_c : sequence of float
        Mean of each month, January first. [°C]
    month : int
        1 to 12.

    Returns
    -------
    float
        [mm/d]
    """
    if len(normals_c) != 12 or not 1 <= month <= 12:
        raise PelkError("found no such month, allowed: 1 to 12 of twelve means", "month")
    low, high = min(normals_c), max(normals_c)
    season = 0.0
    if high > low:
        season = 2 * (normals_c[month - 1] - low) / (high - low) - 1
    share = DAYLIGHT + DAYLIGHT_SPAN * season * min((high - low) / SEASONAL_C, 1.0)
    return max(share * (0.46 * normals_c[month - 1] + 8), LEAST_MM)


@cites(
    "pelk",
    "water between waterings over what surface, leaves and walls lose; the spread is a judgement",
)
@answers
def days_between(
    between_l: float,
    surface_cm2: float,
    taken_mm: float,
    made_of: str = "plastic",
    measured: float = 1.0,
    canopy_m2: float = 0.0,
) -> Range:
    """Return how many days lie between waterings.

    Parameters
    ----------
    between_l : float
        Water between watered and thirsty. [L]
    surface_cm2 : float
        Of the soil. [cm2]
    taken_mm : float
        By the day. [mm/d]
    made_of : str
        Key of `WALLS`.
    measured : float
        This grower's own days over the days reckoned. [-]
    canopy_m2 : float
        Of all grown plants in one pot; where it spreads past the rim, leaves count. [m2]

    Returns
    -------
    Range
        Fewest, about, and most. [d]
    """
    if made_of not in WALLS:
        raise PelkError(f"found {made_of!r}, allowed: {', '.join(WALLS)}", "made_of")
    surface_m2 = surface_cm2 / 10_000
    litres = taken_mm * surface_m2 * WALLS[made_of]
    by_plants = [closed * canopy_m2 / surface_m2 for closed in CANOPY]
    leaves = [max(pair) for pair in zip(SPREAD, by_plants, strict=True)]
    slow, usual, fast = (between_l / (litres * many) * measured for many in leaves)
    return Range(fast, usual, slow)
