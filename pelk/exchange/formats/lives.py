"""``pelk.life/1``: one soil through its seasons; ``pelk.course/1``: what comes of it.

Reading has two steps: the shape (keys and types), then the sense. Every refusal names the key's
path, what was found and what is allowed.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from contextlib import suppress
from datetime import date
from math import isfinite
from typing import Any, Literal

import msgspec
import numpy as np
from msgspec import Struct

from pelk.bench.formats.documents import BatchDocument, DocumentError, MixDocument
from pelk.bench.formats.planning import as_plan
from pelk.core.acid_base.water import Water, alkalinity_from_ppm
from pelk.core.advice.judged_life import judge_plantings
from pelk.core.advice.report import plain_finding
from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import Crop, crop
from pelk.core.evaluation.evaluate import soil_as_mixed
from pelk.core.materials.material import Material
from pelk.core.plans.plan import MOISTURE, Plan, Vessels
from pelk.core.salts.water_ions import check_ions
from pelk.core.simulation.life import (
    Cleared,
    Dressed,
    Event,
    Harvested,
    Life,
    MixedSoil,
    Place,
    Placed,
    Planted,
    Pot,
    PottedOn,
    Poured,
    Read,
    Rested,
    Rinsed,
    Topped,
    Watered,
    Where,
)
from pelk.core.simulation.soil_forecast import ElementCourse, SoilForecast
from pelk.core.vessels.planting import surface_of
from pelk.core.vessels.trade_pots import filled_volume
from pelk.core.vessels.watering import WALLS
from pelk.ui.units import read_dose_unit

FORMAT, COURSE = "pelk.life/1", "pelk.course/1"
LONGEST_DAYS, MOST_EVENTS = 3660, 2000
# No pot is given more than this at once: a litre of soil weighs little more.
MOST_G_L, MOST_ML_L, MOST_WATERINGS = 200.0, 200.0, 50.0
METHODS = ("slurry", "1:2", "1:5", "sme", "paste", "pour-through", "strip")
DO = {
    "planted": ("crop", "plants_per_pot", "vigour"),
    "watered": ("litres_per_pot_week", "leaching_fraction"),
    "dressed": ("material", "amount", "unit", "placed"),
    "poured": ("material", "amount", "unit", "litres_per_pot", "through"),
    "rinsed": ("litres_per_pot",),
    "read": ("ph", "ec_ds_m", "method", "checked"),
    "harvested": ("kg", "share", "crop"),
    "cleared": ("roots",),
    "rested": ("where",),
    "topped": ("litres_per_pot", "mix"),
    "potted_on": ("pot", "kept_litres_per_pot", "mix"),
}
IONS = {
    "ca_mg_l": "Ca",
    "mg_mg_l": "Mg",
    "na_mg_l": "Na",
    "cl_mg_l": "Cl",
    "s_mg_l": "S",
    "n_mg_l": "NO3-N",
    "k_mg_l": "K",
}


class PotDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """One pot of some."""

    kind: str = "round-pot"
    litres: float | None = None
    count: int = 1
    height_cm: float | None = None
    wall: str = "plastic"
    saucer: bool = False


class PlaceDocument(Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """Where it stands."""

    monthly_c: list[float] | None = None
    monthly_rain_mm: list[float] | None = None
    monthly_et0_mm_day: list[float] | None = None
    roof: bool = True


class WaterDocument(Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What comes out of the tap."""

    alkalinity_mg_l: float = 0.0
    ca_mg_l: float = 0.0
    mg_mg_l: float = 0.0
    na_mg_l: float = 0.0
    cl_mg_l: float = 0.0
    s_mg_l: float = 0.0
    n_mg_l: float = 0.0
    k_mg_l: float = 0.0
    ec_ds_m: float | None = None
    known: Literal["report", "strip", "guess"] = "guess"


class EventDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """Something that was done on a day; which keys it takes goes by ``do``."""

    on: str
    do: str
    crop: str | None = None
    plants_per_pot: float = 1.0
    vigour: float = 1.0
    litres_per_pot_week: float | None = None
    leaching_fraction: float | None = None
    material: str | None = None
    amount: float | None = None
    unit: str | None = None
    placed: Literal["turned", "top_third", "scratched", "on_top"] = "on_top"
    litres_per_pot: float | None = None
    through: float = 0.0
    ph: float | None = None
    ec_ds_m: float | None = None
    method: str = "slurry"
    checked: bool = False
    cup_g: float | None = None
    cup_ml: float | None = None
    jar: Any = None
    alkalinity_mg_l: float | None = None
    kg: float | None = None
    share: float | None = None
    roots: Literal["in", "out"] = "in"
    where: Literal["rain", "roofed", "indoors"] = "roofed"
    pot: PotDocument | None = None
    kept_litres_per_pot: float | None = None
    mix: MixDocument | None = None


class LifeDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """One soil followed through its seasons."""

    mixed_on: str
    until: str
    mix: MixDocument
    pot: PotDocument
    format: str = FORMAT
    place: PlaceDocument = PlaceDocument()
    water: WaterDocument = WaterDocument()
    events: list[EventDocument] = []


def read_life(data: Any) -> LifeDocument:
    """Return a document from decoded JSON, its shape checked.

    Raises
    ------
    PelkError
        Naming the first key that does not fit.
    """
    if isinstance(data, dict) and data.get("format", FORMAT) != FORMAT:
        raise PelkError(f"found {data['format']!r}, allowed: {FORMAT!r}", "format")
    try:
        return msgspec.convert(data, LifeDocument)
    except msgspec.ValidationError as error:
        message, _, path = str(error).partition(" - at `$")
        raise PelkError(message[:1].lower() + message[1:], path.strip("`.") or "file") from error


class _Sense:
    """Make a core `Life` of a document."""

    def __init__(self, document: LifeDocument, library: Mapping[str, Material]) -> None:
        self.document, self.library = document, library
        self.mixed_on = _day(document.mixed_on, "mixed_on")
        self.until = _day(document.until, "until")

    def life(self) -> Life:
        """Return the life."""
        days = (self.until - self.mixed_on).days
        if not 1 <= days <= LONGEST_DAYS:
            raise PelkError(
                f"found {days} days after mixing, allowed: 1 to {LONGEST_DAYS}", "until"
            )
        if len(self.document.events) > MOST_EVENTS:
            raise PelkError(
                f"found {len(self.document.events)}, allowed: at most {MOST_EVENTS}", "events"
            )
        plan, soil = self._mix(self.document.mix, "mix")
        self.shelf = {m.slug: m for m, _ in (*soil.parts, *soil.doses)} | dict(self.library)
        self.pot = _pot(self.document.pot, "pot")
        events = tuple(
            self._event(event, f"events[{i}]", days) for i, event in enumerate(self.document.events)
        )
        _refuse_what_cannot_follow(events, self.document.events)
        return Life(
            soil=soil,
            mixed_on=self.mixed_on,
            days=days,
            pot=self.pot,
            place=_place(self.document.place, plan),
            water=_water(self.document.water),
            water_is_guessed=self.document.water.known != "report",
            events=events,
        )

    def _mix(self, mix: MixDocument, path: str) -> tuple[Plan, MixedSoil]:
        if mix.batch is None and all(row.amount is None for row in mix.bulk):
            mix = msgspec.structs.replace(mix, batch=BatchDocument(volume=60, unit="L"))
        try:
            plan, shelf = as_plan(mix, self.library)
            return plan, soil_as_mixed(plan, shelf)
        except DocumentError as error:
            first = error.problems[0]
            raise PelkError(first.message, f"{path}.{first.path}") from error
        except PelkError as error:
            raise PelkError(error.message, f"{path}.{error.path}".rstrip(".")) from error

    def _event(self, event: EventDocument, path: str, days: int) -> Event:
        if event.do not in DO:
            raise PelkError(f"found {event.do!r}, allowed: {', '.join(DO)}", f"{path}.do")
        day = (_day(event.on, f"{path}.on") - self.mixed_on).days
        if not 0 <= day <= days:
            raise PelkError(
                f"found {event.on}, allowed: from {self.mixed_on} to {self.until}", f"{path}.on"
            )
        defaults = EventDocument("", "")
        for name in EventDocument.__struct_fields__:
            odd = name not in ("on", "do", *DO[event.do])
            if odd and getattr(event, name) != getattr(defaults, name):
                allowed = ", ".join(DO[event.do])
                raise PelkError(f"not a key of {event.do}, allowed: {allowed}", f"{path}.{name}")
        make: Callable[[EventDocument, str, int], Event] = getattr(self, f"_{event.do}")
        return make(event, path, day)

    def _planted(self, event: EventDocument, path: str, day: int) -> Event:
        group = _crop(event.crop, f"{path}.crop")
        _within(event.plants_per_pot, 1e-3, 1e4, f"{path}.plants_per_pot")
        _within(event.vigour, 0.2, 3.0, f"{path}.vigour")
        return Planted(day=day, crop=group, plants=event.plants_per_pot, vigour=event.vigour)

    def _watered(self, event: EventDocument, path: str, day: int) -> Event:
        litres, leaching = event.litres_per_pot_week, event.leaching_fraction
        if litres is not None:
            most = 7 * MOST_WATERINGS * self.pot.litres
            _within(litres, 0.0, most, f"{path}.litres_per_pot_week")
        if leaching is not None:
            _within(leaching, 0.0, 0.8, f"{path}.leaching_fraction")
        return Watered(day=day, litres_week=litres, leaching=leaching)

    def _dressed(self, event: EventDocument, path: str, day: int) -> Event:
        material = self._material(event.material, f"{path}.material")
        grams = self._grams(event, material, path)
        _within(grams / self.pot.litres, 0.0, MOST_G_L, f"{path}.amount", " g a litre of soil")
        return Dressed(day=day, material=material, grams=grams, placed=Placed(event.placed))

    def _poured(self, event: EventDocument, path: str, day: int) -> Event:
        material = self._material(event.material, f"{path}.material")
        amount = _needed(event.amount, f"{path}.amount")
        unit = event.unit or "mL/L"
        if unit not in ("mL/L", "g/L"):
            raise PelkError(f"found {unit!r}, allowed: mL/L, g/L", f"{path}.unit")
        _within(amount, 0.0, MOST_ML_L, f"{path}.amount")
        grams = amount if unit == "g/L" else amount * material.loose_density().typ
        litres = _needed(event.litres_per_pot, f"{path}.litres_per_pot")
        _within(litres, 0.0, MOST_WATERINGS * self.pot.litres, f"{path}.litres_per_pot")
        _within(event.through, 0.0, 1.0, f"{path}.through")
        return Poured(
            day=day, material=material, g_per_l=grams, litres=litres, through=event.through
        )

    def _rinsed(self, event: EventDocument, path: str, day: int) -> Event:
        litres = _needed(event.litres_per_pot, f"{path}.litres_per_pot")
        _within(litres, 0.0, MOST_WATERINGS * self.pot.litres, f"{path}.litres_per_pot")
        return Rinsed(day=day, litres=litres)

    def _read(self, event: EventDocument, path: str, day: int) -> Event:
        if event.ph is not None:
            _within(event.ph, 2.0, 11.0, f"{path}.ph")
        if event.ec_ds_m is not None:
            _within(event.ec_ds_m, 0.0, 30.0, f"{path}.ec_ds_m")
        if event.method not in METHODS:
            allowed = ", ".join(METHODS)
            raise PelkError(f"found {event.method!r}, allowed: {allowed}", f"{path}.method")
        return Read(
            day=day, ph=event.ph, ec_ds_m=event.ec_ds_m, method=event.method, checked=event.checked
        )

    def _harvested(self, event: EventDocument, path: str, day: int) -> Event:
        if (event.kg is None) == (event.share is None):
            raise PelkError("write one of kg and share", f"{path}.kg")
        if event.kg is not None:
            _within(event.kg, 0.0, 1e4, f"{path}.kg")
        if event.share is not None:
            _within(event.share, 0.0, 1.0, f"{path}.share")
        group = _crop(event.crop, f"{path}.crop") if event.crop else None
        return Harvested(day=day, crop=group, kg=event.kg, share=event.share)

    def _cleared(self, event: EventDocument, path: str, day: int) -> Event:
        return Cleared(day=day, roots_in=event.roots == "in")

    def _rested(self, event: EventDocument, path: str, day: int) -> Event:
        return Rested(day=day, where=Where(event.where))

    def _topped(self, event: EventDocument, path: str, day: int) -> Event:
        litres = _needed(event.litres_per_pot, f"{path}.litres_per_pot")
        _within(litres, 1e-3, 1e4, f"{path}.litres_per_pot")
        if event.mix is None:
            raise PelkError("missing: the mix that went on", f"{path}.mix")
        _, soil = self._mix(event.mix, f"{path}.mix")
        return Topped(day=day, soil=soil, litres=litres)

    def _potted_on(self, event: EventDocument, path: str, day: int) -> Event:
        if event.pot is None:
            raise PelkError("missing: the pot it went into", f"{path}.pot")
        if event.mix is None:
            raise PelkError("missing: the mix around the root ball", f"{path}.mix")
        pot = _pot(event.pot, f"{path}.pot")
        kept = _needed(event.kept_litres_per_pot, f"{path}.kept_litres_per_pot")
        _within(kept, 1e-3, pot.litres, f"{path}.kept_litres_per_pot")
        _, soil = self._mix(event.mix, f"{path}.mix")
        return PottedOn(day=day, soil=soil, pot=pot, kept_l=kept)

    def _material(self, slug: str | None, path: str) -> Material:
        if slug not in self.shelf:
            raise PelkError(f"found {slug!r}, allowed: a material of the shelf", path)
        return self.shelf[slug]

    def _grams(self, event: EventDocument, material: Material, path: str) -> float:
        """Return the grams a pot of a dressing. [g]."""
        amount = _needed(event.amount, f"{path}.amount")
        measure, _, per = (event.unit or "g/pot").partition("/")
        if per not in ("pot", "plant", "L", ""):
            raise PelkError(
                f"found {event.unit!r}, allowed: a weight or a measure per pot, plant or L",
                f"{path}.unit",
            )
        unit = read_dose_unit(measure, f"{path}.unit")
        if unit.kind == "share":
            raise PelkError(f"found {event.unit!r}, allowed: g/pot, tsp/pot, …", f"{path}.unit")
        grams = amount * unit.size
        if unit.kind == "volume":
            grams *= 1000 * material.loose_density(f"{path}.material").typ
        if per == "L":
            return grams * self.pot.litres
        if per == "plant":
            return grams * self._plants(event)
        return grams

    def _plants(self, event: EventDocument) -> float:
        """Return how many plants stood in a pot on the day of an event."""
        planted = [e for e in self.document.events if e.do == "planted" and e.on <= event.on]
        cleared = max(
            (e.on for e in self.document.events if e.do == "cleared" and e.on <= event.on),
            default="",
        )
        return sum(e.plants_per_pot for e in planted if e.on >= cleared) or 1.0


def as_life(document: LifeDocument, library: Mapping[str, Material]) -> Life:
    """Return the core's life of a document.

    Raises
    ------
    PelkError
        With the path of the first thing that cannot be.
    """
    return _Sense(document, library).life()


def _refuse_what_cannot_follow(events: tuple[Event, ...], documents: list[EventDocument]) -> None:
    """Refuse what was done to plants where none stood."""
    order = sorted(range(len(events)), key=lambda i: events[i].day)
    standing = False
    last_planted = {e.day for e in events if isinstance(e, Planted)}
    for i in order:
        event = events[i]
        if isinstance(event, Planted):
            standing = True
        elif isinstance(event, Harvested | Cleared):
            if not standing and not any(day < event.day for day in last_planted):
                raise PelkError(
                    f"found {documents[i].do}, but nothing was planted by then", f"events[{i}].do"
                )
            if not standing and isinstance(event, Harvested):
                raise PelkError(
                    "found harvested, but the pot was cleared by then", f"events[{i}].do"
                )
            standing = standing and not isinstance(event, Cleared)


def _day(text: str, path: str) -> date:
    with suppress(ValueError):
        if re.fullmatch(r"\d{4}-\d{2}-\d{2}", text):
            return date.fromisoformat(text)
    raise PelkError(f"found {text!r}, allowed: a day such as 2031-03-01", path)


def _within(value: float, low: float, high: float, path: str, unit: str = "") -> None:
    if not (isfinite(value) and low <= value <= high):
        raise PelkError(f"found {value:g}{unit}, allowed: from {low:g} to {high:g}{unit}", path)


def _needed(value: float | None, path: str) -> float:
    if value is None:
        raise PelkError("missing: a number", path)
    return value


def _crop(slug: str | None, path: str) -> Crop:
    try:
        return crop(slug or "")
    except PelkError as error:
        raise PelkError(error.message, path) from error


def _pot(pot: PotDocument, path: str) -> Pot:
    if pot.wall not in WALLS:
        raise PelkError(f"found {pot.wall!r}, allowed: {', '.join(WALLS)}", f"{path}.wall")
    _within(pot.count, 1, 100_000, f"{path}.count")
    if pot.litres is not None:
        _within(pot.litres, 0.05, 1e5, f"{path}.litres")
    try:
        vessels = Vessels(kind=pot.kind, count=1, litres=pot.litres)
        litres = filled_volume(vessels)
    except PelkError as error:
        raise PelkError(error.message, f"{path}.{error.path or 'litres'}") from error
    height = pot.height_cm
    if height is not None:
        _within(height, 2.0, 500.0, f"{path}.height_cm")
    return Pot(
        litres=litres,
        height_cm=height or litres * 1000 / surface_of(litres),
        count=pot.count,
        wall=pot.wall,
        saucer=pot.saucer,
    )


def _place(place: PlaceDocument, plan: Plan) -> Place:
    conditions = plan.conditions
    months: dict[str, tuple[float, ...]] = {}
    for name, low, high in (
        ("monthly_c", -60.0, 60.0),
        ("monthly_rain_mm", 0.0, 3000.0),
        ("monthly_et0_mm_day", 0.0, 25.0),
    ):
        values = getattr(place, name)
        if values is None:
            continue
        if len(values) != 12:
            raise PelkError(f"found {len(values)} values, allowed: 12", f"place.{name}")
        for i, value in enumerate(values):
            _within(value, low, high, f"place.{name}[{i}]")
        months[name] = tuple(values)
    return Place(
        temperature_c=conditions.temperature_c,
        monthly_c=months.get("monthly_c", tuple(conditions.monthly_c or ())),
        monthly_rain_mm=months.get("monthly_rain_mm", ()),
        monthly_et0_mm=months.get("monthly_et0_mm_day", ()),
        roof=place.roof,
        moisture=MOISTURE[conditions.moisture],
    )


def _water(water: WaterDocument) -> Water:
    for name in ("alkalinity_mg_l", *IONS):
        _within(getattr(water, name), 0.0, 20_000.0, f"water.{name}")
    ions = {ion: getattr(water, name) for name, ion in IONS.items() if getattr(water, name)}
    check_ions(ions, water.alkalinity_mg_l, "water", as_given=True)
    return Water(alkalinity_meq_l=alkalinity_from_ppm(water.alkalinity_mg_l), ions_mg_l=ions)


def course(forecast: SoilForecast) -> dict[str, Any]:
    """Return what comes of a life as ``pelk.course/1``."""
    low, middle, high = (_rounded(line, 3) for line in forecast.ph)
    return {
        "format": COURSE,
        "days": [day.isoformat() for day in forecast.dates],
        "ph": {"p10": low, "p50": middle, "p90": high},
        "ec_ds_m": _rounded(forecast.ec[1], 3),
        "ec": {"p10": _rounded(forecast.ec[0], 3), "p90": _rounded(forecast.ec[2], 3)},
        "litres_per_pot": _rounded(forecast.litres, 4),
        "elements": {name: _element(held) for name, held in forecast.elements.items()},
        "balance": {
            name: {key: float(f"{mg:.12g}") for key, mg in held.balance.items()}
            for name, held in forecast.elements.items()
        },
        "findings": [plain_finding(f) for f in judge_plantings(forecast)],
    }


def _element(held: ElementCourse) -> dict[str, list[float]]:
    return {
        "given_mg_l": _rounded(held.given, 4),
        "free_mg_l": _rounded(held.free, 4),
        "wanted_mg_l": _rounded(held.wanted, 4),
        "taken_up_mg_l": _rounded(held.taken, 4),
        "leached_mg_l": _rounded(held.leached, 4),
        "short_mg_l": _rounded(held.short, 4),
    }


def _rounded(line: Any, digits: int) -> list[float]:
    return [float(x) for x in np.round(np.asarray(line, dtype=float), digits)]
