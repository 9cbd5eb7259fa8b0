"""What a wet winter would take out of some pots, and what follows."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.core.advice.feeding_plan import AWAKE_C
from pelk.core.crops.demand import HELD_BACK, winter_drainage
from pelk.core.crops.feeding_rules import WinterRule, winter_rule
from pelk.core.crops.groups import crop, is_acid_lover
from pelk.core.materials.material import MINERAL_SOIL
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
    holds_soil: bool


def winter_of(group: PotGroup, rain_mm: float, *, covered: bool) -> Winter | None:
    """Return what a winter would wash out; None where no month is too cold to grow."""
    normals = group.yard.normals_c
    cold = [m for m in range(1, 13) if normals[m - 1] < AWAKE_C]
    if not cold:
        return None
    dries_mm = RESTING * DAYS * sum(water_taken(normals, m) for m in cold)
    rain = 0.0 if covered else rain_mm
    drained = winter_drainage(rain, dries_mm, group.soil_height_cm)
    soiled = holds_soil(group)
    rule = winter_rule(
        drained,
        HELD_L_L,
        {"N": 1.0, **HELD_BACK},
        acid_lovers=is_acid_lover(crop(group.crop)),
        holds_soil=soiled,
    )
    told = {e: name for e, name in ELEMENTS.items() if not (soiled and e == "P")}
    return Winter(rule, [(name, f"{rule.lost[e]:.0%}") for e, name in told.items()], soiled)


def holds_soil(group: PotGroup) -> bool:
    """Return whether the pots hold mineral soil, which keeps phosphorus."""
    fill = group.fills.live().filter(batch__isnull=False).order_by("-on", "-pk").first()
    if fill is None or fill.batch is None:
        return False
    _, shelf = fill.batch.plan_as_mixed()
    return any(material.family in MINERAL_SOIL for material in shelf.values())


def is_asleep(group: PotGroup, month: int) -> bool:
    """Return whether it is too cold in a month of this yard for roots to take anything up."""
    return group.yard.normals_c[month - 1] < AWAKE_C
