"""``pelk.material/1``: materials with the source of each value, as JSON and as CSV.

JSON is one object or a list of them; in CSV a material is one row, and each fact has two
columns: its value (``6.5`` or ``5.8 | 6.5 | 7``) and its source (``lab 2026-11-03 ours``).
"""

from __future__ import annotations

import csv
import json
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass, fields
from datetime import date
from io import StringIO
from itertools import islice
from typing import Any

import msgspec

from pelk.bench.formats.planning import MARKS_OF_VALUES, own_material
from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.materials.facts import FACTS, value_of
from pelk.core.materials.material import Material, Provenance, Range, as_stored
from pelk.exchange.formats.files import parsed, refuse_odd_values
from pelk.shelf.models.materials import Material as Row
from pelk.shelf.models.materials import cores_of
from pelk.shelf.services.intake import Intake
from pelk.shelf.services.materials import RESERVED
from pelk.ui.cells import as_typed, plain_cell
from pelk.ui.numbers import read_number
from pelk.yards.models import Yard

FORMAT = "pelk.material/1"
MOST = 2000
ID = re.compile(r"[a-z0-9][a-z0-9-]{0,79}\Z")
# Keys that are not values: what a material is and how it behaves.
WORDS = tuple(
    f.name
    for f in fields(Material)
    if f.name not in ("slug", "composition", "provenances", "usable", *FACTS)
)
LISTS = frozenset(["other_names", "tags", "unsure", "derived", "metals_watched"])
COLUMNS = (
    "id",
    "name",
    "family",
    "role",
    "form",
    "origin",
    "vegan",
    "organic",
    "acidity_role",
    "buffer_shape",
    "lime_grade",
    "sulfur_grade",
    "release_class",
    "phosphorus_class",
    "availability_class",
    "sulfur_form",
    "shrink_class",
    "retention_set",
    "tags",
    "usable",
    "notes",
)


def as_document(core: Material) -> dict[str, Any]:
    """Return a material as a plain ``pelk.material/1``, every value with where it comes from."""
    built = as_stored(core)
    slug = built.pop("slug")
    kept = {key: value for key, value in built.items() if value not in (None, "", [], {}, ())}
    kept["grounds"] = {
        key: msgspec.to_builtins(core.provenances.get(key, Provenance(core.mark_of(key))))
        for key in FACTS
        if value_of(core, key) is not None
    }
    return {"format": FORMAT, "id": slug, **kept}


def as_json(cores: Sequence[Material]) -> str:
    """Return materials as JSON: one object, or a list."""
    documents = [as_document(core) for core in cores]
    return json.dumps(
        documents[0] if len(documents) == 1 else documents, ensure_ascii=False, indent=1
    )


def as_csv(cores: Iterable[Material]) -> str:
    """Return materials as CSV, one a row, units in the header."""
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow([*COLUMNS, *(h for key in FACTS for h in _heads(key))])
    for core in cores:
        built = as_stored(core) | {"id": core.slug}
        cells = [_cell(built.get(name)) for name in COLUMNS]
        for key in FACTS:
            cells += [_span(value_of(core, key)), _source(core, key)]
        writer.writerow(cells)
    return out.getvalue()


def _heads(key: str) -> tuple[str, str]:
    held = FACTS[key]
    return (f"{key} [{held.unit}]" if held.unit else key), f"{key} source"


def _cell(value: Any) -> str:
    text = "; ".join(value) if isinstance(value, list | tuple) else str(value or "")
    return plain_cell(text)


def _span(value: Range | None) -> str:
    if value is None:
        return ""
    if value.low == value.typ == value.high:
        return f"{value.typ!r}"
    return f"{value.low!r} | {value.typ!r} | {value.high!r}"


def _source(core: Material, key: str) -> str:
    if value_of(core, key) is None:
        return ""
    provenance = core.provenances.get(key, Provenance(core.mark_of(key)))
    return " ".join(part for part in (provenance.mark, provenance.dated, provenance.note) if part)


def read(text: str) -> list[tuple[str, dict[str, Any]]]:
    """Return the materials of a file, each with where it stands in it.

    Raises
    ------
    PelkError
        Naming the line or the key.
    """
    text = text.lstrip("\ufeff")
    materials = _read_json(text) if text.lstrip()[:1] in "[{" else _read_csv(text)
    if not materials:
        raise PelkError("found no material in it")
    if len(materials) > MOST:
        raise PelkError(f"found more than {MOST} materials, allowed: {MOST} at a time")
    seen: dict[str, str] = {}
    for where, data in materials:
        slug = str(data.get("id", ""))
        if slug in seen:
            raise PelkError(f"{slug!r} is there twice, first at {seen[slug]}", where)
        seen[slug] = where
    return materials


def _read_json(text: str) -> list[tuple[str, dict[str, Any]]]:
    data = parsed(text)
    rows = data if isinstance(data, list) else [data]
    for i, row in enumerate(rows):
        if not isinstance(row, dict) or row.get("format") != FORMAT:
            stated = row.get("format") if isinstance(row, dict) else row
            raise PelkError(f"found {stated!r}, allowed: {FORMAT!r}", f"materials[{i}].format")
        refuse_odd_values(row, f"materials[{i}]")
    return [(f"materials[{i}]", row) for i, row in enumerate(rows)]


def _read_csv(text: str) -> list[tuple[str, dict[str, Any]]]:
    reader = csv.DictReader(StringIO(text), strict=True)
    try:
        heads = reader.fieldnames or []
        places = {head: place for key in FACTS for place, head in enumerate(_heads(key))}
        unknown = [h for h in heads if h not in places and h not in COLUMNS]
        if unknown:
            raise PelkError(
                f"found the column {unknown[0]!r}, allowed: those of an exported file", "line 1"
            )
        if "id" not in heads:
            raise PelkError("found no column 'id', it is needed", "line 1")
        written = (
            (f"line {reader.line_num}", _row(row, f"line {reader.line_num}"))
            for row in reader
            if any((cell or "").strip() for cell in row.values() if isinstance(cell, str))
        )
        # One more than may be: enough to refuse it, and no more is read.
        return list(islice(written, MOST + 1))
    except csv.Error as error:
        raise PelkError(f"not CSV, {error}", f"line {reader.line_num}") from error


def _row(row: Mapping[str | None, Any], where: str) -> dict[str, Any]:
    if None in row:
        raise PelkError("found more cells than the header has", where)
    data: dict[str, Any] = {"format": FORMAT}
    for name in COLUMNS:
        text = as_typed((row.get(name) or "").strip())
        if text:
            data[name] = (
                [t.strip() for t in text.split(";")] if name in (*LISTS, "usable") else text
            )
    contents: dict[str, Any] = {}
    provenances: dict[str, Any] = {}
    for key in FACTS:
        value_head, source_head = _heads(key)
        text = (row.get(value_head) or "").strip()
        if not text:
            continue
        value = _value(text, f"{where}, {value_head}", has_span=FACTS[key].has_span)
        if FACTS[key].is_content:
            contents[key] = value
        else:
            data[key] = value
        if source := (row.get(source_head) or "").strip():
            provenances[key] = _provenance(source, f"{where}, {source_head}")
    return {**data, "composition": contents, "grounds": provenances}


def _value(text: str, where: str, *, has_span: bool) -> Any:
    numbers = [read_number(part) for part in text.split("|")]
    known = [n for n in numbers if n is not None]
    if len(known) != len(numbers) or len(known) not in (1, 3):
        raise PelkError(f"found {text!r}, allowed: a number, or low | typical | high", where)
    if len(known) == 1:
        return known[0]
    if not has_span:
        return known[1]
    return {"low": known[0], "typ": known[1], "high": known[2]}


def _provenance(text: str, where: str) -> dict[str, str]:
    mark, _, rest = text.partition(" ")
    if mark not in MARKS_OF_VALUES:
        raise PelkError(f"found {mark!r}, allowed: {', '.join(MARKS_OF_VALUES)}", where)
    dated, _, note = rest.partition(" ")
    try:
        date.fromisoformat(dated)
    except ValueError:
        dated, note = "", rest
    return {"mark": mark, "dated": dated, "note": note.strip()}


@dataclass(frozen=True, slots=True)
class Difference:
    """One thing a file would change."""

    name: str
    was: str
    now: str


@dataclass(frozen=True, slots=True)
class Preview:
    """What taking a material in would do."""

    name: str
    slug: str
    is_new: bool
    changes: list[Difference]
    intake: Intake


def preview(text: str, yard: Yard) -> list[Preview]:
    """Return what taking a file in would change; nothing is changed yet.

    Raises
    ------
    PelkError
        Naming the line or the key of the first thing that cannot be.
    """
    documents = read(text)
    slugs = [str(data.get("id", "")) for _, data in documents]
    visible = Row.objects.visible_to(yard).filter(slug__in=slugs).with_analysis()
    rows = sorted(visible, key=lambda m: m.yard_id is not None)
    held = {m.slug: (m, core) for m, core in zip(rows, cores_of(rows), strict=True)}
    known = {slug: core for slug, (_, core) in held.items()}
    return [_preview(where, data, known, held) for where, data in documents]


def _preview(
    where: str,
    data: dict[str, Any],
    known: Mapping[str, Material],
    held: Mapping[str, tuple[Row, Material]],
) -> Preview:
    slug = data.get("id")
    if not isinstance(slug, str) or not ID.match(slug):
        named = str(slug)[:40]
        raise PelkError(
            f"found {named!r}, allowed: small letters, digits and -, 80 at most", f"{where}.id"
        )
    if slug in RESERVED:
        raise PelkError(f"found {slug!r}, an address of the shelf", f"{where}.id")
    if slug not in known and not data.get("name"):
        raise PelkError("found nothing, a new material needs it", f"{where}.name")
    core = own_material(data, known, where)
    for key, provenance in core.provenances.items():
        _check_date(provenance, f"{where}.grounds.{key}.dated")
    if slug not in held:
        values = [
            Difference(FACTS[key].name, "", _told(value_of(core, key), key))
            for key in FACTS
            if value_of(core, key) is not None
        ]
        return Preview(core.name, slug, True, values, Intake(core, None))
    row, before = held[slug]
    facts = {
        key: (value, core.provenances.get(key, Provenance("guess")))
        for key in FACTS
        if (value := value_of(core, key)) is not None and _differs(before, core, key)
    }
    words = {
        name: msgspec.to_builtins(getattr(core, name))
        for name in WORDS
        if getattr(core, name) != getattr(before, name)
    }
    changes = [
        Difference(FACTS[k].name, _told(value_of(before, k), k), _told(v, k))
        for k, (v, _) in facts.items()
    ] + [Difference(n, str(getattr(before, n) or "–"), str(v)) for n, v in words.items()]
    return Preview(core.name, slug, False, changes, Intake(core, row, facts, words))


def _check_date(provenance: Provenance, where: str) -> None:
    if provenance.dated:
        try:
            date.fromisoformat(provenance.dated)
        except ValueError as error:
            raise PelkError(
                f"found {provenance.dated!r}, allowed: a date such as 2026-11-03", where
            ) from error


def _differs(before: Material, after: Material, key: str) -> bool:
    if value_of(before, key) != value_of(after, key):
        return True
    was = before.provenances.get(key, Provenance(before.mark_of(key)))
    now = after.provenances.get(key, Provenance(after.mark_of(key)))
    return was != now


def _told(value: Range | None, key: str) -> str:
    return "–" if value is None else f"{sig(value.typ, 4)} {FACTS[key].unit}".strip()
