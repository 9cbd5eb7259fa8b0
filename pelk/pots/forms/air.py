"""A drain test and a lift test, as they are typed."""

from __future__ import annotations

from typing import Any

from pelk.core.base.errors import PelkError
from pelk.core.vessels.drainage import drain_test
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.refusals import sentence
from pelk.ui.units import sizes
from pelk.yards.models import Yard


class DrainForm(MarkedForm):
    """A drain test of one filled pot."""

    volume = NumberField(label="Pot volume to the soil line, mL", low=50, high=2e5)
    drained = NumberField(label="Drained in one hour, mL", low=0, high=2e5)
    wet = NumberField(label="Drained soil, g", required=False, low=1, high=5e5)
    dry = NumberField(label="The same soil dried, g", required=False, low=1, high=5e5)

    def clean(self) -> dict[str, Any]:
        """Read the test; what cannot be is said beside its field."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        if not self.errors:
            try:
                wet, dry = data.get("wet") or 2.0, data.get("dry") or 1.0
                test = drain_test(data["volume"], data["drained"], wet, dry)
            except PelkError as error:
                field = {"drained_ml": "drained", "dry_g": "dry"}.get(error.path, "drained")
                self.add_error(field, sentence(error))
            else:
                self.figures = {"air": test.air_filled}
                if data.get("wet") and data.get("dry"):
                    self.figures |= {
                        "water": test.container_capacity,
                        "dry_kg_l": test.dry_density_kg_l,
                    }
        return data


class LiftForm(MarkedForm):
    """A lift test: one pot weighed watered and thirsty, in the yard's weights."""

    wet = NumberField(low=0.05, high=1000)
    dry = NumberField(low=0.05, high=1000)
    days = NumberField(label="days between the two", required=False, low=0.2, high=120)

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.unit = "lb" if yard.system == yard.System.US else "kg"
        self.fields["wet"].label = f"watered and drained, {self.unit}"
        self.fields["dry"].label = f"when it wants water, {self.unit}"

    def clean(self) -> dict[str, Any]:
        """Refuse a pot that got heavier by drying."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        if not self.errors and data["dry"] >= data["wet"]:
            self.add_error(
                "dry", "The weight when it needs water must be less than the weight when watered."
            )
        return data

    @property
    def figures(self) -> dict[str, float]:
        """What was weighed, for the service."""
        data = self.cleaned_data
        size = sizes()[self.unit] / 1000
        weights = {"wet_kg": data["wet"] * size, "dry_kg": data["dry"] * size}
        return weights | ({"days": data["days"]} if data["days"] else {})
