"""The lines of a laboratory's report: a name, a number, a unit, and what each is weighed by."""

import re
from dataclasses import dataclass

# In a line whose spaces are folded: a name, a sign or space, a number; the rest is its unit.
NAME = re.compile(r"[A-Za-z][^,;:=(]*(?:\([^)]*\))? ?")
VALUE = re.compile(r"[:= ] ?([<>]? ?-?\d[\d.,]*)")
# No row of a report is longer; what is longer is not read at all.
LONGEST_LINE = 1000
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
    rows = []
    for number, raw in enumerate(text.splitlines(), start=1):
        line = raw.strip().strip("\ufeff")
        bare = re.split(r"[,;\t:]", line, maxsplit=1)[0].strip().strip('"').lower()
        if not line or line.startswith("#") or bare in HEADERS or bare in ABOUT:
            continue
        rows.append(_read_line(number, line))
    return rows


def _read_line(number: int, line: str) -> Reported:
    if len(line) > LONGEST_LINE:
        return Reported(
            number, line[:60] + "…", problem=f"this line is longer than {LONGEST_LINE} characters"
        )
    mark = next((m for m in (";", "\t") if m in line), ",")
    cells = [cell.strip().strip('"') for cell in line.split(mark)]
    if len(cells) >= 2 and (value := _number(cells[1])) is not None:
        return _row(number, line, cells[0], value, " ".join(cells[2:4]))
    folded = " ".join(line.replace("C:N", "C/N").split())
    for match in VALUE.finditer(folded):
        name, value = folded[: match.start()], _number(match[1])
        if NAME.fullmatch(name) and value is not None:
            return _row(number, line, name, value, folded[match.end() :])
    return Reported(number, line, problem="found no name, number and unit here")


def _number(text: str) -> float | None:
    text = text.strip().lstrip("<>").strip()
    if text.count(",") == 1 and "." not in text:
        text = text.replace(",", ".")
    try:
        return float(text.replace(",", ""))
    except ValueError:
        return None


def _row(number: int, line: str, name: str, value: float, unit: str) -> Reported:
    plain = unit.strip().replace("µ", "u").replace("μ", "u").lower()
    basis = ""
    for word, meant in (
        ("dry matter", "dry"),
        ("dm", "dry"),
        ("dry basis", "dry"),
        ("dry", "dry"),
        ("fresh", "fresh"),
        ("fw", "fresh"),
        ("as received", "fresh"),
        ("as is", "fresh"),
        ("wet", "fresh"),
    ):
        if re.search(rf"\b{word}\b", plain):
            plain, basis = re.sub(rf"(\bof )?\b{word}\b", "", plain), meant
            break
    return Reported(
        number, line, name.strip(), value, re.sub(r"\s+", "", plain), basis, unit.strip()
    )
