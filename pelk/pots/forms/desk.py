"""What is asked at the pH desk: a soil to move, a can of water to sour."""

from __future__ import annotations

from typing import Any

from django import forms

from pelk.core.advice.ph_desk import ACIDS, SOILS, Lying
from pelk.core.base.rounding import sig
from pelk.core.materials.library import library
from pelk.core.vessels.trade_pots import filled_volume
from pelk.pots.models import PotGroup
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import sizes
from pelk.yards.models import Yard

GROUPS = 200
AMOUNTS = (("volume", "a volume"), ("pots", "a group of pots"), ("bed", "a bed, area by depth"))
# What may lie in it already, by slug of the library.
LYING = {"": "nothing", "sulfur-dusting": "sulfur", "lime-dolomitic-ground": "ground lime"}
M2_FT2 = 0.09290304
COLDEST_C, WARMEST_C, USUAL_C = -5.0, 35.0, 15.0
MOST_LYING_G_L = 60.0


class SoilForm(MarkedForm):
    """What stands at which pH, and where it should go."""

    soil = forms.ChoiceField(label="in", choices=[(k, name) for k, (name, _) in SOILS.items()])
    of = forms.ChoiceField(label="how much", choices=AMOUNTS, required=False)
    volume = NumberField(required=False, low=0.05, high=1e6, initial="40")
    group = forms.ChoiceField(label="of these pots", required=False)
    area = NumberField(required=False, low=0.05, high=1e5, initial="2")
    depth = NumberField(required=False, low=1, high=100, initial="15")
    start = NumberField(label="pH now", low=3, high=8, initial="6.3")
    target = NumberField(label="Target pH", low=3, high=8, initial="5.2")
    day = NumberField(label="by day", low=7, high=360, initial="120")
    air = NumberField()
    lying = forms.ChoiceField(
        label="given already", choices=list(LYING.items()), required=False, initial=""
    )
    lying_g_l = NumberField(required=False)
    lying_days = NumberField(label="days ago", required=False, high=730)
    planted = forms.BooleanField(label="A plant is growing in it", required=False)

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        is_us = yard.system == yard.System.US
        self.fields["volume"].label = f"the volume, {yard.measures.space_unit}"
        self.fields["area"].label = "the area, ft²" if is_us else "the area, m²"
        self.fields["depth"].label = "worked in, inches" if is_us else "worked in, cm"
        self.measures = measures = yard.measures
        self.fields["air"] = NumberField(
            label=f"mean {measures.degree_unit}",
            low=measures.degrees(COLDEST_C),
            high=measures.degrees(WARMEST_C),
            initial=sig(measures.degrees(USUAL_C), 3),
        )
        self.rate_g_l = sizes()["oz"] / sizes()["gal"] if is_us else 1.0
        self.fields["lying_g_l"] = NumberField(
            label="of it, oz/gal" if is_us else "of it, g/L",
            required=False,
            high=MOST_LYING_G_L / self.rate_g_l,
        )
        self.groups = list(PotGroup.objects.of(yard).live()[:GROUPS])
        rows: Any = [("", "none"), *((str(g.pk), g.name) for g in self.groups)]
        self.fields["group"] = forms.ChoiceField(
            label="of these pots", choices=rows, required=False
        )

    def clean(self) -> dict[str, Any]:
        """Ask for the amount that was chosen."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        wanted = {"pots": ("group",), "bed": ("area", "depth")}.get(data.get("of", ""), ("volume",))
        for name in wanted:
            if not data.get(name) and name not in self.errors:
                self.add_error(name, "Enter the amount.")
        if data.get("lying") and not data.get("lying_g_l") and "lying_g_l" not in self.errors:
            self.add_error("lying_g_l", "How much of it was given?")
        return data

    @property
    def already(self) -> Lying | None:
        """What was given already."""
        data = self.cleaned_data
        if not data.get("lying"):
            return None
        material = library()[data["lying"]]
        given_g_l = float(data["lying_g_l"]) * self.rate_g_l
        return Lying(material, given_g_l, float(data["lying_days"] or 0.0))

    @property
    def warm_c(self) -> float:
        """How warm it lies, in the mean. [°C]."""
        return self.measures.celsius(float(self.cleaned_data["air"]))

    @property
    def depth_cm(self) -> float:
        """How deep a bed is worked. [cm]."""
        return float(self.cleaned_data["depth"]) * self.yard.measures.length[1]

    @property
    def litres(self) -> float:
        """How much soil it is. [L]."""
        data = self.cleaned_data
        if data["of"] == "pots":
            group = next(g for g in self.groups if str(g.pk) == data["group"])
            return filled_volume(group.vessels)
        if data["of"] == "bed":
            scale = M2_FT2 if self.yard.system == self.yard.System.US else 1.0
            return float(data["area"]) * scale * 10 * self.depth_cm
        return float(data["volume"]) * sizes()[self.yard.measures.space_unit]


class WaterForm(MarkedForm):
    """What comes out of the tap, and the can."""

    alkalinity = NumberField(label="alkalinity, mg/L as CaCO₃", high=1000, initial="180")
    water_ph = NumberField(label="pH of the water", low=4, high=10, initial="7.6")
    wanted = NumberField(label="Target pH in the can", low=4, high=7.5, initial="5.8")
    can = NumberField(low=0.1, high=1e4, initial="10")
    added = forms.ChoiceField(
        label="or: I put in",
        choices=[("", "nothing yet"), *((key, row[0]) for key, row in ACIDS.items())],
        required=False,
    )
    much = NumberField(label="so much of it in the can, mL or g", required=False, high=1e5)
    weekly = NumberField(
        label="given a week, volumes of water to one of soil", high=5, initial="0.3"
    )

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        if yard.water_analysis.known != "unknown":
            self.initial["alkalinity"] = f"{sig(yard.water_analysis.alkalinity_mg_l, 3)}"
        self.fields["can"].label = f"the can holds, {yard.measures.space_unit}"
