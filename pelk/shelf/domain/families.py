"""The families of materials, in the order of the shelf: parts first, then doses."""

FAMILIES = {
    "peat": "Peats",
    "coir": "Coir",
    "bark": "Barks",
    "wood": "Wood",
    "compost": "Composts",
    "castings": "Castings",
    "manure": "Manures",
    "mineral-aggregate": "Aggregates",
    "biochar": "Biochar",
    "soil": "Soils",
    "old-mix": "Old and bagged mixes",
    "lime": "Limes",
    "acidifier": "Acidifiers",
    "meal-plant": "Plant meals",
    "meal-animal": "Animal meals",
    "marine": "From the sea",
    "rock-dust": "Rock dusts",
    "mineral-salt": "Mineral salts",
    "ash": "Ashes",
    "blend": "Blends",
    "humic": "Humates",
    "liquid-feed": "Liquid feeds",
    "microbial": "Microbes",
    "inoculant": "Inoculants",
    "feedstock": "Compost these first",
    "mulch": "Mulches",
    "pest-deterrent": "Against pests",
    "water-retainer": "Water gels",
}


def place_of(family: str) -> int:
    """Return where a family stands on the shelf."""
    order = list(FAMILIES)
    return order.index(family) if family in order else len(order)
