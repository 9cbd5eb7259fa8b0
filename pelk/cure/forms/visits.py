"""A sprout test, a picture, a pen in two buffers, as they are typed."""

from __future__ import annotations

from typing import Any

from django import forms

from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.picture_field import PictureField


class SowForm(MarkedForm):
    """Begin a sprout test."""

    seeds = NumberField(label="seeds in each dish", low=10, high=200, initial="20")


class SproutForm(MarkedForm):
    """Count a sprout test."""

    sprouted = NumberField(label="sprouted in the mix", high=200)
    sprouted_control = NumberField(label="sprouted in the control", high=200)
    root_mm = NumberField(label="mean root length in the mix, mm", high=300)
    root_control_mm = NumberField(label="mean root length in the control, mm", high=300)

    def __init__(self, *args: Any, seeds: int, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.seeds = seeds

    def clean(self) -> dict[str, Any]:
        """Refuse more sprouts than seeds."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        for name in ("sprouted", "sprouted_control"):
            count = data.get(name)
            if count is not None and count > self.seeds:
                self.add_error(name, f"Only {self.seeds} were sown.")
            elif count is not None:
                data[name] = int(count)
        return data


class PhotoForm(MarkedForm):
    """A picture of the heap."""

    file = PictureField(label="picture")
    note = forms.CharField(label="what it shows", required=False, max_length=200)


class PenForm(MarkedForm):
    """A pen in two buffers."""

    meter = forms.CharField(label="which pen", max_length=60, initial="pen")
    read_low = NumberField(label="reads in pH 4.01", low=1, high=8)
    read_high = NumberField(label="reads in pH 7.00", low=4, high=11)
