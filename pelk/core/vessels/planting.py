"""Planting: how much mix pots take now and later, the mulch, what one's own filling teaches."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import pi, sqrt
from statistics import median

from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.crops.groups import Crop
from pelk.core.crops.named import agreed, crops_named, family_of
from pelk.core.plans.plan import Vessels
from pelk.core.vessels.trade_pots import filled_volume

# Half of it under the roots, the rest round them once the crown stands level.
FIRST_SHARE = 0.5
MULCH_CM = 3.0
# The first watering, until it runs out below: common practice.
WATER_L_L = 0.25
# One's own filling is believed from this many on, and never further off than this.
ENOUGH_FILLS, CORRECTION_SPAN = 2, (0.7, 1.4)
NEWEST = 5
# Granules of root fungi a plant: one to two teaspoons, common practice.
INOCULANT_ML = (5.0, 10.0)
# What the usual granules of arbuscular fungi do on other roots.
OTHER_FUNGI = {
    "none": "no fungus that is sold lives on its roots. Save the inoculant.",
    "ericoid": "only ericoid fungi live on its roots. Ordinary granules do nothing.",
    "ecto": "only ectomycorrhizal fungi live on its roots. Ordinary granules do nothing.",
}
WITHOUT_FUNGI = frozenset(["brassicaceae", "amaranthaceae", "ericaceae"])


@dataclass(frozen=True, slots=True)
class PlantingNeed:
    """What some pots take. [L].

    Attributes
    ----------
    mix_l : float
        Loose mix in all, before it settles.
    first_l, later_l : float
        Of it now under the roots, and round them.
    mulch_l : float
        On top of all of them.
    water_l : float
        For the first watering.
    surface_m2 : float
        Of all of them. [m2]
    """

    mix_l: float
    first_l: float
    later_l: float
    mulch_l: float
    water_l: float
    surface_m2: float


@cites(
    "trade",
    "a pot is filled to 0.88 of its brim; half first, mulch 3 cm, a quarter of its volume of water",
)
@answers
def planting_need(
    vessels: Vessels,
    settling: float,
    correction: float = 1.0,
    mulch_cm: float = MULCH_CM,
    surface_cm2: float | None = None,
) -> PlantingNeed:
    """Return what some pots take to be planted.

    Parameters
    ----------
    vessels : Vessels
        How many of what kind.
    settling : float
        Share the mix loses as it settles. [-]
    correction : float
        What this grower's pots took over what was reckoned. [-]
    mulch_cm : float
        Depth. [cm]
    surface_cm2 : float, optional
        Of the soil in one; without it a pot is taken as high as it is wide. [cm2]
    """
    settled = filled_volume(vessels)
    mix = settled / (1 - settling) * correction
    each = settled / vessels.count
    surface = (surface_cm2 or surface_of(each)) * vessels.count
    mulch = surface * mulch_cm / 1000
    return PlantingNeed(
        mix,
        FIRST_SHARE * mix,
        (1 - FIRST_SHARE) * mix,
        mulch,
        WATER_L_L * settled,
        surface / 10_000,
    )


@cites("arithmetic", "a pot as high as it is wide")
@answers
def surface_of(litres: float) -> float:
    """Return the surface of a pot of this volume, taken as high as it is wide.

    Parameters
    ----------
    litres : float
        Of soil in it. [L]

    Returns
    -------
    float
        [cm2]
    """
    width_cm = (4 * litres * 1000 / pi) ** (1 / 3)
    return pi / 4 * width_cm**2


@cites("arithmetic", "a round surface")
@answers
def diameter_of(surface_cm2: float) -> float:
    """Return the diameter of a round surface.

    Parameters
    ----------
    surface_cm2 : float
        [cm2]

    Returns
    -------
    float
        [cm]
    """
    return sqrt(4 * surface_cm2 / pi)


@cites("arithmetic", "volume over height: the mean of top and bottom")
@answers
def surface_by_height(litres: float, height_cm: float) -> float:
    """Return the surface of soil of this volume and height, as a mean of top and bottom.

    Parameters
    ----------
    litres : float
        Of soil. [L]
    height_cm : float
        How high it stands. [cm]

    Returns
    -------
    float
        [cm2]
    """
    return litres * 1000 / height_cm


@cites("arithmetic", "the middle of what one's own last fillings took over what was reckoned")
def own_correction(ratios: Sequence[float]) -> float:
    """Return what this grower's pots take over what is reckoned.

    Parameters
    ----------
    ratios : sequence of float
        Taken over reckoned, the newest first. [-]

    Returns
    -------
    float
        One until two fillings are known; the middle of the newest five from then on. [-]
    """
    if len(ratios) < ENOUGH_FILLS:
        return 1.0
    low, high = CORRECTION_SPAN
    return min(max(median(ratios[:NEWEST]), low), high)


@cites(
    "trade",
    "1 to 2 teaspoons of granules at the roots of each plant; none for plants that take no part",
)
def inoculant_for(
    crop: Crop, family: str, plant: str = ""
) -> tuple[tuple[float, float] | None, str]:
    """Return the root inoculant of one plant, and what to know of it.

    Parameters
    ----------
    crop : Crop
        The group.
    family : str
        Of the plant, as it is written; empty where it is not known.
    plant : str
        Its name, as it is written.

    Returns
    -------
    tuple
        Least and most granules [mL], or None where none helps; and a sentence.
    """
    if "ericaceous" in crop.tags:
        return None, "Acid lovers do not partner with ordinary root fungi: no inoculant needed."
    fungus = agreed(crops_named(plant), "mycorrhiza") if plant else ""
    if fungus in OTHER_FUNGI:
        return None, f"{plant}: {OTHER_FUNGI[fungus]}"
    if family_of(family).lower() in WITHOUT_FUNGI:
        return None, f"{family} lives with no root fungus: save the inoculant."
    if crop.slug == "legumes":
        return (
            None,
            "Beans and peas: coat the moist seed with the bacteria of their own group, just "
            "before sowing.",
        )
    return (
        INOCULANT_ML,
        "It must touch the roots, and a lot of soluble phosphorus stops it working. Follow its "
        "label first.",
    )
