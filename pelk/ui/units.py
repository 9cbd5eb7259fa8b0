"""The edge where units are read and written: pint here, plain floats inside.

The table of units is built once from pint; nothing asks pint in a loop.
"""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from functools import cache

from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.materials.material import Range
from pelk.core.materials.measures import DoseUnit, level_measures, yard_measures
from pelk.ui.numbers import fraction

# As written in recipes and files -> as pint knows it. Kitchen measures are US.
MASSES = {"g": "gram", "kg": "kilogram", "oz": "ounce", "lb": "pound"}
VOLUMES = {
    "mL": "milliliter",
    "L": "liter",
    "tsp": "teaspoon",
    "tbsp": "tablespoon",
    "cup": "cup",
    "floz": "fluid_ounce",
    "qt": "quart",
    "gal": "gallon",
}
SPACES = {
    "L": "liter",
    "gal": "gallon",
    "ft3": "foot**3",
    "yd3": "yard**3",
    "m3": "meter**3",
    "qt": "quart",
    "dry-qt": "dry_quart",
    "bu": "bushel",
    "imp-gal": "imperial_gallon",
    "mL": "milliliter",
}
# What holds as much as it is filled with: a file says how much beside it.
FILLED = ("bag", "bale", "brick", "bucket", "barrow")
SPACE_NAMES = {
    "L": "litres",
    "gal": "US gallons",
    "ft3": "cubic feet",
    "yd3": "cubic yards",
    "m3": "cubic metres",
    "dry-qt": "dry quarts (on the bag)",
    "bu": "bushels",
    "imp-gal": "imperial gallons",
}
# What the Bench offers, in this order; every other pair can be typed in a file.
OFFERED = (
    "g/L",
    "kg/m3",
    "mL/L",
    "%",
    "g",
    "kg",
    "tsp",
    "tbsp",
    "cup",
    "tsp/gal",
    "tbsp/gal",
    "cup/gal",
    "oz/gal",
    "tbsp/ft3",
    "cup/ft3",
    "cup/yd3",
    "lb/yd3",
    "oz",
    "lb",
    "handful",
    "handful/gal",
    "scoop",
    "bucket",
    "barrow",
)


@cache
def sizes() -> dict[str, float]:
    """Return the size of each unit, by pint: grams for weights, litres for the rest."""
    import pint  # noqa: PLC0415  (half a second: only where units are read)

    registry: pint.UnitRegistry[float] = pint.UnitRegistry(cache_folder=":auto:")
    grams = {k: registry(v).m_as("gram") for k, v in MASSES.items()}
    litres = {k: registry(v).m_as("liter") for k, v in {**VOLUMES, **SPACES}.items()}
    return {**grams, **litres}


def litres(amount: float, unit: str, path: str) -> float:
    """Return a typed volume in litres, or raise with what is allowed."""
    if unit not in SPACES:
        raise PelkError(f"found {unit!r}, allowed: {', '.join(SPACES)}", path)
    return amount * sizes()[unit]


def dose_unit(name: str, hands: Mapping[str, Range] | None = None) -> DoseUnit | None:
    """Return the unit of that name, or None when there is none.

    `hands` are the measures as a grower fills them, in mL; they go before the usual.
    """
    measure, _, space = name.partition("/")
    own = (hands or {}).get(measure)
    if own is None or (space and space not in SPACES):
        return _usual_unit(name)
    return _by_hand(name, own, sizes()[space] if space else None)


def _by_hand(name: str, one_ml: Range, per_l: float | None) -> DoseUnit:
    low, high = one_ml.low / one_ml.typ, one_ml.high / one_ml.typ
    return DoseUnit(name, "volume", one_ml.typ / 1000, per_l, low, high)


@cache
def _usual_unit(name: str) -> DoseUnit | None:
    measure, _, space = name.partition("/")
    if "/" in name and space not in SPACES:
        return None
    per = sizes()[space] if space else None
    if measure == "%" and not space:
        return DoseUnit(name, "volume", 0.01, 1.0)
    if measure in MASSES:
        return DoseUnit(name, "mass", sizes()[measure], per)
    if measure in VOLUMES:
        return DoseUnit(name, "volume", sizes()[measure], per)
    if spread := yard_measures().get(measure):
        return _by_hand(name, spread, per)
    return None


def read_dose_unit(name: str, path: str, hands: Mapping[str, Range] | None = None) -> DoseUnit:
    """Return the unit of that name, or raise with what is allowed."""
    unit = dose_unit(name, hands)
    if unit is None:
        measures = ", ".join([*MASSES, *VOLUMES, *yard_measures()])
        raise PelkError(
            f"found {name!r}, allowed: {measures}, alone or as a rate per "
            f"{', '.join(SPACES)}, or %",
            path,
        )
    return unit


@dataclass(frozen=True, slots=True)
class ReadAs:
    """How an amount of the core is read in US units."""

    unit: str
    convert: Callable[[float], float]

    def write(self, measures: "Measures", amount: float) -> str:
        """Write it without its unit."""
        return sig(self.convert(amount), 2)


LB_YD3 = 1685.555
YD2_M2, FT2_M2 = 0.83612736, 0.09290304
# Amounts that the sentences of the core write, and how a US yard reads them.
READ_AS = {
    "g/L": ReadAs("\u00a0oz/gal", lambda g: g * sizes()["gal"] / sizes()["oz"]),
    "g a litre": ReadAs("\u00a0oz/gal", lambda g: g * sizes()["gal"] / sizes()["oz"]),
    "°C": ReadAs("\u00a0°F", lambda c: c * 1.8 + 32),
    "cm": ReadAs("\u00a0in", lambda cm: cm / 2.54),
    "L": ReadAs("\u00a0gal", lambda v: v / sizes()["gal"]),
    "litres": ReadAs("\u00a0gallons", lambda v: v / sizes()["gal"]),
    "kg": ReadAs("\u00a0lb", lambda kg: kg * 1000 / sizes()["lb"]),
    "g": ReadAs("\u00a0oz", lambda g: g / sizes()["oz"]),
    "kg/L": ReadAs("\u00a0lb/yd³", lambda kg: kg * LB_YD3),
    "L/kg": ReadAs("\u00a0gal/lb", lambda v: v / sizes()["gal"] * sizes()["lb"] / 1000),
    "mL": ReadAs("\u00a0fl\u00a0oz", lambda ml: ml / 1000 / sizes()["floz"]),
    "g/m²": ReadAs("\u00a0oz/yd²", lambda g: g / sizes()["oz"] * YD2_M2),
}
METRIC = re.compile(
    r"(?<!\d)(?P<first>[-−]?\d{1,15}(?:\.\d{1,15})?)"
    r"(?:(?P<joint> to |–| and )(?P<last>\d{1,15}(?:\.\d{1,15})?))?"
    r"[\s\u00a0](?P<unit>kg/L|L/kg|g/m²|g/L|g a litre|°C|cm|mL|litres|L|kg|g)(?![\w/²])"
)


class Measures:
    """How a yard reads its amounts: litres and grams, or gallons and ounces."""

    def __init__(self, system: str) -> None:
        self.system = system

    @property
    def is_us(self) -> bool:
        """Whether amounts are shown in US units."""
        return self.system == "us"

    @property
    def length(self) -> tuple[str, float]:
        """The unit lengths are typed in, and its centimetres."""
        return ("in", 2.54) if self.system == "us" else ("cm", 1.0)

    @property
    def space_unit(self) -> str:
        """The unit batches are shown in."""
        return "gal" if self.is_us else "L"

    @property
    def degree_unit(self) -> str:
        """The unit warmth is read and typed in."""
        return "°F" if self.is_us else "°C"

    def degrees(self, warm_c: float) -> float:
        """Return a temperature in the yard's own degrees."""
        return warm_c * 1.8 + 32 if self.is_us else warm_c

    def celsius(self, degrees: float) -> float:
        """Return a temperature that was typed in the yard's own degrees. [°C]."""
        return (degrees - 32) / 1.8 if self.is_us else degrees

    def warmth(self, warm_c: float, digits: int = 2) -> str:
        """Write a temperature."""
        return f"{sig(self.degrees(warm_c), digits)}\u00a0{self.degree_unit}"

    def warmer(self, by_c: float) -> str:
        """Write a difference of temperatures."""
        return f"{sig(by_c * (1.8 if self.is_us else 1.0), 2)}\u00a0{self.degree_unit}"

    def rate(self, g_per_l: float, digits: int = 2) -> str:
        """Write a dose by the volume of mix."""
        if not self.is_us:
            return f"{sig(g_per_l, digits)}\u00a0g/L"
        return f"{sig(g_per_l * sizes()['gal'] / sizes()['oz'], digits)}\u00a0oz/gal"

    def span(self, length_cm: float, digits: int = 2) -> str:
        """Write a length."""
        unit, size = self.length
        return f"{sig(length_cm / size, digits)}\u00a0{unit}"

    def read(self, text: str) -> str:
        """Return a sentence of the core with its amounts in the yard's own units."""
        return METRIC.sub(self._amount, text) if self.is_us else text

    def _amount(self, said: re.Match[str]) -> str:
        """Write one amount, or a span of two, in US units."""
        kind = READ_AS[re.sub(r"\s+", " ", said["unit"])]
        first, last = said["first"].replace("−", "-"), said["last"]
        if last is None:
            return f"{kind.write(self, float(first))}{kind.unit}"
        joint = said["joint"]
        return f"{kind.write(self, float(first))}{joint}{kind.write(self, float(last))}{kind.unit}"

    def space(self, volume_l: float) -> float:
        """Return litres in the yard's own unit."""
        return volume_l / sizes()["gal"] if self.is_us else volume_l

    def volume(self, volume_l: float, digits: int = 3) -> str:
        """Write a volume of mix."""
        if not self.is_us and volume_l < 1:
            return f"{sig(volume_l * 1000, digits)}\u00a0mL"
        if self.is_us and volume_l < sizes()["cup"]:
            return self.kitchen(1000 * volume_l) or "less than ⅛\u00a0tsp"
        return f"{sig(self.space(volume_l), digits)}\u00a0{self.space_unit}"

    def area(self, area_m2: float) -> str:
        """Write an area."""
        if self.is_us:
            return f"{sig(area_m2 / FT2_M2, 2)}\u00a0ft²"
        return f"{sig(area_m2, 2)}\u00a0m²"

    def held(self, amount: float, measure: str) -> str:
        """Write what a bag holds, in litres or kilograms as it was bought."""
        return self.volume(amount) if measure == "L" else self.mass(1000 * amount)

    def mass(self, mass_g: float, digits: int = 3) -> str:
        """Write a weight."""
        if self.is_us:
            pounds = mass_g / sizes()["lb"]
            if pounds >= 2:
                return f"{sig(pounds, digits)}\u00a0lb"
            return f"{sig(mass_g / sizes()['oz'], digits)}\u00a0oz"
        if mass_g >= 1000:
            return f"{sig(mass_g / 1000, digits)}\u00a0kg"
        return f"{sig(mass_g, digits)}\u00a0g"

    def kitchen(self, volume_ml: float | None) -> str:
        """Write a dose as level kitchen measures; empty when it must be weighed."""
        if volume_ml is None:
            return ""
        if volume_ml > 12_000:
            return self.volume(volume_ml / 1000)
        measure = level_measures(volume_ml, self.system)
        return " + ".join(
            f"{fraction(count)}\u00a0{name}{'s' if name == 'cup' and count > 1 else ''}"
            for count, name in measure
        )

    def buckets(self, volume_l: float, bucket_l: float) -> str:
        """Write a bulk volume in quarter buckets."""
        count = max(round(volume_l / bucket_l * 4) / 4, 0.25)
        return f"{fraction(count)}\u00a0bucket{'s' if count > 1 else ''}"
