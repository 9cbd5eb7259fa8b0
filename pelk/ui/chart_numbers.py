"""The numbers behind a chart: a table for who cannot see it, and what is saved as CSV."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass


@dataclass(frozen=True, slots=True)
class NumbersRow:
    """One row: where it lies along the plot (0 at its left, 1 at its right), and its cells.

    A chart whose rows lie below one another has no place along it.
    """

    share: float | None
    cells: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ChartNumbers:
    """A chart as a table; ``name`` names the files it is saved as.

    Where one table stands behind several pictures there is no one picture to save.
    """

    name: str
    heads: tuple[str, ...]
    rows: tuple[NumbersRow, ...]
    is_of_many: bool = False

    @property
    def has_axis(self) -> bool:
        """Whether its rows are numbers along an axis; else they are mostly words."""
        return bool(self.rows) and self.rows[0].share is not None


def chart_numbers(
    name: str, heads: Sequence[str], rows: Sequence[tuple[float, Sequence[str]]]
) -> ChartNumbers:
    """Return rows, given by their place along the axis, as a table."""
    first, last = (rows[0][0], rows[-1][0]) if rows else (0.0, 1.0)
    span = (last - first) or 1.0
    kept = tuple(NumbersRow(round((at - first) / span, 4), tuple(cells)) for at, cells in rows)
    return ChartNumbers(name, tuple(heads), kept)


def lane_numbers(name: str, heads: Sequence[str], rows: Sequence[Sequence[str]]) -> ChartNumbers:
    """Return the rows of a chart of lanes, one below another, as a table."""
    return ChartNumbers(name, tuple(heads), tuple(NumbersRow(None, tuple(r)) for r in rows))
