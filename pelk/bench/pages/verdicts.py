"""What a mix comes to, in sentences: results are said before they are drawn."""

from dataclasses import dataclass

from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from pelk.core.base.quantities import written_ph
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.evaluation.season_supply import ElementSupply, SeasonSupply
from pelk.core.simulation.forecast import Forecast
from pelk.core.simulation.readiness import HELD_UP

ELEMENTS = {
    "N": "nitrogen",
    "P": "phosphorus",
    "K": "potassium",
    "Ca": "calcium",
    "Mg": "magnesium",
    "S": "sulfur",
}
AT_ONCE = 3
SALT_DAY = 30


@dataclass(frozen=True, slots=True)
class Verdict:
    """One sentence with its state; ``why`` is the key of the figure behind it."""

    state: str
    say: SafeString
    why: str = ""
    word: str = ""


def verdicts(evaluation: Evaluation) -> list[Verdict]:
    """Return the sentences of a mix, the pressing ones first."""
    stops, said = evaluation.stops, []
    if stops:
        many = "one thing" if len(stops) == 1 else f"{len(stops)} things"
        text = format_html("Before this is made, <b>{}</b> must change: see below.", many)
        said.append(Verdict("stop", text))
    ahead = evaluation.forecast
    if ahead is None:
        text = format_html("pH cannot be told: {}.", evaluation.acidity_problem)
        return [*said, Verdict("none", text)]
    said += [ready_verdict(evaluation, ahead), ph_verdict(evaluation, ahead)]
    if evaluation.supply is not None:
        said += _food(evaluation.supply, evaluation)
    return [*said, *_salts(evaluation, ahead)]


def ready_verdict(evaluation: Evaluation, ahead: Forecast) -> Verdict:
    """Say when it is ready, and what it waits for."""
    ready, crop = ahead.ready, evaluation.crop.name.lower()
    if ready.p50 is None:
        held = [HELD_UP[k] for k in ready.waiting_for[:2]]
        text = format_html(
            "It may not get ready for {} within <b>{} days</b> without a change: {}.",
            crop,
            ahead.days,
            " and ".join(held),
        )
        return Verdict("wait", text, "ready")
    waits = [HELD_UP[k] for k in ready.waiting_for][:1]
    reason = format_html("; until then {}", waits[0]) if waits else ""
    span = ""
    if ready.p10 is not None and ready.p10 != ready.p50:
        end = f"to {ready.p90}" if ready.p90 is not None else "or not at all"
        span = format_html(" <span class='range'>({} {})</span>", ready.p10, end)
    text = format_html("Ready for {} about <b>day {}</b>{}{}.", crop, ready.p50, span, reason)
    return Verdict("good" if ready.p50 <= AT_ONCE else "wait", text, "ready")


def ph_verdict(evaluation: Evaluation, ahead: Forecast) -> Verdict:
    """Say where the pH goes, beside the crop's band."""
    low, middle, high = (float(line[-1]) for line in ahead.ph)
    band, crop = evaluation.ph_band, evaluation.crop.name.lower()
    told = written_ph(middle)
    if told[0].isdigit():
        near = format_html("pH is forecast near <b>{}</b> on day {}", told, ahead.days)
    else:
        near = format_html("pH is forecast <b>{}</b> on day {}", told, ahead.days)
    if ahead.ensemble is not None:
        near = format_html(
            "{} <span class='range'>({} to {})</span>", near, written_ph(low), written_ph(high)
        )
    if band[0] <= round(middle, 1) <= band[1]:
        place, state, word = f"inside the band for {crop}", "good", ""
    else:
        sour = middle < band[0]
        place = f"{'too acid' if sour else 'not acid enough'} for {crop}, which want "
        place += f"{band[0]:g} to {band[1]:g}"
        state, word = "over", "Low" if sour else "High"
    return Verdict(state, format_html("{}, {}.", near, place), "ph_forecast", word)


def _food(charge: SeasonSupply, evaluation: Evaluation) -> list[Verdict]:
    rows = list(charge.elements.values())
    short = [r for r in rows if r.state == "short"]
    if short:
        return [_short(short[0], charge), *_also_short(short[1:])]
    text = format_html(
        "Food for the whole season of {} days once planted, by what comes free.", charge.season_days
    )
    return [Verdict("good", text, "N_free")]


def _also_short(rows: list[ElementSupply]) -> list[Verdict]:
    """Say in one sentence what else is short."""
    if not rows:
        return []
    said = format_html_join(
        ", ", "{} by <b>{} mg/L</b>", ((ELEMENTS[r.element], f"{r.short_by:.0f}") for r in rows)
    )
    text = format_html("Short too of {}.", said)
    return [Verdict("short", text, f"{rows[0].element}_free")]


def _short(row: ElementSupply, charge: SeasonSupply) -> Verdict:
    day = row.season.run_out_day
    runs = ""
    if day is not None:
        since = day - charge.planted_day
        runs = format_html(
            " It runs out about <b>day {}</b>, {} after planting.",
            day,
            f"{since} days" if since != 1 else "a day",
        )
    wanted = float(row.season.taken[-1] + row.season.short[-1])
    text = format_html(
        "Short of {} by <b>{} mg/L</b> of the {} a season takes up.{}",
        ELEMENTS[row.element],
        f"{row.short_by:.0f}",
        f"{wanted:.0f}",
        runs,
    )
    return Verdict("short", text, f"{row.element}_free")


def _salts(evaluation: Evaluation, ahead: Forecast) -> list[Verdict]:
    crop, later = evaluation.crop, float(ahead.ec[SALT_DAY])
    if later <= crop.ec_warn:
        return []
    over = later > crop.ec_max
    text = format_html(
        "Salts reach <b>{} dS/m</b> by day {}, {} the {} that {} stand.",
        f"{later:.1f}",
        SALT_DAY,
        "over" if over else "under",
        f"{crop.ec_max:g}",
        crop.name.lower(),
    )
    return [Verdict("over" if over else "plenty", text, "ec_later", "Salty")]
