"""What stands between a pot and the plate: raw manure, teas, metals."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from pelk.core.base.sources import cites
from pelk.core.crops.groups import Crop

NO_METALS: Mapping[str, Sequence[str]] = {}
TOUCHES_SOIL_DAYS, OFF_SOIL_DAYS = 120, 90


@dataclass(frozen=True, slots=True)
class Manured:
    """Raw manure, or a tea of it, that came to some pots."""

    what: str
    on: date


@dataclass(frozen=True, slots=True)
class Guard:
    """Something to know before a harvest.

    Attributes
    ----------
    until : date or None
        Nothing is eaten before it; None has no day.
    """

    text: str
    source: str
    until: date | None = None


@cites("cfr205", "raw manure 120 days before harvest where the crop touches soil, else 90")
def first_harvest(crop: Crop, manured_on: date) -> date:
    """Return the first day on which a food crop may be harvested after raw manure.

    Parameters
    ----------
    crop : Crop
        The group.
    manured_on : date
        When the manure was mixed in or given.
    """
    touches = "soil-touch" in crop.tags
    return manured_on + timedelta(days=TOUCHES_SOIL_DAYS if touches else OFF_SOIL_DAYS)


def _named(metals: Mapping[str, Sequence[str]]) -> str:
    """Name what the metals are in."""
    names = list(dict.fromkeys(name.lower() for held in metals.values() for name in held))
    return " and ".join([", ".join(names[:-1]), names[-1]] if len(names) > 1 else names)


@cites("nosb2004", "tea on soil, not on what is eaten raw")
def harvest_guards(
    crop: Crop,
    manured: Sequence[Manured],
    *,
    teas: bool,
    metals: Mapping[str, Sequence[str]] = NO_METALS,
) -> list[Guard]:
    """Return what stands before the harvest of some pots; nothing for what is not eaten.

    Parameters
    ----------
    crop : Crop
        The group.
    manured : sequence of Manured
        Raw manure and teas of it.
    teas : bool
        Other teas were given.
    metals : mapping of str to sequence of str
        Metals to watch, and in which of what fills the pots.
    """
    if "food" not in crop.tags:
        return []
    guards = []
    for each in sorted(manured, key=lambda m: m.on, reverse=True)[:1]:
        day = first_harvest(crop, each.on)
        kept = (day - each.on).days
        why = (
            "the crop touches the soil"
            if kept == TOUCHES_SOIL_DAYS
            else "it hangs clear of the soil"
        )
        guards.append(
            Guard(
                f"{each.what} on {each.on:%-d %B %Y}: {kept} days to harvest, because {why}.",
                "7 CFR 205.203(c)",
                day,
            )
        )
    if teas:
        raw = " Nothing that is eaten raw is wetted with it." if "leafy-raw" in crop.tags else ""
        guards.append(
            Guard(
                f"Tea was given: on the soil only, within a day of brewing.{raw} Wash the harvest.",
                "NOSB compost tea task force 2004",
            )
        )
    if metals:
        guards.append(
            Guard(
                f"Watch {', '.join(metals)}: {_named(metals)} in this soil may carry them. Roots "
                "and leaves take up most; a laboratory knows, and local limits count.",
                "Pelk's list of materials",
            )
        )
    guards.append(
        Guard(
            "Wash produce and hands; manure tools stay away from harvest boxes.",
            "food-safety practice",
        )
    )
    return guards
