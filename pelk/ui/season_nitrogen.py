"""A season of nitrogen in one picture: what each group of pots needs each week, and gets."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from django.utils.html import escape
from django.utils.safestring import SafeString

from pelk.ui.chart_numbers import ChartNumbers, chart_numbers
from pelk.ui.scales import Scale, path

LANE, NAME, TOP, FOOT, EDGE = 34, 20, 24, 6, 4
BACK_DAYS, AHEAD_DAYS, MONTH_PX = 90, 300, 30
# What is at hand is drawn up to so many times the most that is needed.
ROOM = 1.5


@dataclass(frozen=True, slots=True)
class PotsNitrogen:
    """A group's season by week: what it needs and gets [mg/L], and the weeks that run short."""

    name: str
    url: str
    start: date
    needs: Sequence[float]
    gets: Sequence[float]
    short_weeks: Sequence[int]

    @property
    def end(self) -> date:
        """The last day of it."""
        return self.start + timedelta(days=7 * len(self.needs))


def season_nitrogen_svg(rows: Sequence[PotsNitrogen], today: date, width: int) -> SafeString:
    """Draw the seasons that are shown on one axis of time; nothing where there are none."""
    shown, first, last = _shown(rows, today)
    if not shown:
        return SafeString("")
    along = Scale(first.toordinal(), last.toordinal(), EDGE, width - EDGE)
    height = TOP + len(shown) * (LANE + NAME) + FOOT
    drawn = [_month(day, along, height) for day in _months(first, last, along)]
    for i, row in enumerate(shown):
        drawn.append(_lane(row, along, first, last, TOP + i * (LANE + NAME) + NAME))
    x = along(today.toordinal())
    drawn.append(f'<path class="today" d="M{x} {TOP - 4}V{height - FOOT}"/>')
    said = "; ".join(
        f"{r.name}: {f'short in {len(r.short_weeks)} weeks' if r.short_weeks else 'enough'}"
        for r in shown
    )
    left, right = (along(day.toordinal()) for day in (first, _weeks(first, last)[-1]))
    return SafeString(
        f'<svg class="chart season-n" data-left="{left}" data-right="{right}" width="{width}" '
        f'height="{height}" viewBox="0 0 {width} {height}" role="group" '
        f'aria-label="Nitrogen of the season: '
        f'{escape(said)}">{"".join(drawn)}</svg>'
    )


def season_numbers(rows: Sequence[PotsNitrogen], today: date) -> ChartNumbers | None:
    """Return the same by week: what each group gets and needs; None where there is no group."""
    shown, first, last = _shown(rows, today)
    if not shown:
        return None
    heads = ["week of", *(f"{r.name} {word}, mg/L" for r in shown for word in ("gets", "needs"))]
    told = [
        (float(day.toordinal()), [f"{day:%-d %b}", *(n for r in shown for n in _of_week(r, day))])
        for day in _weeks(first, last)
    ]
    return chart_numbers("nitrogen-of-the-season", heads, told)


def _shown(rows: Sequence[PotsNitrogen], today: date) -> tuple[list[PotsNitrogen], date, date]:
    """Return the seasons that are shown, and from when to when."""
    earliest, latest = today - timedelta(days=BACK_DAYS), today + timedelta(days=AHEAD_DAYS)
    shown = [r for r in rows if r.end > earliest and r.start < latest]
    first = max(min([today, *(r.start for r in shown)]), earliest)
    last = min(max([today, *(r.end for r in shown)]), latest)
    return shown, first, last


def _weeks(first: date, last: date) -> list[date]:
    return [first + timedelta(days=d) for d in range(0, max((last - first).days, 1), 7)]


def _of_week(row: PotsNitrogen, day: date) -> tuple[str, str]:
    week = (day - row.start).days // 7
    if not 0 <= week < len(row.needs):
        return "–", "–"
    return f"{row.gets[week]:.1f}", f"{row.needs[week]:.1f}"


def _lane(row: PotsNitrogen, along: Scale, first: date, last: date, top: float) -> str:
    most = max(max(row.needs, default=0.0) * ROOM, 1e-6)
    up = Scale(0.0, most, top + LANE, top)
    weeks = [
        (i, day)
        for i in range(len(row.needs))
        if first <= (day := row.start + timedelta(days=7 * i)) < last
    ]
    xs = [along((day + timedelta(days=3)).toordinal()) for _, day in weeks]
    gets = [(x, up(row.gets[i])) for x, (i, _) in zip(xs, weeks, strict=True)]
    needs = [(x, up(row.needs[i])) for x, (i, _) in zip(xs, weeks, strict=True)]
    wide = (along.end - along.start) * 7 / max(along.high - along.low, 7)
    shorts = "".join(
        f'<rect class="hungry" x="{x - wide / 2:.1f}" y="{top}" width="{wide:.1f}" '
        f'height="{LANE}"/>'
        for x, (i, _) in zip(xs, weeks, strict=True)
        if i in row.short_weeks
    )
    area = curve = ""
    if len(weeks) > 1:
        foot = top + LANE
        area = f'<path class="cb-soon" d="{path([(xs[0], foot), *gets, (xs[-1], foot)])}Z"/>'
        curve = f'<path class="curve" d="{path(needs)}"/>'
    return (
        f'<a href="{row.url}"><text class="tx-n tx-b" x="{EDGE}" y="{top - 5}">'
        f"{escape(row.name)}</text></a>{area}{shorts}{curve}"
        f'<path class="axis" d="M{EDGE} {top + LANE}H{along(last.toordinal())}"/>'
    )


def _months(first: date, last: date, along: Scale) -> list[date]:
    days: list[date] = []
    day = (first.replace(day=1) + timedelta(days=32)).replace(day=1)
    while day < last:
        if not days or along(day.toordinal()) - along(days[-1].toordinal()) >= MONTH_PX:
            days.append(day)
        day = (day + timedelta(days=32)).replace(day=1)
    return days


def _month(day: date, along: Scale, height: int) -> str:
    x = along(day.toordinal())
    return (
        f'<path class="grid" d="M{x} {TOP - 6}V{height - FOOT}"/><text class="tx-n" x="{x + 3}" '
        f'y="14">{day:%b}</text>'
    )
