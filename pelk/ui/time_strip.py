"""What happened, on one line of time: a mark a deed, stacked where days are full."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from django.utils.html import escape
from django.utils.safestring import SafeString

from pelk.ui.scales import Scale

WIDTH, EDGE, MARK, FOOT, MOST_ROWS, MONTH_PX = 1180, 14, 24, 26, 5, 90


@dataclass(frozen=True, slots=True)
class Happened:
    """One deed: its day, the icon of where it was done, its words and address."""

    on: date
    icon: str
    says: str
    url: str


def time_strip_svg(deeds: Sequence[Happened], label: str) -> SafeString:
    """Draw deeds by their days; nothing for fewer than two days."""
    if len({deed.on for deed in deeds}) < 2:
        return SafeString("")
    first, last = min(d.on for d in deeds), max(d.on for d in deeds)
    along = Scale(first.toordinal(), last.toordinal(), EDGE, WIDTH - EDGE - MARK)
    placed: list[tuple[float, int, Happened]] = []
    ends = [float("-inf")] * MOST_ROWS
    for deed in sorted(deeds, key=lambda d: d.on):
        x = along(deed.on.toordinal())
        row = next((i for i, end in enumerate(ends) if end <= x), None)
        if row is None:
            continue
        ends[row] = x + MARK
        placed.append((x, row, deed))
    rows = 1 + max(row for _, row, _ in placed)
    base = rows * MARK + 6
    height = base + FOOT
    marks = "".join(_mark(x, base - 4 - (row + 1) * MARK, deed) for x, row, deed in placed)
    months = "".join(_month(day, along, base) for day in _months(first, last, along))
    months += (
        f'<path class="axis" d="M{WIDTH - EDGE} {base}v5"/><text class="tx-n" x="{WIDTH - EDGE}" '
        f'y="{base + 21}" text-anchor="end">{last:%-d %b %Y}</text>'
    )
    return SafeString(
        f'<svg class="chart time-strip" width="{WIDTH}" height="{height}" '
        f'viewBox="0 0 {WIDTH} {height}" role="group" aria-label="{escape(label)}">'
        f'<path class="axis" d="M0 {base}H{WIDTH}"/>{months}{marks}</svg>'
    )


def _mark(x: float, y: float, deed: Happened) -> str:
    drawn = (
        f'<title>{deed.on:%-d %b %Y}: {escape(deed.says)}</title><rect class="strip-hit" x="{x}" '
        f'y="{y}" width="{MARK}" height="{MARK}"/><use href="#{deed.icon}" x="{x + 1}" '
        f'y="{y + 1}" width="{MARK - 2}" height="{MARK - 2}"/>'
    )
    if not deed.url:
        return f"<g>{drawn}</g>"
    return f'<a href="{escape(deed.url)}" aria-label="{escape(deed.says)}">{drawn}</a>'


def _months(first: date, last: date, along: Scale) -> list[date]:
    days, day = [first], (first.replace(day=1) + timedelta(days=32)).replace(day=1)
    while day <= last:
        x, before = along(day.toordinal()), along(days[-1].toordinal())
        if x - before >= MONTH_PX and x < WIDTH - EDGE - 2 * MONTH_PX:
            days.append(day)
        day = (day + timedelta(days=32)).replace(day=1)
    return days


def _month(day: date, along: Scale, base: int) -> str:
    x = along(day.toordinal())
    text = f"{day:%-d %b %Y}" if day.day != 1 or day.month == 1 else f"{day:%b}"
    return (
        f'<path class="axis" d="M{x} {base}v5"/><text class="tx-n" x="{x}" y="{base + 21}">'
        f"{text}</text>"
    )
