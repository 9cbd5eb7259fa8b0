"""A lab report on the page: each row as they say it and as Pelk calls it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from pelk.core.base.rounding import sig
from pelk.core.lab.lime_requirement import BUFFERS
from pelk.core.materials.facts import FACTS
from pelk.core.materials.material import Range
from pelk.shelf.models.lab import LabReport
from pelk.shelf.selectors import AS, KEEP, LEAVE, ReportRow, lime_of_report, rows_of_report

MARKS = {
    "good": ("good", "read"),
    "unlikely": ("short", "unlikely"),
    "impossible": ("stop", "cannot be"),
    "unknown": ("none", "not read"),
    "aside": ("none", "not needed"),
}


@dataclass(frozen=True, slots=True)
class Shown:
    """One row: theirs, ours, and what can be done with it."""

    line: int
    text: str
    name: str
    value: str
    unit: str
    fact: str
    ours: str
    was: str
    mark: str
    word: str
    how: str
    why: str
    is_odd: bool
    decision: str
    other: str
    mend: str
    mend_value: str
    may_keep: bool
    counts: bool
    buffers: list[tuple[str, str]]
    problem: str


@dataclass(frozen=True, slots=True)
class LimeRow:
    """Lime for one target, by one method."""

    target: str
    by: str
    grams: str
    span: str
    how: str


@dataclass(frozen=True, slots=True)
class ReportPage:
    """The whole report."""

    rows: list[Shown]
    odd: list[Shown]
    changes: list[Shown]
    waiting: int
    says: str
    limes: list[LimeRow]


def report_page(report: LabReport, problems: Mapping[str, str]) -> ReportPage:
    """Make a report ready for the page."""
    raw = rows_of_report(report)
    rows = [_shown(row, problems) for row in raw]
    waiting = sum(row.waits for row in raw)
    read = sum(row.counts for row in raw)
    says = f"{read} of {len(rows)} rows read well."
    if waiting:
        says += f" {waiting} still wait{'s' if waiting == 1 else ''} for you."
    return ReportPage(
        rows=rows,
        odd=[r for r in rows if r.is_odd],
        changes=[r for r in rows if r.counts],
        waiting=waiting,
        says=says,
        limes=_limes(report),
    )


def _limes(report: LabReport) -> list[LimeRow]:
    rows: list[LimeRow] = []
    for need in lime_of_report(report):
        grams = need.caco3_g_l
        target = f"{need.target_ph:g}"
        rows.append(
            LimeRow(
                target="" if rows and target in [r.target for r in rows] else target,
                by=need.by,
                grams=f"{sig(grams.typ, 2)} g/L",
                span=f"{sig(grams.low, 2)} to {sig(grams.high, 2)}" if grams.high else "none",
                how=need.how,
            )
        )
    return rows


def _shown(row: ReportRow, problems: Mapping[str, str]) -> Shown:
    mapped, reported = row.mapped, row.mapped.row
    mark, word = MARKS[mapped.state]
    if row.decision == LEAVE:
        mark, word = "none", "left out"
    elif row.decision == KEEP and mapped.state == "unlikely":
        mark, word = "good", "kept as it is"
    fact = FACTS.get(mapped.fact)
    unit = f" {fact.unit}" if fact and fact.unit else ""
    mend = mapped.mends[0] if mapped.mends else None
    is_odd = mapped.state in ("unlikely", "impossible", "unknown") or bool(row.decision)
    return Shown(
        line=reported.line,
        text=reported.text,
        name=reported.name,
        value="" if reported.problem else f"{reported.value:g}",
        unit=reported.printed,
        fact=fact.name if fact else "",
        was=_range(row.was, unit),
        ours="" if mapped.value is None or fact is None else f"{sig(mapped.value)}{unit}",
        mark=mark,
        word=word,
        how=mapped.how,
        why=mapped.why,
        is_odd=is_odd,
        decision="other" if row.decision.startswith("=") else row.decision,
        other=f"{sig(float(row.decision[1:]), 4)}" if row.decision.startswith("=") else "",
        mend="" if mend is None else f"{sig(mend)}{unit}",
        mend_value="" if mend is None else f"={mend!r}",
        may_keep=mapped.state == "unlikely",
        counts=row.counts,
        buffers=[(f"{AS}{key}", BUFFERS[key]) for key in mapped.buffers],
        problem=problems.get(str(reported.line), ""),
    )


def _range(value: Range | None, unit: str) -> str:
    return "" if value is None else f"{sig(value.typ)}{unit}"
