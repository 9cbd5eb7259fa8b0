"""Read the tables of ``core/data``: names, then units, then rows."""

import csv
from functools import cache
from importlib.resources import files


def read(name: str) -> str:
    """Return the text of a data file."""
    return files("pelk.core").joinpath("data", name).read_text("utf-8")


@cache
def rows(name: str) -> tuple[dict[str, str], ...]:
    """Return the rows of a table whose second line holds the units.

    Parameters
    ----------
    name : str
        File name in ``core/data``.

    Returns
    -------
    tuple of dict
        One dictionary a row, text by column; the units row is left out.
    """
    return tuple(csv.DictReader(read(name).splitlines()))[1:]


def number(text: str) -> float | None:
    """Return a cell as a number; a blank cell is unknown, not zero."""
    return float(text) if text else None
