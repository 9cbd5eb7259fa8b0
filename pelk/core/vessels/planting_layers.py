"""A pot built in layers: base, lifts, planting hole, plant, what comes later, mulch."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import ceil

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites

# Room that stays under the brim for water, above any mulch. Common practice.
RIM_CM = 1.0
# No lift is patted that is deeper; a pot is never filled in one.
LIFT_CM, LEAST_LIFTS = 15.0, 2
# Grit or crocks in a pot with holes lift the wet zone into the roots: a base belongs only in
# tall bags that breathe, and in beds over wet ground.
BASE_CM, TALL_BAG_CM = 4.0, 35.0
FIRST_SHARE = 0.5
# A planting hole goes no deeper than this share of what is filled.
HOLE_SHARE = 0.6
NUMBERS = ("First", "Second", "Third", "Fourth", "Fifth", "Sixth", "Seventh", "Eighth")


class Kind(StrEnum):
    """What a layer is."""

    PLANT = "plant"
    MULCH = "mulch"
    TOP_UP = "top up"
    HOLE = "hole"
    LIFT = "lift"
    BASE = "base"


@dataclass(frozen=True, slots=True)
class Layer:
    """One layer of a pot.

    Attributes
    ----------
    litres : float
        Loose, in one pot; 0 for what has none. [L]
    base_cm, top_cm : float
        Over the bottom of the pot. [cm]
    is_later : bool
        It is kept back.
    """

    kind: Kind
    name: str
    how: str
    litres: float
    base_cm: float
    top_cm: float
    is_later: bool = False


@dataclass(frozen=True, slots=True)
class Built:
    """A pot as it is built, from the top down.

    Attributes
    ----------
    brim_cm, soil_cm : float
        Of the pot; of the soil once all of it is in and settled. [cm]
    lowered_cm : float
        How much lower the soil ends, so that the mulch has room. [cm]
    mix_l, now_l : float
        Loose mix in one pot, in all and now. [L]
    """

    layers: tuple[Layer, ...]
    brim_cm: float
    soil_cm: float
    lowered_cm: float
    mix_l: float
    now_l: float


@dataclass(frozen=True, slots=True, kw_only=True)
class ToBuild:
    """What a pot is built of.

    Attributes
    ----------
    litres, height_cm : float
        Of settled soil, filled as usual. [L], [cm]
    brim_cm : float
        Height of the pot inside. [cm]
    settling, correction : float
        Of the mix; what one's own pots took over what was reckoned. [-]
    mulch_cm : float
        As it was asked for; it is never made less. [cm]
    hole_l : float
        What goes into the planting holes of one pot, loose. [L]
    hole : str
        In words; empty for nothing.
    is_half : bool
        Half of the mix now, the rest later.
    wall, kind : str
        What the pot is made of, and what it is.
    is_wet_below : bool
        A bed over ground that stays wet.
    depth : str
        How deep this crop is set, in words.
    """

    litres: float
    height_cm: float
    brim_cm: float
    settling: float = 0.0
    correction: float = 1.0
    mulch_cm: float = 0.0
    hole_l: float = 0.0
    hole: str = ""
    is_half: bool = False
    wall: str = "plastic"
    kind: str = ""
    is_wet_below: bool = False
    depth: str = ""


@cites("trade", "mix in patted lifts, no crocks; mulch in the room under the brim, one cm left")
@answers
def built(pot: ToBuild) -> Built:
    """Return a pot built in layers, from the top down.

    Parameters
    ----------
    pot : ToBuild
        What it is built of.

    Raises
    ------
    PelkError
        Where mulch, base or hole leave no room for the mix.
    """
    surface_cm2 = pot.litres * 1000 / pot.height_cm
    room = max(pot.brim_cm - pot.height_cm - RIM_CM, 0.0)
    lowered = max(pot.mulch_cm - room, 0.0)
    soil_cm = pot.height_cm - lowered
    base_cm = BASE_CM if _wants_base(pot) else 0.0
    settled = surface_cm2 * (soil_cm - base_cm) / 1000 - pot.hole_l * (1 - pot.settling)
    if soil_cm - base_cm < LIFT_CM / 3 or settled <= 0:
        raise PelkError("that leaves no room for the mix", "mulch" if lowered else "hole")
    loose = pot.correction / (1 - pot.settling)
    now = settled * (FIRST_SHARE if pot.is_half else 1.0)
    now_cm = base_cm + (soil_cm - base_cm) * (FIRST_SHARE if pot.is_half else 1.0)
    layers = [*_lifts(now * loose, base_cm, now_cm)]
    if base_cm:
        how = "coarse bark or chips, level; it keeps the bag off wet ground"
        litres = surface_cm2 * base_cm / 1000
        layers.insert(0, Layer(Kind.BASE, "Base", how, litres, 0.0, base_cm))
    if pot.hole:
        deep = now_cm - min(LIFT_CM, HOLE_SHARE * (now_cm - base_cm))
        layers.append(Layer(Kind.HOLE, "In the planting hole", pot.hole, pot.hole_l, deep, now_cm))
    layers.append(Layer(Kind.PLANT, "Plant", pot.depth, 0.0, now_cm, now_cm))
    if pot.is_half:
        later = "the rest of the same mix, round the stem as it grows; pat down"
        litres = (settled - now) * loose
        layers.append(Layer(Kind.TOP_UP, "Top up", later, litres, now_cm, soil_cm, is_later=True))
    if pot.mulch_cm:
        how = "away from the stem, once the soil is warm to the hand"
        litres = surface_cm2 * pot.mulch_cm / 1000
        top = soil_cm + pot.mulch_cm
        layers.append(Layer(Kind.MULCH, "Mulch", how, litres, soil_cm, top, pot.is_half))
    return Built(
        tuple(reversed(layers)), pot.brim_cm, soil_cm, lowered, settled * loose, now * loose
    )


def _wants_base(pot: ToBuild) -> bool:
    is_tall_bag = pot.wall == "fabric" and pot.height_cm >= TALL_BAG_CM
    return is_tall_bag or (pot.kind == "bed" and pot.is_wet_below)


def _lifts(loose_l: float, base_cm: float, top_cm: float) -> Sequence[Layer]:
    """Return the mix in lifts of one height, from below."""
    count = min(max(ceil((top_cm - base_cm) / LIFT_CM), LEAST_LIFTS), len(NUMBERS))
    tall = (top_cm - base_cm) / count
    lifts = []
    for i in range(count):
        is_top = i == count - 1
        how = "round the roots, pat down" if is_top else "pat with the flat hand, twice"
        name = f"{NUMBERS[i]} lift"
        start = base_cm + i * tall
        lifts.append(Layer(Kind.LIFT, name, how, loose_l / count, start, start + tall))
    return lifts
