"""Pots as they are described, and a filling as it is written down."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Any

from django import forms
from django.utils import timezone

from pelk.core.base.rounding import sig
from pelk.core.crops.feeding_rules import TEA_MOST_HOURS, tea
from pelk.core.crops.groups import library as crops
from pelk.core.crops.named import agreed, crops_named, family_of
from pelk.core.vessels.trade_pots import filled_volume, kinds, volume_by_size
from pelk.pots.domain.feeds import choices_of
from pelk.pots.domain.planting import same_family
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import sizes
from pelk.yards.models import Yard

CHOSEN = ("kind", "made_of", "crop", "habit", "dressing", "liquid", "strength")
STRENGTHS = [("1.0", "usual for the crop"), ("0.5", "half of it")]
SIDES = {
    "top": "or across the top",
    "bottom": "across the bottom",
    "length": "long, of a trough or bed",
    "height": "high",
}
TEXTS = ("name", "place", "plant", "family", "note")


class GroupForm(MarkedForm):
    """A group of pots; every field keeps what was typed."""

    name = forms.CharField(label="called", max_length=80)
    count = NumberField(label="how many", low=1, high=1e5)
    kind = forms.ChoiceField(label="kind of pot")
    litres = NumberField(required=False, low=0.05, high=1e5)
    top = NumberField(required=False, low=0.5, high=1000)
    bottom = NumberField(required=False, low=0.5, high=1000)
    length = NumberField(required=False, low=0.5, high=10000)
    height = NumberField(required=False, low=0.5, high=500)
    made_of = forms.ChoiceField(label="made of", choices=PotGroup.Made.choices)
    place = forms.CharField(label="Place", max_length=60, required=False)
    crop = forms.ChoiceField(label="crop group")
    plant = forms.CharField(label="plant, as you call it", max_length=80, required=False)
    family = forms.CharField(label="plant family", max_length=60, required=False)
    plants = NumberField(
        label="plants in each pot; blank is one", required=False, low=0.01, high=1e4
    )
    habit = forms.ChoiceField(label="watered", choices=PotGroup.Habit.choices, required=False)
    dressing = forms.ChoiceField(label="Top-dressed with", required=False)
    liquid = forms.ChoiceField(label="liquid feed", required=False)
    strength = forms.ChoiceField(
        label="strength of liquid feeds", choices=STRENGTHS, required=False
    )
    note = forms.CharField(max_length=300, required=False)

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        unit = yard.measures.space_unit
        self.fields["litres"].label = f"to the brim, each, {unit}"
        length, _ = yard.measures.length
        for field, words in SIDES.items():
            self.fields[field].label = f"{words}, {length}"
        pots: Any = [(k.slug, k.name) for k in kinds().values()]
        self.fields["kind"] = forms.ChoiceField(label="kind of pot", choices=pots)
        groups: Any = [(c.slug, c.name.lower()) for c in crops().values()]
        for name, rows in choices_of(yard).items():
            feeds: Any = [("", "whatever is on your shelf"), *rows]
            label = self.fields[name].label
            self.fields[name] = forms.ChoiceField(label=label, choices=feeds, required=False)
        groups = [("", "by the plant"), *groups]
        self.fields["crop"] = forms.ChoiceField(label="crop group", choices=groups, required=False)

    @classmethod
    def of(cls, group: PotGroup, yard: Yard) -> GroupForm:
        """Return the form of a group that is kept."""
        said = {name: getattr(group, name) for name in (*TEXTS, *CHOSEN)}
        said |= {
            "count": str(group.count),
            "plants": sig(group.plants, 4),
            "litres": "",
            "height": sig(group.height_cm / yard.measures.length[1], 4) if group.height_cm else "",
        }
        if group.litres:
            said["litres"] = sig(yard.measures.space(group.litres), 4)
        return cls(initial=said, yard=yard)

    def clean(self) -> dict[str, Any]:
        """Ask for a size where the kind of pot has none of its own."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        self._know_the_plant(data)
        kind = kinds().get(data.get("kind", ""))
        sizes_wrong = {"litres", "top", "height"} & set(self.errors)
        is_sized = data.get("litres") or (data.get("top") and data.get("height"))
        if kind and kind.litres is None and not is_sized and not sizes_wrong:
            self.add_error(
                "litres", "Enter what one pot holds to the brim, or its width and height."
            )
        return data

    def _know_the_plant(self, data: dict[str, Any]) -> None:
        """Take the group and the family of a plant that is known by its name, where not said."""
        meant = crops_named(data.get("plant") or "")
        data["family"] = family_of(data.get("family") or "") or agreed(meant, "family")
        data["crop"] = data.get("crop") or agreed(meant, "group")
        if data["crop"] or "crop" in self.errors:
            return
        if not data.get("plant"):
            self.add_error("crop", "Enter the plant, or choose a crop group.")
        elif not meant:
            say = f"“{data['plant']}” is not known here: choose the crop group it is most like."
            self.add_error("crop", say)
        else:
            names = ", ".join(crop.name for crop in meant[:4])
            self.add_error("crop", f"“{data['plant']}” may be {names}: choose the crop group.")

    @property
    def said(self) -> dict[str, Any]:
        """What was described, for the service."""
        data = dict(self.cleaned_data)
        kind = kinds()[data["kind"]]
        litres = data["litres"]
        _, centimetres = self.yard.measures.length
        across = {n: (data.pop(n) or 0.0) * centimetres for n in SIDES}
        data["height_cm"] = across["height"] or None
        data["count"] = int(data["count"])
        data["plants"] = data["plants"] or 1.0
        data["habit"] = data["habit"] or PotGroup.Habit.NORMAL
        data["strength"] = float(data["strength"] or 1.0)
        size = sizes()[self.yard.measures.space_unit]
        if kind.litres is not None:
            data["litres"] = None
        elif litres:
            data["litres"] = litres * size
        else:
            data["litres"] = volume_by_size(
                across["top"], across["height"], across["bottom"] or None, across["length"] or None
            )
        return data


class FillForm(MarkedForm):
    """What went into the pots."""

    taken = NumberField(low=0.01, high=1e6)
    filled = NumberField(label="Pots filled", required=False, low=1, high=1e5)
    how = forms.ChoiceField(label="as", choices=PotFill.How.choices)
    what = forms.CharField(label="What it was, if not from a heap", max_length=120, required=False)
    seasons = NumberField(label="Seasons the soil had been used", required=False, high=50)
    on = DayField(label="Date (blank: today)", required=False)

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        self.fields["taken"].label = f"taken, loose, {yard.measures.space_unit}"

    def clean_on(self) -> Any:
        """Take today when it was left blank; refuse tomorrow."""
        on = self.cleaned_data.get("on") or timezone.localdate()
        if on > timezone.localdate():
            raise forms.ValidationError("That date is in the future. Enter now or earlier.")
        return on

    @property
    def taken_l(self) -> float:
        """What was taken, loose. [L]."""
        litres: float = self.cleaned_data["taken"] * sizes()[self.yard.measures.space_unit]
        return litres


# What can be written down on a group's page, and which numbers go with it.
WRITES = (
    PotDeed.Kind.READING,
    PotDeed.Kind.BUDS,
    PotDeed.Kind.LEAVES,
    PotDeed.Kind.TEA,
    PotDeed.Kind.MANURE,
    PotDeed.Kind.HARVEST,
    PotDeed.Kind.STARS,
    PotDeed.Kind.NOTE,
    PotDeed.Kind.WATERED,
    PotDeed.Kind.RINSED,
    PotDeed.Kind.CLEARED,
    PotDeed.Kind.PLANTED,
)
FIGURES = {
    PotDeed.Kind.READING: ("ph", "ec_ds_m"),
    PotDeed.Kind.TEA: ("age_h",),
    PotDeed.Kind.HARVEST: ("kg",),
    PotDeed.Kind.STARS: ("stars",),
    PotDeed.Kind.WATERED: ("litres_week",),
    PotDeed.Kind.RINSED: ("litres",),
}
WATERS = ("litres_week", "litres")


class DeedForm(MarkedForm):
    """What was read, seen or done; only the numbers that belong to it count."""

    kind = forms.ChoiceField(label="what", choices=[(k.value, k.label) for k in WRITES])
    on = DayField(label="Date (blank: today)", required=False)
    ph = NumberField(label="pH of the drainage water", required=False, low=2, high=11)
    ec_ds_m = NumberField(label="salts, dS/m", required=False, high=30)
    age_h = NumberField(label="Hours since the air pump stopped", required=False, high=1000)
    sweetened = forms.BooleanField(label="brewed with sugar or kelp", required=False)
    raw = forms.BooleanField(label="brewed from raw manure", required=False)
    kg = NumberField(required=False, high=1e5)
    stars = NumberField(label="stars, 1 to 5", required=False, low=1, high=5)
    litres_week = NumberField(required=False, high=1e5)
    litres = NumberField(required=False, high=1e5)
    beside = forms.BooleanField(label="beside what grows there", required=False)
    text = forms.CharField(label="note", max_length=300, required=False)

    def __init__(
        self, *args: Any, yard: Yard, not_before: date | None = None, **kwargs: Any
    ) -> None:
        super().__init__(*args, **kwargs)
        self.not_before = not_before
        self.weight = "lb" if yard.system == yard.System.US else "kg"
        self.fields["kg"].label = f"harvest, {self.weight}"
        unit = yard.measures.space_unit
        self.space_l = sizes()[unit]
        self.fields["litres_week"].label = f"from now on, {unit} a pot each week"
        self.fields["litres"].label = f"through each pot, {unit}"

    def clean_on(self) -> Any:
        """Take today when it was left blank; refuse tomorrow."""
        on = self.cleaned_data.get("on") or timezone.localdate()
        if on > timezone.localdate():
            raise forms.ValidationError("That date is in the future. Enter now or earlier.")
        return on

    def clean(self) -> dict[str, Any]:
        """Ask for the number that the kind is about; too early a harvest asks why."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        kind = data.get("kind", "")
        early = self.not_before and data.get("on") and data["on"] < self.not_before
        if kind == PotDeed.Kind.HARVEST and early and not data.get("text"):
            self.add_error(
                "text",
                f"Raw manure: not before {self.not_before:%-d %B %Y}. If it was picked all the "
                "same, say what for.",
            )
        wanted = FIGURES.get(kind, ())
        if (
            wanted
            and all(data.get(n) is None for n in wanted)
            and not set(wanted) & set(self.errors)
        ):
            self.add_error(wanted[0], "Enter the measurement.")
        if kind == PotDeed.Kind.NOTE and not data.get("text"):
            self.add_error("text", "Enter the note.")
        if kind == PotDeed.Kind.PLANTED and not data.get("text"):
            self.add_error("text", "Which plant? Write its name.")
        return data

    @property
    def said(self) -> dict[str, Any]:
        """What was written, for the service."""
        data = self.cleaned_data
        figures = {n: data[n] for n in FIGURES.get(data["kind"], ()) if data.get(n) is not None}
        if "kg" in figures:
            figures["kg"] *= sizes()[self.weight] / 1000
        for name in WATERS:
            if name in figures:
                figures[name] *= self.space_l
        if data["kind"] == PotDeed.Kind.TEA:
            figures |= {n: 1.0 for n in ("sweetened", "raw") if data.get(n)}
        return {"kind": data["kind"], "on": data["on"], "text": data["text"], "figures": figures}

    def warnings(self, group: PotGroup) -> list[str]:
        """Say what stands against it."""
        data = self.cleaned_data
        if data["kind"] == PotDeed.Kind.PLANTED and not data["beside"]:
            grew = same_family(group, data["text"], data["on"])
            if grew is None:
                return []
            return [
                f"{grew.name.capitalize()} grew in this soil since {grew.since:%-d %B %Y}, of the "
                f"same family as {data['text']}, {grew.family}: choose another for three years, "
                "or other soil."
            ]
        if data["kind"] != PotDeed.Kind.TEA:
            return []
        is_food = "food" in crops()[group.crop].tags
        judged = tea(data["age_h"], food=is_food, sweetened=data["sweetened"], raw=data["raw"])
        if not judged.is_usable:
            return [judged.text]
        until = timezone.localtime() + timedelta(hours=TEA_MOST_HOURS - data["age_h"])
        return [f"{judged.text} Pour it out by {until:%-d %B, %H:%M}."]


class OldSoilForm(MarkedForm):
    """Which soil is judged, and what is to grow in it."""

    group = forms.ChoiceField(label="from which pots", required=False)
    name = forms.CharField(label="or a name for it", max_length=80, required=False)
    volume = NumberField(required=False, low=0.1, high=1e5)
    pot = NumberField(required=False, low=0.1, high=1e4)
    made_of = forms.ChoiceField(label="pot made of", choices=PotGroup.Made.choices, required=False)
    habit = forms.ChoiceField(label="watered", choices=PotGroup.Habit.choices, required=False)
    next_crop = forms.ChoiceField(label="Next crop")
    last_family = forms.CharField(
        label="what grew in it: the crop or its family", max_length=60, required=False
    )
    next_family = forms.CharField(
        label="what is to come: the crop or its family", max_length=60, required=False
    )

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard, self.groups = yard, list(PotGroup.objects.of(yard).live())
        unit = yard.measures.space_unit
        self.fields["volume"].label = f"of soil, settled, {unit}"
        self.fields["pot"].label = f"a pot holds, {unit}"
        rows: Any = [("", "none of your groups"), *((str(g.pk), g.name) for g in self.groups)]
        self.fields["group"] = forms.ChoiceField(label="out of", choices=rows, required=False)
        wanted: Any = [(c.slug, c.name.lower()) for c in crops().values()]
        self.fields["next_crop"] = forms.ChoiceField(label="Next crop", choices=wanted)
        for field in ("last_family", "next_family"):
            self.fields[field].widget.attrs["list"] = "families"

    def clean(self) -> dict[str, Any]:
        """Ask for a name and a volume where no group gives them."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        if not data.get("group"):
            if not data.get("name"):
                self.add_error("name", "Give it a name.")
            if not data.get("volume") and "volume" not in self.errors:
                self.add_error("volume", "Enter roughly how much there is.")
        return data

    @property
    def said(self) -> dict[str, Any]:
        """What was described, for the service; a group fills what was left blank."""
        data = self.cleaned_data
        size = sizes()[self.yard.measures.space_unit]
        group = next((g for g in self.groups if str(g.pk) == data["group"]), None)
        whole = filled_volume(group.vessels) if group else 0.0
        each = whole / group.count if group else 10.0
        return {
            "group": group,
            "name": data["name"] or (group.name if group else "Old soil"),
            "litres": data["volume"] * size if data["volume"] else whole,
            "pot_l": data["pot"] * size if data["pot"] else each,
            "made_of": (group.made_of if group else "") or data["made_of"] or "plastic",
            "habit": (group.habit if group else "") or data["habit"] or "normal",
            "kind": "bed"
            if group and (group.made_of == "ground" or group.kind == "bed")
            else "container",
            "next_crop": data["next_crop"],
            "last_family": family_of(data["last_family"])
            or (group.family or (group.plant and family_of(group.plant)) if group else ""),
            "next_family": family_of(data["next_family"]),
        }
