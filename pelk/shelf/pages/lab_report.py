"""A lab report before it counts: each row as they say it and as Pelk calls it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from django.urls import reverse

from pelk.core.base.rounding import sig
from pelk.core.base.sentences import capital
from pelk.core.lab.lab_reports import FOR_LIME
from pelk.core.lab.lime_requirement import BUFFERS, LimeNeed
from pelk.core.materials.facts import FACTS
from pelk.shelf.models.lab import LabReport
from pelk.shelf.selectors import AS, KEEP, LEAVE, ReportRow, lime_of_report, rows_of_report
from pelk.ui.preview import Action, Answer, Cell, Head, Line, Preview, Question

MARKS = {
    "good": ("good", "read"),
    "unlikely": ("short", "unlikely"),
    "impossible": ("stop", "cannot be"),
    "unknown": ("none", "not read"),
    "aside": ("none", "not needed"),
}


LONGEST_NAME, LONGEST_ASKED = 34, 60


@dataclass(frozen=True, slots=True)
class Change:
    """A value that taking the report would change."""

    fact: str
    was: str
    ours: str


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
    """The whole report: its preview, what it changes, the lime it asks for."""

    preview: Preview
    changes: list[Change]
    limes: list[LimeRow]
    needs_no_lime: str


def report_page(report: LabReport, problems: Mapping[str, str]) -> ReportPage:
    """Make a report ready for the page."""
    rows = rows_of_report(report)
    name = report.material.short_name.lower()
    is_taken = report.state == "taken"
    waiting = sum(row.waits for row in rows)
    read = sum(row.counts for row in rows)
    says = f"{read} of {len(rows)} rows read well."
    if waiting:
        says += f" {waiting} still wait{'s' if waiting == 1 else ''} for you."
    take = "Use them again" if is_taken else "Use these values"
    preview = Preview(
        title=f"Lab report, {name}",
        about=f"{report.lab or 'No laboratory named'}, {report.dated:%-d %b %Y}; "
        f"{report.get_method_display()}; {report.get_basis_display()}"
        + ("; its values are in use" if is_taken else ""),
        back=(reverse("shelf:lab"), "Lab reports"),
        mark="short" if waiting else "good",
        says=says,
        heads=(
            Head("line"),
            Head("printed name"),
            Head("value", is_number=True),
            Head("printed unit"),
            Head("read as"),
            Head("value as used", is_number=True),
            Head("state"),
        ),
        lines=tuple(_line(row) for row in rows),
        questions=tuple(_question(row, problems) for row in rows if _is_odd(row)),
        actions=(Action("take", take, is_main=True), Action("keep", "Save my choices for later")),
        footnote="Recipes that use it are worked out with these values from then on. Batches "
        "already started stay as they are. Each value can be taken back on the material’s page.",
    )
    changes = [_change(row) for row in rows if row.counts]
    needs = lime_of_report(report)
    if needs and not any(need.caco3_g_l.high for need in needs):
        highest = max(need.target_ph for need in needs)
        return ReportPage(preview, changes, [], f"This soil needs no lime up to pH {highest:.1f}.")
    return ReportPage(preview, changes, _limes(needs), "")


def _limes(needs: list[LimeNeed]) -> list[LimeRow]:
    rows: list[LimeRow] = []
    for need in needs:
        grams = need.caco3_g_l
        target = f"{need.target_ph:.1f}"
        rows.append(
            LimeRow(
                target="" if rows and target in [r.target for r in rows] else target,
                by=need.by,
                grams=f"{sig(grams.typ, 2)} g/L" if grams.typ else "none",
                span=f"{sig(grams.low, 2)}–{sig(grams.high, 2)}" if grams.high else "",
                how=need.how,
            )
        )
    return rows


def _is_odd(row: ReportRow) -> bool:
    return row.mapped.state in ("unlikely", "impossible", "unknown") or bool(row.decision)


def _line(row: ReportRow) -> Line:
    mapped, reported = row.mapped, row.mapped.row
    mark, word = MARKS[mapped.state]
    if row.decision == LEAVE:
        mark, word = "none", "left out"
    elif row.decision == KEEP and mapped.state == "unlikely":
        mark, word = "good", "kept as it is"
    elif mapped.why == FOR_LIME:
        mark, word = "good", "read for lime"
    fact = FACTS.get(mapped.fact)
    return Line(
        (
            Cell(str(reported.line)),
            Cell(_cut(reported.name or reported.text, LONGEST_NAME)),
            Cell("" if reported.problem else f"{reported.value:g}"),
            Cell(reported.printed),
            Cell(fact.name if fact else ""),
            Cell(_ours(row)),
            Cell(word, mark=mark, note="" if mapped.how == "as is" else mapped.how),
        ),
        is_bad=_is_odd(row) and not row.counts and row.decision != LEAVE,
    )


def _question(row: ReportRow, problems: Mapping[str, str]) -> Question:
    mapped, line = row.mapped, row.mapped.row.line
    typed = row.decision.removeprefix("=") if row.decision.startswith("=") else ""
    was, ours = _was(row), _ours(row)
    answers = []
    if mapped.mends:
        mend = mapped.mends[0]
        says = f"Read it as {sig(mend)}{_unit(row)} (decimal point slipped)"
        answers.append(Answer(f"={mend!r}", says))
    leave = f"Leave it out, keep {was}" if was else "Leave it out"
    answers.append(Answer(LEAVE, leave, row.decision == LEAVE))
    if mapped.state == "unlikely":
        answers.append(Answer(KEEP, f"It is right: {ours}", row.decision == KEEP))
    if mapped.fact in FACTS:
        entered = sig(float(typed), 4) if typed else ""
        answers.append(Answer("other", "It is", bool(typed), f"other-{line}", entered))
    for key in mapped.buffers:
        words = f"In the {BUFFERS[key]} buffer"
        answers.append(Answer(f"{AS}{key}", words, row.decision == f"{AS}{key}"))
    why = f"{capital(mapped.why)}." if mapped.why else ""
    asks = f"Line {line}: {_cut(mapped.row.text, LONGEST_ASKED)}"
    problem = problems.get(str(line), "")
    return Question(f"row-{line}", asks, tuple(answers), why, problem)


def _change(row: ReportRow) -> Change:
    return Change(FACTS[row.mapped.fact].name, _was(row), _ours(row))


def _unit(row: ReportRow) -> str:
    fact = FACTS.get(row.mapped.fact)
    return f" {fact.unit}" if fact and fact.unit else ""


def _ours(row: ReportRow) -> str:
    value = row.mapped.value
    return "" if value is None or row.mapped.fact not in FACTS else f"{sig(value)}{_unit(row)}"


def _was(row: ReportRow) -> str:
    return "" if row.was is None else f"{sig(row.was.typ)}{_unit(row)}"


def _cut(text: str, most: int) -> str:
    return text if len(text) <= most else f"{text[: most - 1]}…"
