"""Another value in place of one: number, span, unit, and where it comes from."""

from __future__ import annotations

from typing import Any

from django import forms

from pelk.core.base.elements import LABEL_OXIDE, element_in_oxide
from pelk.core.base.rounding import sig
from pelk.core.materials.facts import Fact, spread_of
from pelk.core.materials.material import Range
from pelk.shelf.models.materials import Value
from pelk.shelf.services.materials import Said
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, NumberField, offer

# Units a value may be typed in, and what makes them the fact's own.
CONTENT_UNITS = {"%": 1.0, "mg/kg (ppm)": 1e-4, "g/kg": 0.1}
DENSITY_UNITS = {"kg/L": 1.0, "g/L": 1e-3, "lb/yd3": 0.000593276421}


class ValueForm(MarkedForm):
    """One value as the grower has it."""

    typical = NumberField(label="Value", low=-1e6)
    unit = forms.ChoiceField(label="Unit", required=False)
    low = NumberField(label="at least", required=False, low=-1e6)
    high = NumberField(label="at most", required=False, low=-1e6)
    mark = forms.ChoiceField(label="How it is known", choices=Value.Mark)
    dated = DayField(label="Date", required=False)
    note = forms.CharField(label="Whose, which bag", required=False, max_length=120)

    def __init__(self, *args: Any, fact: Fact, now: Range | None, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.fact = fact
        self.factors = self._units()
        offer(self, "unit", [(name, name) for name in self.factors])
        if len(self.factors) < 2:
            del self.fields["unit"]
        if not fact.has_span:
            del self.fields["low"], self.fields["high"]

    def _units(self) -> dict[str, float]:
        if self.fact.is_content:
            units = dict(CONTENT_UNITS)
            if oxide := LABEL_OXIDE.get(self.fact.key):
                units[f"% {oxide}"] = element_in_oxide(oxide)
            return units
        if self.fact.key == "mineral_n":
            return {"% of its nitrogen": 0.01, "share": 1.0}
        return DENSITY_UNITS if self.fact.key == "density" else {self.fact.unit: 1.0}

    def clean(self) -> dict[str, Any]:
        """Refuse what the fact cannot be, beside its field."""
        data = super().clean() or {}
        factor = self.factors.get(data.get("unit", ""), 1.0)
        quantity = self.fact.quantity
        for name in ("typical", "low", "high"):
            value = data.get(name)
            if value is None:
                continue
            data[name] = value = value * factor
            if not quantity.low <= value <= quantity.high:
                unit = f" {self.fact.unit}" if self.fact.unit else ""
                self.add_error(
                    name,
                    f"Found {sig(value, 4)}{unit}, allowed: from {quantity.low:g} to "
                    f"{quantity.high:g}{unit}.",
                )
        typical, low, high = (data.get(n) for n in ("typical", "low", "high"))
        if typical is not None and low is not None and low > typical:
            self.add_error("low", "This must not be more than the value.")
        if typical is not None and high is not None and high < typical:
            self.add_error("high", "This must not be less than the value.")
        return data

    @property
    def range(self) -> Range:
        """The value with its span; what was not said comes from its provenance."""
        data = self.cleaned_data
        typical, low, high = data["typical"], data.get("low"), data.get("high")
        if not self.fact.has_span:
            return Range(typical, typical, typical)
        usual = spread_of(self.fact.key, typical, data["mark"])
        return Range(
            min(usual.low, typical) if low is None else low,
            typical,
            max(usual.high, typical) if high is None else high,
        )

    @property
    def said(self) -> Said:
        """Where it comes from."""
        data = self.cleaned_data
        return Said(data["mark"], data["dated"], data["note"])
