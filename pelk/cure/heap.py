"""What a heap's readings say, in one sentence."""

from django.utils.html import format_html

from pelk.bench.verdicts import Verdict
from pelk.core.evaluate import Evaluation
from pelk.core.quantities import written_ph
from pelk.cure.models import Reading

SHARP = {
    Reading.Smell.AMMONIA: "Ammonia: open the lid, no lime or ash, and wait.",
    Reading.Smell.SOUR: "Sour: it is drowning. Turn it and add something coarse.",
    Reading.Smell.EGGS: "Rotten eggs: step upwind now, open it outdoors, wait a day.",
}


def heap_verdict(readings: list[Reading], evaluation: Evaluation) -> Verdict:
    """Return what the newest readings say; newest first."""
    smell = next((r.smell for r in readings if r.smell), "")
    if smell in SHARP:
        return Verdict("stop", format_html("{}", SHARP[Reading.Smell(smell)]))
    low, high = evaluation.ph_band
    crop = evaluation.crop.name.lower()
    last = next((r for r in readings if r.ph is not None), None)
    if last is None or last.ph is None:
        text = (
            "No pH yet. On mixing day the pen often reads near neutral: that is expected."
        )
        return Verdict("wait", format_html("{}", text))
    settled = evaluation.acidity.settled.value if evaluation.acidity else None
    heading = (
        "" if settled is None else f" The sums say it settles near {written_ph(settled)}."
    )
    if low <= last.ph <= high:
        said = (
            "pH <b>{}</b> is inside the band for {}. Keep reading until it holds still."
        )
        return Verdict("good", format_html(said, f"{last.ph:.1f}", crop))
    side = "above" if last.ph > high else "below"
    return Verdict(
        "wait",
        format_html(
            "pH <b>{}</b> is {} the {} to {} that {} want.{}",
            f"{last.ph:.1f}", side, f"{low:g}", f"{high:g}", crop, heading,
        ),
    )  # fmt: skip
