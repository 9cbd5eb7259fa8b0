"""The shelf at a glance, before anything is chosen: what runs low, what is dear, what is old."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from django.db.models import F

from pelk.shelf.models.bags import Bag
from pelk.shelf.models.materials import Material, ShelfItem
from pelk.shelf.pages.listing import unit_price
from pelk.yards.models import Yard

SHOWN = 5


@dataclass(frozen=True, slots=True)
class AtHand:
    """A material at hand: what is told of it, and that as a share for its bar, in percent."""

    material: Material
    says: str
    percent: int


@dataclass(frozen=True, slots=True)
class OldBag:
    """A bag bought long ago with something left in it."""

    bag: Bag
    bought_on: date
    left: str
    percent: int


@dataclass(frozen=True, slots=True)
class Glance:
    """What a grower asks of a shelf before opening anything on it."""

    low: list[AtHand]
    dear_parts: list[AtHand]
    dear_doses: list[AtHand]
    old: list[OldBag]

    @property
    def is_empty(self) -> bool:
        """Whether there is nothing to tell yet."""
        return not (self.low or self.dear_parts or self.dear_doses or self.old)


def glance(yard: Yard) -> Glance:
    """Return what stands out on a yard's shelf."""
    items = ShelfItem.objects.of(yard).select_related("material").order_by("material__name")
    bags = Bag.objects.of(yard).live().not_empty().in_use_order().select_related("material")
    return Glance(
        [AtHand(i.material, _left(i, yard), 0) for i in items.filter(is_low=True)[:SHOWN]],
        _dear(yard, by_volume=True),
        _dear(yard, by_volume=False),
        [_old(bag, yard) for bag in bags[:SHOWN]],
    )


def _dear(yard: Yard, *, by_volume: bool) -> list[AtHand]:
    """Return the dearest parts by the litre, or doses by the kilogram."""
    name = "price_l" if by_volume else "price_kg"
    items = ShelfItem.objects.of(yard).select_related("material").filter(**{f"{name}__gt": 0})
    kind = (
        items.filter(material__role="bulk") if by_volume else items.exclude(material__role="bulk")
    )
    dearest = list(kind.order_by(F(name).desc(), "material__name")[:SHOWN])
    most = getattr(dearest[0], name) if dearest else 1.0
    rows = []
    for item in dearest:
        each = getattr(item, name)
        says = unit_price(each, yard, by_volume=by_volume)
        rows.append(AtHand(item.material, says, round(100 * each / most)))
    return rows


def _left(item: ShelfItem, yard: Yard) -> str:
    if item.material.is_part:
        return yard.measures.volume(item.left_l) if item.left_l else "none"
    return yard.measures.mass(1000 * item.left_kg) if item.left_kg else "none"


def _old(bag: Bag, yard: Yard) -> OldBag:
    in_litres = bag.measure == Bag.Measure.LITRES
    left = yard.measures.volume(bag.left) if in_litres else yard.measures.mass(1000 * bag.left)
    return OldBag(bag, bag.bought_on, left, round(100 * bag.left / bag.held) if bag.held else 0)
