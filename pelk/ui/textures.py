"""Which texture shows which material: the material is the decoration."""

from functools import cache
from typing import Any

# By slug first, then by family. Names are files in static/ui/tex.
BY_SLUG = {
    "leaf-mould": "leafmould",
    "perlite": "perlite",
    "vermiculite": "perlite",
    "horticultural-grit": "grit",
    "coarse-sand": "sand",
    "sulfur-dusting": "sulfur",
    "sulfur-wettable": "sulfur",
    "sulfur-prill-90": "sulfur",
    "gypsum": "gypsum",
    "feather-meal": "feather",
    "fish-bone-meal": "fishbone",
    "oyster-shell-flour": "oyster",
    "eggshell-crushed": "oyster",
    "soft-rock-phosphate": "rockp",
    "hard-rock-phosphate": "rockp",
    "bone-meal-steamed": "fishbone",
}
BY_FAMILY = {
    "peat": "peat",
    "coir": "coir",
    "bark": "bark",
    "wood": "bark",
    "compost": "compost",
    "manure": "compost",
    "castings": "castings",
    "mineral-aggregate": "pumice",
    "biochar": "basalt",
    "soil": "loam",
    "old-mix": "oldsoil",
    "lime": "lime",
    "acidifier": "gypsum",
    "mineral-salt": "sulfpot",
    "meal-plant": "cottonseed",
    "meal-animal": "feather",
    "rock-dust": "basalt",
    "marine": "kelp",
    "ash": "lime",
    "blend": "cottonseed",
    "humic": "castings",
    "mulch": "leafmould",
    "feedstock": "compost",
    "liquid-feed": "kelp",
}
# How a dose is drawn when scattered: shape, size in px, tone.
GRAINS = {
    "sulfur": ("dot", 1.25),
    "cottonseed": ("flake", 2.1),
    "kelp": ("dash", 3.4),
    "rockp": ("dot", 0.75),
    "feather": ("dash", 3.2),
    "fishbone": ("flake", 1.8),
    "sulfpot": ("dot", 1.0),
    "gypsum": ("dash", 2.6),
    "basalt": ("dot", 0.8),
    "oyster": ("flake", 2.0),
    "lime": ("dot", 0.8),
}


@cache
def _texture(slug: str, family: str) -> str:
    return BY_SLUG.get(slug) or BY_FAMILY.get(family, "sulfpot")


def texture_of(material: Any) -> str:
    """Return the texture of a material: anything with a slug and a family."""
    return _texture(material.slug, material.family)


def grain_of(texture: str) -> tuple[str, float]:
    """Return how a dose of that texture is drawn when scattered."""
    return GRAINS.get(texture, ("dot", 1.0))
