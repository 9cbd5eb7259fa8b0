"""The lines of a laboratory's report: a name, a number, a unit, and what each is weighed by."""

import csv
import re
from dataclasses import dataclass

# In a line whose spaces are folded: a name, a sign or space, a number; the rest is its unit.
NAME = re.compile(r"[A-Za-z][^,;:=(]*(?:\([^)]*\))? ?")
VALUE = re.compile(r"[:= ] ?([<>]? ?-?(?:\d|\.\d)[\d.,]*)")
# Digits in threes behind commas are thousands, but in what is never counted in thousands.
THOUSANDS = re.compile(r"^-?\d{1,3}(?:,\d{3})+(?:\.\d+)?$")
NEVER_THOUSANDS = re.compile(r"^(?:%|ds/m|ms/cm|mmhos?/cm|kg/l|g/ml|g/cm3|g/cc|)$")
ENDS_IN_NUMBER = re.compile(r"[ :=]\d[\d.]*$")
# What a content is weighed by, as reports say it; the longest first.
BASES = (
    ("dry matter basis", "dry"),
    ("dry weight basis", "dry"),
    ("dry matter", "dry"),
    ("dry weight", "dry"),
    ("dry basis", "dry"),
    ("dry wt.", "dry"),
    ("dry wt", "dry"),
    ("d.m.", "dry"),
    ("dm", "dry"),
    ("dwb", "dry"),
    ("dw", "dry"),
    ("dry", "dry"),
    ("as received", "fresh"),
    ("as-received", "fresh"),
    ("as rec'd", "fresh"),
    ("as is", "fresh"),
    ("as-is", "fresh"),
    ("wet weight", "fresh"),
    ("wet wt", "fresh"),
    ("fresh weight", "fresh"),
    ("fresh", "fresh"),
    ("fw", "fresh"),
    ("wet", "fresh"),
)
# No row of a report is longer; what is longer is not read at all.
LONGEST_LINE = 1000
MOST_ROWS = 1000
HEADERS = frozenset(["name", "analyte", "parameter", "test", "determination", "what"])
# Lines that say whose report it is.
ABOUT = frozenset(
    [
        "sample",
        "ref",
        "reference",
        "lab",
        "laboratory",
        "date",
        "method",
        "reported",
        "received",
        "note",
        "client",
    ]
)


@dataclass(frozen=True, slots=True)
class Reported:
    """One row of a report as it was read.

    Attributes
    ----------
    line : int
        In the file or the pasted text, from 1.
    printed : str
        The unit as it stands there.
    problem : str
        Why it could not be read; empty when it was.
    """

    line: int
    text: str
    name: str = ""
    value: float = 0.0
    unit: str = ""
    basis: str = ""
    printed: str = ""
    problem: str = ""


def read_report(text: str) -> list[Reported]:
    """Return the rows of a report: CSV, or lines of a name, a number and a unit.

    Parameters
    ----------
    text : str
        As pasted or uploaded.

    Returns
    -------
    list of Reported
        With a problem on each line that says nothing readable.
    """
    rows: list[Reported] = []
    for number, raw in enumerate(text.splitlines(), start=1):
        line = raw.strip().strip("\ufeff")
        bare = re.split(r"[,;\t:]", line, maxsplit=1)[0].strip().strip('"').lower()
        if not line or line.startswith("#") or bare in HEADERS or bare in ABOUT:
            continue
        if len(rows) == MOST_ROWS:
            say = f"a report has at most {MOST_ROWS} rows: what follows was not read"
            return [*rows, Reported(number, line[:60], problem=say)]
        rows.append(_read_line(number, line))
    return rows


def _read_line(number: int, line: str) -> Reported:
    if len(line) > LONGEST_LINE:
        return Reported(
            number, line[:60] + "…", problem=f"this line is longer than {LONGEST_LINE} characters"
        )
    mark = next((m for m in (";", "\t") if m in line), ",")
    cells = [cell.strip() for cell in next(csv.reader([line], delimiter=mark), [])]
    # A name that ends in a number would share its comma with it: "pH 6,8" is no two cells.
    if len(cells) >= 2 and not (mark == "," and ENDS_IN_NUMBER.search(cells[0])):
        unit = " ".join(cells[2:4])
        if (value := _number(cells[1], unit)) is not None:
            return _row(number, line, cells[0], value, unit)
    folded = " ".join(line.replace("C:N", "C/N").split())
    for match in VALUE.finditer(folded):
        name, unit = folded[: match.start()], folded[match.end() :]
        value = _number(match[1], unit)
        if NAME.fullmatch(name) and value is not None:
            return _row(number, line, name, value, unit)
    return Reported(number, line, problem="found no name, number and unit here")


def _number(text: str, unit: str) -> float | None:
    """Return a number as it is printed: 1,250 ppm are thousands, 1,25 % is a decimal comma."""
    text = text.strip().lstrip("<>").strip()
    plain = _unit(unit)[0]
    if THOUSANDS.match(text) and not NEVER_THOUSANDS.match(plain):
        text = text.replace(",", "")
    elif text.count(",") == 1 and "." not in text:
        text = text.replace(",", ".")
    elif "," in text and not THOUSANDS.match(text):
        return None
    try:
        return float(text.replace(",", ""))
    except ValueError:
        return None


def _unit(unit: str) -> tuple[str, str]:
    """Return a unit without spaces, and what it is weighed by."""
    plain = unit.strip().replace("µ", "u").replace("μ", "u").lower()
    for word, meant in BASES:
        there = rf"(?<![a-z]){re.escape(word)}(?![a-z])"
        if re.search(there, plain):
            plain = re.sub(rf"(?:\bof )?{there}", "", plain)
            return re.sub(r"[\s(),]+", "", plain) if "(" in plain else _folded(plain), meant
    return _folded(plain), ""


def _folded(unit: str) -> str:
    return re.sub(r"\s+", "", unit)


def _row(number: int, line: str, name: str, value: float, unit: str) -> Reported:
    plain, basis = _unit(unit)
    return Reported(number, line, name.strip(), value, plain, basis, unit.strip())
