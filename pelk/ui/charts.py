"""Geometry of small charts: numbers in, SVG coordinates out. Templates draw them."""

from dataclasses import dataclass

from pelk.core.base.rounding import sig
from pelk.ui.scales import Scale

ROOM = 1.15
NAMED_PCT = 23


@dataclass(frozen=True, slots=True)
class Segment:
    """A stretch of a bar: what is free ``now``, ``soon``, by the ``end``, or ``tied`` up."""

    x: float
    width: float
    kind: str


@dataclass(frozen=True, slots=True)
class ChargeBar:
    """What of an element is free when, what stays locked, and what the crop wants."""

    width: int
    segments: list[Segment]
    locked: Segment | None
    is_cut: bool
    bracket: tuple[float, float]
    label: str


def charge_bar(
    name: str,
    free: tuple[float, float, float],
    total: float,
    target: tuple[float, float],
    end_day: int,
    width: int = 172,
) -> ChargeBar:
    """Lay out a bar; `free` is what is free on mixing day, day 30 and the last day."""
    now, soon, end = free
    most = max(now, soon, end, 0.0)
    full = max(most, target[1]) * ROOM or 1.0
    scale = Scale(0, full, 0, width)
    kept = max(min(now, end), 0.0)
    steps = [("now", kept), ("soon", max(min(soon, end), kept)), ("end", max(end, 0.0))]
    segments, at = [], 0.0
    for kind, value in steps:
        if scale(value) - scale(at) >= 0.3:
            segments.append(_segment(scale, at, value, kind))
        at = max(at, value)
    if most > at and scale(most) - scale(at) >= 0.3:
        segments.append(_segment(scale, at, most, "tied"))
        at = most
    locked = None
    if total > at and scale(min(total, full)) - scale(at) >= 1:
        locked = _segment(scale, at, min(total, full), "locked")
    label = (
        f"{name}: {sig(max(now, 0), 2)} mg per litre free now, {sig(max(soon, 0), 2)} by day "
        f"30, {sig(end, 2)} by day {end_day}, of {sig(total, 2)} out of the total; the crop needs "
        f"{sig(target[0], 2)} to {sig(target[1], 2)}"
    )
    return ChargeBar(
        width, segments, locked, total > full, (scale(target[0]), scale(target[1])), label
    )


def _segment(scale: Scale, start: float, end: float, kind: str) -> Segment:
    return Segment(scale(start), round(scale(end) - scale(start), 1), kind)


@dataclass(frozen=True, slots=True)
class Stuff:
    """One of air, water and solids in the soil bar; x and width in percent of it."""

    x: float
    width: float
    kind: str
    text: str
    is_wide: bool


def soil_bar(air_pct: float, water_pct: float) -> list[Stuff]:
    """Lay out what a pot holds after draining: air, water, solids."""
    shares = [("air", air_pct), ("water", water_pct), ("solids", 100 - air_pct - water_pct)]
    stuffs, at = [], 0.0
    for kind, share in shares:
        wide = round(max(share, 0), 1)
        stuffs.append(Stuff(round(at, 1), wide, kind, f"{share:.0f}%", wide > NAMED_PCT))
        at += wide
    return stuffs
