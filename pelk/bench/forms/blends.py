"""A dry feed blend as it is typed: parts by weight or volume, the tub, whom it feeds."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from django import forms

from pelk.core.crops.groups import library as crops
from pelk.core.materials.material import Material
from pelk.core.materials.words import Box, Understood, understood
from pelk.shelf.models.materials import Material as Row
from pelk.shelf.selectors import known_materials, vocabulary_of
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import sizes
from pelk.yards.models import Yard

# Fields that stand apart from the others on the page.
APART = {"name", "by"}
ROWS, SHOWN = 20, 6
ROW_KEY = re.compile(r"[mp]\d+")
WAYS = {"weight": "by weight", "volume": "by volume"}
SACKS = {
    "all-purpose-5-5-5": "5-5-5",
    "all-purpose-4-4-4": "4-4-4",
    "acid-lover-blend": "acid-lover, 4-3-4",
}


class LineForm(MarkedForm):
    """One line: a material, and how many parts of it."""

    material = forms.CharField(
        required=False,
        max_length=120,
        widget=forms.TextInput(attrs={"list": "names-doses", "autocomplete": "off"}),
    )
    parts = NumberField(required=False, high=1e5)

    @property
    def is_blank(self) -> bool:
        """Whether nothing was typed in it."""
        return not any(bound.value() for bound in self)


class Lines(forms.BaseFormSet):  # type: ignore[type-arg]
    """The lines of a blend, each with its number in its labels."""

    def add_fields(self, form: LineForm, index: int | None) -> None:
        """Give the labels of a line its number."""
        super().add_fields(form, index)
        for name, field in form.fields.items():
            field.label = f"{name} {(index or 0) + 1}"
        form.fields["parts"].widget.attrs["autocomplete"] = "off"


LineFormSet = forms.formset_factory(
    LineForm, formset=Lines, extra=ROWS, max_num=ROWS, absolute_max=ROWS
)


def as_posted(document: Mapping[str, str]) -> dict[str, str]:
    """Return a kept blend as its form sends it: ``m1``, ``p1`` are the fields of the first line."""
    posted = {name: text for name, text in document.items() if not ROW_KEY.fullmatch(name)}
    posted |= {"lines-TOTAL_FORMS": str(ROWS), "lines-INITIAL_FORMS": "0"}
    for i in range(ROWS):
        posted[f"lines-{i}-material"] = document.get(f"m{i + 1}", "")
        posted[f"lines-{i}-parts"] = document.get(f"p{i + 1}", "")
    return posted


class BlendForm(MarkedForm):
    """A blend; every field keeps what was typed."""

    name = forms.CharField(max_length=80, initial="Feed blend")
    by = forms.ChoiceField(label="parts", choices=list(WAYS.items()), required=False)
    tub = NumberField(label="amount in the tub", low=0.01, high=1e4, initial="5")
    tub_unit = forms.ChoiceField(label="of", choices=[("kg", "kg"), ("lb", "lb")])
    crop = forms.ChoiceField(label="feeds")
    plants = NumberField(label="how many plants", low=1, high=1e5, initial="10")
    pot = NumberField(label="mix in each pot", low=0.05, high=1e4, initial="10")
    pot_unit = forms.ChoiceField(label="in", choices=[("L", "litres"), ("gal", "gallons")])
    plants_m2 = NumberField(label="in a bed, plants to a m²", low=0.1, high=1000, initial="3")
    weeks = NumberField(label="weeks between feeds", low=0.5, high=52, initial="4")
    sack = forms.ChoiceField(label="compare with a bought feed", choices=list(SACKS.items()))

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        groups: Any = [(c.slug, c.name.lower()) for c in crops().values()]
        self.fields["crop"] = forms.ChoiceField(label="feeds", choices=groups, initial="fruiting")
        self.rows = LineFormSet(self.data if self.is_bound else None, prefix="lines")
        if yard.measures.is_us:
            self.initial = {"tub_unit": "lb", "pot_unit": "gal", **self.initial}

    @property
    def first_rows(self) -> list[LineForm]:
        """The lines that are always shown."""
        return self.rows.forms[:SHOWN]

    @property
    def more_rows(self) -> list[LineForm]:
        """The lines that are folded away until they are wanted."""
        return self.rows.forms[SHOWN:]

    @property
    def is_long(self) -> bool:
        """Whether something stands in the folded lines."""
        return not all(row.is_blank for row in self.more_rows)

    @property
    def others(self) -> list[forms.BoundField]:
        """What is asked beside the lines and the name."""
        return [self[name] for name in BlendForm.base_fields if name not in APART]

    def clean(self) -> dict[str, Any]:
        """Judge the lines with the rest."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        self.lines: list[tuple[Material, float]] = []
        if not self.rows.management_form.is_valid():
            raise forms.ValidationError("The lines did not arrive: reload the page.")
        typed = [row.cleaned_data.get("material", "") for row in self.rows if row.is_valid()]
        vocabulary = vocabulary_of(self.yard)
        meant = {text: understood(text, vocabulary, Box.DOSE) for text in typed if text}
        held = known_materials(self.yard, [m.slug for m in meant.values() if m.slug])
        for row in self.rows:
            self._judge(row, held, meant)
        if not self.lines and not self.errors and self.rows.is_valid():
            self.rows.forms[0].add_error("material", "Add at least one meal, dust or salt.")
        for row in self.rows:
            row.mark_errors()
        return data

    def is_valid(self) -> bool:
        """Whether the rest and every line can be read."""
        return super().is_valid() and self.rows.is_valid()

    @property
    def problems(self) -> list[str]:
        """What is wrong, a sentence for each field."""
        forms_ = [self, *self.rows]
        return [str(errors[0]) for form in forms_ for errors in form.errors.values()]

    def _judge(
        self, row: LineForm, held: Mapping[str, Row], meant: Mapping[str, Understood]
    ) -> None:
        if row.is_blank or row.errors:
            return
        text, parts = row.cleaned_data["material"], row.cleaned_data["parts"]
        material = held.get(meant[text].slug or "") if text in meant else None
        if material is None:
            row.add_error("material", self._asks(meant[text]) if text else "Choose a material.")
        elif material.core.role == "bulk":
            row.add_error("material", f"{material.short_name} is a part: it goes on the Bench.")
        elif not parts:
            row.add_error("parts", f"How many parts, {WAYS[self.way]}?")
        elif self.way == "volume" and not material.core.is_weighed:
            say = f"The weight of a litre of {material.short_name} is unknown. Enter it by weight."
            row.add_error("material", say)
        else:
            self.lines.append((material.core, parts))

    def _asks(self, meant: Understood) -> str:
        """Ask which material a word means; say so where none is known."""
        rows = known_materials(self.yard, meant.slugs)
        names = [rows[slug].short_name for slug in meant.slugs if slug in rows]
        if not names:
            return f"“{meant.words}” is not known here."
        return f"Which “{meant.words}” is it: {', '.join(names)}?"

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
        """What was typed, as it is kept: the lines as ``m1``, ``p1``, ``m2`` and so on."""
        kept = {name: str(self.data.get(name, "")) for name in self.fields}
        for i, row in enumerate(self.rows, start=1):
            kept[f"m{i}"] = str(row["material"].value() or "")
            kept[f"p{i}"] = str(row["parts"].value() or "")
        return kept
