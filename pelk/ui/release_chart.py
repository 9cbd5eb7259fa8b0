"""Geometry of a release curve: the share of a material's nitrogen that is free by day."""

import itertools
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from pelk.core.release.nitrogen_curves import MONTH_DAYS
from pelk.ui.chart_numbers import ChartNumbers, chart_numbers
from pelk.ui.scales import Scale, Tick, path

Floats = NDArray[np.float64]
LEFT, RIGHT, TOP, BASE = 46.0, 66.0, 10.0, 28.0
POINTS, TEXT_PX = 60, 18.0
# Rows of the table behind the picture.
TOLD = 13


@dataclass(frozen=True, slots=True)
class Curve:
    """One line with the word that stands at its end."""

    line: str
    kind: str
    text: str
    text_y: float


@dataclass(frozen=True, slots=True)
class ReleaseChart:
    """The plot: share of total nitrogen over the weeks of a season."""

    width: int
    height: int
    left: float
    right: float
    base: float
    zero: float
    shares: list[Tick]
    weeks: list[Tick]
    curves: list[Curve]
    label: str
    numbers: ChartNumbers


def release_chart(
    lines: Sequence[tuple[str, str, Floats]],
    ticks: Sequence[tuple[int, str]],
    width: int = 420,
    height: int = 210,
) -> ReleaseChart:
    """Lay out some curves; each is a kind, a word and a share for each day."""
    days = len(lines[0][2]) - 1
    lowest = min(0.0, *(float(v.min()) for _, _, v in lines))
    low = -0.25 * np.ceil(-lowest / 0.25)
    across = Scale(0, days, LEFT, width - RIGHT)
    up = Scale(low, 1.0, height - BASE, TOP)
    at = np.unique(np.linspace(0, days, POINTS).astype(int))
    ends = _apart([up(float(v[-1])) for _, _, v in lines])
    curves = [
        Curve(path(list(zip(across.many(at), up.many(values[at]), strict=True))), kind, text, y)
        for (kind, text, values), y in zip(lines, ends, strict=True)
    ]
    said = "; ".join(
        f"{text}: {100 * float(v[min(30, days)]):.0f} % after 30 days, "
        f"{100 * float(v[-1]):.0f} % after {days}"
        for _, text, v in lines
    )
    steps = np.arange(low, 1.01, 0.25)
    return ReleaseChart(
        width,
        height,
        LEFT,
        width - RIGHT,
        height - BASE,
        up(0.0),
        [Tick(up(s), f"{100 * s:.0f}%" if round(4 * s) % 2 == 0 else "") for s in steps],
        [Tick(across(day), text) for day, text in ticks if day <= days],
        curves,
        f"Share of nitrogen set free. {said}",
        chart_numbers(
            "nitrogen-released",
            ("days after", *(text for _, text, _ in lines)),
            [
                (float(day), (str(day), *(f"{float(v[day]):.0%}" for _, _, v in lines)))
                for day in np.unique(np.linspace(0, days, TOLD).astype(int))
            ],
        ),
    )


def month_ticks(month: int, days: int) -> list[tuple[int, str]]:
    """Return the first day and name of each month from one on, 0 for January."""
    ticks, day = [], 0
    while day <= days:
        ticks.append((day, date(2001, month + 1, 1).strftime("%b")))
        day, month = day + MONTH_DAYS[month], (month + 1) % 12
    return ticks


def _apart(ys: list[float]) -> list[float]:
    """Return where the words at the ends go, so that none lies on another."""
    order = sorted(range(len(ys)), key=lambda i: ys[i])
    placed = list(ys)
    for before, after in itertools.pairwise(order):
        placed[after] = max(placed[after], placed[before] + TEXT_PX)
    return placed
