"""What the right side of the Bench shows: an evaluation made ready for the page."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta

from django.utils import timezone
from django.utils.html import format_html
from msgspec import UNSET

from pelk.bench.formats.documents import MixDocument
from pelk.bench.pages import sums
from pelk.bench.pages.ahead import pen_line, runways_of
from pelk.bench.pages.charge_rows import (
    ChargeRow,
    DriverShown,
    TraceRow,
    charge_rows,
    driver_rows,
    trace_rows,
)
from pelk.bench.pages.verdicts import (
    MOST_SHOWN,
    PH_KINDS,
    Graded,
    Verdict,
    graded,
    ph_line,
    ready_verdict,
    what_is_right,
)
from pelk.core.advice.judgement import Judgement
from pelk.core.base.figures import Figure
from pelk.core.base.rounding import sig
from pelk.core.evaluation.cautions import Caution
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.feeding_styles import FeedingStyle, FeedingWay
from pelk.core.materials.material import Range
from pelk.core.vessels.loads import Loads, barrow_loads
from pelk.ui.charge_units import ChargeUnits
from pelk.ui.charts import Stuff, soil_bar
from pelk.ui.cutaway import Cutaway, Layer, Sprinkle, cutaway
from pelk.ui.feeding_styles import word_of
from pelk.ui.runway import Runway
from pelk.ui.textures import texture_of
from pelk.ui.units import Measures
from pelk.yards.models import Yard

STYLE_DAY = 30
KEYS = "abcdefghijklmnopqrstuvwxyz"
ROW_PX, HEAD_PX = 44, 34  # heights of the parts table beside the picture
PICTURE_PX = 492


@dataclass(frozen=True, slots=True)
class PartShown:
    """What a part's row shows at its right."""

    name: str
    share: str
    loose: str
    mass: str
    cost: str


@dataclass(frozen=True, slots=True)
class DoseShown:
    """What a dose's row shows at its right."""

    name: str
    mass: str
    kitchen: str
    rate: str
    spread: str
    cost: str


@dataclass(frozen=True, slots=True)
class BenchPage:
    """Everything the page shows of an evaluation."""

    evaluation: Evaluation
    judgement: Judgement
    findings: list[Graded]
    more: list[Graded]
    verdicts: list[Verdict]
    right: str
    parts: list[PartShown]
    doses: list[DoseShown]
    picture: Cutaway
    charge: list[ChargeRow]
    charge_unit: str
    cure: str
    beside: list[str]
    runways: list[tuple[str, Runway]]
    soil: list[Stuff]
    wanted_air: str
    salts: str
    loads: Loads | None
    makes: str
    weighs: str
    cost: str
    costs: str
    stops: list[Caution]
    cautions: list[Caution]

    @property
    def heard(self) -> str:
        """What is read out when an answer comes: the worst that was judged, in one sentence."""
        if not self.findings:
            return self.right or (self.verdicts[0].say if self.verdicts else "")
        worst = self.findings[0]
        others = len(self.findings) + len(self.more) - 1
        count = f", and {others} more" if others else ""
        return f"{worst.word}: {worst.say.split('. ')[0]}{count}"

    @property
    def pen_off(self) -> str:
        """How much salts take off what a pen shows, at most; empty where they hardly do."""
        ahead = self.evaluation.forecast
        line = None if ahead is None else pen_line(ahead)
        return "" if line is None or ahead is None else f"{float((ahead.ph[1] - line).max()):.1f}"

    @property
    def drivers(self) -> list[DriverShown]:
        """What moves the pH; the answer to an edit does not ask for it."""
        ahead = self.evaluation.forecast
        return driver_rows(ahead) if ahead else []

    @property
    def traces(self) -> list[TraceRow]:
        """What it gives of traces; the answer to an edit does not ask for it."""
        return trace_rows(self.evaluation)

    def figure(self, key: str) -> Figure | None:
        """Return the figure that a "why" asks for."""
        return figures(self.evaluation).get(key)


def figures(evaluation: Evaluation) -> dict[str, Figure]:
    """Return every figure of an evaluation that can be asked why."""
    return {f.quantity.key: f for f in evaluation.figures}


def loads_of(evaluation: Evaluation, yard: Yard) -> Loads | None:
    """Return the barrow loads of a batch, or None when its wet weight is not known."""
    wet, mixed = evaluation.wet_mass.value, evaluation.volumes.mixed_l
    if wet is None:
        return None
    return barrow_loads(mixed, wet / mixed, yard.barrow_l, yard.barrow_limit_kg)


@dataclass(frozen=True, slots=True)
class Goal:
    """When a mix is begun, and by when it must be ready."""

    start: date
    ready_by: date | None = None
    feeding: FeedingWay | None = None


def goal_of(document: MixDocument) -> Goal:
    """Return when a document's mix is begun and wanted; today where it does not say."""
    held = document.conditions
    start = held.start if held is not UNSET else None
    by = document.ready_by
    return Goal(
        date.fromisoformat(start) if start else timezone.localdate(),
        date.fromisoformat(by) if by else None,
        FeedingWay(document.feeding) if document.feeding else None,
    )


def bench_page(
    evaluation: Evaluation,
    judgement: Judgement,
    yard: Yard,
    goal: Goal | None = None,
    units: tuple[str, str] = ("mg/L", "element"),
    beside: sums.Beside = sums.NOTHING_BESIDE,
    slot: str | None = None,
) -> BenchPage:
    """Make an evaluation ready for the page."""
    measures = yard.measures
    loads = loads_of(evaluation, yard)
    calm = [c for c in evaluation.cautions if not c.stops]
    air, held = evaluation.air, evaluation.water_held
    how = ChargeUnits(*units, pot_l=_pot_l(evaluation))
    findings = graded(judgement)
    has_ph = any(f.kind in PH_KINDS for f in judgement.findings)
    said = [
        *_in_time(evaluation, goal),
        ready_verdict(evaluation, judgement),
        None if has_ph else ph_line(evaluation),
        *_by_style(evaluation, goal),
    ]
    costs = [
        "" if line.used is None else yard.money.write(line.used) for line in evaluation.cost.lines
    ]
    return BenchPage(
        evaluation=evaluation,
        judgement=judgement,
        findings=findings[:MOST_SHOWN],
        more=findings[MOST_SHOWN:],
        verdicts=[v for v in said if v is not None],
        right=what_is_right(judgement),
        parts=[
            PartShown(
                b.material.name,
                f"{b.share:.0%}",
                measures.volume(b.loose_l),
                measures.mass(1000 * b.kg),
                cost,
            )
            for b, cost in zip(evaluation.bulk, costs, strict=False)
        ],
        doses=[
            DoseShown(
                d.material.name,
                measures.mass(d.grams.typ),
                measures.kitchen(d.millilitres),
                measures.rate(d.g_per_l, 3),
                _spread(d.grams, measures),
                cost,
            )
            for d, cost in zip(evaluation.doses, costs[len(evaluation.bulk) :], strict=False)
        ],
        picture=_picture(evaluation, measures),
        charge=charge_rows(evaluation, how),
        charge_unit=how.shown,
        cure=sums.cure_says(evaluation),
        beside=sums.beside_a_bag(evaluation, yard, beside),
        runways=runways_of(evaluation, slot, is_short=len(findings) >= MOST_SHOWN),
        soil=soil_bar(air.value or 0, held.value or 0) if air and held else [],
        wanted_air=f"{evaluation.wanted_air:.0%}",
        salts=sums.salts(evaluation),
        loads=loads,
        makes=measures.volume(evaluation.volumes.mixed_l),
        weighs=sums.weighs(evaluation, measures),
        cost=sums.cost(evaluation, yard),
        costs=sums.costs(evaluation, yard),
        stops=evaluation.stops,
        cautions=calm,
    )


def _by_style(evaluation: Evaluation, goal: Goal | None) -> list[Verdict]:
    """Say where the mix stands outside what its way of feeding wants."""
    if goal is None or not goal.feeding or evaluation.forecast is None:
        return []
    notes, word = [], word_of(goal.feeding)
    free = {
        "N": evaluation.forecast.free_at("N", STYLE_DAY),
        "salts": float(evaluation.forecast.ec[STYLE_DAY]),
    }
    names = {"N": ("nitrogen", "mg/L"), "salts": ("salts", "dS/m")}
    for key, (low, high) in FeedingStyle(feeding=goal.feeding).defaults.bands.items():
        (name, unit), value = names[key], free[key]
        if high is not None and value > high:
            say = f"For “{word}”, {name} after a month stand at {{}} {unit}, over {high:g}."
            notes.append(Verdict("over", format_html(say, sig(value, 2)), word="Rich"))
        elif low is not None and value < low:
            say = f"For “{word}”, {name} after a month stand at {{}} {unit}, under {low:g}."
            notes.append(Verdict("short", format_html(say, sig(value, 2)), word="Lean"))
    return notes


def _in_time(evaluation: Evaluation, goal: Goal | None) -> list[Verdict]:
    """Say whether it gets ready by the day it is wanted."""
    if goal is None or goal.ready_by is None or evaluation.forecast is None:
        return []
    ready, by = evaluation.forecast.ready, goal.ready_by
    have = (by - goal.start).days
    if ready.p50 is None or ready.p50 > have:
        late = "" if ready.p50 is None else f" It comes {ready.p50 - have} days late."
        say = format_html("Not ready by <b>{}</b>.{}", f"{by:%-d %b %Y}", late)
        return [Verdict("stop", say, "ready", "Late")]
    sure = ready.p90 is not None and ready.p90 <= have
    day = goal.start + timedelta(days=ready.p50)
    say = format_html(
        "Ready about <b>{}</b>, {} days before you need it{}.",
        f"{day:%-d %b %Y}",
        have - ready.p50,
        "" if sure else ", though a slow batch would be late",
    )
    return [Verdict("good" if sure else "wait", say, "ready", "In time")]


def _pot_l(evaluation: Evaluation) -> float | None:
    """Return the settled mix in one pot, where pots were named."""
    filled, pots = evaluation.volumes.filled_l, evaluation.pots
    return filled / pots if filled and pots else None


def _spread(grams: Range, measures: Measures) -> str:
    """Say how far a dose by hand may be off; empty for what was weighed."""
    if grams.high <= grams.low:
        return ""
    return f"{measures.mass(grams.low, 2)} to {measures.mass(grams.high, 2)}"


def _picture(evaluation: Evaluation, measures: Measures) -> Cutaway:
    layers = [
        Layer(b.material.short_name, texture_of(b.material), measures.space(b.loose_l))
        for b in evaluation.bulk
    ]
    sprinkles = [
        Sprinkle(KEYS[i % 26], d.material.name, texture_of(d.material), d.g_per_l)
        for i, d in enumerate(evaluation.doses)
    ]
    rows_y = [HEAD_PX + ROW_PX * (i + 0.5) for i in range(len(layers))]
    return cutaway(
        layers,
        sprinkles,
        measures.space(evaluation.volumes.mixed_l),
        unit=measures.space_unit,
        height=PICTURE_PX,
        rows_y=rows_y,
    )
