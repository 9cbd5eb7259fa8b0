"""What the bags of a material come to, kept on the shelf for long lists."""

from pelk.core.base.errors import UnknownError
from pelk.core.materials.bags import runs_low
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.materials import Material, ShelfItem
from pelk.yards.models import Yard


def tally(material: Material, yard: Yard | None = None) -> None:
    """Count what a yard has left of a material and what it costs, by its bags."""
    place = yard or material.yard
    if place is None:
        return
    bags = list(Bag.objects.of(place).live().filter(material=material))
    if not bags:
        ShelfItem.objects.of(place).filter(material=material).update(
            left_l=None, left_kg=None, price_l=None, price_kg=None, is_low=False, priced=None
        )
        return
    litres, kilos = _left(bags, material)
    priced = next((bag for bag in bags if bag.price is not None), None)
    prices = priced.prices() if priced else None
    newest = bags[0]
    left = litres if newest.measure == Bag.Measure.LITRES else kilos
    ShelfItem.objects.update_or_create(
        yard=place,
        material=material,
        defaults={
            "left_l": litres,
            "left_kg": kilos,
            "price_l": _float(prices.per_litre if prices else None),
            "price_kg": _float(prices.per_kg if prices else None),
            "priced": priced,
            "is_low": runs_low(left or 0.0, newest.holds),
        },
    )


def _left(bags: list[Bag], material: Material) -> tuple[float | None, float | None]:
    try:
        density = material.core.loose_density().typ
    except UnknownError:
        density = None
    litres: float | None = 0.0
    kilos: float | None = 0.0
    for bag in bags:
        l_: float | None = bag.left
        kg: float | None = bag.left
        if bag.measure == Bag.Measure.LITRES:
            kg = bag.left * density if density else None
        else:
            l_ = bag.left / density if density else None
        litres = None if litres is None or l_ is None else litres + l_
        kilos = None if kilos is None or kg is None else kilos + kg
    return litres, kilos


def _float(amount: object) -> float | None:
    return None if amount is None else float(amount)  # type: ignore[arg-type]
