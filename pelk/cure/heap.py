"""What a heap's readings and its forecast say, in sentences."""

from dataclasses import dataclass
from datetime import date, timedelta

from django.utils.html import format_html

from pelk.barrow.models import Batch
from pelk.bench.verdicts import Verdict
from pelk.core.evaluate import Evaluation
from pelk.core.forecast import Forecast
from pelk.core.quantities import written_ph
from pelk.cure.models import Reading

SHARP = {
    Reading.Smell.AMMONIA: "Ammonia: open the lid, no lime or ash, and wait.",
    Reading.Smell.SOUR: "Sour: it is drowning. Turn it and add something coarse.",
    Reading.Smell.EGGS: "Rotten eggs: step upwind now, open it outdoors, wait a day.",
}


def heap_verdicts(
    batch: Batch, readings: list[Reading], evaluation: Evaluation, today: int
) -> list[Verdict]:
    """Return what the newest readings say and when it is ready; newest first."""
    smell = next((r.smell for r in readings if r.smell), "")
    if smell in SHARP:
        return [Verdict("stop", format_html("{}", SHARP[Reading.Smell(smell)]))]
    found = [_reading_verdict(readings, evaluation)]
    if evaluation.forecast is not None:
        found.append(_ready_verdict(batch, evaluation, evaluation.forecast, today))
    return found


def _reading_verdict(readings: list[Reading], evaluation: Evaluation) -> Verdict:
    low, high = evaluation.ph_band
    crop = evaluation.crop.name.lower()
    last = next((r for r in readings if r.ph is not None), None)
    if last is None or last.ph is None:
        text = (
            "No pH yet. On mixing day the pen often reads near neutral: that is expected."
        )
        return Verdict("wait", format_html("{}", text))
    if low <= last.ph <= high:
        said = (
            "pH <b>{}</b> is inside the band for {}. Keep reading until it holds still."
        )
        return Verdict("good", format_html(said, f"{last.ph:.1f}", crop))
    side = "above" if last.ph > high else "below"
    ahead = evaluation.forecast
    heading = ""
    if ahead is not None:
        end = written_ph(float(ahead.ph[1][-1]))
        heading = f" The sums say it goes to {end} by day {ahead.days}."
    return Verdict(
        "wait",
        format_html(
            "pH <b>{}</b> is {} the {} to {} that {} want.{}",
            f"{last.ph:.1f}", side, f"{low:g}", f"{high:g}", crop, heading,
        ),
    )  # fmt: skip


def on(batch: Batch, day: int) -> str:
    """Write the date of a day since mixing."""
    made: date = batch.made_at.date()
    return f"{made + timedelta(days=day):%d %b}".lstrip("0")


def _ready_verdict(
    batch: Batch, evaluation: Evaluation, ahead: Forecast, today: int
) -> Verdict:
    ready, crop = ahead.ready, evaluation.crop.name.lower()
    if ready.p50 is None:
        text = format_html(
            "It may not get ready for {} within {} days without a change.",
            crop,
            ahead.days,
        )
        return Verdict("wait", text, "ready")
    span = ""
    if ready.p10 is not None and ready.p10 != ready.p50:
        end = f"to {on(batch, ready.p90)}" if ready.p90 is not None else "or not at all"
        span = format_html(
            " <span class='range'>({} {})</span>", on(batch, ready.p10), end
        )
    if ready.p50 <= today:
        text = format_html(
            "By the sums it is ready for {} since <b>{}</b>{}. The nose and two readings "
            "three days apart decide.", crop, on(batch, ready.p50), span,
        )  # fmt: skip
        return Verdict("ready", text, "ready")
    text = format_html(
        "Ready for {} about <b>{}</b>{}.", crop, on(batch, ready.p50), span
    )
    return Verdict("wait", text, "ready")


@dataclass(frozen=True, slots=True)
class ReadyRow:
    """One criterion of readiness on the page."""

    state: str
    name: str
    when: str


def ready_rows(batch: Batch, ahead: Forecast, today: int) -> list[ReadyRow]:
    """Return each criterion with when it is met; smell has no model."""
    rows = []
    for c in ahead.ready.criteria:
        if c.day is None:
            rows.append(ReadyRow("none", c.name, f"not within {ahead.days} days"))
        elif c.day <= today:
            rows.append(
                ReadyRow("good", c.name, f"since {on(batch, c.day)}" if c.day else "")
            )
        else:
            rows.append(ReadyRow("wait", c.name, on(batch, c.day)))
    rows.append(ReadyRow("none", "Smells of earth", "your nose"))
    return rows
