"""What one unit of a part holds: a size, a weight by its density, or as this yard fills it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from pelk.core.base.errors import UnknownError
from pelk.core.base.rounding import sig
from pelk.core.materials.material import Material
from pelk.ui.units import FILLED, MASSES, SPACES, sizes
from pelk.yards.models import Yard

PACKS = ("bag", "bale", "brick")
# What a part can be counted in by itself, where the parts are volumes; packs where known.
COUNTED = ("bucket", "barrow", "kg", "lb")


@dataclass(frozen=True, slots=True)
class Fillings:
    """How a yard fills its packs and measures.

    Attributes
    ----------
    material : callable
        Of a slug.
    pack_litres : callable
        Loose litres of one pack of a material; None where nobody said.
    """

    yard: Yard
    material: Callable[[str], Material]
    pack_litres: Callable[[str, str], float | None]

    def litres_of_one(self, slug: str, unit: str) -> float | None:
        """Return the loose litres of one unit of a part; None where it is not known. [L]."""
        if unit in SPACES:
            return sizes()[unit]
        if unit in MASSES:
            try:
                return sizes()[unit] / 1000 / self.material(slug).loose_density().typ
            except (UnknownError, KeyError):
                return None
        return self.filled(slug, unit)

    def filled(self, slug: str, unit: str) -> float | None:
        """Return what a pack, a bucket or a barrow holds; None for other units. [L]."""
        if unit == "bucket":
            return self.yard.bucket_l
        if unit == "barrow":
            return self.yard.barrow_l
        return self.pack_litres(slug, unit) if unit in PACKS else None

    def held(self, slug: str, unit: str, before: str) -> str:
        """Return what one unit of a row holds, as the row carries it: "bag 25".

        What it carried `before` stands while the unit does: a recipe keeps its sizes.
        """
        if unit not in FILLED:
            return ""
        if before.partition(" ")[0] == unit:
            return before
        litres = self.filled(slug, unit)
        return f"{unit} {sig(litres, 6)}" if litres else ""
