"""Twelve small pictures: how a material's nitrogen comes free, by the month it is given in."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from django.utils.safestring import SafeString
from numpy.typing import NDArray

from pelk.ui.chart_numbers import ChartNumbers, chart_numbers
from pelk.ui.scales import Scale, path

Floats = NDArray[np.float64]
MONTHS = ("Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec")
COLUMNS, WIDE, TALL, GAP, HEAD, POINTS = 4, 92, 52, 14, 20, 24
TOLD_DAYS = (30, 90, 180)


@dataclass(frozen=True, slots=True)
class SmallReleases:
    """The picture and the numbers behind it."""

    picture: SafeString
    numbers: ChartNumbers


def small_releases(curves: Sequence[Floats], here: int) -> SmallReleases:
    """Draw twelve curves, January first, on one scale; `here` is the month looked at."""
    high = max(0.1, *(float(curve.max()) for curve in curves))
    low = min(0.0, *(float(curve.min()) for curve in curves))
    up = Scale(low, high, TALL, 0)
    drawn = []
    for i, (name, curve) in enumerate(zip(MONTHS, curves, strict=True)):
        x = (i % COLUMNS) * (WIDE + GAP)
        y = (i // COLUMNS) * (TALL + GAP + HEAD) + HEAD
        days = np.unique(np.linspace(0, len(curve) - 1, POINTS).astype(int))
        across = Scale(0, len(curve) - 1, 0, WIDE)
        line = list(zip(across.many(days), up.many(curve[days]), strict=True))
        area = [(line[0][0], up(0.0)), *line, (line[-1][0], up(0.0))]
        css = " is-here" if i == here else ""
        drawn.append(
            f'<g class="small-one{css}" transform="translate({x} {y})"><path class="small-area" '
            f'd="{path(area)}Z"/><path class="curve" d="{path(line)}"/><path class="axis" '
            f'd="M0 {up(0.0)}H{WIDE}"/><text class="tx-n{" tx-b" if css else ""}" x="0" y="-5">'
            f'{name}</text><text class="tx-n" x="{WIDE}" y="-5" text-anchor="end">'
            f"{_share(curve, TOLD_DAYS[1])}</text></g>"
        )
    width = COLUMNS * (WIDE + GAP) - GAP
    height = len(MONTHS) // COLUMNS * (TALL + GAP + HEAD)
    heads = ("given in", *(f"after {day} days" for day in TOLD_DAYS))
    rows = [
        (float(i), (name, *(_share(curve, day) for day in TOLD_DAYS)))
        for i, (name, curve) in enumerate(zip(MONTHS, curves, strict=True))
    ]
    label = "Share of nitrogen free after 90 days, by the month it is given in: " + ", ".join(
        f"{row[1][0]} {row[1][2]}" for row in rows
    )
    return SmallReleases(
        SafeString(
            f'<svg class="chart small-releases" width="{width}" height="{height}" '
            f'viewBox="0 0 {width} {height}" role="img" aria-label="{label}">{"".join(drawn)}</svg>'
        ),
        chart_numbers("nitrogen-by-month", heads, rows),
    )


def _share(curve: Floats, day: int) -> str:
    return f"{float(curve[min(day, len(curve) - 1)]):.0%}"
