"""A jar test made ready for its page: the jars, the line through them, the dose."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from django.utils import timezone

from pelk.core.advice.jar_tests import FACTORS, jar_dose, jar_doses
from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.materials.material import Material
from pelk.pots.models import JarTest
from pelk.ui.chart_numbers import ChartNumbers, chart_numbers
from pelk.ui.refusals import sentence

# On which day lime jars are read; dolomite is slow.
READ_DAYS, SLOW_DAYS = 14, 28
LEAST_JARS = 3
LEFT, RIGHT, TOP, BASE, MIX_TOP = 44, 444, 16, 204, 40


@dataclass(frozen=True, slots=True)
class Jar:
    """One jar: its dose, how full it is drawn, what was read."""

    number: int
    rate: str
    grams: str
    lift: int
    read: float | None

    @property
    def top(self) -> int:
        """Where its dose begins in the drawing."""
        return MIX_TOP - self.lift


@dataclass(frozen=True, slots=True)
class Plot:
    """The jars' pH against their dose; figures are pixels."""

    points: list[tuple[float, float]]
    line: str
    target_y: float
    band: tuple[float, float] | None
    dose_x: float | None
    doses: list[tuple[float, str]]
    phs: list[tuple[float, str]]
    numbers: ChartNumbers


@dataclass(frozen=True, slots=True)
class JarAnswer:
    """What the jars come to: the dose and its range, or why there is none."""

    plot: Plot | None
    rate: str = ""
    whole: str = ""
    problem: str = ""


def read_from(test: JarTest, material: Material) -> tuple[date, date]:
    """Return between which days the jars are read."""
    begun = timezone.localtime(test.created_at).date()
    slow = "dolo" in material.lime_grade
    last = SLOW_DAYS if slow else READ_DAYS
    return begun + timedelta(days=7), begun + timedelta(days=last)


def jars_of(test: JarTest) -> list[Jar]:
    """Return the five jars."""
    read = [*test.read, *([None] * len(FACTORS))]
    return [
        Jar(i + 1, f"{sig(rate, 2)} g/L", f"{grams:.2f} g", round(6 * factor), read[i])
        for i, (factor, (rate, grams)) in enumerate(
            zip(FACTORS, jar_doses(test.estimate_g_l, test.jar_l), strict=True)
        )
    ]


def answer_of(test: JarTest) -> JarAnswer | None:
    """Return what the jars that were read come to; None before three are read."""
    pairs = [
        (rate, ph)
        for (rate, _), ph in zip(jar_doses(test.estimate_g_l, test.jar_l), test.read, strict=False)
        if ph is not None
    ]
    if len(pairs) < LEAST_JARS:
        return None
    rates, phs = [p[0] for p in pairs], [p[1] for p in pairs]
    try:
        dose = jar_dose(rates, phs, test.target_ph)
    except PelkError as error:
        return JarAnswer(_plot(rates, phs, test.target_ph), problem=sentence(error))
    measures = test.yard.measures
    if not dose.g_per_l:
        plot = _plot(rates, phs, test.target_ph)
        return JarAnswer(plot, problem="Nothing is needed: the plain jar is there already.")
    whole = ""
    if test.litres:
        low, typ, high = (
            measures.mass(g * test.litres, 2) for g in (dose.low, dose.g_per_l, dose.high)
        )
        whole = f"{typ} ({low} to {high})"
    return JarAnswer(
        _plot(rates, phs, test.target_ph, (dose.low, dose.g_per_l, dose.high)),
        f"{sig(dose.g_per_l, 2)} g/L ({sig(dose.low, 2)} to {sig(dose.high, 2)} g/L)",
        whole,
    )


def _plot(
    rates: list[float],
    phs: list[float],
    target: float,
    dose: tuple[float, float, float] | None = None,
) -> Plot:
    most = max(rates)
    low, high = min(*phs, target) - 0.2, max(*phs, target) + 0.2

    def x(rate: float) -> float:
        return round(LEFT + (RIGHT - LEFT) * min(max(rate / most, 0.0), 1.0), 1)

    def y(ph: float) -> float:
        return round(BASE - (BASE - TOP) * (ph - low) / (high - low), 1)

    degree = 2 if len(rates) > LEAST_JARS else 1
    curve = np.polyfit(rates, phs, degree)
    along = np.linspace(0, most, 25)
    line = "M" + "L".join(f"{x(r)} {y(float(np.polyval(curve, r)))}" for r in along)
    step = 0.5 if high - low > 1.2 else 0.2
    first = np.ceil(low / step) * step
    return Plot(
        [(x(r), y(p)) for r, p in zip(rates, phs, strict=True)],
        line,
        y(target),
        (x(dose[0]), round(x(dose[2]) - x(dose[0]), 1)) if dose else None,
        x(dose[1]) if dose else None,
        [(x(r), f"{sig(r, 2)}") for r in np.linspace(0, most, 5)],
        [(y(float(p)), f"{p:.1f}") for p in np.arange(first, high, step)],
        chart_numbers(
            "jars",
            ("dose", "pH read", "pH of the curve"),
            [
                (r / most, (f"{sig(r, 2)} g/L", f"{p:.1f}", f"{np.polyval(curve, r):.1f}"))
                for r, p in zip(rates, phs, strict=True)
            ],
        ),
    )
