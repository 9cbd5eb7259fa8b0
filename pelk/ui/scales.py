"""Scales of charts: numbers in, pixels out, and where the ticks go."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import ceil, floor, log10

import numpy as np
from numpy.typing import ArrayLike


@dataclass(frozen=True, slots=True)
class Scale:
    """A straight line from values to pixels."""

    low: float
    high: float
    start: float
    end: float

    def __call__(self, value: float) -> float:
        """Return the pixel of a value, held inside the scale."""
        inside = min(max(value, self.low), self.high)
        span = (self.high - self.low) or 1.0
        return round(self.start + (self.end - self.start) * (inside - self.low) / span, 1)

    def many(self, values: ArrayLike) -> list[float]:
        """Return the pixels of many values at once, held inside the scale."""
        inside = np.clip(np.asarray(values, dtype=float), self.low, self.high)
        span = (self.high - self.low) or 1.0
        pixels = self.start + (self.end - self.start) * (inside - self.low) / span
        places: list[float] = pixels.tolist()
        return places


@dataclass(frozen=True, slots=True)
class Tick:
    """A mark on an axis; without text it is a small one."""

    at: float
    text: str = ""


def round_step(span: float, ticks: int) -> float:
    """Return a step of 1, 2 or 5 that divides a span into about so many."""
    rough = max(span, 1e-9) / ticks
    power: float = 10.0 ** floor(log10(rough))
    return next(power * m for m in (1, 2, 5, 10) if power * m >= rough * 0.999)


def steps(low: float, high: float, step: float) -> list[float]:
    """Return the multiples of a step from low to high."""
    first = ceil(low / step - 1e-9)
    last = floor(high / step + 1e-9)
    return [round(i * step, 10) for i in range(first, last + 1)]


def path(points: Sequence[tuple[float, float]]) -> str:
    """Return the points as an SVG path."""
    return "M" + "L".join(f"{x:.1f} {y:.1f}" for x, y in points)
