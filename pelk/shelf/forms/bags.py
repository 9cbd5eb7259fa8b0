"""Buying a package; counting a bag again."""

from __future__ import annotations

from typing import Any

from django import forms
from django.utils import timezone

from pelk.core.base.rounding import sig
from pelk.core.materials.bags import KINDS
from pelk.shelf.forms.materials import LabelForm
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.materials import Material
from pelk.shelf.services.bags import Printed, buy
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, MoneyField, NumberField
from pelk.ui.units import sizes
from pelk.yards.models import User, Yard

VOLUMES = {
    "L": "litres",
    "dry-qt": "dry quarts (on US bags)",
    "ft3": "cubic feet",
    "yd3": "cubic yards",
    "m3": "cubic metres",
    "gal": "US gallons",
    "bu": "bushels",
}
WEIGHTS = {"kg": "kilograms", "g": "grams", "lb": "pounds", "oz": "ounces"}
OTHER = {"volume": ("litres", VOLUMES), "mass": ("kilograms", WEIGHTS)}


def usual_kind(material: Material) -> str:
    """Return how a material is mostly sold."""
    if material.core.loose_l_per_kg:
        return "brick"
    # A bag is loose unless it says that it is pressed.
    return "bag" if material.is_part else "sack"


class BuyForm(LabelForm):
    """What was bought, how much, for how much."""

    kind = forms.ChoiceField(label="Sold as", choices=[(k.key, k.name) for k in KINDS.values()])
    size = NumberField(label="One holds, as printed", low=0.001, high=1e6)
    unit = forms.ChoiceField(label="Unit", choices=[*VOLUMES.items(), *WEIGHTS.items()])
    count = forms.IntegerField(label="How many", min_value=1, max_value=1000, initial=1)
    price = MoneyField(label="Price of one", required=False)
    bought_on = DayField(label="Bought on", initial=timezone.localdate)
    lot = forms.CharField(label="Lot", required=False, max_length=40)
    note = forms.CharField(label="Note", required=False, max_length=200)

    field_order = ["kind", "size", "unit", "count", "price", "bought_on", "lot", "note"]

    def __init__(self, *args: Any, material: Material, yard: Yard, **kwargs: Any) -> None:
        kind = usual_kind(material)
        unit = "kg" if KINDS[kind].by == "mass" else "L"
        if yard.measures.is_us:
            unit = {"kg": "lb", "L": "ft3" if kind == "bale" else "dry-qt"}[unit]
        kwargs.setdefault("initial", {"kind": kind, "unit": unit})
        super().__init__(*args, **kwargs)
        self.material = material
        price = self.fields["price"]
        if isinstance(price, MoneyField):
            price.currency = yard.currency
        price.label = f"Price of one, {yard.money.symbol.strip()}"

    @property
    def bought(self) -> list[forms.BoundField]:
        """The fields about the package."""
        return [self[name] for name in self.field_order]

    def clean(self) -> dict[str, Any]:
        """See that the unit is one this package is sold in."""
        data = super().clean()
        kind, unit = KINDS.get(data.get("kind", "")), data.get("unit", "")
        if kind is not None and unit:
            word, allowed = OTHER[kind.by]
            if unit not in allowed:
                self.add_error("unit", f"A {kind.name} is sold by {word} or the like.")
        if data.get("bought_on") and data["bought_on"] > timezone.localdate():
            self.add_error("bought_on", "That date is in the future. Enter today or earlier.")
        return data

    def save(self, yard: Yard, by: User) -> Bag:
        """Put it on the shelf."""
        data = self.cleaned_data
        amount = data["size"] * sizes()[data["unit"]]
        by_mass = KINDS[data["kind"]].by == "mass"
        printed = Printed(
            data["kind"],
            data["size"],
            data["unit"],
            None if by_mass else amount,
            amount / 1000 if by_mass else None,
        )
        return buy(
            yard=yard,
            by=by,
            material=self.material,
            printed=printed,
            count=data["count"],
            price=data["price"],
            bought_on=data["bought_on"],
            lot=data["lot"],
            note=data["note"],
            analysis=self.says,
        )


class CountForm(MarkedForm):
    """What is really left in a bag."""

    left = NumberField(label="Left in it", high=1e7)
    text = forms.CharField(label="Why it differs", required=False, max_length=120)

    def __init__(self, *args: Any, bag: Bag, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        measures = bag.yard.measures
        is_volume = bag.measure == Bag.Measure.LITRES
        word, unit = ("loosened", measures.space_unit) if is_volume else ("by weight", "kg")
        if measures.is_us and not is_volume:
            unit = "lb"
        self.unit_size = sizes()[unit] if is_volume else sizes()[unit] / 1000
        self.fields["left"].label = f"Left in it, {word}, {unit}"
        self.fields["left"].initial = f"{sig(bag.left / self.unit_size, 4)}"

    @property
    def left_in_it(self) -> float:
        """What is left, in the measure of the bag."""
        return float(self.cleaned_data["left"]) * self.unit_size
