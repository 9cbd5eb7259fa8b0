"""Drain tests, how much air a pot wants, and how much aggregate gives it."""

from dataclasses import dataclass

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.limits import limit
from pelk.core.base.sources import cites
from pelk.core.crops.groups import Crop, is_acid_lover
from pelk.core.materials.material import Material
from pelk.core.vessels.structure import structure_of
from pelk.core.vessels.volumes import blending_loss

# Air after draining that a kind of plant wants in a pot 20 cm tall.
WANTED_AIR = {
    "seed": 0.15,
    "vegetable": 0.17,
    "houseplant": 0.20,
    "woody": 0.22,
    "ericaceous": 0.22,
    "succulent": 0.28,
    "epiphyte": 0.40,
}
AIR_OF_GROUP = {
    "seedling": "seed",
    "leafy": "vegetable",
    "fruiting": "vegetable",
    "roots": "vegetable",
    "legumes": "vegetable",
    "alliums": "vegetable",
    "annuals": "vegetable",
    "med-herbs": "houseplant",
    "foliage": "houseplant",
    "citrus": "woody",
    "ericaceous": "ericaceous",
    "lean": "succulent",
}
POTS = {
    "plastic": 0.0,
    "glazed": 0.0,
    "fabric": -0.03,
    "terracotta": -0.02,
    "wood": -0.01,
    "bed": -0.03,
    "self-watering": 0.04,
}
HABITS = {"over": 0.05, "normal": 0.0, "under": -0.04}
MOST_AGGREGATE = 0.7
LEAST_AIR, MOST_AIR = 0.06, 0.50
POINT_A_SEASON = 0.03


@cites("trade", "under a tenth of air roots drown")
def least_air(crop: Crop) -> float:
    """Return the air under which roots of a crop drown.

    Parameters
    ----------
    crop : Crop
        What grows.

    Returns
    -------
    float
        After draining. [L/L]
    """
    return limit("air", "harms_under_acid_lovers" if is_acid_lover(crop) else "harms_under")


@dataclass(frozen=True, slots=True)
class DrainTest:
    """What a drain test of a filled pot comes to. [L/L], [L/L], [L/L], [kg/L]."""

    air_filled: float
    container_capacity: float
    total_porosity: float
    dry_density_kg_l: float


@answers
def drain_test(volume_ml: float, drained_ml: float, wet_g: float, dry_g: float) -> DrainTest:
    """Return the air and water of a mix from a drain test.

    Parameters
    ----------
    volume_ml, drained_ml : float
        What the pot holds to the line of the mix; what ran out in an hour. [mL]
    wet_g, dry_g : float
        The mix drained, and dried. [g]

    Returns
    -------
    DrainTest
        For the height of that pot only.

    Raises
    ------
    PelkError
        When more ran out than went in, or the dry weight is above the wet.
    """
    if volume_ml <= 0 or not 0 <= drained_ml <= volume_ml:
        raise PelkError("what drained must be between nothing and the pot", "drained_ml")
    if not 0 < dry_g <= wet_g:
        raise PelkError("the dry weight must be above zero and under the wet", "dry_g")
    air, water = drained_ml / volume_ml, (wet_g - dry_g) / volume_ml
    return DrainTest(air, water, air + water, dry_g / volume_ml)


@cites("pelk", "by plant, height, pot and watering habit")
@cites("fonteno", "15 to 20 % at 15 cm, 10 to 15 at 10 cm, plugs 3 to 10")
@cites("bmp_nursery", "nursery air 10 to 30 %")
@answers
def wanted_air(
    plant: str,
    pot: str = "plastic",
    habit: str = "normal",
    height_cm: float = 20.0,
    seasons: int = 1,
) -> float:
    """Return the air that a mix should hold after draining, at planting.

    Parameters
    ----------
    plant : str
        One of `WANTED_AIR`.
    pot : str
        One of `POTS`.
    habit : str
        ``over``, ``normal`` or ``under``.
    height_cm : float
        Of the mix in the pot. [cm]
    seasons : int
        That the mix must last. [-]

    Returns
    -------
    float
        Air-filled porosity. [L/L]
    """
    for value, allowed, path in (
        (plant, WANTED_AIR, "plant"),
        (pot, POTS, "pot"),
        (habit, HABITS, "habit"),
    ):
        if value not in allowed:
            raise PelkError(f"found {value!r}, allowed: {', '.join(allowed)}", path)
    tall = min(max((height_cm / 20) ** 0.35, 0.5), 1.15)
    lasting = POINT_A_SEASON * min(max(seasons - 1, 0), 2)
    air = WANTED_AIR[plant] * tall + POTS[pot] + HABITS[habit] + lasting
    return min(max(air, LEAST_AIR), MOST_AIR)


@answers
def aggregate_for(
    base: list[tuple[Material, float]], aggregate: Material, height_cm: float, air: float
) -> float | None:
    """Return the share of an aggregate that gives a mix its air.

    Parameters
    ----------
    base : list of (Material, float)
        The mix without it, shares by loose volume. [-]
    aggregate : Material
        What opens it.
    height_cm : float
        Of the mix in the pot. [cm]
    air : float
        Air-filled porosity wanted. [L/L]

    Returns
    -------
    float or None
        Share of the loose volume; None when this base cannot reach it. [-]
    """
    total = sum(x for _, x in base)

    def short(share: float) -> float:
        blend = [(m, x / total * (1 - share)) for m, x in base] + [(aggregate, share)]
        return structure_of(blend, blending_loss(blend), height_cm).air_filled - air

    if short(0.0) >= 0:
        return 0.0
    if short(MOST_AGGREGATE) < 0:
        return None
    low, high = 0.0, MOST_AGGREGATE
    for _ in range(30):
        middle = (low + high) / 2
        low, high = (low, middle) if short(middle) >= 0 else (middle, high)
    return high


@cites("arithmetic", "the saturated zone keeps its height; the column above gets shorter")
@answers
def air_over_gravel(
    parts: list[tuple[Material, float]], loss: float, height_cm: float, gravel_cm: float
) -> float:
    """Return the air of a mix that stands on a layer of gravel in the same pot.

    Water enters gravel only at near-zero suction, so the wet zone sits above it.

    Parameters
    ----------
    parts : list of (Material, float)
        Materials with their shares of loose volume.
    loss : float
        Blending loss. [-]
    height_cm, gravel_cm : float
        Of the pot, and of the gravel in it. [cm]

    Returns
    -------
    float
        Air-filled porosity of the mix. [L/L]
    """
    if not 0 <= gravel_cm < height_cm:
        raise PelkError("the gravel must leave room for the mix", "gravel_cm")
    return structure_of(parts, loss, height_cm - gravel_cm).air_filled


def pot_advice(pot: str, habit: str) -> str:
    """Return one sentence on what a pot and a watering habit ask of the mix."""
    more = POTS[pot] + HABITS[habit]
    if more > 0.02:
        return "More aggregate: this pot stays wet longer, and air must come from the mix."
    if more < -0.02:
        return "Less aggregate, more compost or peat: this pot dries from its sides."
    return "The usual aggregate will do."
