"""What a wet winter would take out of some pots, and what follows."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.core.advice.feeding_plan import AWAKE_C
from pelk.core.crops.demand import HELD_BACK, winter_drainage
from pelk.core.crops.feeding_rules import WinterRule, winter_rule
from pelk.core.vessels.watering import water_taken
from pelk.pots.models import PotGroup

# Rain of a wet winter where nobody says another; a resting pot loses half of an open one's.
RAIN_MM, RESTING, DAYS = "350", 0.5, 30.4
HELD_L_L = 0.5
ELEMENTS = {"N": "nitrate", "K": "potassium", "Mg": "magnesium", "Ca": "calcium", "P": "phosphorus"}


@dataclass(frozen=True, slots=True)
class Winter:
    """What the page says of it."""

    rule: WinterRule
    lost: list[tuple[str, str]]


def winter_of(group: PotGroup, rain_mm: float, *, covered: bool) -> Winter | None:
    """Return what a winter would wash out; None where no month is too cold to grow."""
    normals = group.yard.normals_c
    cold = [m for m in range(1, 13) if normals[m - 1] < AWAKE_C]
    if not cold:
        return None
    dries_mm = RESTING * DAYS * sum(water_taken(normals, m) for m in cold)
    rain = 0.0 if covered else rain_mm
    drained = winter_drainage(rain, dries_mm, group.soil_height_cm)
    rule = winter_rule(drained, HELD_L_L, {"N": 1.0, **HELD_BACK})
    return Winter(rule, [(name, f"{rule.lost[e]:.0%}") for e, name in ELEMENTS.items()])
