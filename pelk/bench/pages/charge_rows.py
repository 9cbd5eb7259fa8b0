"""What a mix gives: the rows of the charge, of traces, and of what moves the pH."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.bench.pages.verdicts import ELEMENTS
from pelk.core.advice.judged_supply import needs_of, reaches_of, state_of
from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.evaluation.season_supply import ElementSupply
from pelk.core.evaluation.trace_elements import NAMES as TRACE_NAMES
from pelk.core.evaluation.trace_elements import covers_traces, trace_state
from pelk.core.simulation.forecast import Forecast
from pelk.ui.charge_units import ChargeUnits
from pelk.ui.charts import ChargeBar, charge_bar

WORDS = {state: state for state in ("short", "within", "plenty")}
STATES = {"short": "short", "within": "good", "plenty": "plenty"}
# Amounts from here on are written whole. [in their unit]
WHOLE_FROM = 10


@dataclass(frozen=True, slots=True)
class ChargeRow:
    """One element of the charge."""

    element: str
    name: str
    written: str
    bar: ChargeBar
    reaches: str
    needs: str
    total: str
    state: str
    word: str


@dataclass(frozen=True, slots=True)
class TraceRow:
    """One trace of the mix."""

    name: str
    key: str
    amount: str
    state: str
    word: str


@dataclass(frozen=True, slots=True)
class DriverShown:
    """What moves the pH, as the sheet shows it."""

    name: str
    amount: str


def charge_rows(evaluation: Evaluation, how: ChargeUnits) -> list[ChargeRow]:
    """Return a row for each element that is given or needed."""
    rows = evaluation.supply.elements.values() if evaluation.supply else ()
    return [_charge(row, evaluation, how) for row in rows]


def _charge(row: ElementSupply, evaluation: Evaluation, how: ChargeUnits) -> ChargeRow:
    name, days = (ELEMENTS[row.element], evaluation.forecast.days if evaluation.forecast else 0)
    end = row.free.value or 0.0
    total = row.total.total.value or 0.0
    free = (row.free_at[0], row.free_at[30], end)
    factor = how.factor(row.element)
    return ChargeRow(
        element=row.element,
        name=name,
        written=how.name(row.element),
        bar=charge_bar(name, free, total, row.demand, days),
        reaches=whole_amount(reaches_of(row) * factor),
        needs=whole_amount(needs_of(row) * factor),
        total=sig(total * factor, 2),
        state=STATES[state_of(row)],
        word=WORDS[state_of(row)],
    )


def whole_amount(value: float) -> str:
    """Write an amount so that reaches and needs can be subtracted by eye."""
    return f"{value:.0f}" if value >= WHOLE_FROM else sig(value, 2)


def driver_rows(forecast: Forecast) -> list[DriverShown]:
    """Return what moves the pH by the end of the forecast. [meq/L]."""
    return [
        DriverShown(d.name, f"{d.at(forecast.days):+.0f}".replace("-", "\u2212"))
        for d in forecast.drivers
        if round(d.at(forecast.days))
    ]


def trace_rows(evaluation: Evaluation) -> list[TraceRow]:
    """Return what a mix gives of traces, each judged."""
    ahead = evaluation.forecast
    if ahead is None:
        return []
    rows = []
    covered = covers_traces(
        [(b.material, b.share) for b in evaluation.bulk],
        [(d.material, d.g_per_l) for d in evaluation.doses],
    )
    for element, trace in evaluation.traces.items():
        state = trace_state(element, trace.value or 0.0, covered=covered)
        rows.append(
            TraceRow(
                TRACE_NAMES[element].lower(),
                trace.quantity.key,
                sig(trace.value, 2),
                STATES[state],
                WORDS[state],
            )
        )
    return rows
