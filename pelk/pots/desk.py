"""The pH desk made ready for its page."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django import forms

from pelk.core.buffering import blend_curve
from pelk.core.errors import PelkError
from pelk.core.materials import Material, library
from pelk.core.ph_desk import ACIDS, SOILS, Way, acid_for_can, soil_heap, ways_to
from pelk.core.stock import unit_prices
from pelk.core.water import Water, alkalinity_from_ppm, drift_per_month
from pelk.shelf.forms.fields import NumberField, mark_errors
from pelk.shelf.reading import handling_cautions
from pelk.shelf.selectors import known_materials, packages_of
from pelk.ui.numbers import sig
from pelk.ui.units import sizes
from pelk.yards.models import Yard

LIMES = ("lime-calcitic-ground", "lime-dolomitic-ground", "lime-pelletised-dolomitic",
         "oyster-shell-flour", "chalk-ground", "wood-ash")  # fmt: skip
SULFURS = ("sulfur-dusting", "sulfur-wettable", "sulfur-prill-90",
           "soil-acidifier-granules")  # fmt: skip
REST_PH = 8.0
START_PH = 5.5


def myths() -> list[tuple[str, str]]:
    """Return what is said of souring a soil, and what the library's numbers say."""
    shelf = library()
    found = []
    for slug, name in (
        ("coffee-grounds-used", "Used coffee grounds"),
        ("pine-needles", "Pine needles"),
    ):
        ph = shelf[slug].ph
        if ph is not None:
            say = f"stand at pH {ph.typ:g} ({ph.low:g} to {ph.high:g}) and rot towards neutral: mulch, not a dose."
            found.append((name, say))
    say = "are eaten by microbes within days and give the base back: they do not hold a pot’s pH."
    return [*found, ("Vinegar and citric acid on the soil", say)]


class SoilForm(forms.Form):
    """What stands at which pH, and where it should go."""

    soil = forms.ChoiceField(
        label="in", choices=[(k, name) for k, (name, _) in SOILS.items()]
    )
    volume = NumberField(low=0.05, high=1e6, initial="40")
    start = NumberField(label="reads pH", low=3, high=8, initial="6.3")
    target = NumberField(label="wants pH", low=3, high=8, initial="5.2")
    day = NumberField(label="by day", low=7, high=360, initial="120")
    air = NumberField(label="mean °C", low=-5, high=35, initial="15")
    planted = forms.BooleanField(label="a plant stands in it", required=False)

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        self.fields["volume"].label = f"how much, {yard.measures.space_unit}"

    def clean(self) -> dict[str, Any]:
        """Mark what is wrong."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        mark_errors(self)
        return data


class WaterForm(forms.Form):
    """What comes out of the tap, and the can."""

    alkalinity = NumberField(label="alkalinity, mg/L as CaCO₃", high=1000, initial="180")
    water_ph = NumberField(label="the water reads pH", low=4, high=10, initial="7.6")
    wanted = NumberField(label="the can wants pH", low=4, high=7.5, initial="5.8")
    can = NumberField(low=0.1, high=1e4, initial="10")
    weekly = NumberField(
        label="given, litres a litre of soil a week", high=5, initial="0.3"
    )

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        self.fields["can"].label = f"the can holds, {yard.measures.space_unit}"

    def clean(self) -> dict[str, Any]:
        """Mark what is wrong."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        mark_errors(self)
        return data


@dataclass(frozen=True, slots=True)
class WayRow:
    """One product beside the others."""

    name: str
    whole: str
    rate: str
    time: str
    ends: str
    brings: str
    cost: str
    split: str
    is_mine: bool
    problem: str


def ways(form: SoilForm, yard: Yard) -> tuple[list[WayRow], list[Any], str]:
    """Return every product side by side, their cautions, and what is wrong with the question."""
    data = form.cleaned_data
    slugs = LIMES if data["target"] > data["start"] else SULFURS
    held = known_materials(yard, slugs)
    products = [held[slug].core for slug in slugs if slug in held]
    try:
        found = ways_to(
            data["soil"], data["start"], data["target"], int(data["day"]), products,
            data["air"], planted=data["planted"],
        )  # fmt: skip
    except PelkError as error:
        return [], [], f"{error.message[0].upper()}{error.message[1:]}."
    litres = data["volume"] * sizes()[yard.measures.space_unit]
    bought = packages_of(yard, slugs)
    rows = [_row(way, litres, yard, bought) for way in found]
    return rows, handling_cautions([w.material for w in found if not w.problem]), ""


def _row(way: Way, litres: float, yard: Yard, bought: dict[str, Any]) -> WayRow:
    material: Material = way.material
    grams = way.g_per_l * litres
    brings = [
        f"{name} {sig(mg, 2)} mg/L"
        for name, mg in (("calcium", way.calcium_mg_l), ("magnesium", way.magnesium_mg_l))
        if mg >= 1
    ]
    package = bought.get(material.slug)
    price = unit_prices(package, material).per_kg if package else None
    split = ""
    if way.advice is not None and way.advice.is_split:
        now = yard.measures.mass(way.advice.at_once_g_l * litres, 2)
        split = f"{now} at once, look again after {way.advice.wait_days} days"
    weeks = f"half in {way.half_day / 7:.0f} weeks" if way.half_day else ""
    if way.half_day and way.most_day:
        weeks += f", nine tenths in {way.most_day / 7:.0f}"
    return WayRow(
        material.short_name, yard.measures.mass(grams, 2), f"{sig(way.g_per_l, 2)} g/L", weeks,
        f"{way.long_run_ph:.1f}", ", ".join(brings),
        yard.money.write(price * type(price)(repr(grams / 1000))) if price else "", split,
        package is not None, way.problem,
    )  # fmt: skip


def can_of(form: WaterForm, yard: Yard) -> dict[str, Any]:
    """Return what each kitchen acid would be for a can, and what the tap does to a pot."""
    data = form.cleaned_data
    alkalinity = alkalinity_from_ppm(data["alkalinity"])
    can_l = data["can"] * sizes()[yard.measures.space_unit]
    rows = []
    for key, (name, _, _, _, unit) in ACIDS.items():
        amount = acid_for_can(key, alkalinity, data["water_ph"], data["wanted"], can_l)
        rows.append((name, f"{sig(amount, 2)} {unit}"))
    water = Water(alkalinity_meq_l=alkalinity, l_per_l_day=data["weekly"] / 7)
    drifts = []
    for key, (name, _) in SOILS.items():
        buffer = blend_curve(soil_heap(key, START_PH).components).capacity_at(START_PH)
        month = drift_per_month(water, buffer)
        most = REST_PH - START_PH
        year = (
            f"{12 * month:.1f}"
            if 12 * month < most
            else f"to near {REST_PH:g}, no further"
        )
        drifts.append((name, f"{month:.2f}", year))
    return {"rows": rows, "drifts": drifts}
