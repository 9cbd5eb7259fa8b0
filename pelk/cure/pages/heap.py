"""What a heap's readings and its forecast say, in sentences."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

from django.utils.html import format_html

from pelk.barrow.models import Batch
from pelk.bench.pages.verdicts import Verdict
from pelk.core.advice.disposal import disposed
from pelk.core.advice.redose import OLDEST_DAYS, WORK_DAYS, redose
from pelk.core.base.quantities import written_ph
from pelk.core.base.sentences import capital
from pelk.core.evaluation.cautions import Caution, Line, fired
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.simulation.forecast import Forecast
from pelk.core.simulation.readiness import HELD_UP, Readiness
from pelk.cure.domain.learning import day_of, own_ph
from pelk.cure.domain.news import is_warm, probed, recent_smell
from pelk.cure.models import Reading, SproutTest
from pelk.ui.days import short_day
from pelk.ui.ph_answers import AnswerSaid, answer_said

TOO_WARM = "Wait: it is warmer inside than the air, as read."
WARM = Verdict("wait", format_html("{}", TOO_WARM), "ready")
# So long a pen may still read near neutral. [d]
NEUTRAL_DAYS = 3
TOO_OLD = AnswerSaid(
    "wait",
    "It is older than a forecast reaches, so no dose can be worked out for it.",
    "Read its pH, and check it as old soil (under Pots) before you plant in it.",
)


def heap_verdicts(
    batch: Batch, readings: list[Reading], evaluation: Evaluation, today: int
) -> list[Verdict]:
    """Return what the newest readings say and when it is ready; newest first."""
    sharp = heap_cautions(batch, readings, evaluation, today)
    said = [Verdict("stop" if c.stops else "over", format_html("{}", c.text)) for c in sharp]
    if any(c.stops for c in sharp):
        return said
    verdicts = [*said, _reading_verdict(batch, readings, evaluation, today)]
    if evaluation.forecast is not None:
        verdict = _ready_verdict(batch, evaluation, evaluation.forecast, today)
        warm = is_warm(batch, evaluation.volumes.mixed_l, readings, today)
        verdicts.append(WARM if warm and verdict.state == "ready" else verdict)
    return verdicts


def heap_cautions(
    batch: Batch, readings: Sequence[Reading], evaluation: Evaluation, today: int
) -> list[Caution]:
    """Return what a nose and a probe of these days warn of, the gravest first."""
    smell, warm = recent_smell(batch, readings, today), probed(batch, readings, today)
    if not smell and warm is None:
        return []
    context = {"smell": frozenset([smell] if smell else []), "state": frozenset(["curing"])}
    numbers, fills = {}, {}
    if warm is not None:
        numbers["r.T"] = warm
        fills["T"] = batch.yard.measures.warmth(warm)
    context |= {"crop": frozenset([*evaluation.crop.tags, evaluation.crop.slug])}
    lines = [Line(b.material.name, {}, 0.0) for b in evaluation.bulk]
    return fired(lines, context, numbers, fills)


def _reading_verdict(
    batch: Batch, readings: list[Reading], evaluation: Evaluation, today: int
) -> Verdict:
    low, high = evaluation.ph_band
    crop = evaluation.crop.name.lower()
    last = next((r for r in readings if r.ph is not None), None)
    mix_ph = own_ph(batch, last) if last else None
    if last is None or last.ph is None or mix_ph is None:
        text = "No pH reading yet."
        if today <= NEUTRAL_DAYS:
            text += " On mixing day a pen often reads near neutral; that is normal."
        return Verdict("wait", format_html("{}", text))
    # As shown: a tenth past the band that nobody can read is no verdict.
    mix_ph = round(mix_ph, 1)
    itself = f" ({mix_ph:.1f} for the mix itself)" if mix_ph != round(last.ph, 1) else ""
    if low <= mix_ph <= high:
        said = "pH <b>{}</b>{} is in the target range for {}. Keep reading until it stops moving."
        return Verdict("good", format_html(said, f"{last.ph:.1f}", itself, crop))
    side = "above" if mix_ph > high else "below"
    ahead = evaluation.forecast
    heading = ""
    if ahead is not None:
        end = written_ph(float(ahead.ph[1][-1]))
        heading = f" It is forecast to go to {end} by day {ahead.days}."
    return Verdict(
        "wait",
        format_html(
            "pH <b>{}</b>{} is {} the {} to {} that {} want.{}",
            f"{last.ph:.1f}",
            itself,
            side,
            f"{low:g}",
            f"{high:g}",
            crop,
            heading,
        ),
    )


def on(batch: Batch, day: int) -> str:
    """Write the date of a day since mixing."""
    return short_day(batch.date_of(day))


def _ready_verdict(batch: Batch, evaluation: Evaluation, ahead: Forecast, today: int) -> Verdict:
    ready, crop = ahead.ready, evaluation.crop.name.lower()
    if ready.p50 is None:
        return Verdict("wait", format_html("{}.", capital(why_not_ready(batch, ready))), "ready")
    span = ""
    if ready.p10 is not None and ready.p10 != ready.p50:
        end = f"to {on(batch, ready.p90)}" if ready.p90 is not None else "or not within the year"
        span = format_html(" <span class='range'>({} {})</span>", on(batch, ready.p10), end)
    if ready.p50 <= today:
        text = format_html(
            "By the forecast it is ready for {} since <b>{}</b>{}. The nose and two readings "
            "three days apart decide.",
            crop,
            on(batch, ready.p50),
            span,
        )
        return Verdict("ready", text, "ready")
    text = format_html("Ready for {} about <b>{}</b>{}.", crop, on(batch, ready.p50), span)
    return Verdict("wait", text, "ready")


def why_not_ready(batch: Batch, ready: Readiness) -> str:
    """Say what holds a heap up that has no ready day: for good, or beyond the year."""
    held = " and ".join(HELD_UP[key] for key in (ready.in_vain or ready.waiting_for)[:2])
    if ready.later is not None:
        return f"not within a year: until about {on(batch, ready.later)} {held}"
    return f"waiting does not mend this: {held}"


@dataclass(frozen=True, slots=True)
class ReadyRow:
    """One criterion of readiness on the page: met, not met yet, or not known."""

    state: str
    name: str
    value: str
    when: str


def ready_rows(
    batch: Batch,
    readings: Sequence[Reading],
    tests: Sequence[SproutTest],
    evaluation: Evaluation,
    today: int,
) -> list[ReadyRow]:
    """Return each criterion with its value today and the day it is met; the nose has no model."""
    ahead = evaluation.forecast
    if ahead is None:
        return []
    rows = []
    for c in ahead.ready.criteria:
        if c.key == "unspent" and ahead.sulfur_left is None:
            continue
        value = _value_of(c.key, batch, ahead, readings, today)
        if c.key == "warmth" and is_warm(batch, evaluation.volumes.mixed_l, readings, today):
            rows.append(ReadyRow("short", c.name, value, "as read"))
            continue
        if c.day is None:
            in_vain = c.key in ahead.ready.in_vain
            when = "waiting does not mend it" if in_vain else "not within a year"
            rows.append(ReadyRow("short", c.name, value, when))
        elif c.day <= today:
            since = f"since {on(batch, c.day)}" if c.day else ""
            rows.append(ReadyRow("good", c.name, value, since))
        else:
            rows.append(ReadyRow("wait", c.name, value, f"about {on(batch, c.day)}"))
    return [*rows, _smell_row(readings), _sprout_row(tests)]


def unmet_rows(
    batch: Batch,
    readings: Sequence[Reading],
    tests: Sequence[SproutTest],
    evaluation: Evaluation,
    today: int,
) -> list[ReadyRow]:
    """Return what is not met, or not known."""
    rows = ready_rows(batch, readings, tests, evaluation, today)
    return [row for row in rows if row.state != "good"]


def _sulfur_left(ahead: Forecast, today: int) -> float:
    """Return the share of the sulfur that has not reacted by today. [-]."""
    left = ahead.sulfur_left
    return 0.0 if left is None else max(float(left[min(today, len(left) - 1)]), 0.0)


def _value_of(
    key: str, batch: Batch, ahead: Forecast, readings: Sequence[Reading], today: int
) -> str:
    """Write what a criterion stands at today: measured where it was, else by the sums."""
    measures = batch.yard.measures
    series = {
        "ammonium": ("ammonium_mg_l", "{:.0f} mg/L ammonium"),
        "pulse": ("fast_left_mg_l", "{:.0f} mg/L left"),
    }
    if key in series:
        name, words = series[key]
        daily = ahead.line.daily(name)
        return words.format(float(daily[min(today, len(daily) - 1)]))
    if key == "warmth":
        warm = probed(batch, readings, today)
        if warm is not None:
            return f"{measures.warmth(warm)} read"
        daily = ahead.line.daily("over_air_c")
        return f"{measures.warmer(round(float(daily[min(today, len(daily) - 1)])))} over the air"
    if key == "salts":
        measured = next((r.ec_ds_m for r in readings if r.ec_ds_m is not None), None)
        by_sums = float(ahead.ec[min(today, len(ahead.ec) - 1)])
        return f"{measured:g} dS/m read" if measured is not None else f"{by_sums:.1f} dS/m"
    if key == "band":
        measured = next((r.ph for r in readings if r.ph is not None), None)
        return f"pH {measured:g} read" if measured is not None else "no reading"
    if key == "unspent" and ahead.sulfur_left is not None:
        return f"{_sulfur_left(ahead, today):.0%} of the sulfur not yet reacted"
    return ""


def _smell_row(readings: Sequence[Reading]) -> ReadyRow:
    last = next((r for r in readings if r.smell), None)
    if last is None:
        return ReadyRow("none", "Smells earthy", "", "your nose")
    is_good = last.smell in (Reading.Smell.EARTHY, Reading.Smell.NONE)
    state = "good" if is_good else "short"
    return ReadyRow(state, "Smells earthy", last.get_smell_display(), "")


def _sprout_row(tests: Sequence[SproutTest]) -> ReadyRow:
    """Return how cress did in it; the test is asked of nobody, and counts where it was made."""
    last = next((t for t in tests if t.counted_at), None)
    verdict = last.verdict if last else None
    if verdict is None:
        return ReadyRow("none", "Cress grows well in it", "", "sprout test")
    if verdict.index is None:
        return ReadyRow("none", "Cress grows well in it", "the test says nothing", "sow again")
    state = "good" if verdict.passes else "short"
    return ReadyRow(state, "Cress grows well in it", f"{verdict.index:.0f} %", "")


def _last_ph(batch: Batch, readings: Sequence[Reading]) -> tuple[float, float] | None:
    """Return the newest pH reading: its day, and the pH of the mix itself."""
    last = next((r for r in readings if r.ph is not None), None)
    ph = own_ph(batch, last) if last else None
    return None if last is None or ph is None else (day_of(batch, last), ph)


def redose_say(
    batch: Batch,
    evaluation: Evaluation,
    today: int,
    limes: Sequence[CoreMaterial],
    sulfurs: Sequence[CoreMaterial],
    reading_days: Sequence[float],
    readings: Sequence[Reading] = (),
) -> AnswerSaid | None:
    """Say how much more lime or sulfur, or to wait."""
    ahead = evaluation.forecast
    if ahead is None:
        return None
    if today > OLDEST_DAYS:
        return TOO_OLD
    more = redose(
        ahead,
        evaluation.ph_band,
        today,
        limes,
        sulfurs,
        reading_days,
        last=_last_ph(batch, readings),
        smells=recent_smell(batch, readings, today) == Reading.Smell.AMMONIA,
    )
    plan, shelf = batch.plan_as_mixed()
    more = replace(more, answer=disposed(more.answer, plan, shelf, evaluation))
    said = answer_said(
        more.answer,
        batch.measures,
        evaluation.volumes.mixed_l,
        today + WORK_DAYS,
        advice=more.advice,
        is_mixed=True,
    )
    if not more.asks_reading:
        return said
    first = "Read its pH" if not reading_days else "Read its pH once more, three days on"
    return AnswerSaid(
        "wait", f"{first}, before anything is added: one odd reading commands nothing.", said.whole
    )
