"""A jar test, as it is described."""

from __future__ import annotations

from typing import Any

from django import forms

from pelk.shelf.selectors import limes_of
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import sizes
from pelk.yards.models import Yard


class JarForm(MarkedForm):
    """What the jars are to tell."""

    name = forms.CharField(label="mix", max_length=80)
    material = forms.ChoiceField(label="dose of")
    estimate = NumberField(label="your estimate, g/L", low=0.05, high=60, initial="2")
    jar = NumberField(label="mix in a jar, mL", low=50, high=5000, initial="500")
    target = NumberField(label="target pH", low=3, high=8, initial="6.0")
    volume = NumberField(required=False, low=0.1, high=1e6)

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        self.fields["volume"].label = f"of mix to dose in all, {yard.measures.space_unit}"
        rows: Any = [(m.slug, m.name) for m in limes_of(yard)]
        self.fields["material"] = forms.ChoiceField(
            label="dose of", choices=rows, initial="lime-calcitic-ground"
        )

    @property
    def said(self) -> dict[str, Any]:
        """What was said, for the service."""
        data = self.cleaned_data
        size = sizes()[self.yard.measures.space_unit]
        return {
            "name": data["name"],
            "material": data["material"],
            "estimate_g_l": data["estimate"],
            "jar_l": data["jar"] / 1000,
            "target_ph": data["target"],
            "litres": data["volume"] * size if data["volume"] else None,
        }
