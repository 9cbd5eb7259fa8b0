"""The numbers behind a chart: a table for who cannot see it, and what is saved as CSV."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class NumbersRow:
    """One row: where it lies along the plot (0 at its left, 1 at its right), and its cells."""

    share: float
    cells: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ChartNumbers:
    """A chart as a table; ``name`` names the files it is saved as."""

    name: str
    heads: tuple[str, ...]
    rows: tuple[NumbersRow, ...]


def chart_numbers(
    name: str, heads: Sequence[str], rows: Sequence[tuple[float, Sequence[str]]]
) -> ChartNumbers:
    """Return rows, given by their place along the axis, as a table."""
    first, last = (rows[0][0], rows[-1][0]) if rows else (0.0, 1.0)
    span = (last - first) or 1.0
    kept = tuple(NumbersRow(round((at - first) / span, 4), tuple(cells)) for at, cells in rows)
    return ChartNumbers(name, tuple(heads), kept)
