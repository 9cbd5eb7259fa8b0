"""The rain of a winter, as it is typed."""

from __future__ import annotations

from django import forms

from pelk.pots.domain.winter import RAIN_MM
from pelk.ui.forms import MarkedForm, NumberField


class WinterForm(MarkedForm):
    """How much it rains on the pots from the last growth to the first."""

    rain = NumberField(label="rain of the winter, mm", high=5000, initial=RAIN_MM)
    covered = forms.BooleanField(label="under a roof or a cover", required=False)
