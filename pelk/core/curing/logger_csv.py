"""Readings of a data logger, read from its CSV: every bad line is named, nothing is guessed."""

import csv
from dataclasses import dataclass
from datetime import datetime
from io import StringIO

TIMES = ("time", "date", "when", "timestamp", "datetime", "taken_at")
COLUMNS = {
    "ph": ("ph",),
    "ec_ds_m": ("ec", "ec_ds_m", "ec ds/m", "ec (ds/m)", "conductivity"),
    "temperature_c": ("temperature", "temperature_c", "temp", "t", "°c", "temperature (°c)"),
}
SPANS = {"ph": (0.0, 14.0), "ec_ds_m": (0.0, 50.0), "temperature_c": (-30.0, 90.0)}
FORMATS = ("%d.%m.%Y %H:%M", "%d.%m.%Y %H:%M:%S", "%d/%m/%Y %H:%M", "%d/%m/%Y %H:%M:%S")
MOST_LINES = 20_000


@dataclass(frozen=True, slots=True)
class LoggedRow:
    """One line of a logger; None is not measured."""

    line: int
    at: datetime
    ph: float | None
    ec_ds_m: float | None
    temperature_c: float | None


@dataclass(frozen=True, slots=True)
class Logged:
    """What a file holds, and what is wrong with it: (line, sentence)."""

    rows: tuple[LoggedRow, ...]
    problems: tuple[tuple[int, str], ...]


def read_logger(text: str) -> Logged:
    """Return the readings of a logger's CSV.

    Parameters
    ----------
    text : str
        With a header line; comma, semicolon or tab between cells.

    Returns
    -------
    Logged
        Rows that can be read, and every problem with its line.
    """
    lines = text.lstrip("\ufeff").splitlines()
    if not lines:
        return Logged((), ((1, "The file is empty."),))
    mark = max((";", "\t", ","), key=lines[0].count)
    table = list(csv.reader(StringIO("\n".join(lines)), delimiter=mark))
    heads = [cell.strip().lower() for cell in table[0]]
    when = next((i for i, head in enumerate(heads) if head in TIMES), None)
    at = {k: i for k, names in COLUMNS.items() for i, h in enumerate(heads) if h in names}
    if when is None or not at:
        say = "The first line must name a time column and one of pH, EC, temperature."
        return Logged((), ((1, say),))
    if len(table) - 1 > MOST_LINES:
        say = f"Found {len(table) - 1} lines, allowed: {MOST_LINES}."
        return Logged((), ((1, say),))
    rows, problems = [], []
    for number, cells in enumerate(table[1:], 2):
        if not any(cell.strip() for cell in cells):
            continue
        try:
            rows.append(_row(number, cells, when, at, decimal_comma=mark != ","))
        except ValueError as error:
            problems.append((number, str(error)))
    return Logged(tuple(rows), tuple(problems))


def _row(
    number: int, cells: list[str], when: int, at: dict[str, int], *, decimal_comma: bool
) -> LoggedRow:
    def cell(i: int) -> str:
        return cells[i].strip() if i < len(cells) else ""

    numbers = {key: _number(cell(i), key, comma=decimal_comma) for key, i in at.items()}
    if all(value is None for value in numbers.values()):
        raise ValueError("nothing is measured in it")
    return LoggedRow(
        number,
        _time(cell(when)),
        numbers.get("ph"),
        numbers.get("ec_ds_m"),
        numbers.get("temperature_c"),
    )


def _number(text: str, key: str, *, comma: bool) -> float | None:
    if not text:
        return None
    try:
        value = float(text.replace(",", ".") if comma else text)
    except ValueError:
        raise ValueError(f"found {text[:20]!r}, allowed: a number") from None
    low, high = SPANS[key]
    if not low <= value <= high:
        raise ValueError(f"found {value:g}, allowed: from {low:g} to {high:g}")
    return value


def _time(text: str) -> datetime:
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        pass
    for form in FORMATS:
        try:
            return datetime.strptime(text, form)
        except ValueError:
            continue
    raise ValueError(f"found {text[:30]!r}, allowed: a time such as 2026-11-26 10:00")
