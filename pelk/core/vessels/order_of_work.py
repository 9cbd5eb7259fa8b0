"""The order of work at the barrow: what goes in when, with how much water, and why."""

from collections.abc import Sequence
from dataclasses import dataclass

from pelk.core.base.sources import cites
from pelk.core.materials.material import Material

SWELL, DAMP, BLEND, LAYER, TURN, WET, FEEL = (
    "swell",
    "damp",
    "blend",
    "layer",
    "turn",
    "wet",
    "feel",
)
HOLDERS = ("peat", "coir")
BRIGHT = ("perlite", "pumice", "vermiculite", "rice-hulls", "zeolite")
OPENING = ("mineral-aggregate", "bark", "wood")
RICH = ("compost", "castings", "peat", "coir", "manure")
DRY_FAMILIES = ("mineral-aggregate", "rock-dust", "soil", "castings", "compost")
# Coir drinks four to five litres a kilogram as it swells; half an hour in cool water.
SWELL_L_KG, SWELL_MIN, SOAK_MIN = 4.5, 30, 10
# The dry doses are stirred into ten times their volume of a dry part, a quarter of it at most.
CARRIER_TIMES, CARRIER_SHARE = 10.0, 0.25
TURNS = 3
CORRECTION = 0.05

Amounts = tuple[tuple[Material, float], ...]


@dataclass(frozen=True, slots=True)
class MixStep:
    """One step of a load.

    Attributes
    ----------
    key : str
        One of ``swell damp blend layer turn wet feel``.
    why : str
        The reason for it, in a sentence or two.
    parts : tuple of (Material, float)
        What goes in, loose. [L]
    water_l : float
        Water to give. [L]
    minutes : int
        To wait.
    carrier : tuple of (Material, float) or None
        What the dry doses are stirred into. [L]
    """

    key: str
    title: str
    why: str
    parts: Amounts = ()
    water_l: float = 0.0
    minutes: int = 0
    carrier: tuple[Material, float] | None = None


@dataclass(frozen=True, slots=True)
class Correction:
    """What to add to a load that does not feel right, loose. [L]."""

    feels: str
    material: Material | None
    litres: float


@cites("trade", "bricks first, dry peat damped, dry doses in a carrier, layers, three turns")
def mixing_order(
    parts: Sequence[tuple[Material, float]], doses_l: float, water_l: float
) -> list[MixStep]:
    """Return the steps of a load in their order.

    Parameters
    ----------
    parts : sequence of (Material, float)
        What goes into this load, loose. [L]
    doses_l : float
        Loose volume of the dry doses together. [L]
    water_l : float
        Water that brings the load to a wrung-out sponge. [L]

    Returns
    -------
    list of MixStep
        Without those that this load has no use for.
    """
    bricks = tuple((m, v) for m, v in parts if m.loose_l_per_kg and m.family == "coir")
    holders = tuple((m, v) for m, v in parts if m.family in HOLDERS and (m, v) not in bricks)
    rest = tuple((m, v) for m, v in parts if m.family not in HOLDERS)
    swelling = sum(v / m.loose_l_per_kg * SWELL_L_KG for m, v in bricks if m.loose_l_per_kg)
    # What the bricks drink is part of the water that makes the load a sponge.
    left = max(water_l - swelling, 0.0)
    damping = left / 2 if holders else 0.0
    steps = []
    if bricks:
        why = (
            "Measure a brick after it has swollen, not before. Break it apart when it is "
            "soft; warm water does it in half the time."
        )
        steps.append(MixStep(SWELL, "Swell the bricks", why, bricks, swelling, SWELL_MIN))
    if holders:
        why = "Dry peat sheds water: any that is dry now stays dry in the heap for weeks."
        title = "Damp the water-holding parts"
        steps.append(MixStep(DAMP, title, why, holders, damping, SOAK_MIN))
    if doses_l > 0:
        why = (
            "A spoonful will not spread through a barrow. Stirred into a bucket of a dry part "
            "first, it will."
        )
        carrier = _carrier(rest or tuple(parts), doses_l)
        steps.append(MixStep(BLEND, "Blend the dry doses", why, carrier=carrier))
    if rest:
        why = (
            "Spread thin layers and scatter the blend between them: it then mixes in half "
            "the turns."
        )
        steps.append(MixStep(LAYER, "Layer it up", why, rest))
    steps.append(MixStep(TURN, "Turn it over", _turning(parts)))
    why = (
        "Counted from what moisture the parts bring by their analysis. Give it in three goes and "
        "squeeze between: it holds, and one or two drops come."
    )
    steps.append(MixStep(WET, "Wet to a wrung-out sponge", why, (), left - damping))
    why = "Drop a handful: it should break up where it lands, not thud and not spread."
    steps.append(MixStep(FEEL, "Feel it", why))
    return steps


def _carrier(parts: Amounts, doses_l: float) -> tuple[Material, float] | None:
    if not parts:
        return None
    dry = [p for p in parts if p[0].family in DRY_FAMILIES] or list(parts)
    material, litres = max(dry, key=lambda p: p[1])
    return material, min(CARRIER_TIMES * doses_l, CARRIER_SHARE * litres)


def _turning(parts: Sequence[tuple[Material, float]]) -> str:
    said = (
        f"{TURNS} times, from the bottom, the edges and the corners into the middle. Break "
        "clods, pick out plastic and roots."
    )
    bright = [m.spoken_name for m, _ in parts if m.slug in BRIGHT]
    if bright:
        said += f" It is even when {bright[0]} shows alike everywhere."
    return said


@cites(
    "trade", "a heavy mix is opened with a twentieth of aggregate, a thin one filled with compost"
)
def corrections(parts: Sequence[tuple[Material, float]], mixed_l: float) -> list[Correction]:
    """Return what to add when a load feels heavy, and when it feels thin.

    Parameters
    ----------
    parts : sequence of (Material, float)
        What is in the load, loose. [L]
    mixed_l : float
        What the load makes. [L]
    """
    litres = CORRECTION * mixed_l
    return [
        Correction("heavy", _most_of(parts, OPENING), litres),
        Correction("thin", _most_of(parts, RICH), litres),
    ]


def _most_of(parts: Sequence[tuple[Material, float]], families: Sequence[str]) -> Material | None:
    candidates = [(v, m) for m, v in parts if m.family in families]
    return max(candidates, key=lambda pair: pair[0])[1] if candidates else None
