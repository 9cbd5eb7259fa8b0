"""What some pots are dressed and fed with: as chosen, else from the shelf, else usual."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import NamedTuple

from pelk.core.advice.feeding_needs import GIVES, Giver
from pelk.core.advice.feedings import Feed
from pelk.core.advice.vetoes import unfit
from pelk.core.advice.whole_doses import most_of
from pelk.core.crops.feeding_rules import INTERVAL_WEEKS
from pelk.core.crops.groups import Crop, crop, is_acid_lover
from pelk.core.materials.feeding_styles import (
    SYNTHETIC_TAGS,
    FeedingStyle,
    Inputs,
    is_plant_or_mineral,
)
from pelk.core.materials.material import Material
from pelk.pots.models import PotGroup
from pelk.shelf.models.materials import ShelfItem
from pelk.shelf.selectors import known_materials, shelf_slugs
from pelk.yards.models import Yard

# What is dressed with, in the order it is looked for on the shelf, and how long ahead.
DRESSINGS = {
    "poultry-manure-pellets": "pellets",
    "alfalfa-meal": "alfalfa",
    "soybean-meal": "seed meal",
    "cottonseed-meal": "seed meal",
    "feather-meal": "hot meal",
    "fish-meal": "hot meal",
}
ACID_DRESSINGS = ("cottonseed-meal", "soybean-meal")
LIQUIDS = ("fish-hydrolysate", "fish-emulsion")
POTASH = "sulfate-of-potash"
# What dresses where nothing else is allowed.
PLAIN, GENTLE = "alfalfa-meal", "worm-castings"
# What else on the shelf may dress, or be poured: by family, with so much nitrogen. [%]
DRESSING_FAMILIES = frozenset(["blend", "meal-plant", "meal-animal", "marine", "castings"])
LIQUID_FAMILY, MOST_FEEDS = "liquid-feed", 60
DRESSING_LEAST_N, LIQUID_LEAST_N = 2.0, 1.0
COATED = "coated"


class Choice(NamedTuple):
    """A product, and whether it is on the shelf."""

    material: Material
    is_mine: bool


@dataclass(frozen=True, slots=True)
class Feeds:
    """What some pots get.

    Attributes
    ----------
    givers : dict of str to Choice
        By element that may lack.
    """

    dressing: Choice
    liquid: Choice | None
    potash: Choice | None
    givers: dict[str, Choice]

    def of(self, kind: str, element: str = "") -> Material | None:
        """Return what a row of a plan takes; None for what takes nothing."""
        held = {"dress": self.dressing, "acid": self.dressing, "potash": self.potash}
        held |= {"liquid": self.liquid, "need": self.givers.get(element)}
        choice = held.get(kind)
        return choice.material if choice else None

    @property
    def by_element(self) -> dict[str, Giver]:
        """What gives each element, as the plan takes it."""
        return {
            element: Giver(m.short_name, m.composition[element].typ, is_mine)
            for element, (m, is_mine) in self.givers.items()
        }


def feeds_of(group: PotGroup) -> Feeds:
    """Return what a group is dressed and fed with."""
    yard: Yard = group.yard
    mine, style = shelf_slugs(yard), yard.style
    usual = {slug for slugs in GIVES.values() for slug in slugs}
    said = {group.dressing, group.liquid}
    rows = known_materials(
        yard, usual | said | {*DRESSINGS, *LIQUIDS, POTASH, GENTLE, *_at_hand(yard)}
    )
    known = {slug: row.core for slug, row in rows.items()}
    grown = crop(group.crop)
    allowed = {s: m for s, m in known.items() if _allows(style, m) and not unfit(m, grown)}
    owned = [m for slug, m in allowed.items() if slug in mine]
    is_acid = is_acid_lover(grown)
    if is_acid:
        dressings = [*ACID_DRESSINGS, *(m.slug for m in owned if "acid" in m.slug and _dresses(m))]
    else:
        dressings = [*DRESSINGS, *_by_nitrogen(m for m in owned if _dresses(m))]
    liquids = [*LIQUIDS, *_by_nitrogen(m for m in owned if is_poured(m))]
    dressing = _choice(group.dressing, dressings, known, allowed, mine)
    if dressing is None:
        # What burns seedlings dresses none: castings are the one thing that does not.
        usual_dressing = GENTLE if unfit(known[PLAIN], grown) else PLAIN
        dressing = Choice(known[usual_dressing], usual_dressing in mine)
    return Feeds(
        dressing,
        _choice(group.liquid, liquids, known, allowed, mine),
        _choice("", (POTASH,), known, allowed, mine),
        {
            element: choice
            for element, slugs in GIVES.items()
            if (choice := _choice("", slugs, known, allowed, mine)) is not None
        },
    )


def _at_hand(yard: Yard) -> list[str]:
    """Return what on the shelf may dress or be poured, the strongest first; not a whole store."""
    feeds = ShelfItem.objects.of(yard).filter(
        material__family__in=DRESSING_FAMILIES | {LIQUID_FAMILY},
        material__n_pct__gte=LIQUID_LEAST_N,
    )
    strongest = feeds.order_by("-material__n_pct", "material__slug")
    return list(strongest.values_list("material__slug", flat=True)[:MOST_FEEDS])


def _choice(
    said: str,
    usual: Iterable[str],
    known: dict[str, Material],
    allowed: dict[str, Material],
    mine: frozenset[str],
) -> Choice | None:
    if said in known:
        return Choice(known[said], said in mine)
    fits = [slug for slug in usual if slug in allowed]
    first = next((slug for slug in fits if slug in mine), fits[0] if fits else None)
    return None if first is None else Choice(allowed[first], first in mine)


def _allows(style: FeedingStyle, material: Material) -> bool:
    """Return whether a style takes a material unasked; what is chosen by name always goes."""
    if style.inputs != Inputs.WITH_A_COATED_SAFETY_NET and SYNTHETIC_TAGS & {*material.tags}:
        return False
    return style.inputs != Inputs.PLANT_AND_MINERAL_ONLY or is_plant_or_mineral(material)


def _nitrogen(material: Material) -> float:
    held = material.composition.get("N")
    return held.typ if held else 0.0


def _by_nitrogen(materials: Iterable[Material]) -> list[str]:
    return [m.slug for m in sorted(materials, key=_nitrogen, reverse=True)]


def _dresses(material: Material) -> bool:
    """Return whether a material is a dry feed that can lie on top."""
    return (
        material.family in DRESSING_FAMILIES
        and material.form != "liquid"
        and material.release_class not in ("none", COATED, None)
        and _nitrogen(material) >= DRESSING_LEAST_N
    )


def is_poured(material: Material) -> bool:
    """Return whether a material is a feed for the can: a liquid, or one that dissolves."""
    return material.family == LIQUID_FAMILY and _nitrogen(material) >= LIQUID_LEAST_N


def dressing_feed(material: Material, grown: Crop) -> Feed:
    """Return a dressing as the plan takes it, with the most of it that a season may get."""
    weeks = INTERVAL_WEEKS.get(grown.slug) or grown.season_days / 7
    most = most_of([(material, 1.0)], grown, grown.season_days / 7 / weeks)
    return replace(feed_of(material, DRESSINGS.get(material.slug)), most=most)


def feed_of(material: Material, lead: str | None) -> Feed:
    """Return a product as the plan takes it."""
    dense = material.density.typ if material.density else 1.0
    return Feed(
        material.short_name,
        _nitrogen(material),
        material.season_n or 0.5,
        dense,
        lead or "seed meal",
    )


def choices_of(yard: Yard) -> dict[str, list[tuple[str, str]]]:
    """Return what may be chosen to dress and to pour: the usual, and what is on the shelf."""
    mine = shelf_slugs(yard)
    rows = known_materials(yard, {*DRESSINGS, *LIQUIDS, *_at_hand(yard)})
    known = {slug: row.core for slug, row in rows.items()}
    owned = [m for slug, m in known.items() if slug in mine]
    dressings = [*DRESSINGS, *_by_nitrogen(m for m in owned if _dresses(m))]
    liquids = [*LIQUIDS, *_by_nitrogen(m for m in owned if is_poured(m))]
    return {
        name: [(s, known[s].short_name) for s in dict.fromkeys(slugs) if s in known]
        for name, slugs in (("dressing", dressings), ("liquid", liquids))
    }
