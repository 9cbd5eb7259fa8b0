"""What stands before the harvest of some pots, from what filled them and what was given."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from pelk.core.crops.groups import crop
from pelk.core.crops.harvest_guard import Guard, Manured, harvest_guards
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.shelf.selectors import known_materials

METAL_NAMES = {
    "As": "arsenic",
    "Cd": "cadmium",
    "Pb": "lead",
    "Zn": "zinc",
    "Cu": "copper",
    "Ni": "nickel",
    "Cr": "chromium",
    "Hg": "mercury",
}


def guards_of(group: PotGroup, fills: Sequence[PotFill], deeds: Sequence[PotDeed]) -> list[Guard]:
    """Return what to know before a group is harvested; nothing where it is not eaten."""
    wanted = crop(group.crop)
    if "food" not in wanted.tags:
        return []
    manured = [
        Manured("Raw manure was given", d.on) for d in deeds if d.kind == PotDeed.Kind.MANURE
    ]
    teas = [d for d in deeds if d.kind == PotDeed.Kind.TEA]
    manured += [Manured("Tea of raw manure was given", d.on) for d in teas if d.figures.get("raw")]
    fed = [d for d in deeds if d.event is not None and "material" in d.event.data]
    given = known_materials(group.yard, {d.event.data["material"] for d in fed if d.event})
    for deed in fed:
        slug = deed.event.data["material"] if deed.event else ""
        if slug in given and "manure-raw" in given[slug].core.tags:
            manured.append(Manured(f"{given[slug].short_name} was given", deed.on))
    metals: dict[str, list[str]] = {}
    for fill in fills:
        if fill.batch is None:
            continue
        for material in fill.batch.plan()[1].values():
            for watched in material.metals_watched:
                metal = METAL_NAMES.get(watched.split(" ")[0], watched.split(" ")[0])
                metals.setdefault(metal, []).append(material.spoken_name)
            if "manure-raw" in material.tags:
                manured.append(
                    Manured(f"{material.short_name} was mixed in", fill.batch.date_of(0))
                )
    return harvest_guards(
        wanted, manured, teas=bool(teas), metals={m: metals[m] for m in sorted(metals)}
    )


def not_before(guards: Sequence[Guard]) -> date | None:
    """Return the first day on which anything may be eaten; None where nothing waits."""
    return max((g.until for g in guards if g.until), default=None)
