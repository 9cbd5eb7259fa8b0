"""A dry feed blend as it is typed: parts by weight or volume, the tub, whom it feeds."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from django import forms

from pelk.core.crops.groups import library as crops
from pelk.core.materials.library import Material
from pelk.shelf.selectors import known_materials, slug_named
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import sizes
from pelk.yards.models import Yard

# Fields that stand apart from the others on the page.
APART = {"name", "by"}
ROWS, SHOWN = 20, 6
WAYS = {"weight": "by weight", "volume": "by volume"}
SACKS = {
    "all-purpose-5-5-5": "5-5-5",
    "all-purpose-4-4-4": "4-4-4",
    "acid-lover-blend": "acid-lover, 4-3-4",
}


@dataclass(frozen=True, slots=True)
class BlendRow:
    """The fields of one line."""

    material: forms.BoundField
    parts: forms.BoundField


class BlendForm(MarkedForm):
    """A blend; every field keeps what was typed."""

    name = forms.CharField(max_length=80, initial="Feed blend")
    by = forms.ChoiceField(label="parts", choices=list(WAYS.items()), required=False)
    tub = NumberField(label="tub holds", low=0.01, high=1e4, initial="5")
    tub_unit = forms.ChoiceField(label="of", choices=[("kg", "kg"), ("lb", "lb")])
    crop = forms.ChoiceField(label="feeds")
    plants = NumberField(label="how many plants", low=1, high=1e5, initial="10")
    pot = NumberField(label="mix in each pot", low=0.05, high=1e4, initial="10")
    pot_unit = forms.ChoiceField(label="in", choices=[("L", "litres"), ("gal", "gallons")])
    plants_m2 = NumberField(label="in a bed, plants to a m²", low=0.1, high=1000, initial="3")
    weeks = NumberField(label="weeks between feeds", low=0.5, high=52, initial="4")
    sack = forms.ChoiceField(label="beside a ready sack", choices=list(SACKS.items()))

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        groups: Any = [(c.slug, c.name.lower()) for c in crops().values()]
        self.fields["crop"] = forms.ChoiceField(label="feeds", choices=groups, initial="fruiting")
        for i in range(1, ROWS + 1):
            named = forms.CharField(label=f"material {i}", required=False, max_length=120)
            named.widget.attrs.update(list="names-doses", autocomplete="off")
            self.fields[f"m{i}"] = named
            parts = NumberField(label=f"parts {i}", required=False, high=1e5)
            parts.widget.attrs["autocomplete"] = "off"
            self.fields[f"p{i}"] = parts
        if yard.measures.is_us:
            self.initial = {"tub_unit": "lb", "pot_unit": "gal", **self.initial}

    @property
    def first_rows(self) -> list[BlendRow]:
        """The lines that are always shown."""
        return [BlendRow(self[f"m{i}"], self[f"p{i}"]) for i in range(1, SHOWN + 1)]

    @property
    def more_rows(self) -> list[BlendRow]:
        """The lines that are folded away until they are wanted."""
        return [BlendRow(self[f"m{i}"], self[f"p{i}"]) for i in range(SHOWN + 1, ROWS + 1)]

    @property
    def is_long(self) -> bool:
        """Whether something stands in the folded lines."""
        return any(r.material.value() or r.parts.value() for r in self.more_rows)

    @property
    def others(self) -> list[forms.BoundField]:
        """What is asked beside the lines and the name."""
        return [self[name] for name in BlendForm.base_fields if name not in APART]

    def clean(self) -> dict[str, Any]:
        """Find the materials that are named."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        typed = {i: data.get(f"m{i}", "") for i in range(1, ROWS + 1)}
        slugs = {i: slug_named(self.yard, text) for i, text in typed.items() if text}
        held = known_materials(self.yard, slugs.values())
        self.lines: list[tuple[Material, float]] = []
        for i in typed:
            self._line(i, held.get(slugs.get(i, "")), data)
        if not self.lines and not self.errors:
            self.add_error("m1", "Put at least one meal, dust or salt in it.")
        return data

    def _line(self, i: int, row: Any, data: Mapping[str, Any]) -> None:
        text, parts = data.get(f"m{i}", ""), data.get(f"p{i}")
        if not text and parts is None:
            return
        if f"p{i}" in self.errors:
            return
        if row is None:
            say = f"Nothing is called {text!r} here." if text else "Of what?"
            self.add_error(f"m{i}", say)
        elif row.core.role == "bulk":
            self.add_error(f"m{i}", f"{row.short_name} is a part: it goes on the Bench.")
        elif not parts:
            self.add_error(f"p{i}", f"How many parts, {WAYS[self.way]}?")
        elif self.way == "volume" and not row.core.is_weighed:
            say = f"Nobody has weighed a litre of {row.short_name} yet: write it by weight."
            self.add_error(f"m{i}", say)
        else:
            self.lines.append((row.core, parts))

    @property
    def way(self) -> str:
        """How the parts are written: by weight or by volume."""
        return self.cleaned_data.get("by") or "weight"

    @property
    def tub_kg(self) -> float:
        """What the tub holds. [kg]."""
        grams: float = self.cleaned_data["tub"] * sizes()[self.cleaned_data["tub_unit"]]
        return grams / 1000

    @property
    def pot_l(self) -> float:
        """Mix in each pot. [L]."""
        litres: float = self.cleaned_data["pot"] * sizes()[self.cleaned_data["pot_unit"]]
        return litres

    @property
    def weighed(self) -> list[tuple[Material, float]]:
        """Each with its weight in the tub. [kg]."""
        by_volume = self.way == "volume"
        weights = [
            (m, parts * m.loose_density().typ if by_volume else parts) for m, parts in self.lines
        ]
        whole = sum(weight for _, weight in weights)
        return [(m, self.tub_kg * weight / whole) for m, weight in weights]

    @property
    def document(self) -> dict[str, str]:
        """What was typed, by field."""
        return {name: str(self.data.get(name, "")) for name in self.fields}
