"""An `Evaluation` as ``pelk.evaluation/1``: plain values, only what was computed."""

from typing import Any

from pelk.core.acidity import Acidity
from pelk.core.evaluate import Evaluation
from pelk.core.figures import Figure

FORMAT = "pelk.evaluation/1"


def report(evaluation: Evaluation) -> dict[str, Any]:
    """Return an evaluation as plain JSON values; keys of what is not known are null."""
    volume = {
        "litres": _round(evaluation.mixed.value),
        "loose_litres": _round(evaluation.loose.value),
        "kg": _round(evaluation.mass.value),
        "kg_wet": _round(evaluation.wet_mass.value),
        "blending_loss": round(evaluation.volumes.blending_loss, 4),
    }
    bulk = [
        {"material": b.material.slug, "litres": _round(b.loose_l), "kg": _round(b.kg),
         "share": round(b.share, 4)}
        for b in evaluation.bulk
    ]  # fmt: skip
    doses = [
        {"material": d.material.slug, "grams": _round(d.grams.typ),
         "grams_range": [_round(d.grams.low), _round(d.grams.high)],
         "millilitres": _round(d.millilitres), "g_per_l": _round(d.g_per_l),
         "share": None if d.share is None else round(d.share, 5)}
        for d in evaluation.doses
    ]  # fmt: skip
    nutrients = {
        element: {
            "total_mg_l": _round(found.total.value),
            "total_range_mg_l": _span(found.total),
            "target_mg_l": list(found.target_mg_l),
            "sources": {slug: _round(mg) for slug, mg in found.sources.items()},
        }
        for element, found in evaluation.nutrients.items()
    }
    cautions = [
        {"id": c.id, "severity": "stop" if c.stops else c.severity, "text": c.text,
         "materials": list(c.materials), "source": c.source}
        for c in evaluation.cautions
    ]  # fmt: skip
    return {
        "format": FORMAT,
        "volume": volume,
        "bulk": bulk,
        "doses": doses,
        "nutrients": nutrients,
        "ph": _ph(evaluation.acidity, evaluation),
        "cautions": cautions,
    }


def _ph(acidity: Acidity | None, evaluation: Evaluation) -> dict[str, Any]:
    target = list(evaluation.ph_band)
    if acidity is None:
        problem = evaluation.acidity_problem
        return {"start": None, "settled": None, "target": target, "problem": problem}
    return {
        "start": _round(acidity.start.value),
        "settled": _round(acidity.settled.value),
        "settled_range": _span(acidity.settled),
        "rest": _round(acidity.rest.ph),
        "target": target,
    }


def _span(figure: Figure) -> list[float | None]:
    return [_round(figure.low), _round(figure.high)]


def _round(value: float | None) -> float | None:
    """Keep five figures: more would claim what nobody knows."""
    return None if value is None else float(f"{value:.5g}")
