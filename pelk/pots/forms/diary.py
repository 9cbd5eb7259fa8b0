"""What was seen on some pots: a picture, how tall, how many leaves, the first flower, pests."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms
from django.utils import timezone

from pelk.core.crops.pests import PESTS
from pelk.pots.models import PotGroup
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.picture_field import MOST_MB, PictureField

NOTHING = "Say what you saw: a picture, a height, a flower, a few words."


class SawForm(MarkedForm):
    """What was seen."""

    picture = PictureField(
        required=False,
        help_text=f"JPEG, PNG or WebP, up to {MOST_MB} MB. It is made small; place and time stay "
        "with you.",
    )
    height = NumberField(required=False, high=1000)
    leaves = NumberField(label="leaves", required=False, high=1e5)
    flower = forms.BooleanField(label="the first flower", required=False)
    pests = forms.MultipleChoiceField(
        label="trouble",
        required=False,
        choices=[(p.slug, p.name) for p in PESTS.values()],
        widget=forms.CheckboxSelectMultiple,
    )
    text = forms.CharField(label="note", max_length=200, required=False)
    on = DayField(label="Date (blank: today)", required=False)

    def __init__(self, *args: Any, group: PotGroup, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        name, self.unit_cm = group.yard.measures.length
        self.fields["height"].label = f"how tall, {name}"

    def clean_on(self) -> date:
        """Take today when it was left blank; refuse tomorrow."""
        on: date = self.cleaned_data.get("on") or timezone.localdate()
        if on > timezone.localdate():
            raise forms.ValidationError("That date is in the future. Enter now or earlier.")
        return on

    def clean(self) -> dict[str, Any]:
        """Ask for something."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        said = ("picture", "height", "leaves", "flower", "pests", "text")
        if not self.errors and not any(data.get(name) for name in said):
            self.add_error("text", NOTHING)
        return data

    @property
    def figures(self) -> dict[str, float]:
        """What was counted and measured. [cm]."""
        data = self.cleaned_data
        figures: dict[str, float] = {}
        if data.get("height"):
            figures["height_cm"] = data["height"] * self.unit_cm
        if data.get("leaves"):
            figures["leaves"] = data["leaves"]
        if data.get("flower"):
            figures["flower"] = 1.0
        return figures | dict.fromkeys(data.get("pests", ()), 1.0)
