"""A logger's lines thinned to days: the median and its spread stand for them."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime
from statistics import median

from pelk.core.base.sources import cites
from pelk.core.curing.logger_csv import LoggedRow


@dataclass(frozen=True, slots=True)
class LoggedDay:
    """A day of a logger; None is not measured.

    Attributes
    ----------
    at : datetime
        The middle of what was written that day.
    count : int
        Lines of it.
    ph, ec_ds_m, temperature_c : float or None
        Medians. [pH], [dS/m], [°C]
    ph_spread : float or None
        Half of what lies between the quarters. [pH]
    """

    at: datetime
    count: int
    ph: float | None
    ec_ds_m: float | None
    temperature_c: float | None
    ph_spread: float | None


@cites("arithmetic", "medians: one odd line moves no day")
def by_day(rows: Iterable[LoggedRow]) -> list[LoggedDay]:
    """Return the days of a logger's lines, the oldest first.

    Parameters
    ----------
    rows : iterable of LoggedRow
        In any order.

    Returns
    -------
    list of LoggedDay
        One for each day on which anything was written.
    """
    held: dict[date, list[LoggedRow]] = {}
    for row in rows:
        held.setdefault(row.at.date(), []).append(row)
    days = []
    for _, of_it in sorted(held.items()):
        times = sorted(row.at for row in of_it)
        ph = [row.ph for row in of_it if row.ph is not None]
        days.append(
            LoggedDay(
                times[len(times) // 2],
                len(of_it),
                _median(ph),
                _median([row.ec_ds_m for row in of_it if row.ec_ds_m is not None]),
                _median([row.temperature_c for row in of_it if row.temperature_c is not None]),
                _spread(ph),
            )
        )
    return days


def _median(values: list[float]) -> float | None:
    return median(values) if values else None


def _spread(values: list[float]) -> float | None:
    if not values:
        return None
    ordered = sorted(values)
    quarter = len(ordered) // 4
    return 0.5 * (ordered[-1 - quarter] - ordered[quarter])
