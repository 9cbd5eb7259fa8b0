"""Where what is found of a mix begins to harm, to drift, to count: one table for all."""

import tomllib
from functools import cache
from typing import Any

from pelk.core.base.sources import cites
from pelk.core.base.tables import read


@cache
def grade_table() -> dict[str, dict[str, Any]]:
    """Return where findings begin, by kind."""
    return tomllib.loads(read("grades.toml"))


@cites("pelk", "each row of the table names its source")
def limit(kind: str, name: str) -> float:
    """Return one limit of the table.

    Parameters
    ----------
    kind, name : str
        Row and column of ``grades.toml``.

    Returns
    -------
    float
        In the unit of its kind: [pH], [dS/m], [mg/L], [d] or a share. [-]
    """
    return float(grade_table()[kind][name])
