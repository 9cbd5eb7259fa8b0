"""The reading form: blank means not measured."""

from collections.abc import Callable, Sequence
from datetime import timedelta
from typing import Any

from django import forms
from django.core.exceptions import ValidationError
from django.core.validators import MaxValueValidator, MinValueValidator
from django.utils import timezone

from pelk.core.base.rounding import sig
from pelk.cure.models import Reading
from pelk.ui.days import MomentField
from pelk.ui.numbers import read_number
from pelk.ui.units import Measures

COLDEST_C, HOTTEST_C = -30.0, 90.0
# What a device, or an address, may fill in.
FIELDS = (
    "ph",
    "ec_ds_m",
    "temperature_c",
    "method",
    "pen",
    "moisture",
    "smell",
    "note",
    "taken_at",
)
MEASURED = ("ph", "temperature_c", "ec_ds_m", "moisture", "smell", "note")


class MeasuredField(forms.Field):
    """A number as growers write it, from low to high."""

    widget = forms.TextInput

    # What turns what was typed into what is kept.
    keep: Callable[[float], float] = staticmethod(float)

    def __init__(self, label: str, low: float, high: float, unit: str = "") -> None:
        said = f"{label} is from {low:g} to {high:g}{unit}. Leave blank if not measured."
        span = [MinValueValidator(low, said), MaxValueValidator(high, said)]
        super().__init__(label=label, required=False, validators=span)
        self.error_messages |= {"invalid": "Enter one number, such as 5.4."}
        self.widget.attrs.update(inputmode="decimal", autocomplete="off")

    def to_python(self, value: Any) -> float | None:
        """Read ``5,4`` as ``5.4``; blank is not measured."""
        if not str(value or "").strip():
            return None
        number = read_number(str(value))
        if number is None:
            raise ValidationError(self.error_messages["invalid"], code="invalid")
        return self.keep(number)


class ReadingForm(forms.ModelForm):  # type: ignore[type-arg]
    """What was measured on a visit."""

    ph = MeasuredField("pH", 0, 14)
    temperature_c = MeasuredField("heap °C", COLDEST_C, HOTTEST_C, " °C")
    ec_ds_m = MeasuredField("EC dS/m", 0, 50, " dS/m")
    taken_at = MomentField(label="when", required=False)

    class Meta:
        model = Reading
        fields = [
            "ph",
            "temperature_c",
            "ec_ds_m",
            "method",
            "pen",
            "moisture",
            "smell",
            "note",
            "taken_at",
        ]
        labels = {"method": "measured by", "moisture": "squeeze", "smell": "smell", "note": "note"}

    def __init__(
        self, *args: Any, measures: Measures | None = None, pens: Sequence[str] = (), **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        if len(pens) > 1:
            choices = [("", "not said"), *((pen, pen) for pen in pens)]
            self.fields["pen"] = forms.ChoiceField(
                label="which pen", choices=choices, required=False
            )
        else:
            del self.fields["pen"]
        self._in_degrees(measures or Measures("metric"))
        kinds = {"moisture": Reading.Moisture, "smell": Reading.Smell}
        for name, kind in kinds.items():
            field = self.fields[name]
            if isinstance(field, forms.ChoiceField):
                field.choices = [("", "–"), *kind.choices]

    def _in_degrees(self, measures: Measures) -> None:
        """Ask for the heap's warmth in the yard's own degrees; kept is °C."""
        if not measures.is_us:
            return
        field = MeasuredField("heap °F", COLDEST_C, HOTTEST_C)
        low, high = measures.degrees(COLDEST_C), measures.degrees(HOTTEST_C)
        said = f"heap °F is from {low:g} to {high:g} °F. Leave blank if not measured."
        field.validators = [MinValueValidator(COLDEST_C, said), MaxValueValidator(HOTTEST_C, said)]
        field.keep = measures.celsius
        self.fields["temperature_c"] = field
        held = self.initial.get("temperature_c", getattr(self.instance, "temperature_c", None))
        if held is not None:
            self.initial["temperature_c"] = sig(measures.degrees(float(held)), 4)

    def clean_taken_at(self) -> Any:
        """Take now when it was left blank; refuse tomorrow."""
        at = self.cleaned_data.get("taken_at") or timezone.now()
        if at > timezone.now() + timedelta(minutes=5):
            raise ValidationError("That date is in the future. Enter now or earlier.")
        return at

    def clean(self) -> dict[str, Any]:
        """Ask for at least one measurement."""
        data = super().clean() or {}
        if not self.errors and all(data.get(f) in (None, "") for f in MEASURED):
            raise ValidationError("Enter at least one measurement.")
        return data
