"""Supply against appetite: what a crop wants each week, and what gives it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date, timedelta

from pelk.core.advice.feeding_plan import FeedingPlan
from pelk.ui.chart_numbers import ChartNumbers, chart_numbers

WIDTH, HEIGHT, LEFT, TOP, BASE = 600, 240, 40, 22, 200
LANES = {"dress": "dress", "acid": "dress", "potash": "dress", "liquid": "liquid", "tea": "tea"}


@dataclass(frozen=True, slots=True)
class Tick:
    """A word on an axis."""

    at: float
    text: str


@dataclass(frozen=True, slots=True)
class Appetite:
    """A picture of a season; all figures are pixels."""

    label: str
    soil: str
    dressed: str
    poured: str
    wanted: str
    short_weeks: tuple[tuple[float, float], ...]
    winter: tuple[float, float] | None
    months: tuple[Tick, ...]
    amounts: tuple[Tick, ...]
    today: float | None
    runs_out: Tick | None
    numbers: ChartNumbers
    width: int = WIDTH
    height: int = HEIGHT
    left: int = LEFT
    top: int = TOP
    base: int = BASE


def appetite(plan: FeedingPlan, today: date) -> Appetite:
    """Return the picture of a feeding plan."""
    start, end = plan.season
    count = len(plan.wanted)
    stacks = [list(plan.soil), list(plan.dressed), list(plan.poured)]
    sums = [[0.0] * count]
    for layer in stacks:
        sums.append([a + b for a, b in zip(sums[-1], layer, strict=True)])
    most = max(*sums[-1], *plan.wanted, 1e-6) * 1.1
    wide = (WIDTH - LEFT - 8) / count

    def x(week: float) -> float:
        return round(LEFT + week * wide, 1)

    def y(amount: float) -> float:
        return round(BASE - amount / most * (BASE - TOP), 1)

    def at(day: date) -> float:
        return x(min(max((day - start).days / 7, 0), count))

    def area(low: list[float], high: list[float]) -> str:
        up = [f"{x(i)} {y(v)}H{x(i + 1)}" for i, v in enumerate(high)]
        down = [f"{x(i + 1)} {y(low[i])}H{x(i)}" for i in reversed(range(count))]
        return "M" + "L".join([*up, *down]) + "Z"

    line = "M" + "L".join(f"{x(i + 0.5)} {y(v)}" for i, v in enumerate(plan.wanted))
    return Appetite(
        label=f"Nitrogen each week from {start:%-d %B} to {end:%-d %B}: what the crop wants, and "
        "what soil, dressings and liquids give",
        soil=area(sums[0], sums[1]),
        dressed=area(sums[1], sums[2]),
        poured=area(sums[2], sums[3]),
        wanted=line,
        short_weeks=tuple((x(i), round(wide, 1)) for i in plan.short_weeks),
        winter=(at(plan.last_nitrogen), round(WIDTH - 8 - at(plan.last_nitrogen), 1))
        if plan.last_nitrogen < end
        else None,
        months=tuple(_months(start, end, at)),
        amounts=tuple(Tick(y(v), f"{v:.0f}") for v in _round_steps(most)),
        today=at(today) if start <= today <= end else None,
        runs_out=Tick(at(plan.run_out_on), f"{plan.run_out_on:%-d %b}")
        if plan.run_out_on and start < plan.run_out_on < end
        else None,
        numbers=_numbers(plan),
    )


def _numbers(plan: FeedingPlan) -> ChartNumbers:
    """Return nitrogen by week: what is needed, and what gives it. [mg/L]."""
    weeks = zip(plan.wanted, plan.soil, plan.dressed, plan.poured, strict=True)
    start = plan.season[0]
    return chart_numbers(
        "nitrogen-by-week",
        ("week of", "needs, mg/L", "soil", "top-dressings", "liquid feeds"),
        [
            (i, (f"{start + timedelta(days=7 * i):%-d %b}", *(f"{v:.1f}" for v in amounts)))
            for i, amounts in enumerate(weeks)
        ],
    )


def _months(start: date, end: date, at: Callable[[date], float]) -> list[Tick]:
    ticks, day = [], start.replace(day=1)
    while day <= end:
        if day >= start:
            ticks.append(Tick(at(day), f"{day:%b}"))
        day = (day + timedelta(days=32)).replace(day=1)
    return ticks


def _round_steps(most: float) -> list[float]:
    for step in (1, 2, 5, 10, 20, 50, 100):
        if most / step <= 5:
            return [float(step * i) for i in range(1, int(most / step) + 1)]
    return []
