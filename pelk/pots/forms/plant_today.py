"""A recipe planted at once: mixed, put into pots and planted in one step."""

from __future__ import annotations

from datetime import date, datetime, time
from typing import Any

from django import forms
from django.utils import timezone

from pelk.barrow.forms import OLDEST_DAYS
from pelk.bench.formats.documents import MixDocument
from pelk.core.base.rounding import sig
from pelk.core.base.sentences import capital
from pelk.core.crops.groups import library as crops
from pelk.core.crops.named import agreed, crops_named
from pelk.core.vessels.trade_pots import kinds
from pelk.pots.models import PotGroup
from pelk.pots.services.groups import GroupSaid
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import sizes
from pelk.yards.models import Yard

REASON_MAX = 300


class PlantTodayForm(MarkedForm):
    """Which plant, in which pots, when; the recipe says most of it."""

    plant = forms.CharField(label="plant, as you call it", max_length=80, required=False)
    group = forms.ChoiceField(label="into", required=False)
    count = NumberField(label="how many pots", low=1, high=1e5)
    kind = forms.ChoiceField(label="kind of pot")
    litres = NumberField(required=False, low=0.05, high=1e5)
    on = DayField(label="Date (blank: today)", required=False)
    reason = forms.CharField(
        label="why you go on in spite of it", max_length=REASON_MAX, required=False
    )

    def __init__(self, *args: Any, yard: Yard, document: MixDocument, **kwargs: Any) -> None:
        self.yard, self.crop = yard, document.crop
        held = document.batch.vessels if document.batch else []
        vessels = held[0] if held else None
        said = {"count": "1", "kind": "round-pot", "litres": ""}
        if vessels is not None:
            litres = sig(yard.measures.space(vessels.litres), 4) if vessels.litres else ""
            said = {"count": str(vessels.count), "kind": vessels.kind, "litres": litres}
        kwargs["initial"] = said
        super().__init__(*args, **kwargs)
        self.fields["litres"].label = f"to the brim, each, {yard.measures.space_unit}"
        pots: Any = [(k.slug, k.name) for k in kinds().values()]
        self.fields["kind"] = forms.ChoiceField(label="kind of pot", choices=pots)
        self.groups = list(PotGroup.objects.of(yard).live())
        rows: Any = [("", "new pots"), *((str(g.pk), g.name) for g in self.groups)]
        self.fields["group"] = forms.ChoiceField(label="into", choices=rows, required=False)

    def clean_on(self) -> date:
        """Take today when it was left blank; refuse tomorrow and what is long past."""
        on: date = self.cleaned_data.get("on") or timezone.localdate()
        if on > timezone.localdate():
            raise forms.ValidationError("That day is in the future: mix it first, plant it then.")
        if (timezone.localdate() - on).days > OLDEST_DAYS:
            raise forms.ValidationError("That is over two years ago. Enter it as old soil instead.")
        return on

    def clean(self) -> dict[str, Any]:
        """Ask for a size where new pots have none of their own."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        kind = kinds().get(data.get("kind", ""))
        is_new = not data.get("group")
        if is_new and kind and kind.litres is None and not data.get("litres"):
            self.add_error("litres", "Enter what one pot holds to the brim.")
        return data

    @property
    def chosen(self) -> PotGroup | None:
        """The pots that are there already."""
        return next((g for g in self.groups if str(g.pk) == self.cleaned_data["group"]), None)

    @property
    def at(self) -> datetime:
        """Noon of the day, as the yard counts days; now, where it is today."""
        noon = timezone.make_aware(datetime.combine(self.cleaned_data["on"], time(12)))
        return min(noon, timezone.now())

    @property
    def said(self) -> GroupSaid:
        """What is to be said of the pots."""
        data, meant = self.cleaned_data, crops_named(self.cleaned_data["plant"] or "")
        grows = GroupSaid(
            plant=data["plant"],
            family=agreed(meant, "family"),
            crop=agreed(meant, "group") or self.crop,
        )
        if self.chosen is not None:
            return grows if data["plant"] else GroupSaid()
        kind = kinds()[data["kind"]]
        size = sizes()[self.yard.measures.space_unit]
        usual = data["plant"] or crops()[grows["crop"]].name
        return GroupSaid(
            **grows,
            name=capital(usual),
            count=int(data["count"]),
            kind=data["kind"],
            litres=None if kind.litres is not None else data["litres"] * size,
        )
