"""Geometry of the pH runway: the line ahead with its fan, readings, band and ready day."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.quantities import PH_TOLD, written_ph
from pelk.ui.chart_numbers import ChartNumbers, chart_numbers
from pelk.ui.days import short_day
from pelk.ui.scales import Scale, Tick, path, round_step, steps

Floats = NDArray[np.float64]

LEFT, RIGHT, TOP, BASE = 38.0, 12.0, 34.0, 28.0
STRIP, STRIP_LOW, STRIP_GAP = 34.0, 14.0, 22.0
# A runway lower than this gives its pH the room of the strip. [px]
TALL_ENOUGH = 180
MOST_POINTS = 60
# Rows of the table behind the picture.
TOLD = 13
FLAG = 112.0
# The word at today's line. [px]
TODAY_PX = 48.0
YEAR_DAYS = 366
# Between two words of the pH axis, at least. [px]
TICK_PX, PH_STEPS = 15.0, (0.5, 1.0, 2.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class Ahead:
    """What a runway shows of a forecast.

    Attributes
    ----------
    low, middle, high : array, shape (n_days + 1,)
        p10, p50, p90 by day since mixing. [pH]
    ready : tuple of int or None
        p10, p50, p90 of the ready day. [d]
    hot_until : int
        Last day with more ammonium than roots stand. [d]
    sulfur_left, lime_left : array or None
        Share not yet turned or dissolved, by day. [-]
    pen : array or None
        What a pen in a slurry shows, where salts take it off the mix's own pH. [pH]
    """

    low: Floats
    middle: Floats
    high: Floats
    ready: tuple[int | None, int | None, int | None] = (None, None, None)
    hot_until: int = 0
    sulfur_left: Floats | None = None
    lime_left: Floats | None = None
    pen: Floats | None = None

    @property
    def still_to_work(self) -> dict[str, Floats]:
        """What has not worked yet, by kind: its share by day. [-]."""
        both = {"sulfur": self.sulfur_left, "lime": self.lime_left}
        return {kind: left for kind, left in both.items() if left is not None}


@dataclass(frozen=True, slots=True)
class Point:
    """One reading on the plot."""

    x: float
    y: float
    text: str


@dataclass(frozen=True, slots=True)
class Flag:
    """The ready day: a line with its flag, and the days it may fall on."""

    x: float
    text: str
    flag: str
    is_left: bool
    band_x: float
    band_width: float


@dataclass(frozen=True, slots=True)
class Strip:
    """Sulfur and lime that have not worked yet, below the plot: kind and area."""

    areas: list[tuple[str, str]]
    base: float
    text: str


@dataclass(frozen=True, slots=True)
class Runway:
    """Everything the drawing needs, in pixels."""

    width: int
    height: int
    left: float
    right: float
    top: float
    base: float
    plot_width: float
    plot_height: float
    band_y: float
    band_height: float
    band_text: str
    band_text_x: float
    band_text_y: float
    line: str
    ensemble: str
    pen: str
    end_text: str
    end_x: float
    end_y: float
    points: list[Point]
    trend: str
    forecast_at_mixing: str
    ph_ticks: list[Tick]
    day_ticks: list[Tick]
    label: str
    ready: Flag | None
    strip: Strip | None
    hot_width: float
    today: float | None
    # Its word has no room at the right.
    is_late_today: bool
    axis_y: float
    numbers: ChartNumbers


def runway(
    ahead: Ahead | None,
    band: tuple[float, float],
    *,
    width: int,
    height: int = 250,
    readings: Sequence[tuple[float, float]] = (),
    begun: datetime | None = None,
    today: float | None = None,
    forecast_at_mixing: Sequence[tuple[float, float]] = (),
    span: tuple[float, float] | None = None,
    has_strip_room: bool = False,
) -> Runway:
    """Lay out the runway; readings and what was foretold are (days since mixing, pH).

    Where several stand side by side, ``span`` is the pH at foot and top of each, and
    ``has_strip_room`` leaves room for a strip though there is none.
    """
    days = len(ahead.middle) - 1 if ahead else 28
    days = int(max([days, *(d * 1.1 for d, _ in readings), (today or 0) * 1.1]))
    left, right = LEFT, width - RIGHT
    has_strip = has_strip_room or (ahead is not None and bool(ahead.still_to_work))
    strip = _strip_px(height) + STRIP_GAP if has_strip else 0.0
    base = height - BASE - strip
    low, high = span or _span(ahead, band, [*readings, *forecast_at_mixing])
    x, y = Scale(0, days, left, right), Scale(low, high, base, TOP)
    band_y, band_base = y(band[1]), y(band[0])
    shown = _lines(ahead, x, y)
    points = [Point(x(d), y(ph), f"{ph:.1f}") for d, ph in readings]
    end = float(ahead.middle[-1]) if ahead else 0.0
    return Runway(
        width=width,
        height=height,
        left=left,
        right=right,
        top=TOP,
        base=base,
        plot_width=right - left,
        plot_height=base - TOP,
        band_y=band_y,
        band_height=round(band_base - band_y, 1),
        band_text=f"target {band[0]:g} to {band[1]:g}",
        band_text_x=round((left + right) / 2, 1),
        band_text_y=round(min(band_base + 16, base - 5), 1),
        line=shown[0],
        ensemble=shown[1],
        pen=_pen(ahead, x, y),
        end_text=written_ph(end) if ahead else "",
        end_x=x(len(ahead.middle) - 1) if ahead else right,
        end_y=y(end) if ahead else base,
        points=points,
        trend=path([(p.x, p.y) for p in points]) if len(points) > 1 else "",
        forecast_at_mixing=_forecast_at_mixing(forecast_at_mixing, x, y),
        ph_ticks=[Tick(y(v), f"{v:.1f}") for v in _ph_steps(low, high, base - TOP)],
        day_ticks=_day_ticks(begun, days, x),
        label=_label(ahead, band, readings, begun),
        today=None if today is None else x(today),
        is_late_today=today is not None and x(today) > right - TODAY_PX,
        hot_width=round(x(ahead.hot_until) - left, 1) if ahead else 0.0,
        axis_y=height - BASE,
        ready=_ready(ahead, begun, x, right),
        strip=_strip(ahead, x, height, begun),
        numbers=_numbers(ahead, begun, days, readings),
    )


def runways_beside(
    each: Sequence[tuple[Ahead | None, tuple[float, float], Sequence[tuple[float, float]]]],
    *,
    width: int,
    height: int,
) -> list[Runway]:
    """Lay out several, each of a forecast, a band and readings, from one foot to one top."""
    spans = [_span(*one) for one in each]
    span = (min(low for low, _ in spans), max(high for _, high in spans)) if spans else None
    has_strip = any(ahead.still_to_work for ahead, _, _ in each if ahead)
    return [
        runway(
            ahead,
            band,
            width=width,
            height=height,
            readings=read,
            span=span,
            has_strip_room=has_strip,
        )
        for ahead, band, read in each
    ]


def _numbers(
    ahead: Ahead | None, begun: datetime | None, days: int, readings: Sequence[tuple[float, float]]
) -> ChartNumbers:
    """Return the forecast at even days; without one, the readings."""
    if ahead is None:
        read = [(d, (_date(begun, int(d)), f"{ph:.1f}")) for d, ph in readings]
        return chart_numbers("ph-readings", ("day", "pH"), read)
    left = ahead.still_to_work
    heads = ("day", "pH", "8 in 10 from", "to", *(f"{kind} not yet reacted" for kind in left))
    rows = []
    for day in np.unique(np.linspace(0, len(ahead.middle) - 1, TOLD).astype(int)):
        lines = (ahead.middle, ahead.low, ahead.high)
        cells = [_date(begun, int(day)), *(written_ph(float(line[day])) for line in lines)]
        cells += [f"{max(float(share[day]), 0.0):.0%}" for share in left.values()]
        rows.append((float(day), cells))
    if rows and days > rows[-1][0]:
        rows.append((float(days), [_date(begun, days), *("–" for _ in heads[1:])]))
    return chart_numbers("ph-forecast", heads, rows)


def _span(
    ahead: Ahead | None, band: tuple[float, float], readings: Sequence[tuple[float, float]]
) -> tuple[float, float]:
    seen = [*band, *(ph for _, ph in readings)]
    if ahead:
        seen += [float(ahead.low.min()), float(ahead.high.max())]
        seen += [] if ahead.pen is None else [float(ahead.pen.min())]
    inside = [min(max(v, PH_TOLD[0] - 0.2), PH_TOLD[1] + 0.2) for v in seen]
    return min(inside) - 0.2, max(inside) + 0.2


def _ph_steps(low: float, high: float, tall: float) -> list[float]:
    """Return the pH of the ticks: as near to one another as their words have room."""
    room = (high - low) * TICK_PX / max(tall, 1.0)
    return steps(low, high, next((step for step in PH_STEPS if step >= room), PH_STEPS[-1]))


def _thinned(days: int) -> NDArray[np.intp]:
    return np.unique(np.linspace(0, days, min(days + 1, MOST_POINTS)).astype(np.intp))


def _lines(ahead: Ahead | None, x: Scale, y: Scale) -> tuple[str, str]:
    if ahead is None:
        return "", ""
    at = _thinned(len(ahead.middle) - 1)
    across = x.many(at)
    line = path(list(zip(across, y.many(ahead.middle[at]), strict=True)))
    if np.array_equal(ahead.low, ahead.high):
        return line, ""
    over = list(zip(across, y.many(ahead.high[at]), strict=True))
    under = list(zip(across, y.many(ahead.low[at]), strict=True))
    return line, f"{path(over + under[::-1])}Z"


def _pen(ahead: Ahead | None, x: Scale, y: Scale) -> str:
    if ahead is None or ahead.pen is None:
        return ""
    at = _thinned(len(ahead.pen) - 1)
    return path(list(zip(x.many(at), y.many(ahead.pen[at]), strict=True)))


def _forecast_at_mixing(told: Sequence[tuple[float, float]], x: Scale, y: Scale) -> str:
    if not told:
        return ""
    shown = [told[i] for i in _thinned(len(told) - 1)]
    return path([(x(day), y(ph)) for day, ph in shown])


def _ready(ahead: Ahead | None, begun: datetime | None, x: Scale, right: float) -> Flag | None:
    if ahead is None:
        return None
    low, middle, high = ahead.ready
    if middle is None:
        return None
    at = x(middle)
    is_left = at > right - FLAG
    room, notch = (-FLAG, 5) if is_left else (FLAG, -5)
    flag = f"M{at} {TOP - 24}h{room}l{notch} 9l{-notch} 9h{-room}z"
    start = x(low) if low is not None else at
    end = x(high) if high is not None else right
    # Its year stands on the axis.
    text = f"ready {begun + timedelta(days=middle):%-d %b}" if begun else f"ready day {middle}"
    return Flag(at, text, flag, is_left, start, round(max(end - start, 1.0), 1))


def _strip_px(height: int) -> float:
    return STRIP if height >= TALL_ENOUGH else STRIP_LOW


def _strip(ahead: Ahead | None, x: Scale, height: int, begun: datetime | None) -> Strip | None:
    if ahead is None or not ahead.still_to_work:
        return None
    base = height - BASE
    y = Scale(0, 1, base, base - _strip_px(height))
    last = len(ahead.middle) - 1
    at = _thinned(last)
    across, areas, said = x.many(at), [], []
    for kind, left in ahead.still_to_work.items():
        line = list(zip(across, y.many(left[at]), strict=True))
        areas.append((kind, path([(line[0][0], base), *line, (line[-1][0], base)]) + "Z"))
        said.append(f"{kind} {max(float(left[last]), 0.0):.0%}")
    return Strip(areas, base, f"not yet reacted on {_date(begun, last)}: {', '.join(said)}")


def _date(begun: datetime | None, day: int) -> str:
    if begun is None:
        return f"day {day}"
    return short_day(begun + timedelta(days=day))


def _day_ticks(begun: datetime | None, days: int, x: Scale) -> list[Tick]:
    step = max(round_step(days, 5), 1)
    if begun is not None:
        step = 7 if 5 <= step <= 10 else 14 if 10 < step <= 20 else step
    # Within a year the day tells; over several, the month and its year.
    written = "%d %b" if days <= YEAR_DAYS else "%b %Y"
    return [
        Tick(
            x(d), f"{begun + timedelta(days=d):{written}}".lstrip("0") if begun else f"day {d:.0f}"
        )
        for d in steps(0, days * 0.97, step)
    ]


def _label(
    ahead: Ahead | None,
    band: tuple[float, float],
    readings: Sequence[tuple[float, float]],
    begun: datetime | None,
) -> str:
    said = [f"target {band[0]:g} to {band[1]:g}"]
    if ahead:
        last = len(ahead.middle) - 1
        said.append(
            f"pH {written_ph(float(ahead.middle[0]))} on mixing day, "
            f"{written_ph(float(ahead.middle[-1]))} on day {last}, "
            f"between {written_ph(float(ahead.low[-1]))} and "
            f"{written_ph(float(ahead.high[-1]))}"
        )
        if ahead.ready[1] is not None:
            said.append(f"ready {_date(begun, ahead.ready[1])}")
    if readings:
        many = "reading" if len(readings) == 1 else "readings"
        said.append(f"{len(readings)} {many}, last {readings[-1][1]:.1f}")
    return "; ".join(said)
