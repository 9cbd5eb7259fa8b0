"""A JSON Schema for every open format, made from the structs that read it, and an example."""

from __future__ import annotations

import json
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import Any

import msgspec
from django.db import models

from pelk.bench.formats.documents import MixDocument
from pelk.core.materials.facts import FACTS
from pelk.exchange.domain.materials import FORMAT as MATERIAL
from pelk.exchange.domain.materials import LISTS, WORDS, as_document
from pelk.exchange.formats.goals import WishDocument
from pelk.exchange.formats.lives import LifeDocument
from pelk.exchange.formats.yard_file import FORMAT as YARD
from pelk.exchange.formats.yard_file import KINDS, YARD_FIELDS, fields_of

DIALECT = "https://json-schema.org/draft/2020-12/schema"
TYPES: dict[type[models.Field[Any, Any]], dict[str, Any]] = {
    models.BooleanField: {"type": "boolean"},
    models.FloatField: {"type": "number"},
    models.IntegerField: {"type": "integer"},
    models.DecimalField: {"type": "string"},
    models.DateTimeField: {"type": "string", "format": "date-time"},
    models.DateField: {"type": "string", "format": "date"},
    models.CharField: {"type": "string"},
    models.TextField: {"type": "string"},
    models.FileField: {"type": "string", "description": "the name of a picture in the zip"},
    models.ForeignKey: {"type": "string", "description": "batch-3, or library:feather-meal"},
}


@dataclass(frozen=True, slots=True)
class Format:
    """One open format.

    Attributes
    ----------
    name : str
        As in its address.
    says : str
        What it holds.
    command : str
        What takes it in or writes it.
    """

    name: str
    stated: str
    says: str
    command: str
    schema: Callable[[], dict[str, Any]]


def _of_struct(kind: type[msgspec.Struct], stated: str) -> dict[str, Any]:
    schema = msgspec.json.schema(kind)
    held = schema["$defs"][kind.__name__]
    held["properties"]["format"] = {"const": stated}
    held["required"] = sorted({*held.get("required", []), "format"})
    return schema


def mix_schema() -> dict[str, Any]:
    """Return the schema of a recipe with its batch."""
    return _of_struct(MixDocument, "pelk.mix/1")


def life_schema() -> dict[str, Any]:
    """Return the schema of a soil's life."""
    return _of_struct(LifeDocument, "pelk.life/1")


def goal_schema() -> dict[str, Any]:
    """Return the schema of a wish: a mix, and the goal."""
    schema = _of_struct(MixDocument, "pelk.goal/1")
    wish = msgspec.json.schema(WishDocument)
    schema["$defs"] |= wish["$defs"]
    properties = schema["$defs"]["MixDocument"]["properties"]
    properties["goal"] = {"$ref": "#/$defs/WishDocument"}
    return schema


def material_schema() -> dict[str, Any]:
    """Return the schema of a material: what it is, each fact as a value or a range, its grounds."""
    number = {"type": "number"}
    span = {"type": "array", "items": number, "minItems": 3, "maxItems": 3}
    value = {"anyOf": [number, span, {"type": "object"}]}
    words: dict[str, Any] = {
        name: {"type": "array", "items": {"type": "string"}} if name in LISTS else {}
        for name in WORDS
    }
    return {
        "type": "object",
        "required": ["format", "id", "name"],
        "properties": {
            **words,
            **dict.fromkeys(FACTS, value),
            "composition": {"type": "object", "additionalProperties": value},
            "usable": {"type": "array", "items": {"type": "string"}},
            "grounds": {"type": "object"},
            "format": {"const": MATERIAL},
            "id": {"type": "string", "pattern": "^[a-z0-9][a-z0-9-]{0,79}$"},
            "name": {"type": "string"},
        },
    }


def yard_schema() -> dict[str, Any]:
    """Return the schema of a whole yard's data."""
    return {
        "type": "object",
        "required": ["format", "yard", "rows"],
        "properties": {
            "format": {"const": YARD},
            "yard": {"type": "object", "properties": {name: {} for name in YARD_FIELDS}},
            "rows": {
                "type": "object",
                "additionalProperties": False,
                "properties": {
                    kind: {
                        "type": "array",
                        "items": {
                            "type": "object",
                            "additionalProperties": False,
                            "properties": {f.name: _of_field(f) for f in fields_of(model)},
                        },
                    }
                    for kind, model in KINDS.items()
                },
            },
        },
    }


def _of_field(field: models.Field[Any, Any]) -> dict[str, Any]:
    if field.name == "url":
        return {"type": ["string", "object"]}
    held = next((dict(t) for kind, t in TYPES.items() if isinstance(field, kind)), {})
    if "type" in held and field.null:
        held["type"] = [held["type"], "null"]
    return held


FORMATS = {
    one.name: one
    for one in (
        Format("mix", "pelk.mix/1", "a recipe with its batch", "evaluate", mix_schema),
        Format("goal", "pelk.goal/1", "a mix with a wish", "propose", goal_schema),
        Format("life", "pelk.life/1", "one soil through its seasons", "follow", life_schema),
        Format("material", MATERIAL, "a material, each value with its source", "", material_schema),
        Format("yard", YARD, "everything of one yard", "import_yard", yard_schema),
    )
}


@cache
def schema_of(name: str) -> dict[str, Any]:
    """Return the JSON Schema of a format."""
    return {"$schema": DIALECT, "title": FORMATS[name].stated, **FORMATS[name].schema()}


def example_of(name: str) -> str:
    """Return an example of a format, as a file."""
    if name == "material":
        from pelk.core.materials.library import library  # noqa: PLC0415

        held = as_document(library()["feather-meal"])
        return json.dumps(held, indent=1, ensure_ascii=False) + "\n"
    if name == "yard":
        held = {
            "format": YARD,
            "yard": {"name": "Gannet Steps", "system": "metric"},
            "rows": {
                "recipe": [{"name": "Kumquat tub mix", "created_at": "2031-03-01T09:00:00+00:00"}],
                "version": [
                    {"recipe": "recipe-1", "number": 1, "document": json.loads(example_of("mix"))}
                ],
            },
        }
        return json.dumps(held, indent=1, ensure_ascii=False) + "\n"
    path = files("pelk.exchange") / "examples" / f"{name}.json"
    return path.read_text("utf-8")
