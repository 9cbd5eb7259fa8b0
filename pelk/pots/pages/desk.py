"""The pH desk made ready for its page."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

from pelk.core.acid_base.acids import Acidifier
from pelk.core.acid_base.buffering import blend_curve
from pelk.core.acid_base.water import Water, alkalinity_from_ppm, drift_per_month, strong_acid_for
from pelk.core.advice.ph_answer import Outcome
from pelk.core.advice.ph_desk import (
    ACIDS,
    SOILS,
    Way,
    acid_for_can,
    bed_limit,
    instead_of_sulfur,
    ph_of_can,
    soil_heap,
    ways_to,
)
from pelk.core.base.errors import PelkError
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig
from pelk.core.materials.bags import unit_prices
from pelk.core.materials.library import library
from pelk.core.materials.material import Material
from pelk.pots.forms.desk import SoilForm, WaterForm
from pelk.shelf.models.materials import ShelfItem
from pelk.shelf.pages.material import handling_cautions
from pelk.shelf.selectors import known_materials, packages_of
from pelk.ui.ph_answers import AnswerSaid, answer_said
from pelk.ui.refusals import sentence
from pelk.ui.units import sizes
from pelk.yards.models import Yard

LIMES = (
    "lime-calcitic-ground",
    "lime-dolomitic-ground",
    "lime-pelletised-dolomitic",
    "oyster-shell-flour",
    "chalk-ground",
    "wood-ash",
)
SULFURS = ("sulfur-dusting", "sulfur-wettable", "sulfur-prill-90", "soil-acidifier-granules")
# Of the shelf, beside the usual.
MOST_OWN = 8
LIQUIDS = frozenset(["vinegar-5pct", "lemon-juice"])
# Another acidifier: what it is called here, and the material of the library.
OTHERS = {
    Acidifier.ALUMINIUM_SULFATE_14_WATER: ("aluminium sulfate, 14 water", "aluminium-sulfate"),
    Acidifier.FERROUS_SULFATE_7_WATER: ("ferrous sulfate, 7 water", "ferrous-sulfate"),
    Acidifier.AMMONIUM_SULFATE_HALF: ("ammonium sulfate, half", "ammonium-sulfate"),
    "citric-acid": ("citric acid, dry", "citric-acid"),
    "vinegar-5pct": ("vinegar 5 %", "vinegar-5pct"),
    "lemon-juice": ("lemon juice", "lemon-juice"),
}
REST_PH = 8.0
START_PH = 5.5


def myths() -> list[tuple[str, str]]:
    """Return what is said of souring a soil, and what the library's numbers say."""
    shelf = library()
    sayings = []
    for slug, name in (
        ("coffee-grounds-used", "Used coffee grounds"),
        ("pine-needles", "Pine needles"),
    ):
        ph = shelf[slug].ph
        if ph is not None:
            say = (
                f"are at pH {ph.typ:g} ({ph.low:g} to {ph.high:g}) and rot towards neutral: "
                "mulch, not a dose."
            )
            sayings.append((name, say))
    say = (
        "are eaten by microbes within days and the pH goes back up, so they cannot hold a pot’s pH."
    )
    return [*sayings, ("Vinegar and citric acid on the soil", say)]


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


@dataclass(frozen=True, slots=True)
class OtherRow:
    """Another acidifier beside the first sulfur, by charge."""

    name: str
    amount: str
    say: str
    cost: str
    lasts: bool
    is_mine: bool


@dataclass(frozen=True, slots=True)
class Ways:
    """Every product side by side, their cautions, what is wrong, and what else would do it."""

    rows: list[WayRow]
    cautions: list[Any]
    problem: str
    others: list[OtherRow] = field(default_factory=list)
    amount: str = ""
    instead: AnswerSaid | None = None


def ways(form: SoilForm, yard: Yard) -> Ways:
    """Return what would bring a soil to a pH, side by side."""
    data = form.cleaned_data
    kind = "lime" if data["target"] > data["start"] else "sulfur"
    slugs = [*(LIMES if kind == "lime" else SULFURS), *_on_the_shelf(yard, kind)]
    slugs = list(dict.fromkeys(slugs))
    held = known_materials(yard, slugs)
    products = [held[slug].core for slug in slugs if slug in held]
    try:
        answered = ways_to(
            data["soil"],
            data["start"],
            data["target"],
            int(data["day"]),
            products,
            form.warm_c,
            planted=data["planted"],
            lying=form.already,
        )
    except PelkError as error:
        return Ways([], [], sentence(error))
    litres, ways = form.litres, answered.ways
    if answered.instead is not None:
        day = int(data["day"])
        said = answer_said(answered.instead, yard.measures, litres, day, is_mixed=True)
        return Ways([], [], "", instead=said)
    most = None
    if data["of"] == "bed":
        most = bed_limit(kind, data["soil"], form.depth_cm, planted=data["planted"])
    bought = packages_of(yard, [*slugs, *(slug for _, slug in OTHERS.values())])
    rows = [_row(way, litres, yard, bought, most) for way in ways]
    shown = [way.material for way in ways if not way.problem]
    if kind == "sulfur":
        shown += [library()[slug] for slug in (slug for _, slug in OTHERS.values())]
    return Ways(
        rows,
        handling_cautions(shown),
        "",
        _others(ways, litres, yard, bought) if kind == "sulfur" else [],
        f"for {yard.measures.volume(litres)} of soil",
    )


def _others(ways: list[Way], litres: float, yard: Yard, bought: dict[str, Any]) -> list[OtherRow]:
    """Return what else would do the acid of the first sulfur, by charge."""
    first = next((way for way in ways if not way.problem), None)
    if first is None:
        return []
    contents = first.material.composition
    share = contents.get("S elemental") or contents.get("S")
    kg = first.g_per_l * litres / 1000 * (share.typ / 100 if share else 1.0)
    rows = []
    for key, amount, say, lasts in instead_of_sulfur(kg):
        unit = "mL" if key in LIQUIDS else "g"
        name, slug = OTHERS[key]
        package = bought.get(slug)
        price = None
        if package:
            prices = unit_prices(package, library()[slug])
            price = prices.per_litre if unit == "mL" else prices.per_kg
        cost = yard.money.write(price * type(price)(repr(amount))) if price else ""
        rows.append(
            OtherRow(name, f"{sig(1000 * amount, 2)} {unit}", say, cost, lasts, package is not None)
        )
    return rows


def _on_the_shelf(yard: Yard, kind: str) -> list[str]:
    """Return the limes, or the sulfurs, that a yard has at hand: each costs a course of its own."""
    graded = {m.family for m in library().values() if m.lime_grade or m.sulfur_grade}
    rows = ShelfItem.objects.of(yard).filter(material__family__in=graded)
    held = known_materials(yard, rows.values_list("material__slug", flat=True))
    own = [
        slug
        for slug, row in held.items()
        if (row.core.lime_grade if kind == "lime" else row.core.sulfur_grade)
    ]
    return own[:MOST_OWN]


def _row(
    way: Way, litres: float, yard: Yard, bought: dict[str, Any], most_g_l: float | None
) -> WayRow:
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
    at_once = way.advice.at_once_g_l if way.advice else way.g_per_l
    if most_g_l is not None:
        at_once = min(at_once, most_g_l)
    if way.advice is not None and at_once < way.g_per_l - 1e-9:
        now = yard.measures.mass(at_once * litres, 2)
        split = f"{now} first; read again after {way.advice.wait_days} days"
    weeks = f"half in {way.half_day / 7:.0f} weeks" if way.half_day else ""
    if way.half_day and way.most_day:
        weeks += f", nine tenths in {way.most_day / 7:.0f}"
    if way.outcome is Outcome.TOO_SLOW:
        there = f"there about day {way.reached_day}" if way.reached_day else "never all the way"
        split = f"too slow for that day; this much is safe, {there}{'; ' + split if split else ''}"
    return WayRow(
        material.short_name,
        yard.measures.mass(grams, 2),
        f"{sig(way.g_per_l, 2)} g/L",
        weeks,
        written_ph(way.rest_ph),
        ", ".join(brings),
        yard.money.write(price * type(price)(repr(grams / 1000))) if price else "",
        split,
        package is not None,
        way.problem,
    )


def _with_added(data: dict[str, Any], alkalinity: float, can_l: float) -> str:
    """Say what the can reads with what was put in; empty where nothing was."""
    if not data.get("added") or not data.get("much"):
        return ""
    name, _, _, _, unit = ACIDS[data["added"]]
    amount = f"{sig(data['much'], 3)} {unit} of {name}"
    try:
        ph = ph_of_can(data["added"], data["much"], alkalinity, data["water_ph"], can_l)
    except PelkError as error:
        return f"{amount}: {sentence(error)}"
    return f"With {amount} the can reads about pH {ph:.1f}."


def can_of(form: WaterForm, yard: Yard) -> dict[str, Any]:
    """Return what each kitchen acid would be for a can, and what the tap does to a pot."""
    data = form.cleaned_data
    alkalinity = alkalinity_from_ppm(data["alkalinity"])
    can_l = data["can"] * sizes()[yard.measures.space_unit]
    rows = []
    for key, (name, _, _, _, unit) in ACIDS.items():
        amount = acid_for_can(key, alkalinity, data["water_ph"], data["wanted"], can_l)
        rows.append((name, f"{sig(amount, 2)} {unit}"))
    reads = _with_added(data, alkalinity, can_l)
    strong = strong_acid_for(alkalinity, data["water_ph"], data["wanted"]) * can_l
    rows.append(("a mineral acid, for trained users", f"{sig(strong, 2)} meq by its label"))
    water = Water(alkalinity_meq_l=alkalinity, l_per_l_day=data["weekly"] / 7)
    drifts = []
    for key, (name, _) in SOILS.items():
        buffer = blend_curve(soil_heap(key, START_PH).components).capacity_at(START_PH)
        month = drift_per_month(water, buffer)
        most = REST_PH - START_PH
        year = (
            f"{12 * month:.1f}"
            if 12 * month < most
            else f"up to about {REST_PH:g}, then no further"
        )
        drifts.append((name, f"{month:.2f}", year))
    return {"rows": rows, "drifts": drifts, "reads": reads}
