"""What a mix comes to, in sentences: results are said before they are drawn."""

from dataclasses import dataclass

from django.utils.html import format_html
from django.utils.safestring import SafeString

from pelk.core.evaluate import Evaluation
from pelk.core.nutrients import NutrientTotal
from pelk.core.quantities import written_ph

ELEMENTS = {
    "N": "nitrogen", "P": "phosphorus", "K": "potassium", "Ca": "calcium",
    "Mg": "magnesium", "S": "sulfur",
}  # fmt: skip


@dataclass(frozen=True, slots=True)
class Verdict:
    """One sentence with its state; ``why`` is the key of the figure behind it."""

    state: str
    say: SafeString
    why: str = ""
    word: str = ""


def verdicts(evaluation: Evaluation) -> list[Verdict]:
    """Return the sentences of a mix, the pressing ones first."""
    stops = evaluation.stops
    found = [_ph(evaluation), *_food(evaluation)]
    if stops:
        many = "one thing" if len(stops) == 1 else f"{len(stops)} things"
        text = format_html("Before this is made, <b>{}</b> must change: see below.", many)
        found.insert(0, Verdict("stop", text))
    return found


def _ph(evaluation: Evaluation) -> Verdict:
    acidity = evaluation.acidity
    if acidity is None:
        text = format_html("pH cannot be told: {}.", evaluation.acidity_problem)
        return Verdict("none", text)
    settled, (low, high) = acidity.settled, acidity.band
    crop = evaluation.crop.name.lower()
    told, low_end, high_end = (
        written_ph(v or 0.0) for v in (settled.value, settled.low, settled.high)
    )
    if told[0].isdigit():
        near = format_html(
            "pH will settle near <b>{}</b> <span class='range'>({} to {})</span>",
            told, low_end, high_end,
        )  # fmt: skip
    else:
        near = format_html("pH will settle <b>{}</b>", told)
    state, word = {
        "within": ("good", ""), "low": ("over", "Low"), "high": ("over", "High"),
    }[acidity.verdict]  # fmt: skip
    place = {
        "within": f"inside the band for {crop}",
        "low": f"too acid for {crop}, which want {low:g} to {high:g}",
        "high": f"not acid enough for {crop}, which want {low:g} to {high:g}",
    }[acidity.verdict]
    return Verdict(state, format_html("{}, {}.", near, place), "ph_settled", word)


def _food(evaluation: Evaluation) -> list[Verdict]:
    short = [n for n in evaluation.nutrients.values() if n.is_short]
    if short:
        return [_short(n) for n in short]
    text = format_html(
        "In total there is enough of all six for a season. How much of it comes <b>when</b> "
        "is not computed yet."
    )
    return [Verdict("none", text, "N", "Total")]


def _short(nutrient: NutrientTotal) -> Verdict:
    text = format_html(
        "Short of {}: all of it together is about <b>{} mg/L</b>, and a season takes up {} "
        "or more.",
        ELEMENTS[nutrient.element],
        f"{nutrient.total.value:.0f}",
        f"{nutrient.target_mg_l[0]:.0f}",
    )
    return Verdict("short", text, nutrient.element)
