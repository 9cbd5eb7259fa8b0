"""Readings of a data logger, read from its CSV: what is unsure is asked, nothing is guessed.

Loggers differ in everything: words before the table, units in the heads, dates and times apart,
decimal commas, twelve hours. Each bad line is named; what is left aside is named too.
"""

from __future__ import annotations

import csv
import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from datetime import date, datetime, time
from hashlib import sha256
from io import StringIO

MOST_LINES, MOST_PREAMBLE, MOST_COLUMNS, LONGEST_LINE = 20_000, 60, 60, 4_000
PH, EC, WARM = "ph", "ec_ds_m", "temperature_c"
SPANS = {PH: (0.0, 14.0), EC: (0.0, 50.0), WARM: (-30.0, 90.0)}
# What a head may be called, once its unit is off it.
NAMES = {
    PH: ("ph", "ph value", "ph-wert", "acidity"),
    EC: ("ec", "conductivity", "cond", "ec value", "ec_ds_m", "electrical conductivity", "lf"),
    WARM: ("temperature", "temp", "t", "temperature_c", "soil temperature", "temperatur", "temp."),
}
MOMENTS = ("timestamp", "datetime", "date time", "date/time", "date-time", "taken_at", "when")
DATES, TIMES = ("date", "day", "datum"), ("time", "hour", "clock", "uhrzeit", "zeit")
# Units as they stand in a head, and what they are over dS/m; mS/cm is the same as dS/m.
EC_UNITS = {"ds/m": 1.0, "ms/cm": 1.0, "us/cm": 1e-3, "µs/cm": 1e-3, "μs/cm": 1e-3, "s/m": 10.0}
WARM_UNITS = {"°c": "C", "c": "C", "degc": "C", "°f": "F", "f": "F", "degf": "F"}
UNIT = re.compile(
    r"[\[(]([^\])]{1,20})[\])]|\s(°[CcFf]|[uµμmMdD]?[sS]/c?m)$|_(us_cm|ms_cm|ds_m|c|f)$"
)
NOT_MEASURED = frozenset(["", "-", "--", "---", "na", "n/a", "nan", "null", "none", "ol", "err"])
NUMERIC = re.compile(r"^[+-]?\d{0,9}(?:[.,]\d{0,9})?$")
THOUSANDS = re.compile(r"^\d{1,3}(?:,\d{3})+(?:\.\d+)?$")
DAY_FIRST, MONTH_FIRST = "day first", "month first"
PARTED = re.compile(r"^(\d{1,2})[./-](\d{1,2})[./-](\d{2,4})$")
CLOCK = re.compile(r"^(\d{1,2}):(\d{2})(?::(\d{2})(?:[.,]\d+)?)?\s*([AaPp]\.?[Mm]\.?)?$")


@dataclass(frozen=True, slots=True)
class LoggedRow:
    """One line of a logger; None is not measured."""

    line: int
    at: datetime
    ph: float | None
    ec_ds_m: float | None
    temperature_c: float | None


@dataclass(frozen=True, slots=True)
class Question:
    """Something that the file does not say: what is asked, and its answers (key, words)."""

    key: str
    asks: str
    answers: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class Logged:
    """What a file holds.

    Attributes
    ----------
    rows : tuple of LoggedRow
        That can be read.
    problems : tuple of (int, str)
        What is wrong, by line.
    questions : tuple of Question
        What has to be said before anything is kept.
    aside : tuple of str
        What is left aside, in words.
    shape : str
        Of the file: the same heads ask the same questions.
    """

    rows: tuple[LoggedRow, ...]
    problems: tuple[tuple[int, str], ...]
    questions: tuple[Question, ...] = ()
    aside: tuple[str, ...] = ()
    shape: str = ""


@dataclass(slots=True)
class _Heads:
    """Where each thing stands in a line, and in what unit."""

    moment: int | None = None
    day: int | None = None
    clock: int | None = None
    columns: dict[str, int] = field(default_factory=dict)
    units: dict[str, str] = field(default_factory=dict)
    aside: list[str] = field(default_factory=list)

    @property
    def is_table(self) -> bool:
        has_time = self.moment is not None or self.day is not None
        return has_time and bool(self.columns)


def read_logger(text: str, answers: Mapping[str, str] | None = None) -> Logged:
    """Return the readings of a logger's CSV.

    Parameters
    ----------
    text : str
        With a line of heads, after any words of the logger's; comma, semicolon or tab
        between cells.
    answers : mapping of str to str, optional
        To the questions that such a file asks.

    Returns
    -------
    Logged
        Rows that can be read, every problem with its line, every question.
    """
    lines = [line[:LONGEST_LINE] for line in text.lstrip("\ufeff").splitlines()]
    if not any(line.strip() for line in lines):
        return Logged((), ((1, "The file is empty."),))
    start, mark, heads, names = _table(lines)
    if heads is None:
        say = "No line names a time column and one of pH, EC, temperature."
        return Logged((), ((1, say),))
    if len(lines) - start - 1 > MOST_LINES:
        say = f"Found {len(lines) - start - 1} lines, allowed: {MOST_LINES}."
        return Logged((), ((start + 1, say),))
    body = [
        (start + 2 + i, [c.strip() for c in cells])
        for i, cells in enumerate(_cells(lines[start + 1 :], mark))
    ]
    body = [(number, cells) for number, cells in body if any(cells)]
    told = answers or {}
    questions = _questions(heads, body, told)
    aside = []
    if start:
        words = "line 1" if start == 1 else f"lines 1 to {start}"
        aside.append(f"{words}, before the table")
    if heads.aside:
        columns = "column" if len(heads.aside) == 1 else "columns"
        aside.append(f"the {columns} {', '.join(heads.aside)}")
    shape = sha256("|".join(n.lower() for n in names).encode()).hexdigest()[:24]
    if questions:
        return Logged((), (), tuple(questions), tuple(aside), shape)
    rows, problems = [], []
    for number, cells in body:
        try:
            if any(cells[len(names) :]):
                raise ValueError("more cells than heads: a decimal comma between commas?")
            rows.append(_row(number, cells, heads, told))
        except ValueError as error:
            problems.append((number, str(error)))
    return Logged(tuple(rows), tuple(problems), (), tuple(aside), shape)


def _table(lines: Sequence[str]) -> tuple[int, str, _Heads | None, list[str]]:
    """Return where the table begins, what parts its cells, and its heads."""
    for i, line in enumerate(lines[:MOST_PREAMBLE]):
        for mark in sorted((";", "\t", ","), key=line.count, reverse=True):
            if mark not in line:
                continue
            cells = [c.strip() for c in next(iter(_cells([line], mark)), [])][:MOST_COLUMNS]
            heads = _heads(cells)
            if heads.is_table:
                return i, mark, heads, cells
    return 0, ",", None, []


def _cells(lines: Sequence[str], mark: str) -> list[list[str]]:
    return list(csv.reader(StringIO("\n".join(lines)), delimiter=mark))


def _heads(cells: Sequence[str]) -> _Heads:
    heads = _Heads()
    for i, cell in enumerate(cells):
        unit = next((g for g in (UNIT.search(cell) or _NONE).groups() if g), "")
        name = " ".join(UNIT.sub("", cell).lower().replace("_", " ").split())
        whole = " ".join(cell.lower().split())
        kind = next((k for k, named in NAMES.items() if name in named or whole in named), None)
        if whole.startswith(("temp", "soil temp")) and kind is None:
            kind = WARM
        if kind is None and unit.lower() in WARM_UNITS and name in ("", "°c", "°f"):
            kind = WARM
        if whole in WARM_UNITS and kind is None:
            kind, unit = WARM, whole
        if kind is not None and kind not in heads.columns:
            heads.columns[kind] = i
            heads.units[kind] = unit.lower().replace("_", "/")
        elif whole in MOMENTS and heads.moment is None:
            heads.moment = i
        elif whole in DATES and heads.day is None:
            heads.day = i
        elif whole in TIMES and heads.clock is None:
            heads.clock = i
        elif cell:
            heads.aside.append(cell[:40])
    if heads.moment is None and heads.day is None and heads.clock is not None:
        heads.moment, heads.clock = heads.clock, None
    elif heads.moment is None and heads.day is not None and heads.clock is None:
        heads.moment, heads.day = heads.day, None
    return heads


class _Nothing:
    """A match of nothing."""

    def groups(self) -> tuple[str, ...]:
        return ()


_NONE = _Nothing()


def _questions(
    heads: _Heads, body: Sequence[tuple[int, list[str]]], told: Mapping[str, str]
) -> list[Question]:
    """Return what the file does not say and nobody has answered yet."""
    asked = []
    if EC in heads.columns and heads.units[EC] not in EC_UNITS and "ec" not in told:
        units = (("ds/m", "dS/m or mS/cm"), ("us/cm", "µS/cm"))
        asked.append(Question("ec", "In which unit is the EC?", units))
    if WARM in heads.columns and heads.units[WARM] not in WARM_UNITS and "warmth" not in told:
        asked.append(
            Question("warmth", "In which degrees is the temperature?", (("C", "°C"), ("F", "°F")))
        )
    if "order" not in told and _order(heads, body) is None:
        days = (
            (DAY_FIRST, "the day first: 3/4 is 3 April"),
            (MONTH_FIRST, "the month first: 3/4 is 4 March"),
        )
        asked.append(Question("order", "Which comes first in its dates?", days))
    return asked


def _order(heads: _Heads, body: Sequence[tuple[int, list[str]]]) -> str | None:
    """Return which comes first in dates of the file; None where nothing in it tells."""
    at = heads.day if heads.day is not None else heads.moment
    is_parted = False
    for _, cells in body:
        text = cells[at].split()[0] if at is not None and at < len(cells) and cells[at] else ""
        match = PARTED.match(text)
        if match is None:
            continue
        is_parted = True
        if "." in text or int(match[1]) > 12:
            return DAY_FIRST
        if int(match[2]) > 12:
            return MONTH_FIRST
    return None if is_parted else DAY_FIRST


def _row(number: int, cells: list[str], heads: _Heads, told: Mapping[str, str]) -> LoggedRow:
    def cell(i: int | None) -> str:
        return cells[i] if i is not None and i < len(cells) else ""

    values: dict[str, float | None] = {}
    for key, i in heads.columns.items():
        value = _number(cell(i), is_small=heads.units[key] in ("us/cm", "µs/cm", "μs/cm"))
        values[key] = _checked(_in_base(value, key, heads, told), key)
    if all(value is None for value in values.values()):
        raise ValueError("no measurement in this line")
    order = told.get("order") or _order_of_one(cell(heads.day), cell(heads.moment))
    at = _moment(cell(heads.moment), cell(heads.day), cell(heads.clock), order)
    return LoggedRow(number, at, values.get(PH), values.get(EC), values.get(WARM))


def _in_base(value: float | None, key: str, heads: _Heads, told: Mapping[str, str]) -> float | None:
    """Return a value in dS/m or °C."""
    if value is None:
        return None
    if key == EC:
        unit = heads.units[EC] if heads.units[EC] in EC_UNITS else told.get("ec", "ds/m")
        return value * EC_UNITS[unit]
    if key == WARM:
        degrees = WARM_UNITS.get(heads.units[WARM]) or told.get("warmth", "C")
        return (value - 32) / 1.8 if degrees == "F" else value
    return value


def _checked(value: float | None, key: str) -> float | None:
    if value is None:
        return None
    low, high = SPANS[key]
    if not low <= value <= high:
        raise ValueError(f"found {value:g}, allowed: from {low:g} to {high:g}")
    return value


def _number(text: str, *, is_small: bool) -> float | None:
    """Return a number; a comma is a decimal one but in whole thousands of a small unit."""
    if text.lower() in NOT_MEASURED:
        return None
    if is_small and THOUSANDS.match(text):
        return float(text.replace(",", ""))
    if not NUMERIC.match(text) or not any(c.isdigit() for c in text):
        raise ValueError(f"found {text[:20]!r}, allowed: a number")
    return float(text.replace(",", "."))


def _order_of_one(day: str, moment: str) -> str:
    match = PARTED.match((day or moment).split()[0]) if (day or moment) else None
    return MONTH_FIRST if match and int(match[2]) > 12 >= int(match[1]) else DAY_FIRST


def _moment(moment: str, day: str, clock: str, order: str) -> datetime:
    text = moment or f"{day} {clock}".strip()
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        pass
    first, _, rest = text.replace("T", " ").partition(" ")
    on, at = _date(first, order), _clock(rest.strip())
    if on is None or at is None:
        raise ValueError(f"found {text[:30]!r}, allowed: a time such as 2026-11-26 10:00")
    return datetime.combine(on, at)


def _date(text: str, order: str) -> date | None:
    try:
        return date.fromisoformat(text.replace("/", "-"))
    except ValueError:
        pass
    match = PARTED.match(text)
    if match is None:
        return None
    one, two, year = int(match[1]), int(match[2]), int(match[3])
    year += 2000 if year < 100 else 0
    day, month = (one, two) if order == DAY_FIRST else (two, one)
    try:
        return date(year, month, day)
    except ValueError:
        return None


def _clock(text: str) -> time | None:
    if not text:
        return time(0)
    match = CLOCK.match(text)
    if match is None:
        return None
    hour, minute, second = int(match[1]), int(match[2]), int(match[3] or 0)
    if half := (match[4] or "").lower().replace(".", ""):
        if not 1 <= hour <= 12:
            return None
        hour = hour % 12 + (12 if half == "pm" else 0)
    try:
        return time(hour, minute, second)
    except ValueError:
        return None
