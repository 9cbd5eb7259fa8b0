"""How much life a mix starts with: decomposers, nitrifiers, sulfur bacteria."""

from collections.abc import Sequence

from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material


@cites("arithmetic", "live material by share of loose volume")
def live_share(parts: Sequence[tuple[Material, float]]) -> float:
    """Return how much life the parts bring, live compost counting as 1.

    Parameters
    ----------
    parts : sequence of (Material, float)
        Materials with their shares of loose volume.

    Returns
    -------
    float
        Inoculum. [-]
    """
    return sum(share * material.inoculum for material, share in parts)


@cites("pelk", "share of a start-up population; half where sulfur was used before")
@answers
def sulfur_start(microbes: float) -> float:
    """Return the sulfur bacteria at the start, as a share of the most there can be.

    Parameters
    ----------
    microbes : float
        Live material by share of volume. [-]

    Returns
    -------
    float
        Start. [-]
    """
    return 0.02 + 0.13 * min(1.0, microbes / 0.10)


@cites("pelk", "sterile mixes lag; 10 % live compost starts nearly full")
@answers
def decomposer_start(inoculum: float) -> float:
    """Return the decomposers at the start, as a share of the most there can be.

    Parameters
    ----------
    inoculum : float
        Live material by share of volume. [-]

    Returns
    -------
    float
        Start. [-]
    """
    return min(1.0, 0.05 + 9 * inoculum)


@cites("pelk", "bagged mixes hold almost no nitrifiers")
@answers
def nitrifier_start(inoculum: float) -> float:
    """Return the nitrifiers at the start, as a share of the most there can be.

    Parameters
    ----------
    inoculum : float
        Live material by share of volume. [-]

    Returns
    -------
    float
        Start. [-]
    """
    return min(1.0, 0.005 + 5 * inoculum)
