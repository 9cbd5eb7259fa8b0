"""How a measure is filled to be weighed, and what it is taken for."""

from __future__ import annotations

from collections.abc import Sequence

from pelk.shelf.domain.hand_measures import HandRow

# The guidance for one filling.
HOW = {
    "handful": (
        "Grab powder or granules as you would at the barrow, closed. "
        "Gloves on if you work in gloves."
    ),
    "handful-heaped": "Cup one hand and heap it with fluffy mix.",
    "double-handful": "Cup both hands together and lift.",
    "pinch": "Thumb and two fingers.",
    "scoop": "Fill your scoop as you do, struck or heaped.",
    "trowel": "Dig and lift as you do.",
    "shovel": "Loose mix, heaped, as you load the barrow.",
    "spade": "Dig and lift as you do.",
    "bucket": "To where you call it full. Use water and a jug, or weigh it.",
    "barrow": "Struck level. Count marked buckets into it.",
}
# What it is taken for at the barrow and the pots.
USED_FOR = {
    "handful": "meals and dusts, top-dressing pots",
    "handful-heaped": "compost and castings by the pot",
    "double-handful": "mix for one pot, mulch",
    "pinch": "traces, wettable sulfur",
    "scoop": "meals and lime by the load",
    "trowel": "topping up pots",
    "shovel": "parts, where no bucket is at hand",
    "spade": "soil and compost by the bed",
    "bucket": "parts on the barrow card",
    "barrow": "the loads of a batch",
}


def with_uses(rows: Sequence[HandRow]) -> list[tuple[HandRow, str]]:
    """Return the measures, each with what it is taken for."""
    return [(row, USED_FOR[row.kind.key]) for row in rows]
