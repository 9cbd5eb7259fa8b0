"""Recipes or versions side by side: what is in them, what they do, what differs."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from django.utils.safestring import SafeString

from pelk.bench.formats.documents import DocumentError
from pelk.bench.models import RecipeVersion
from pelk.bench.pages.ahead import ahead_of
from pelk.bench.pages.bench_page import BenchPage, bench_page
from pelk.bench.pages.charge_rows import whole_amount
from pelk.bench.selectors import evaluated
from pelk.core.advice.judged_supply import needs_of, reaches_of
from pelk.core.advice.judgement import judge
from pelk.core.base.figures import Figure
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation
from pelk.ui.chart_numbers import ChartNumbers, chart_numbers
from pelk.ui.dots import dots_svg
from pelk.ui.refusals import sentence
from pelk.ui.runway import Runway, runways_beside
from pelk.ui.scales import Scale
from pelk.ui.textures import texture_of
from pelk.yards.models import Yard

LETTERS, MOST = "abcd", 4
TOLD = 13
RUN_PX = (358, 210)
STACK_H = 150.0
# What counts as different: points of share, pH, days, a tenth of a nutrient.
SHARE_POINTS, PH_APART, DAYS_APART, TENTH = 0.02, 0.1, 3, 0.1
ELEMENTS = ("N", "P", "K", "Ca", "Mg", "S")


@dataclass(frozen=True, slots=True)
class Slab:
    """One part of a drawn column."""

    y: float
    height: float
    texture: str
    name: str


@dataclass(frozen=True, slots=True)
class Column:
    """One recipe or version."""

    letter: str
    version: RecipeVersion
    name: str
    shown: BenchPage
    slabs: list[Slab]
    run: Runway | None = None


@dataclass(frozen=True, slots=True)
class Line:
    """One property of all of them: each in words and whether it differs from the first; drawn."""

    name: str
    cells: list[tuple[str, bool]]
    drawn: SafeString


@dataclass(frozen=True, slots=True)
class Comparison:
    """All of it."""

    columns: list[Column]
    lines: list[Line]
    says: list[tuple[str, list[str]]]
    problems: list[str]
    numbers: ChartNumbers | None = None


def compare(versions: Sequence[RecipeVersion], yard: Yard) -> Comparison:
    """Return up to four versions side by side; those that cannot be computed are named."""
    columns: list[Column] = []
    problems: list[str] = []
    for version in versions[:MOST]:
        name = f"{version.recipe.name} v{version.number}"
        try:
            evaluation = evaluated(version.as_document(), yard)
        except DocumentError as error:
            problems.append(f"{name}: {sentence(error.problems[0])}")
            continue
        letter = LETTERS[len(columns)]
        shown = bench_page(evaluation, judge(evaluation), yard)
        columns.append(Column(letter, version, name, shown, _slabs(evaluation)))
    if not columns:
        return Comparison([], [], [], problems)
    columns = _on_one_scale(columns)
    first = columns[0].shown.evaluation
    says = [(c.letter, differences(first, c.shown.evaluation, yard)) for c in columns[1:]]
    return Comparison(columns, _lines(columns, yard), says, problems, _numbers(columns))


def _on_one_scale(columns: Sequence[Column]) -> list[Column]:
    """Return the columns with their pH drawn from the same foot to the same top."""
    made = [(c, c.shown.evaluation) for c in columns]
    ahead = {c.letter: (ahead_of(e.forecast), e.ph_band, ()) for c, e in made if e.forecast}
    wide, tall = RUN_PX
    runs = dict(
        zip(ahead, runways_beside(list(ahead.values()), width=wide, height=tall), strict=True)
    )
    return [replace(c, run=runs.get(c.letter)) for c in columns]


def _numbers(columns: Sequence[Column]) -> ChartNumbers | None:
    """Return the pH of all of them by day, each with where 8 in 10 end; None without any."""
    told = [(c, c.shown.evaluation.forecast) for c in columns]
    known = [(c, f.ph) for c, f in told if f is not None]
    if not known:
        return None
    heads = ["day", *(f"{c.letter}: pH" + word for c, _ in known for word in ("", ", 8 in 10"))]
    days = max(ph.shape[1] for _, ph in known) - 1
    rows = []
    for day in np.unique(np.linspace(0, days, TOLD).astype(int)):
        cells = [f"day {day}"]
        for _, ph in known:
            low, middle, high = (written_ph(float(v)) for v in ph[:, min(day, ph.shape[1] - 1)])
            cells += [middle, f"{low} to {high}"]
        rows.append((float(day), cells))
    return replace(chart_numbers("ph-of-recipes", heads, rows), is_of_many=True)


def _slabs(evaluation: Evaluation) -> list[Slab]:
    scale, y, slabs = Scale(0, 1, 0, STACK_H), 0.0, []
    for line in evaluation.bulk:
        height = scale(line.share)
        slabs.append(Slab(round(y, 1), height, texture_of(line.material), line.material.short_name))
        y += height
    return slabs


def _lines(columns: Sequence[Column], yard: Yard) -> list[Line]:
    made = [c.shown.evaluation for c in columns]
    rows: list[tuple[str, list[str], list[float | None]]] = [
        ("judged", [_judged(c.shown) for c in columns], []),
        ("parts", [_parts(e) for e in made], []),
        ("doses", [_doses(e) for e in made], []),
    ]
    for element in ELEMENTS:
        name = f"{element} reaches / needs, mg/L"
        rows.append((name, [_food(e, element) for e in made], [_reach(e, element) for e in made]))
    rows += [
        ("pH on mixing day", [_at(e, 0) for e in made], [_ph(e, 0) for e in made]),
        ("pH at the end", [_at(e, -1) for e in made], [_ph(e, -1) for e in made]),
        ("ready on day", [_ready(e) for e in made], [_day(e) for e in made]),
        ("salts in a month, dS/m", *_figures([e.ec_later for e in made])),
        ("air after draining", *_figures([e.air for e in made])),
        ("water after draining", *_figures([e.water_held for e in made])),
        ("carbon to nitrogen", *_figures([e.c_to_n for e in made])),
        ("weight when watered", [c.shown.weighs for c in columns], [_wet(e) for e in made]),
        (
            "cost per litre",
            [yard.money.each(e.cost.per_litre) for e in made],
            [None if e.cost.per_litre is None else float(e.cost.per_litre) for e in made],
        ),
    ]
    return [
        Line(name, list(zip(cells, [c != cells[0] for c in cells], strict=True)), _drawn(values))
        for name, cells, values in rows
    ]


def _drawn(values: Sequence[float | None]) -> SafeString:
    return dots_svg(values, LETTERS)


def _reach(evaluation: Evaluation, element: str) -> float | None:
    return None if evaluation.supply is None else reaches_of(evaluation.supply.elements[element])


def _ph(evaluation: Evaluation, day: int) -> float | None:
    return None if evaluation.forecast is None else float(evaluation.forecast.ph[1][day])


def _day(evaluation: Evaluation) -> float | None:
    return None if evaluation.forecast is None else evaluation.forecast.ready.p50


def _wet(evaluation: Evaluation) -> float | None:
    return evaluation.wet_mass.value


def _figures(figures: Sequence[Figure | None]) -> tuple[list[str], list[float | None]]:
    return [_figure(f) for f in figures], [f.value if f else None for f in figures]


def _parts(evaluation: Evaluation) -> str:
    return ", ".join(f"{b.material.spoken_name} {b.share:.0%}" for b in evaluation.bulk)


def _doses(evaluation: Evaluation) -> str:
    said = [f"{d.material.spoken_name} {sig(d.g_per_l, 2)}" for d in evaluation.doses]
    return ", ".join(said) + " g/L" if said else "none"


def _judged(page: BenchPage) -> str:
    """Say the worst that the judge found."""
    if not page.findings:
        return "nothing against it"
    return f"{page.findings[0].word.lower()}: {page.findings[0].say}"


def _food(evaluation: Evaluation, element: str) -> str:
    if evaluation.supply is None:
        return "–"
    row = evaluation.supply.elements[element]
    return f"{whole_amount(reaches_of(row))} of {whole_amount(needs_of(row))}"


def _at(evaluation: Evaluation, day: int) -> str:
    ph = _ph(evaluation, day)
    return "–" if ph is None else written_ph(ph)


def _ready(evaluation: Evaluation) -> str:
    if evaluation.forecast is None or evaluation.forecast.ready.p50 is None:
        return f"not within {evaluation.forecast.days if evaluation.forecast else 0} days"
    ready = evaluation.forecast.ready
    return f"{ready.p50} ({ready.p10}–{ready.p90 if ready.p90 is not None else '…'})"


def _figure(figure: Figure | None) -> str:
    if figure is None or figure.value is None:
        return "–"
    return f"{sig(figure.value, 2)}{'%' if figure.quantity.unit == '%' else ''}"


def differences(first: Evaluation, other: Evaluation, yard: Yard) -> list[str]:
    """Say in words what is different in another than in the first."""
    said = _of_parts(first, other) + _of_doses(first, other)
    if first.forecast is not None and other.forecast is not None:
        one, two = (float(e.forecast.ph[1][-1]) for e in (first, other) if e.forecast)
        if abs(two - one) >= PH_APART:
            said.append(f"pH ends {abs(two - one):.1f} {'higher' if two > one else 'lower'}")
        a, b = first.forecast.ready.p50, other.forecast.ready.p50
        if a is not None and b is not None and abs(b - a) >= DAYS_APART:
            said.append(f"ready {abs(b - a)} days {'later' if b > a else 'sooner'}")
        elif (a is None) is not (b is None):
            said.append("not ready within the days looked at" if b is None else "ready in time")
    said += _of_food(first, other)
    one_l, two_l = first.cost.per_litre, other.cost.per_litre
    if one_l is not None and two_l is not None and one_l != two_l:
        word = "dearer" if two_l > one_l else "cheaper"
        said.append(f"{yard.money.each(abs(two_l - one_l))} per litre {word}")
    return said or ["no difference worth noting"]


def _of_parts(first: Evaluation, other: Evaluation) -> list[str]:
    one, two = ({b.material.spoken_name: b.share for b in e.bulk} for e in (first, other))
    more = [n for n in two if two[n] - one.get(n, 0.0) > SHARE_POINTS]
    less = [n for n in one if one[n] - two.get(n, 0.0) > SHARE_POINTS]
    said = [f"more {', '.join(more)}"] if more else []
    return said + ([f"less {', '.join(less)}"] if less else [])


def _of_doses(first: Evaluation, other: Evaluation) -> list[str]:
    one, two = ({d.material.spoken_name: d.g_per_l for d in e.doses} for e in (first, other))
    new = [n for n in two if n not in one]
    gone = [n for n in one if n not in two]
    said = [f"adds {', '.join(new)}"] if new else []
    if gone:
        said.append(f"leaves out {', '.join(gone)}")
    moved = [n for n in two if n in one and abs(two[n] - one[n]) > TENTH * one[n]]
    return said + ([f"a different rate of {', '.join(moved)}"] if moved else [])


def _of_food(first: Evaluation, other: Evaluation) -> list[str]:
    if first.supply is None or other.supply is None:
        return []
    more: list[str] = []
    less: list[str] = []
    for element in ELEMENTS[:3]:
        one, two = (
            e.supply.elements[element].free.value or 0.0 for e in (first, other) if e.supply
        )
        if abs(two - one) > TENTH * max(abs(one), 20.0):
            (more if two > one else less).append(element)
    said = [f"more free {', '.join(more)}"] if more else []
    return said + ([f"less free {', '.join(less)}"] if less else [])
