"""Geometry of the charts: numbers in, SVG coordinates out. Templates draw them."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from pelk.core.quantities import written_ph
from pelk.ui.numbers import sig
from pelk.ui.scales import Scale, Tick, path, round_step, steps


@dataclass(frozen=True, slots=True)
class Segment:
    """One material's share of a bar."""

    x: float
    width: float
    texture: str
    name: str
    value: float


@dataclass(frozen=True, slots=True)
class ShareBar:
    """The total of an element, cut by material, with the crop's demand as a bracket."""

    width: int
    segments: list[Segment]
    bracket: tuple[float, float]
    label: str


def share_bar(
    name: str, shares: Sequence[tuple[str, str, float]], target: tuple[float, float],
    width: int = 210,
) -> ShareBar:  # fmt: skip
    """Lay out a bar: shares are (name, texture, mg/L), the largest first."""
    total = sum(value for _, _, value in shares)
    scale = Scale(0, max(total, target[1]) * 1.04 or 1, 0, width)
    segments, at = [], 0.0
    for material, texture, value in shares:
        x, end = scale(at), scale(at + value)
        if end - x >= 0.3:
            segments.append(Segment(x, round(end - x, 1), texture, material, value))
        at += value
    said = ", ".join(f"{material} {sig(value, 2)}" for material, _, value in shares[:5])
    label = (
        f"{name}: {sig(total)} mg per litre in all ({said}); "
        f"the crop takes up {sig(target[0], 2)} to {sig(target[1], 2)}"
    )
    return ShareBar(width, segments, (scale(target[0]), scale(target[1])), label)


@dataclass(frozen=True, slots=True)
class PhRule:
    """A pH rule: the crop's band, the pH on mixing day and where it settles."""

    width: int
    height: int
    band_x: float
    band_width: float
    start_x: float
    settled_x: float
    low_x: float
    spread_width: float
    ticks: list[Tick]
    label: str
    settled_text: str
    start_text: str
    leftward: bool


def ph_rule(
    start: float, settled: tuple[float, float, float], band: tuple[float, float],
    width: int,
) -> PhRule:  # fmt: skip
    """Lay out the rule; `settled` is low, typical, high."""
    low, typ, high = settled
    floor_ph = min(3.5, start - 0.3, low - 0.2, band[0] - 0.3)
    ceiling = max(7.5, start + 0.3, high + 0.2, band[1] + 0.3)
    x = Scale(floor_ph, ceiling, 10, width - 10)
    label = (
        f"pH {written_ph(start)} on mixing day, settles near {written_ph(typ)}, between "
        f"{written_ph(low)} and {written_ph(high)}; wanted {band[0]:g} to {band[1]:g}"
    )
    return PhRule(
        width=width,
        height=96,
        band_x=x(band[0]),
        band_width=round(x(band[1]) - x(band[0]), 1),
        start_x=x(start),
        settled_x=x(typ),
        low_x=x(low),
        spread_width=round(x(high) - x(low), 1),
        ticks=[
            Tick(x(v), f"{v:g}" if v == int(v) else "")
            for v in steps(floor_ph, ceiling, 0.5)
        ],
        label=label,
        settled_text=written_ph(typ),
        start_text=f"{written_ph(start)} mixed",
        leftward=typ < start,
    )


@dataclass(frozen=True, slots=True)
class Point:
    """One reading on the plot."""

    x: float
    y: float
    text: str


@dataclass(frozen=True, slots=True)
class Runway:
    """pH readings over time against the band and the computed settled range."""

    width: int
    height: int
    left: float
    right: float
    base: float
    band_y: float
    band_height: float
    band_text: str
    band_text_y: float
    settled_y: float
    settled_height: float
    settled_mid: float
    settled_text: str
    line: str
    points: list[Point]
    ph_ticks: list[Tick]
    day_ticks: list[Tick]
    today: float | None
    today_end: bool
    label: str
    has_settled: bool
    settled_left: float
    settled_width: float
    plot_width: float


def runway(
    made: datetime, readings: Sequence[tuple[datetime, float]], band: tuple[float, float],
    settled: tuple[float, float, float] | None, now: datetime, *, width: int,
    height: int = 300,
) -> Runway:  # fmt: skip
    """Lay out readings against days since mixing."""
    days = [max((at - made).total_seconds() / 86400, 0) for at, _ in readings]
    today = max((now - made).total_seconds() / 86400, 0)
    span = max([28.0, today * 1.35, *(d * 1.15 for d in days)])
    phs = [ph for _, ph in readings]
    lowest = min([*phs, band[0], *(settled or ())]) - 0.25
    highest = max([*phs, band[1], *(settled or ())]) + 0.25
    left, right, top, base = 38.0, width - 12.0, 30.0, height - 30.0
    x, y = Scale(0, span, left, right), Scale(lowest, highest, base, top)
    points = [Point(x(d), y(ph), f"{ph:.1f}") for d, ph in zip(days, phs, strict=True)]
    low, mid, high = settled or (band[0], band[0], band[0])
    settled_left = x(span * 0.78)
    # The band's name stands clear of the settled range at the right end.
    band_y, band_base = y(band[1]), y(band[0])
    return Runway(
        width=width,
        height=height,
        left=left,
        right=right,
        base=base,
        band_y=band_y,
        band_height=round(band_base - band_y, 1),
        band_text=f"band {band[0]:g} to {band[1]:g}",
        band_text_y=round(min(band_base + 17, base - 6), 1),
        settled_y=y(high),
        settled_height=round(y(low) - y(high), 1),
        settled_mid=y(mid),
        settled_text=f"settles near {written_ph(mid)}",
        line=path([(p.x, p.y) for p in points]) if len(points) > 1 else "",
        points=points,
        ph_ticks=[Tick(y(v), f"{v:.1f}") for v in steps(lowest, highest, 0.5)],
        day_ticks=_day_ticks(made, span, x),
        today=x(today),
        today_end=x(today) > width - 90,
        label=_runway_label(readings, band, settled),
        has_settled=settled is not None,
        settled_left=settled_left,
        settled_width=round(right - settled_left, 1),
        plot_width=right - left,
    )


def _day_ticks(made: datetime, span: float, x: Scale) -> list[Tick]:
    step = max(round_step(span, 5), 1)
    step = 7 if 5 <= step <= 10 else 14 if 10 < step <= 20 else step
    return [
        Tick(x(day), f"{(made + timedelta(days=day)):%d %b}".lstrip("0"))
        for day in steps(0, span * 0.97, step)
    ]


def _runway_label(
    readings: Sequence[tuple[datetime, float]], band: tuple[float, float],
    settled: tuple[float, float, float] | None,
) -> str:  # fmt: skip
    said = f"{len(readings)} pH readings"
    if readings:
        said += f", last {readings[-1][1]:.1f} on {readings[-1][0]:%d %b}"
    end = f"; settles near {written_ph(settled[1])}" if settled else ""
    return f"{said}; band {band[0]:g} to {band[1]:g}{end}"
