"""Adding a material of one's own; a label's N-P-K."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from django import forms
from django.db import transaction

from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.materials.facts import elements_of_label, spread_of
from pelk.core.materials.material import Range
from pelk.shelf.domain.families import FAMILIES
from pelk.shelf.models.materials import Material
from pelk.shelf.services.materials import Said, add_own, say_values
from pelk.ui.forms import MarkedForm, NumberField, offer
from pelk.ui.numbers import read_number
from pelk.ui.refusals import sentence
from pelk.yards.models import User, Yard

LABEL = ("label_n", "label_p", "label_k")
KEYS = {"N": "label_n", "P2O5": "label_p", "K2O": "label_k"}
ROLES = [
    ("bulk", "a part, by volume"),
    ("dose", "a dose, by weight or measure"),
    ("liquid", "a liquid feed"),
    ("mulch", "a mulch"),
]


class LabelForm(MarkedForm):
    """N-P-K as a bag prints it: nitrogen, phosphate, potash."""

    label_n = NumberField(label="N", required=False, high=100)
    label_p = NumberField(label="P (as P2O5)", required=False, high=100)
    label_k = NumberField(label="K (as K2O)", required=False, high=100)
    available = forms.BooleanField(
        label="The label says “available phosphate” and “soluble potash”",
        required=False,
        initial=True,
        help_text="If so, all of it counts as usable this season. If not, it is read as the total.",
    )

    def clean(self) -> dict[str, Any]:
        """Judge the three together."""
        data = super().clean() or {}
        if any(name in self.errors for name in LABEL):
            return data
        given = [data.get(name) for name in LABEL]
        if any(v is not None for v in given):
            try:
                elements_of_label(*(v or 0.0 for v in given))
            except PelkError as error:
                self.add_error(KEYS.get(error.path, "label_n"), sentence(error))
        return data

    @property
    def says(self) -> tuple[dict[str, Range], list[str]]:
        """What the label says: elements with their span, and which are all usable."""
        data = self.cleaned_data
        given = dict(zip("NPK", (data.get(name) for name in LABEL), strict=True))
        elements = elements_of_label(*(v or 0.0 for v in given.values()))
        values = {
            key: spread_of(key, elements[key], "label")
            for key, printed in given.items()
            if printed is not None
        }
        usable: list[str] = []
        if data.get("available"):
            usable += [k for k in ("P", "K") if k in values]
        return values, usable


def label_elements(typed: Mapping[str, Any]) -> str:
    """Return in words what a label being typed means in elements; empty for nothing."""
    texts = [str(typed.get(name, "")).strip() for name in LABEL]
    if not any(texts):
        return ""
    numbers = [read_number(text) if text else 0.0 for text in texts]
    known = [n for n in numbers if n is not None]
    if len(known) < len(numbers):
        return "Enter numbers, such as 5-3-2."
    try:
        elements = elements_of_label(*known)
    except PelkError as error:
        return sentence(error)
    said = ", ".join(f"{k} {sig(v)} %" for k, v in elements.items())
    return f"As elements: {said}."


class AddForm(LabelForm):
    """A new material of the yard's own."""

    name = forms.CharField(label="What is it?", max_length=100)
    like = forms.ChoiceField(
        label="Most like",
        required=False,
        help_text="What you do not know is taken from this, and marked as a guess.",
    )
    family = forms.ChoiceField(
        label="Family, if it is like nothing here",
        required=False,
        choices=[("", "same as the material it is like"), *FAMILIES.items()],
    )
    role = forms.ChoiceField(
        label="Used as", required=False, choices=[("", "same as the material it is like"), *ROLES]
    )

    field_order = ["name", "like", "label_n", "label_p", "label_k", "available", "family", "role"]

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.shared = {m.slug: m for m in Material.objects.filter(yard=None)}
        groups: dict[str, list[tuple[str, str]]] = {}
        for row in self.shared.values():
            family = FAMILIES.get(row.family, row.family)
            groups.setdefault(family, []).append((row.slug, row.name))
        offer(self, "like", [("", "nothing in the library"), *groups.items()])
        self.yard = yard

    def clean(self) -> dict[str, Any]:
        """Ask for a family and a role where there is nothing to take them from."""
        data = super().clean()
        if not data.get("like"):
            for name, word in (("family", "family"), ("role", "way it goes in")):
                if not data.get(name) and name not in self.errors:
                    self.add_error(name, f"Choose the {word}, or what it is most like.")
        return data

    @transaction.atomic
    def save(self, yard: Yard, by: User) -> Material:
        """Add it, with what its label says."""
        data = self.cleaned_data
        like = self.shared.get(data["like"])
        own = add_own(
            yard=yard,
            by=by,
            name=data["name"],
            like=like,
            family=data["family"] or (like.family if like else ""),
            role=data["role"] or (like.role if like else ""),
        )
        values, usable = self.says
        if values:
            said = Said("label")
            own = say_values(
                yard=yard, by=by, material=own, said=said, values=values, usable=usable
            )
        return own
