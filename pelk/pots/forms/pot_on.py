"""Larger pots, and how much of the old soil stays on the roots."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms
from django.utils import timezone

from pelk.core.base.rounding import sig
from pelk.core.vessels.trade_pots import kinds
from pelk.pots.models import PotGroup
from pelk.pots.selectors import HeapLeft
from pelk.pots.services.groups import GroupSaid
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import sizes

# Of the old soil, what usually comes along on the roots.
BALL = 0.9


class PotOnForm(MarkedForm):
    """Into which pots, with which mix, keeping how much."""

    heap = forms.ChoiceField(label="with mix of")
    kind = forms.ChoiceField(label="kind of pot")
    litres = NumberField(required=False, low=0.05, high=1e5)
    kept = NumberField(low=0.001, high=1e5)
    on = DayField(label="Date (blank: today)", required=False)

    def __init__(self, *args: Any, group: PotGroup, heaps: list[HeapLeft], **kwargs: Any) -> None:
        measures = group.yard.measures
        kwargs["initial"] = {"kind": group.kind, "kept": sig(measures.space(BALL * group.pot_l), 3)}
        super().__init__(*args, **kwargs)
        self.group, self.heaps = group, {str(h.batch.pk): h.batch for h in heaps}
        unit = measures.space_unit
        self.size_l = sizes()[unit]
        rows: Any = [(pk, f"{b.code} {b.name}") for pk, b in self.heaps.items()]
        self.fields["heap"] = forms.ChoiceField(label="with mix of", choices=rows)
        pots: Any = [(k.slug, k.name) for k in kinds().values()]
        self.fields["kind"] = forms.ChoiceField(label="kind of pot", choices=pots)
        self.fields["litres"].label = f"to the brim, each, {unit}"
        self.fields["kept"].label = f"of the old soil kept on the roots, each, {unit}"

    def clean_on(self) -> date:
        """Take today when it was left blank; refuse tomorrow."""
        on: date = self.cleaned_data.get("on") or timezone.localdate()
        if on > timezone.localdate():
            raise forms.ValidationError("That date is in the future. Enter now or earlier.")
        return on

    def clean(self) -> dict[str, Any]:
        """Ask for a size where the kind of pot has none of its own."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        kind = kinds().get(data.get("kind", ""))
        if kind and kind.litres is None and not data.get("litres"):
            self.add_error("litres", "Enter what one pot holds to the brim.")
        return data

    @property
    def said(self) -> GroupSaid:
        """The new pots."""
        data = self.cleaned_data
        own = kinds()[data["kind"]].litres
        litres = None if own is not None else data["litres"] * self.size_l
        return GroupSaid(kind=data["kind"], litres=litres, height_cm=None)

    @property
    def kept_l(self) -> float:
        """The root ball of one. [L]."""
        return float(self.cleaned_data["kept"]) * self.size_l
