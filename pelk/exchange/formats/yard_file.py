"""``pelk.yard/1``: everything of one yard in one file, without a number of any database.

Rows stand by kind in the order in which they were made; one names another as ``batch-3``, the
third batch of the file, or ``library:feather-meal``. Addresses inside are written the same way.
Export, import into an empty yard, export again: the same bytes.
"""

from __future__ import annotations

import json
import re
import zipfile
from collections.abc import Iterator, Mapping
from datetime import date, datetime
from decimal import Decimal
from io import BytesIO
from typing import Any, Final

from django.db import models
from django.db.models.fields.files import FieldFile
from django.urls import Resolver404, resolve

from pelk.barrow.models import Batch, Tick
from pelk.bench.models import BlendVersion, FeedBlend, Recipe, RecipeVersion
from pelk.cure.models import (
    Decision,
    HeapPhoto,
    LoggedImport,
    LoggerShape,
    MeterCheckRow,
    PlantedAnyway,
    Reading,
    SproutTest,
    TrainingHeap,
)
from pelk.log.models import Entry
from pelk.pots.models import JarTest, OldSoil, PotDeed, PotFill, PotGroup, PotPhoto
from pelk.shelf.models.bags import Bag, StockMove
from pelk.shelf.models.evidence import Evidence
from pelk.shelf.models.lab import LabReport, Sample
from pelk.shelf.models.materials import Analysis, Material, ShelfItem, Value
from pelk.shelf.models.measures import HandMeasure
from pelk.shelf.models.words import PackSize, Word
from pelk.soils.models import Soil, SoilEvent
from pelk.yards.models import User, Yard

FORMAT: Final = "pelk.yard/1"
DATA, PICTURES = "yard.json", "pictures/"
LIBRARY = "library:"
# In the order in which rows can be made: each names only what stands before it, or may be empty.
KINDS: dict[str, type[models.Model]] = {
    "material": Material,
    "analysis": Analysis,
    "measure": HandMeasure,
    "word": Word,
    "pack": PackSize,
    "bag": Bag,
    "move": StockMove,
    "report": LabReport,
    "sample": Sample,
    "value": Value,
    "item": ShelfItem,
    "recipe": Recipe,
    "version": RecipeVersion,
    "blend": FeedBlend,
    "blend_version": BlendVersion,
    "batch": Batch,
    "tick": Tick,
    "logger_shape": LoggerShape,
    "import": LoggedImport,
    "reading": Reading,
    "sprout_test": SproutTest,
    "heap_photo": HeapPhoto,
    "pen_check": MeterCheckRow,
    "decision": Decision,
    "planted_anyway": PlantedAnyway,
    "practice_heap": TrainingHeap,
    "evidence": Evidence,
    "soil": Soil,
    "soil_event": SoilEvent,
    "pots": PotGroup,
    "fill": PotFill,
    "deed": PotDeed,
    "pot_photo": PotPhoto,
    "old_soil": OldSoil,
    "jar_test": JarTest,
    "entry": Entry,
}
# How rows without a yard of their own hang on one.
HANGS_ON = {
    "analysis": "material",
    "move": "bag",
    "version": "recipe",
    "blend_version": "blend",
    "tick": "batch",
}
# Which kind an argument of an address names.
ARGUMENTS = {
    "recipe": "recipe",
    "batch": "batch",
    "reading": "reading",
    "bag": "bag",
    "blend": "blend",
    "value": "value",
    "measure": "measure",
    "report": "report",
    "sample": "sample",
    "test": "sprout_test",
    "group": "pots",
    "fill": "fill",
    "jars": "jar_test",
    "soil": "old_soil",
    "deed": "deed",
    "heap": "practice_heap",
    "word": "word",
    "pack": "pack",
    "evidence": "evidence",
    "taken": "import",
}
# What stands of a yard itself.
YARD_FIELDS = (
    "name",
    "system",
    "barrow_l",
    "barrow_limit_kg",
    "bucket_l",
    "region",
    "currency",
    "climate",
    "time_zone",
    "normals_c",
    "hands",
    "water",
    "feeding_style",
)
ANCHOR = re.compile(r"^(?P<what>deed)-(?P<pk>\d{1,18})$")
Names = Mapping[tuple[type[models.Model], int], str]


def fields_of(model: type[models.Model]) -> list[models.Field[Any, Any]]:
    """Return the fields of a row that go into a file: no numbers, no people, no yard."""
    return [
        field
        for field in model._meta.concrete_fields
        if not field.primary_key
        and field.name != "yard"
        and field.related_model not in (User, Yard)
    ]


def rows_of(kind: str, yard: Yard) -> models.QuerySet[Any]:
    """Return the rows of one kind in a yard, as they were made."""
    model = KINDS[kind]
    path = f"{HANGS_ON[kind]}__yard" if kind in HANGS_ON else "yard"
    return model._base_manager.filter(**{path: yard}).order_by("pk")


def yard_file(yard: Yard) -> bytes:
    """Return a yard as a zip of its data and its pictures; the same yard gives the same bytes."""
    rows = {kind: list(rows_of(kind, yard)) for kind in KINDS}
    names: dict[tuple[type[models.Model], int], str] = {
        (KINDS[kind], row.pk): f"{kind}-{i}"
        for kind, of in rows.items()
        for i, row in enumerate(of, start=1)
    }
    pictures: dict[str, bytes] = {}
    data = {
        "format": FORMAT,
        "yard": {name: getattr(yard, name) for name in YARD_FIELDS},
        "rows": {
            kind: [_written(row, names, pictures) for row in of] for kind, of in rows.items() if of
        },
    }
    text = json.dumps(data, ensure_ascii=False, sort_keys=True, indent=1, allow_nan=False)
    return _zipped({DATA: text.encode(), **pictures})


def _zipped(entries: Mapping[str, bytes]) -> bytes:
    whole = BytesIO()
    with zipfile.ZipFile(whole, "w", zipfile.ZIP_DEFLATED) as archive:
        for name in sorted(entries):
            info = zipfile.ZipInfo(name, date_time=(1980, 1, 1, 0, 0, 0))
            info.compress_type = zipfile.ZIP_DEFLATED
            info.external_attr = 0o600 << 16
            archive.writestr(info, entries[name])
    return whole.getvalue()


def _written(row: models.Model, names: Names, pictures: dict[str, bytes]) -> dict[str, Any]:
    written: dict[str, Any] = {}
    for field in fields_of(type(row)):
        value = getattr(row, field.attname)
        if field.related_model is not None:
            value = _reference(row, field, names)
        elif isinstance(value, FieldFile):
            value = _picture(row, field, value, names, pictures)
        elif isinstance(value, datetime | date):
            value = value.isoformat()
        elif isinstance(value, Decimal):
            value = str(value)
        elif field.name == "url":
            value = address_written(str(value), names)
        elif field.name in ("source", "data"):
            value = _inside(value, names)
        written[field.name] = value
    return written


def _reference(row: models.Model, field: models.Field[Any, Any], names: Names) -> str | None:
    held = getattr(row, field.attname)
    if held is None:
        return None
    model: Any = field.related_model
    if (model, held) in names:
        return names[model, held]
    # Of the library: by what it is called, never by its number.
    other = getattr(row, field.name)
    if isinstance(other, Material) and other.yard_id is None:
        return f"{LIBRARY}{other.slug}"
    if isinstance(other, Analysis) and other.material.yard_id is None:
        return f"{LIBRARY}{other.material.slug}"
    return None


def _picture(
    row: models.Model,
    field: models.Field[Any, Any],
    value: FieldFile,
    names: Names,
    pictures: dict[str, bytes],
) -> str:
    if not value.name or not value.storage.exists(value.name):
        return ""
    name = f"{PICTURES}{names[type(row), row.pk]}-{field.name}.jpg"
    with value.open("rb") as file:
        pictures[name] = file.read()
    return name


def _inside(value: Any, names: Names) -> Any:
    """Return what stands inside a value with its numbers as names."""
    if isinstance(value, str) and value.startswith("heap:") and value[5:].isdecimal():
        return f"heap:{names.get((Batch, int(value[5:])), '')}"
    if isinstance(value, dict) and isinstance(value.get("batch"), int):
        return {**value, "batch": names.get((Batch, value["batch"]))}
    return value


def address_written(url: str, names: Names) -> Any:
    """Return an address as its page's name and what it is about; empty where nobody knows."""
    path, _, anchor = url.partition("#")
    path = path.partition("?")[0]
    if not path:
        return ""
    try:
        match = resolve(path)
    except Resolver404:
        return ""
    about = {}
    for name, value in match.kwargs.items():
        kind = ARGUMENTS.get(name)
        named = names.get((KINDS[kind], value)) if kind and isinstance(value, int) else str(value)
        if named is None:
            return ""
        about[name] = named
    written: dict[str, Any] = {"page": match.view_name, "about": about}
    if at := ANCHOR.match(anchor):
        written["at"] = names.get((PotDeed, int(at["pk"])), "")
    return written


def entries_of(data: Mapping[str, Any]) -> Iterator[tuple[str, int, Any]]:
    """Yield the rows of a file: kind, place and what stands there."""
    rows = data.get("rows")
    for kind in KINDS:
        for i, row in enumerate(rows.get(kind, []) if isinstance(rows, dict) else []):
            yield kind, i, row
