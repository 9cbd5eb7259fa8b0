"""A document made a plan of the core: known materials, units, amounts that can be."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date
from functools import partial
from typing import Any

import msgspec
from msgspec import UNSET

from pelk.bench.formats.documents import (
    ConditionsDocument,
    DocumentError,
    MixDocument,
    PartDocument,
    VesselsDocument,
    shape_problem,
)
from pelk.core.base.errors import PelkError
from pelk.core.base.quantities import (
    COUNT,
    DAYS,
    DOSE_AMOUNT,
    HEIGHT,
    MIXED_VOLUME,
    PARTS,
    PERCENT,
    SPARE,
    TEMPERATURE,
    VESSEL_VOLUME,
)
from pelk.core.crops.groups import crop
from pelk.core.evaluation.plan_checks import CONDITIONS, MONTHS
from pelk.core.materials.facts import FACTS, refuse_the_impossible
from pelk.core.materials.feeding_styles import FeedingStyle
from pelk.core.materials.material import Material, Range, as_stored, checked, from_stored
from pelk.core.plans.plan import Batch, Conditions, Dose, Part, Plan, Vessels
from pelk.core.salts.water_ions import check_ions
from pelk.ui.units import FILLED, litres, read_dose_unit

PERCENT_SLACK = 0.5
MARKS_OF_VALUES = ("label", "lab", "yours", "guess", "book", "practice", "derived")


class _Sense:
    """Collect every problem of a document while its plan is made."""

    def __init__(
        self, library: Mapping[str, Material], hands: Mapping[str, Range] | None = None
    ) -> None:
        self.hands = hands
        self.problems: list[PelkError] = []
        self.shelf = dict(library)

    def ask(self, reader: Any, *args: Any) -> Any:
        """Return what a reader gives, or note its problem."""
        try:
            return reader(*args)
        except PelkError as error:
            self.problems.append(error)
            return None

    def refuse(self, message: str, path: str) -> None:
        self.problems.append(PelkError(message, path))

    def material(self, slug: str, path: str) -> None:
        if slug not in self.shelf:
            self.refuse(f"found {slug!r}, allowed: a material of the shelf", path)


def as_plan(
    document: MixDocument, library: Mapping[str, Material], hands: Mapping[str, Range] | None = None
) -> tuple[Plan, dict[str, Material]]:
    """Return the plan of a document, and the shelf of materials it names.

    `hands` are the grower's own handful, scoop and shovel, in mL.

    Raises
    ------
    DocumentError
        With every problem found.
    """
    sense = _Sense(library, hands)
    for i, data in enumerate(document.materials):
        material = sense.ask(own_material, data, library, f"materials[{i}]")
        if material:
            sense.shelf[material.slug] = material
    sense.ask(crop, document.crop)
    parts, are_litres = _parts(document, sense)
    doses = _doses(document, sense)
    batch = _batch(document, sense, are_litres)
    conditions = _conditions(document, sense)
    sense.ask(DAYS.check, document.days, "days")
    sense.ask(_date, document.ready_by, "ready_by")
    if sense.ask(_feeding, document.feeding, "feeding") is not None:
        conditions = _of_the_style(document, conditions)
    if document.pot_height_cm is not None:
        sense.ask(HEIGHT.check, document.pot_height_cm, "pot_height_cm")
    if sense.problems:
        raise DocumentError(sense.problems)
    plan = Plan(
        name=document.name,
        crop=document.crop,
        batch=batch,
        parts=tuple(parts),
        doses=tuple(doses),
        parts_are_litres=are_litres,
        conditions=conditions,
        days=document.days,
        pot_height_cm=document.pot_height_cm,
    )
    named = {part.material for part in plan.parts} | {d.material for d in plan.doses}
    return plan, {slug: sense.shelf[slug] for slug in named}


def _parts(document: MixDocument, sense: _Sense) -> tuple[list[Part], bool]:
    rows, parts = document.bulk, []
    if not rows:
        sense.refuse("add at least one part first: doses need something to go into", "bulk")
    ways = {_way(row) for row in rows}
    if len(ways) > 1 or ways == {""}:
        sense.refuse(
            "give every part the same way: in parts, in percent, or as an amount with a unit",
            "bulk",
        )
        return [], False
    seen: set[str] = set()
    for i, row in enumerate(rows):
        path = f"bulk[{i}]"
        sense.material(row.material, f"{path}.material")
        if row.material in seen:
            sense.refuse(f"{row.material!r} is there twice", f"{path}.material")
        seen.add(row.material)
        size = sense.ask(_part_size, row, sense.shelf.get(row.material), path)
        parts.append(Part(material=row.material, parts=size or 1.0))
    total = sum(row.percent or 0 for row in rows)
    if ways == {"percent"} and abs(total - 100) > PERCENT_SLACK:
        sense.refuse(f"found {total:g} % together, allowed: 100", "bulk")
    return parts, ways == {"amount"}


def _way(row: PartDocument) -> str:
    given = [w for w in ("parts", "percent", "amount") if getattr(row, w) is not None]
    return given[0] if len(given) == 1 else ""


def _part_size(row: PartDocument, material: Material | None, path: str) -> float:
    if row.parts is not None:
        return PARTS.check(row.parts, f"{path}.parts")
    if row.percent is not None:
        return PERCENT.check(row.percent, f"{path}.percent")
    amount = PARTS.check(row.amount or 0, f"{path}.amount")
    if row.unit in FILLED:
        if row.unit_l is None:
            raise PelkError(f"missing: the loose litres of one {row.unit}", f"{path}.unit_l")
        return amount * PARTS.check(row.unit_l, f"{path}.unit_l")
    unit = (
        read_dose_unit(row.unit or "", f"{path}.unit")
        if row.unit in ("g", "kg", "oz", "lb")
        else None
    )
    if unit is None or material is None:
        return litres(amount, row.unit or "", f"{path}.unit")
    return amount * unit.size / 1000 / material.loose_density().typ


def _doses(document: MixDocument, sense: _Sense) -> list[Dose]:
    doses = []
    for i, row in enumerate(document.doses):
        path = f"doses[{i}]"
        sense.material(row.material, f"{path}.material")
        sense.ask(DOSE_AMOUNT.check, row.amount, f"{path}.amount")
        unit = sense.ask(read_dose_unit, row.unit, f"{path}.unit", sense.hands)
        if unit is not None:
            doses.append(Dose(material=row.material, amount=row.amount, unit=unit, per=row.per))
    return doses


def _batch(document: MixDocument, sense: _Sense, are_litres: bool) -> Batch:
    batch = document.batch
    if batch is None:
        if not are_litres:
            sense.refuse("found nothing, allowed: volume, vessels or part", "batch")
        return Batch()
    given = [batch.volume is not None, bool(batch.vessels), batch.part is not None]
    if sum(given) != 1:
        sense.refuse("give one of volume, vessels or part", "batch")
        return Batch()
    sense.ask(SPARE.check, batch.spare, "batch.spare")
    if batch.vessels:
        vessels = [
            sense.ask(_vessels, v, f"batch.vessels[{i}]") for i, v in enumerate(batch.vessels)
        ]
        return Batch(vessels=tuple(v for v in vessels if v), spare=batch.spare)
    key = "volume" if batch.volume is not None else "part"
    amount = batch.volume if batch.volume is not None else batch.part
    size = sense.ask(litres, amount, batch.unit, "batch.unit")
    if size is not None:
        sense.ask(MIXED_VOLUME.check, size, f"batch.{key}")
    if key == "volume":
        return Batch(volume_l=size, spare=batch.spare)
    return Batch(part_l=size, spare=batch.spare)


def _conditions(document: MixDocument, sense: _Sense) -> Conditions:
    given = document.conditions
    if given is UNSET:
        return Conditions()
    for name, quantity in CONDITIONS.items():
        sense.ask(quantity.check, getattr(given, name), f"conditions.{name}")
    held = msgspec.structs.asdict(given)
    sense.ask(
        partial(check_ions, as_given=given.water_ions_as_given),
        given.water_ions_mg_l,
        given.water_alkalinity_mg_l,
        "conditions.water_ions_mg_l",
    )
    start = sense.ask(_date, held.pop("start"), "conditions.start")
    months = held.pop("monthly_c")
    if months is not None and len(months) != MONTHS:
        sense.refuse(f"found {len(months)} months, allowed: 12", "conditions.monthly_c")
        months = None
    for i, mean in enumerate(months or ()):
        sense.ask(TEMPERATURE.check, mean, f"conditions.monthly_c[{i}]")
    return Conditions(
        **held,
        monthly_c=None if months is None else tuple(months),
        start_day=start.timetuple().tm_yday - 1 if start else 0,
    )


def _feeding(key: str | None, path: str) -> FeedingStyle:
    """Return the style of a way of feeding; the path is that of its question."""
    return FeedingStyle.of({path: key}) if key is not None else FeedingStyle()


def _of_the_style(document: MixDocument, conditions: Conditions) -> Conditions:
    """Start from what a way of feeding brings with it, where nothing else is said."""
    if document.feeding is None:
        return conditions
    defaults = FeedingStyle.of({"feeding": document.feeding}).defaults
    given = document.conditions
    said = (
        set()
        if given is UNSET
        else {
            name
            for name in ("inoculum", "leaching_fraction")
            if getattr(given, name) != getattr(ConditionsDocument(), name)
        }
    )
    changes: dict[str, Any] = {
        name: getattr(defaults, name)
        for name in ("inoculum", "leaching_fraction")
        if name not in said and getattr(defaults, name) is not None
    }
    return replace(conditions, **changes)


def _date(text: str | None, path: str) -> date | None:
    if text is None:
        return None
    try:
        return date.fromisoformat(text)
    except ValueError as error:
        raise PelkError(f"found {text!r}, allowed: a date such as 2026-11-26", path) from error


def _vessels(row: VesselsDocument, path: str) -> Vessels:
    COUNT.check(row.count, f"{path}.count")
    if row.litres is not None:
        VESSEL_VOLUME.check(row.litres, f"{path}.litres")
    return Vessels(kind=row.kind, count=row.count, litres=row.litres)


def own_material(data: Mapping[str, Any], library: Mapping[str, Material], path: str) -> Material:
    """Return a material of one's own, or a shipped one with values overridden.

    ``pelk.material/1``: the keys of a material, ``id`` for its slug; a number may stand
    for a range whose ends are not known.

    Raises
    ------
    PelkError
        Naming the key that does not fit.
    """
    given = {k: v for k, v in data.items() if k not in ("id", "format")}
    slug = data.get("id", data.get("slug"))
    if not isinstance(slug, str) or not slug:
        raise PelkError("found nothing, it is needed", f"{path}.id")
    shipped = library.get(slug)
    facts: dict[str, Any] = (
        as_stored(shipped) if shipped else {"name": slug, "family": "own", "role": "bulk"}
    )
    unknown = set(given) - {*Material.__dataclass_fields__, "grounds"} - {"provenances"}
    if unknown:
        raise PelkError(
            "found a key that is not known, allowed: the keys of pelk.material/1",
            f"{path}.{min(unknown)}",
        )
    said: list[str] = []
    for key, value in given.items():
        if key == "composition" and isinstance(value, dict):
            said = [*said, *value]
            held = facts.get("composition", {})
            facts["composition"] = {**held, **{k: _range(v) for k, v in value.items()}}
        else:
            facts[key] = _range(value) if key in _RANGES else value
            said = [*said, key]
    # What a file overrides without saying whose it is, is the grower's own.
    named = facts.get("grounds") or {}
    if isinstance(named, dict):
        own = {key: {"mark": "yours"} for key in said if key in FACTS and key not in named}
        facts["grounds"] = {**named, **own}
    try:
        material = from_stored({**facts, "slug": slug})
    except msgspec.ValidationError as error:
        problem = shape_problem(str(error), {**facts, "slug": slug})
        raise PelkError(problem.message, f"{path}.{problem.path}") from error
    for key, provenance in material.provenances.items():
        if provenance.mark not in MARKS_OF_VALUES:
            allowed = ", ".join(MARKS_OF_VALUES)
            raise PelkError(
                f"found {provenance.mark!r}, allowed: {allowed}", f"{path}.grounds.{key}.mark"
            )
    try:
        refuse_the_impossible(material)
    except PelkError as error:
        raise PelkError(error.message, f"{path}.composition.{error.path}") from error
    return checked(material, path)


_RANGES = {"density", "ph", "buffer", "cce", "ec"}


def _range(value: Any) -> Any:
    """Return a lone number as a range without a span."""
    if isinstance(value, int | float) and not isinstance(value, bool):
        return msgspec.to_builtins(Range(value, value, value))
    return value
