"""What was given to some pots, as a grower says it: a handful each, 3 mL/L in the can."""

from __future__ import annotations

from datetime import date
from typing import Any

from django import forms
from django.utils import timezone

from pelk.bench.forms.entry_lines import Shop
from pelk.core.base.errors import UnknownError
from pelk.core.base.rounding import sig
from pelk.core.materials.material import Material
from pelk.core.materials.measures import yard_measures
from pelk.core.materials.spoken import Spoken, heard
from pelk.core.materials.spoken_units import spoken_units
from pelk.core.materials.words import Box, Sense, is_word, taught_also, understood
from pelk.core.simulation.life import Placed
from pelk.pots.domain.fed import Given
from pelk.pots.models import PotGroup
from pelk.soils.models import SoilEvent
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import FILLED, MASSES, sizes

SAID_MAX = 200
# What is poured without a word on how much comes to this much of the pot.
USUAL_CAN = 0.1
LIQUID = "liquid"
EACH, ALL = "each", "all"
PLACES = {
    Placed.ON_TOP: "on top",
    Placed.SCRATCHED: "scratched in",
    Placed.TOP_THIRD: "worked into the top third",
}
SPACES_OF_RATE = {"L": 1.0, "gal": 3.785, "ft3": 28.32}


class FedForm(MarkedForm):
    """What was given, to which pots, when."""

    said = forms.CharField(label="what and how much, as you say it", max_length=SAID_MAX)
    meant = forms.CharField(required=False, max_length=80)
    share = forms.ChoiceField(
        label="that is for",
        choices=[(EACH, "each pot"), (ALL, "all of them together")],
        required=False,
    )
    placed = forms.ChoiceField(
        label="put", choices=[(k.value, v) for k, v in PLACES.items()], required=False
    )
    litres = NumberField(required=False, low=0.001, high=1e5)
    through = NumberField(label="of it runs through, %", required=False, high=100)
    on = DayField(label="Date (blank: today)", required=False)

    def __init__(self, *args: Any, group: PotGroup, shop: Shop, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.group, self.shop = group, shop
        self.choices: list[tuple[str, str]] = []
        unit = shop.yard.measures.space_unit
        self.space_l = sizes()[unit]
        self.fields["litres"].label = f"of the can, into each pot, {unit}"
        self.given: Given | None = None

    def clean_on(self) -> date:
        """Take today when it was left blank; refuse tomorrow."""
        on: date = self.cleaned_data.get("on") or timezone.localdate()
        if on > timezone.localdate():
            raise forms.ValidationError("That date is in the future. Enter now or earlier.")
        return on

    def clean(self) -> dict[str, Any]:
        """Understand what was said, or ask."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        if data.get("said"):
            try:
                self.given = self._understood(data)
            except forms.ValidationError as error:
                self.add_error("said", error)
        return data

    def _understood(self, data: dict[str, Any]) -> Given:
        vocabulary = self.shop.vocabulary
        lines = heard(
            data["said"],
            vocabulary.region,
            is_comma=self.shop.yard.is_comma,
            is_known=lambda words: is_word(words, vocabulary),
        )
        if len(lines) != 1:
            raise forms.ValidationError("Enter one feed at a time: what was given besides is next.")
        spoken = lines[0]
        meant = data.get("meant", "")
        if meant in vocabulary.materials and spoken.words:
            vocabulary = taught_also(vocabulary, spoken.words, meant)
        understands = understood(spoken.words, vocabulary, Box.DOSE)
        if understands.slug is None:
            self.choices = [(s, self.shop.name(s)) for s in understands.slugs]
            if understands.sense is Sense.WHICH or self.choices:
                raise forms.ValidationError(f"Which “{spoken.words}” is it?")
            raise forms.ValidationError(
                f"“{spoken.words or data['said']}” is not known here: put it on the shelf first."
            )
        if spoken.amount is None:
            raise forms.ValidationError("How much of it? Such as: 8 g each, or 3 mL/L.")
        material = self.shop.fillings.material(understands.slug)
        return self._amount(spoken, understands.slug, material, data)

    def _amount(self, spoken: Spoken, slug: str, material: Material, data: dict[str, Any]) -> Given:
        grams = self._grams(spoken, material)
        name = self.shop.name(slug)
        litres = (data.get("litres") or 0.0) * self.space_l
        rate_l = SPACES_OF_RATE.get(spoken.per)
        is_liquid = LIQUID in (material.form or "").lower() or material.family == "liquid-feed"
        if rate_l and (spoken.in_water or is_liquid or litres):
            g_per_l = grams / (rate_l * spoken.per_number)
            litres = litres or USUAL_CAN * self.group.pot_l
            through = (data.get("through") or 0.0) / 100
            measures = self.shop.yard.measures
            return Given(
                slug,
                SoilEvent.Do.POURED,
                {"material": slug, "g_per_l": g_per_l, "litres": litres, "through": through},
                g_per_l * litres,
                f"{name}: {measures.volume(litres)} of the can in each pot",
            )
        if rate_l:
            grams *= self.group.pot_l / (rate_l * spoken.per_number)
        elif data.get("share") == ALL and spoken.per not in ("pot", "plant"):
            grams /= self.group.count
        mass = self.shop.yard.measures.mass
        placed = Placed(data.get("placed") or Placed.ON_TOP)
        return Given(
            slug,
            SoilEvent.Do.DRESSED,
            {"material": slug, "grams": grams, "placed": placed.value},
            grams,
            f"{name}: {mass(grams)} a pot, {mass(grams * self.group.count)} in all",
        )

    def _grams(self, spoken: Spoken, material: Material) -> float:
        """Return the grams that an amount is. [g]."""
        amount, unit = spoken.amount or 0.0, spoken.unit
        if unit in MASSES:
            return amount * sizes()[unit]
        known = spoken_units().get(unit)
        region = self.shop.vocabulary.region
        one_ml = None
        if own := self.shop.yard.hand_measures.get(unit):
            one_ml = own.typ
        elif unit in FILLED:
            litres = self.shop.fillings.filled(material.slug, unit)
            one_ml = litres * 1000 if litres else None
        elif known is not None and known.kind == "mass":
            return amount * (known.size_in(region) or 0.0)
        elif known is not None and known.kind == "volume":
            one_ml = known.size_in(region)
        elif unit in yard_measures():
            one_ml = yard_measures()[unit].typ
        if one_ml is None:
            what = f"{sig(amount, 3)} {unit}".strip()
            raise forms.ValidationError(
                f"“{what}” has no size here: write it in grams, spoons, handfuls, or mL/L."
            )
        try:
            return amount * one_ml * material.loose_density().typ
        except UnknownError as error:
            raise forms.ValidationError(
                f"A litre of {material.short_name} was never weighed: write it by weight."
            ) from error
