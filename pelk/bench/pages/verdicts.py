"""What a mix comes to, in sentences: the judge's findings in three bands, and when it is ready."""

import json
from collections.abc import Callable
from dataclasses import dataclass

from django.utils.html import format_html
from django.utils.safestring import SafeString

from pelk.core.advice.grades import Change, Finding, Grade, Kind, Remedy
from pelk.core.advice.judged_supply import ELEMENT_NAMES
from pelk.core.advice.judgement import AT_ONCE, Judgement
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig
from pelk.core.base.sentences import capital
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.simulation.readiness import HELD_UP

ELEMENTS = ELEMENT_NAMES
BANDS = {
    Grade.HARMS: ("stop", "Will harm", "harm"),
    Grade.DRIFTS: ("short", "Will drift", "drift"),
    Grade.BETTER: ("none", "Could be better", "better"),
}
CERTAIN, MOST_SHOWN = 0.95, 3
PH_KINDS = frozenset([Kind.PH_LOW, Kind.PH_HIGH, Kind.PH_KEEPS_FALLING, Kind.PH_KEEPS_RISING])
SALT_KINDS = frozenset([Kind.SALTS, Kind.SODIUM, Kind.CHLORIDE, Kind.BORON])
IONS = frozenset([Kind.SODIUM, Kind.CHLORIDE])
# What can be said to be right where the judge found nothing of it.
RIGHT = (("salts", SALT_KINDS), ("air", frozenset([Kind.AIR_LOW])))


@dataclass(frozen=True, slots=True)
class Verdict:
    """One sentence with its state; ``why`` is the key of the figure behind it."""

    state: str
    say: SafeString
    why: str = ""
    word: str = ""


@dataclass(frozen=True, slots=True)
class Fix:
    """A fix as a button: what it does, what it comes to, and what is posted."""

    act: str
    result: str
    posted: str


@dataclass(frozen=True, slots=True)
class Graded:
    """A finding as the page shows it."""

    state: str
    word: str
    band: str
    say: str
    sure: str
    why: str
    fixes: list[Fix]


def graded(judgement: Judgement) -> list[Graded]:
    """Return the findings as they are shown, the worst first."""
    shown: list[Graded] = []
    for grade in BANDS:
        of_grade = [f for f in judgement.findings if f.grade is grade]
        also = [f for f in of_grade if f.kind is Kind.SHORT][1:]
        shown += [shown_finding(f) for f in of_grade if f not in also]
        if also:
            shown.append(_also_short(grade, also))
    return shown


def _also_short(grade: Grade, also: list[Finding]) -> Graded:
    """Say in one sentence what else is short."""
    state, word, band = BANDS[grade]
    said = [
        f"{ELEMENT_NAMES[f.of]} {min(round(f.value or 0), round(f.limit or 0))} of "
        f"{round(f.limit or 0)}"
        for f in also
    ]
    fixes = [_fix(f, remedy) for f in also for remedy in f.remedies]
    text = f"Also short, mg/L: {', '.join(said)}."
    return Graded(state, word, band, text, "", also[0].why, fixes)


def shown_finding(finding: Finding) -> Graded:
    """Return one finding as it is shown."""
    state, word, band = BANDS[finding.grade]
    is_sure = finding.probability >= CERTAIN or finding.grade is Grade.BETTER
    sure = "" if is_sure else f"{round(10 * finding.probability)} in 10 sure"
    fixes = [_fix(finding, remedy) for remedy in finding.remedies]
    return Graded(state, word, band, finding.text, sure, finding.why, fixes)


def _fix(finding: Finding, remedy: Remedy) -> Fix:
    return Fix(remedy.text, result_of(finding, remedy), as_posted(remedy.changes))


def result_of(finding: Finding, remedy: Remedy) -> str:
    """Say what a fix comes to: what it mends, and pH where that moves."""
    after, before = remedy.after, remedy.before
    said = []
    moved = abs(after.get("ph", 0) - before.get("ph", 0)) >= 0.1
    if "ph" in after and (moved or finding.kind in PH_KINDS):
        said.append(f"pH {_from(before, 'ph', written_ph)}{written_ph(after['ph'])}")
    if finding.kind in IONS and finding.limit is not None:
        now = f"{after['value']:.0f}" if "value" in after else f"under {finding.limit:.0f}"
        said.append(f"{finding.kind.value} {finding.value or 0:.0f} → {now}")
    salts_move = abs(after.get("ec_ds_m", 0) - before.get("ec_ds_m", 0)) >= 0.2
    if "ec_ds_m" in after and (salts_move or finding.kind is Kind.SALTS):
        said.append(f"salts {_from(before, 'ec_ds_m', _tenth)}{after['ec_ds_m']:.1f}")
    if finding.kind is Kind.AIR_LOW and "air" in after:
        said.append(f"air {_from(before, 'air', _percent)}{after['air']:.0%}")
    if finding.kind is Kind.SHORT and finding.of == "N" and "nitrogen" in after:
        said.append(f"nitrogen {_from(before, 'nitrogen', _two)}{_two(after['nitrogen'])}")
    late = after.get("ready_day", 0.0) - before.get("ready_day", 0.0)
    if "ready_day" in after and "ready_day" in before and abs(late) >= 1:
        said.append(f"ready {abs(late):.0f} days {'later' if late > 0 else 'sooner'}")
    return ", ".join(said) or "mended"


def _from(before: dict[str, float], key: str, write: Callable[[float], str]) -> str:
    """Write what it was before, with an arrow."""
    return f"{write(before[key])} → " if key in before else ""


def _tenth(value: float) -> str:
    return f"{value:.1f}"


def _percent(value: float) -> str:
    return f"{value:.0%}"


def _two(value: float) -> str:
    return sig(value, 2)


def as_posted(changes: tuple[Change, ...]) -> str:
    """Return changes as a button posts them."""
    rows = [
        {
            "do": c.do.value,
            "material": c.material,
            "into": c.into,
            "litres": round(c.litres, 3),
            "g_per_l": round(c.g_per_l, 5),
            "share": round(c.share, 5),
            "day": c.day,
        }
        for c in changes
    ]
    return json.dumps(rows, separators=(",", ":"))


def what_is_right(judgement: Judgement) -> str:
    """Name what the judge found nothing against."""
    if judgement.problem:
        return ""
    against = {f.kind for f in judgement.findings}
    short = {f.of for f in judgement.findings if f.kind is Kind.SHORT}
    right = [name for name, kinds in RIGHT if not kinds & against]
    right += [name for element, name in ELEMENT_NAMES.items() if element not in short]
    if not right:
        return ""
    if len(right) == 1:
        return f"{right[0].capitalize()} is right."
    said = ", ".join(right[:-1]) + f" and {right[-1]}"
    return f"{capital(said)} are right."


def ready_verdict(evaluation: Evaluation, judgement: Judgement) -> Verdict | None:
    """Say when it may be planted, and what it waits for."""
    ahead = evaluation.forecast
    if ahead is None:
        return Verdict("none", format_html("No pH forecast: {}.", evaluation.acidity_problem))
    ready, crop = ahead.ready, evaluation.crop.name.lower()
    if ready.p50 is None:
        return None  # the judge says it
    if judgement.harms:
        text = format_html("Cured about <b>day {}</b>: first mend what harms.", ready.p50)
        return Verdict("wait", text, "ready")
    if ready.p50 <= AT_ONCE:
        return Verdict("good", format_html("Plant it now: nothing to wait for."), "ready")
    waits = [HELD_UP[k] for k in ready.waiting_for][:1]
    reason = format_html(" Until then {}.", waits[0]) if waits else ""
    span = ""
    if ready.p10 is not None and ready.p10 != ready.p50:
        end = f"to {ready.p90}" if ready.p90 is not None else f"or not within {ahead.days} days"
        span = format_html(" <span class='range'>({} {})</span>", ready.p10, end)
    text = format_html("Ready for {} about <b>day {}</b>{}.{}", crop, ready.p50, span, reason)
    return Verdict("wait", text, "ready")


def ph_line(evaluation: Evaluation) -> Verdict | None:
    """Say where the pH stands on the day that is looked at, within its range."""
    ahead = evaluation.forecast
    if ahead is None:
        return None
    low, middle, high = (float(line[-1]) for line in ahead.ph)
    span = ""
    if ahead.ensemble is not None:
        span = format_html(
            " <span class='range'>({} to {})</span>", written_ph(low), written_ph(high)
        )
    band = evaluation.ph_band
    text = format_html(
        "pH near <b>{}</b> on day {}{}: {} need {} to {}.",
        written_ph(middle),
        ahead.days,
        span,
        evaluation.crop.name.lower(),
        f"{band[0]:g}",
        f"{band[1]:g}",
    )
    return Verdict("good", text, "ph_forecast")
