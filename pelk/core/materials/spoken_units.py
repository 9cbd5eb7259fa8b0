"""Units as growers name them, and where they stand in what was said."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from pelk.core.base.tables import rows
from pelk.core.materials.words import folded

VESSELS = frozenset(
    ["pot", "tub", "container", "planter", "trough", "basket", "tray", "tower", "tier"]
)
GROUND = {
    # Square metres of each.
    "m2": 1.0,
    "square metre": 1.0,
    "square meter": 1.0,
    "sq m": 1.0,
    "square yard": 0.836127,
    "sq yd": 0.836127,
    "yd2": 0.836127,
    "square foot": 0.092903,
    "sq ft": 0.092903,
    "ft2": 0.092903,
    "square feet": 0.092903,
}


@dataclass(frozen=True, slots=True)
class SpokenUnit:
    """A unit as growers name it.

    Attributes
    ----------
    kind : str
        ``volume`` (mL), ``mass`` (g), ``length`` (cm), ``percent``, ``share``, ``pack``
        or ``ask``.
    size : float or None
        In a region that says nothing else. [mL, g or cm]
    elsewhere : dict
        By territory. [mL or g]
    low, high : float
        Honest spread, as factors of the size. [-]
    ask : str
        What is open about it.
    """

    key: str
    kind: str
    size: float | None
    elsewhere: dict[str, float]
    low: float = 1.0
    high: float = 1.0
    ask: str = ""

    def size_in(self, region: str) -> float | None:
        """Return its size in a territory. [mL, g or cm]."""
        return self.elsewhere.get(region, self.size)


@cache
def spoken_units() -> dict[str, SpokenUnit]:
    """Return the units by key."""
    units = {}
    for row in rows("spoken_units.csv"):
        pairs = [text.partition("=") for text in row["elsewhere"].split(";") if text]
        units[row["unit"]] = SpokenUnit(
            row["unit"],
            row["kind"],
            float(row["size"]) if row["size"] else None,
            {where: float(size) for where, _, size in pairs},
            float(row["low"] or 1),
            float(row["high"] or 1),
            row["ask"],
        )
    return units


@cache
def unit_words() -> dict[str, str]:
    """Return keys by the words they go by, one and many."""
    listed: dict[str, str] = {}
    for row in rows("spoken_units.csv"):
        for word in row["words"].split(";"):
            for spelt in {word, folded(word) or word, f"{word}s", f"{word}es"}:
                listed.setdefault(spelt, row["unit"])
    return {**listed, "feet": "ft", "inches": "in", "halves": "part"}


def unit_at(tokens: Sequence[str], at: int) -> tuple[str, int] | None:
    """Return the key of the unit at a token, and where it ends; None where there is none."""
    for length in (3, 2, 1):
        span = tokens[at : at + length]
        key = unit_words().get(" ".join(span)) if len(span) == length else None
        if key is not None:
            return key, at + length
    return None
