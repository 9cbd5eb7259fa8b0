"""A yard taken in from a file, whole or not at all; a yard deleted with all that hung on it."""

from __future__ import annotations

import re
import struct
import zipfile
import zlib
from collections.abc import Mapping
from datetime import date
from decimal import Decimal
from io import BytesIO
from math import isfinite
from typing import Any
from zoneinfo import available_timezones

from django.core.exceptions import ValidationError
from django.core.files.base import ContentFile
from django.db import IntegrityError, models, transaction
from django.urls import NoReverseMatch, Resolver404, resolve, reverse

from pelk.barrow.models import Batch
from pelk.bench.formats.documents import FORMAT as MIX
from pelk.bench.formats.documents import DocumentError, read
from pelk.bench.models import RecipeVersion
from pelk.core.base.errors import PelkError
from pelk.core.base.regions import climates, regions
from pelk.exchange.formats.files import parsed, refuse_odd_values
from pelk.exchange.formats.yard_file import (
    ARGUMENTS,
    DATA,
    FORMAT,
    KINDS,
    LIBRARY,
    PICTURES,
    YARD_FIELDS,
    entries_of,
    fields_of,
    rows_of,
)
from pelk.shelf.models.materials import Analysis, Material
from pelk.ui.money import currencies
from pelk.ui.pictures import re_encoded
from pelk.yards.models import Yard

MOST_BYTES, MOST_UNPACKED, MOST_FILES, MOST_ROWS = 200_000_000, 600_000_000, 5_000, 500_000
MOST_JSON, MOST_VALUES = 60_000_000, 4_000_000
# Text that a number would be read from, and be none.
NO_NUMBER = re.compile(r"^\s*[+-]?(nan|inf|infinity|\d+(\.\d*)?e\+?\d{3,})\s*$", re.IGNORECASE)
FIRST_YEAR, LAST_YEAR = 1900, 2200
MONTHS, COLDEST, HOTTEST = 12, -60.0, 60.0
NAMED = re.compile(r"^(?P<kind>[a-z_]+)-(?P<place>[1-9]\d{0,6})$")


def unpacked(content: bytes) -> tuple[dict[str, Any], dict[str, bytes]]:
    """Return the data and the pictures of a yard's file: a zip, or its JSON alone.

    Raises
    ------
    PelkError
        Naming the line or the file.
    """
    if not zipfile.is_zipfile(BytesIO(content)):
        try:
            return _data(content.decode("utf-8-sig")), {}
        except UnicodeDecodeError as error:
            raise PelkError("this is neither a zip nor JSON text") from error
    try:
        text, pictures = _unzipped(content)
    except (*BROKEN, zlib.error) as error:
        raise PelkError(f"the zip is broken: {error}") from error
    return _data(text), pictures


# What a broken archive makes of its reading: a wrong sum, a password, a way of packing not known.
BROKEN = (zipfile.BadZipFile, RuntimeError, NotImplementedError, OSError, EOFError, struct.error)


def _unzipped(content: bytes) -> tuple[str, dict[str, bytes]]:
    with zipfile.ZipFile(BytesIO(content)) as archive:
        held = archive.infolist()
        if len(held) > MOST_FILES or sum(i.file_size for i in held) > MOST_UNPACKED:
            raise PelkError("it unpacks to more than a yard holds")
        if DATA not in archive.namelist():
            raise PelkError(f"found no {DATA} in it")
        if archive.getinfo(DATA).file_size > MOST_JSON:
            raise PelkError(f"it is longer than {MOST_JSON // 1_000_000} MB", DATA)
        pictures = {i.filename: archive.read(i) for i in held if i.filename.startswith(PICTURES)}
        try:
            return archive.read(DATA).decode("utf-8"), pictures
        except UnicodeDecodeError as error:
            raise PelkError("not UTF-8 text", DATA) from error


def _data(text: str) -> dict[str, Any]:
    # Counted before it is read: a few bytes of brackets become a great many things.
    if len(text) > MOST_JSON or sum(text.count(mark) for mark in ",[{") > MOST_VALUES:
        raise PelkError("it holds more values than a yard does", DATA)
    data = parsed(text)
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        raise PelkError(f"this is no {FORMAT}", "format")
    refuse_odd_values(data, "")
    if not isinstance(data.get("rows", {}), dict) or not isinstance(data.get("yard"), dict):
        raise PelkError("allowed: an object", "rows")
    for kind, rows in data.get("rows", {}).items():
        if kind not in KINDS:
            raise PelkError(f"allowed: {', '.join(KINDS)}", f"rows.{kind}")
        if not isinstance(rows, list) or len(rows) > MOST_ROWS:
            raise PelkError(f"allowed: a list of at most {MOST_ROWS} rows", f"rows.{kind}")
    return data


def is_empty(yard: Yard) -> bool:
    """Return whether nothing but words of the log stands in a yard."""
    return not any(rows_of(kind, yard).exists() for kind in KINDS if kind != "entry")


@transaction.atomic
def take_in_yard(*, yard: Yard, data: Mapping[str, Any], pictures: Mapping[str, bytes]) -> int:
    """Fill an empty yard from a file; return how many rows it holds.

    Raises
    ------
    PelkError
        Naming the row and the key; nothing is changed then.
    """
    yard.lock()
    if not is_empty(yard):
        raise PelkError("this yard is not empty: open another one for it")
    rows_of("entry", yard).delete()
    reader = _Reader(yard, pictures)
    reader.keep_yard(data["yard"])
    try:
        for kind, i, row in entries_of(data):
            reader.keep(kind, i, row)
        reader.tie()
        reader.look_over()
    except IntegrityError as error:
        raise PelkError(f"two rows say the same twice, {error}", reader.where) from error
    return len(reader.made)


class _Reader:
    """Makes the rows of a file, and ties each to what it names."""

    def __init__(self, yard: Yard, pictures: Mapping[str, bytes]) -> None:
        self.yard, self.pictures = yard, pictures
        self.made: dict[str, models.Model] = {}
        self.later: list[tuple[models.Model, str, str, str]] = []
        self.where = ""
        self.library = {m.slug: m for m in Material.objects.filter(yard=None)}

    def keep_yard(self, said: Mapping[str, Any]) -> None:
        """Keep what stands of the yard itself."""
        self.where = "yard"
        for name in YARD_FIELDS:
            if name in said:
                field: Any = Yard._meta.get_field(name)
                setattr(self.yard, name, self._value(field, said[name], name))
        self._as_a_hand_would()
        self.yard.save(update_fields=list(YARD_FIELDS))

    def _as_a_hand_would(self) -> None:
        """Refuse of a yard what its settings would refuse."""
        yard = self.yard
        for name, allowed in (
            ("time_zone", available_timezones() | {""}),
            ("climate", climates().keys() | {""}),
            ("region", regions().keys() | {""}),
            ("currency", {code for code, _ in currencies()} | {""}),
        ):
            if getattr(yard, name) not in allowed:
                raise PelkError(f"found {getattr(yard, name)!r}: not known", f"yard.{name}")
        months = yard.normals_c
        if len(months) != MONTHS or not all(
            isinstance(c, int | float) and COLDEST <= c <= HOTTEST for c in months
        ):
            raise PelkError(f"allowed: {MONTHS} temperatures, °C", "yard.normals_c")
        try:
            _ = yard.water_analysis, yard.style, yard.hand_measures, yard.measures
        except (PelkError, TypeError, ValueError, KeyError, AttributeError) as error:
            raise PelkError(f"its water or its ways cannot be read: {error}", "yard") from error

    def keep(self, kind: str, place: int, said: Any) -> None:
        """Make one row."""
        self.where = f"rows.{kind}[{place}]"
        model = KINDS[kind]
        if not isinstance(said, dict):
            raise PelkError("allowed: an object", self.where)
        known = {f.name: f for f in fields_of(model)}
        if unknown := sorted(said.keys() - known.keys()):
            raise PelkError("this key is not known", f"{self.where}.{unknown[0]}")
        row: Any = model()
        if any(f.name == "yard" for f in model._meta.concrete_fields):
            row.yard = self.yard
        for name, field in known.items():
            if name in said:
                self._set(row, field, said[name])
        models.Model.save(row, force_insert=True)
        # What a row writes of its own making stands as the file has it.
        stamps = {
            name: self._value(field, said[name], name)
            for name, field in known.items()
            if getattr(field, "auto_now_add", False) and name in said
        }
        if stamps:
            model._base_manager.filter(pk=row.pk).update(**stamps)
        self.made[f"{kind}-{place + 1}"] = row

    def _set(self, row: models.Model, field: Any, said: Any) -> None:
        where = f"{self.where}.{field.name}"
        if field.related_model is not None:
            self._refer(row, field, said, where)
        elif isinstance(field, models.FileField):
            self._picture(row, field, said, where)
        elif field.name == "url" and isinstance(said, dict):
            self.later.append((row, field.name, "url", where))
            row._said_url = said  # type: ignore[attr-defined]
        elif field.name == "source" and isinstance(said, str) and said.startswith("heap:"):
            heap = self.made.get(said[5:])
            setattr(row, field.name, f"heap:{heap.pk}" if heap else said[:40])
        elif field.name == "data" and isinstance(said, dict) and isinstance(said.get("batch"), str):
            heap = self.made.get(said["batch"])
            if heap is None:
                raise PelkError(f"found {said['batch']!r}, which is not in the file", where)
            setattr(row, field.name, {**said, "batch": heap.pk})
        else:
            setattr(row, field.name, self._value(field, said, field.name))

    def look_over(self) -> None:
        """Read each heap and each recipe as their pages will: what cannot be read is refused."""
        for name, row in self.made.items():
            self.where = f"rows.{name}"
            try:
                if isinstance(row, Batch):
                    row.plan_as_mixed()
                    _ = row.measures
                elif isinstance(row, RecipeVersion):
                    row.as_document()
            except (PelkError, DocumentError) as error:
                raise PelkError(str(error), self.where) from error
            except (KeyError, TypeError, ValueError, AttributeError) as error:
                raise PelkError(f"this cannot be read again: {error}", self.where) from error

    def _value(self, field: Any, said: Any, name: str) -> Any:
        where = f"{self.where}.{name}"
        if said is None:
            if not field.null:
                raise PelkError("this cannot be empty", where)
            return None
        if isinstance(field, models.JSONField):
            if name == "document" and not isinstance(said, dict):
                raise PelkError("allowed: an object", where)
            if name == "document" and said.get("format") == MIX:
                _read_mix(said, where)
            _refuse_no_numbers(said, where)
            usual = field.get_default()
            if isinstance(usual, dict | list) and not isinstance(said, type(usual)):
                raise PelkError("found another kind of value than it holds", where)
            return said
        if isinstance(said, dict | list):
            raise PelkError("allowed: one value", where)
        if name == "url" and not _is_of_this_site(str(said)):
            raise PelkError("allowed: an address of this site", where)
        try:
            value = field.to_python(said)
            field.run_validators(value)
        except (ValidationError, ValueError, TypeError, OverflowError) as error:
            raise PelkError(f"found {said!r}: not what stands there", where) from error
        _refuse_out_of_time(value, where)
        if field.choices and value not in {key for key, _ in field.flatchoices} | {""}:
            raise PelkError(f"found {said!r}", where)
        return value

    def _refer(self, row: models.Model, field: Any, said: Any, where: str) -> None:
        if said is None:
            return
        if not isinstance(said, str):
            raise PelkError("allowed: the name of a row", where)
        other: Any = None
        if said.startswith(LIBRARY):
            other = self.library.get(said[len(LIBRARY) :])
            if other is not None and field.related_model is Analysis:
                other = other.current
        elif NAMED.match(said):
            other = self.made.get(said)
            if other is None and field.null:
                self.later.append((row, field.name, said, where))
                return
        if other is None or not isinstance(other, field.related_model):
            raise PelkError(f"found {said!r}, which is not in the file or the library", where)
        setattr(row, field.name, other)

    def _picture(self, row: models.Model, field: Any, said: Any, where: str) -> None:
        content = self.pictures.get(said) if isinstance(said, str) else None
        if content is None:
            if said:
                raise PelkError(f"found no picture {said!r} in the file", where)
            return
        try:
            re_encoded(content)
        except PelkError as error:
            raise PelkError(error.message, where) from error
        getattr(row, field.name).save("carried.jpg", ContentFile(content), save=False)

    def tie(self) -> None:
        """Set what named a row further down, and the addresses."""
        for row, name, said, where in self.later:
            self.where = where
            if said == "url":
                value: Any = self._address(row._said_url)  # type: ignore[attr-defined]
            else:
                value = self.made.get(said)
                field: Any = type(row)._meta.get_field(name)
                if value is None or not isinstance(value, field.related_model):
                    raise PelkError(f"found {said!r}, which is not in the file", where)
            setattr(row, name, value)
            type(row)._base_manager.filter(pk=row.pk).update(**{name: value})

    def _address(self, said: Mapping[str, Any]) -> str:
        about = said.get("about")
        kwargs: dict[str, Any] = {}
        for name, value in (about if isinstance(about, dict) else {}).items():
            if name in ARGUMENTS and NAMED.match(str(value)):
                row = self.made.get(str(value))
                if row is None:
                    return ""
                kwargs[name] = row.pk
            else:
                kwargs[name] = value
        try:
            path = reverse(str(said.get("page", "")), kwargs=kwargs)
        except NoReverseMatch:
            return ""
        at = self.made.get(str(said.get("at", "")))
        return f"{path}#deed-{at.pk}"[:200] if at else path[:200]


def _refuse_no_numbers(said: Any, where: str) -> None:
    """Refuse text that reads as an endless number, or as none, wherever it stands."""
    if isinstance(said, str) and NO_NUMBER.match(said):
        raise PelkError(f"found {said!r}, allowed: a number", where)
    if isinstance(said, dict):
        for key, inner in said.items():
            _refuse_no_numbers(inner, f"{where}.{key}")
    elif isinstance(said, list):
        for i, inner in enumerate(said):
            _refuse_no_numbers(inner, f"{where}[{i}]")


def _refuse_out_of_time(value: Any, where: str) -> None:
    """Refuse an endless number, and a day that no grower lives to see."""
    if isinstance(value, float) and not isfinite(value):
        raise PelkError(f"found {value}, allowed: a number", where)
    if isinstance(value, Decimal) and not value.is_finite():
        raise PelkError(f"found {value}, allowed: a number", where)
    if isinstance(value, date) and not FIRST_YEAR <= value.year <= LAST_YEAR:
        raise PelkError(f"found {value}, allowed: {FIRST_YEAR} to {LAST_YEAR}", where)


def _is_of_this_site(url: str) -> bool:
    """Return whether an address leads to a page of here, or nowhere."""
    if not url:
        return True
    try:
        resolve(url.partition("#")[0].partition("?")[0])
    except Resolver404:
        return False
    return True


def _read_mix(said: Any, where: str) -> None:
    try:
        read(said)
    except DocumentError as error:
        first = error.problems[0]
        raise PelkError(first.message, f"{where}.{first.path}") from error


@transaction.atomic
def purge_yard(*, yard: Yard) -> list[Any]:
    """Delete a yard for good; return its files, to be taken away once that is written."""
    files = []
    for kind, model in KINDS.items():
        names = [f.name for f in model._meta.concrete_fields if isinstance(f, models.FileField)]
        for row in rows_of(kind, yard).only("pk", *names) if names else []:
            files += [getattr(row, name) for name in names if getattr(row, name)]
    yard.delete()
    return files
