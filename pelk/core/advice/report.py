"""An `Evaluation` as ``pelk.evaluation/1``: plain values, null where not known."""

from typing import Any

import numpy as np
from numpy.typing import NDArray

from pelk.core.advice.grades import Change, DoKind, Finding
from pelk.core.advice.judged_supply import needs_of, reaches_of, state_of
from pelk.core.advice.judgement import Judgement, judge
from pelk.core.base.figures import Figure
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.evaluation.season_supply import ElementSupply
from pelk.core.materials.cost import Cost
from pelk.core.simulation.forecast import JUDGED_DAY, LINE_DAYS, Forecast

FORMAT = "pelk.evaluation/1"
EC_DAYS = (0, 30, 60, 90, 180)


def report(evaluation: Evaluation, judgement: Judgement | None = None) -> dict[str, Any]:
    """Return an evaluation as plain JSON values; keys of what is not known are null.

    Parameters
    ----------
    evaluation : Evaluation
        Of a plan.
    judgement : Judgement, optional
        Of it, with remedies; judged here, without them, where none is given.
    """
    judged = judgement or judge(evaluation)
    cautions = [
        {
            "id": c.id,
            "severity": "stop" if c.stops else c.severity,
            "text": c.text,
            "materials": list(c.materials),
            "source": c.source,
        }
        for c in evaluation.cautions
    ]
    return {
        "format": FORMAT,
        "volume": _volume(evaluation),
        "bulk": [
            {
                "material": b.material.slug,
                "litres": _round(b.loose_l),
                "kg": _round(b.kg),
                "share": round(b.share, 4),
            }
            for b in evaluation.bulk
        ],
        "doses": [
            {
                "material": d.material.slug,
                "grams": _round(d.grams.typ),
                "grams_range": [_round(d.grams.low), _round(d.grams.high)],
                "millilitres": _round(d.millilitres),
                "g_per_l": _round(d.g_per_l),
                "share": None if d.share is None else round(d.share, 5),
            }
            for d in evaluation.doses
        ],
        "nutrients": _nutrients(evaluation),
        "traces_mg_l": {e: _round(f.value) for e, f in evaluation.traces.items()},
        "cation_shares": {e: _round(v) for e, v in evaluation.cations.items()},
        "ph": _ph(evaluation),
        "ec_ds_m": _ec(evaluation),
        "c_to_n": _round(evaluation.c_to_n.value),
        "air": _air(evaluation),
        "cure": _cure(evaluation.forecast),
        "findings": [plain_finding(f) for f in judged.findings],
        "cautions": cautions,
        "cost": _cost(evaluation.cost),
    }


def plain_finding(finding: Finding) -> dict[str, Any]:
    """Return a finding as a file writes it."""
    return {
        "kind": finding.kind.value,
        "of": finding.of or None,
        "grade": finding.grade.name.lower(),
        "from_day": finding.from_day,
        "to_day": finding.to_day,
        "value": _round(finding.value),
        "p10": _round(finding.low),
        "p90": _round(finding.high),
        "limit": _round(finding.limit),
        "probability": round(finding.probability, 2),
        "text": finding.text,
        "remedies": [
            {
                "text": remedy.text,
                "changes": [_change(change) for change in remedy.changes],
                "before": {key: _round(value) for key, value in remedy.before.items()},
                "after": {key: _round(value) for key, value in remedy.after.items()},
            }
            for remedy in finding.remedies
        ],
    }


def _change(change: Change) -> dict[str, Any]:
    said: dict[str, Any] = {"do": change.do.value}
    if change.do is DoKind.SWAP:
        return said | {"from": change.material, "to": change.into, "litres": _round(change.litres)}
    if change.do is DoKind.WAIT:
        return said | {"day": change.day}
    said["material"] = change.material
    if change.do is DoKind.DOSE:
        said["g_per_l"] = _round(change.g_per_l)
    elif change.do is DoKind.SCALE:
        said["share"] = round(change.share, 4)
    elif change.do is DoKind.ADD:
        said["litres"] = _round(change.litres)
    return said


def _volume(evaluation: Evaluation) -> dict[str, Any]:
    return {
        "litres": _round(evaluation.mixed.value),
        "loose_litres": _round(evaluation.loose.value),
        "kg": _round(evaluation.mass.value),
        "kg_wet": _round(evaluation.wet_mass.value),
        "blending_loss": round(evaluation.volumes.blending_loss, 4),
    }


def _nutrients(evaluation: Evaluation) -> dict[str, Any]:
    rows = evaluation.supply.elements if evaluation.supply else {}
    by_element = {}
    for element, total in evaluation.nutrients.items():
        row: ElementSupply | None = rows.get(element)
        by_element[element] = {
            "total_mg_l": _round(total.total.value),
            "total_range_mg_l": _span(total.total),
            "available_mg_l": _by_day(_at_least_none(row.free_at) if row else None),
            "tied_up_mg_l": _by_day(_tied_up(row.free_at) if row else None),
            "target_mg_l": list(total.target_mg_l),
            "extract_mg_l": _by_day(row.extract_at if row else None),
            "extract_band": list(row.extract_band) if row and row.extract_band else None,
            "sources": {slug: _round(mg) for slug, mg in total.sources.items()},
            "season": None if row is None else _season(row, evaluation),
        }
    return by_element


def _at_least_none(free_at: dict[int, float]) -> dict[int, float]:
    return {day: max(value, 0.0) for day, value in free_at.items()}


def _tied_up(free_at: dict[int, float]) -> dict[int, float]:
    """Return what wood and bark want beyond what has come free."""
    return {day: -min(value, 0.0) + 0.0 for day, value in free_at.items()}


def _season(row: ElementSupply, evaluation: Evaluation) -> dict[str, Any]:
    supply = evaluation.supply
    return {
        "planted_day": supply.planted_day if supply else None,
        "taken_up_mg_l": _round(reaches_of(row)),
        "needs_mg_l": _round(needs_of(row)),
        "state": state_of(row),
        "leached_mg_l": _round(float(row.season.leached[-1])),
        "denitrified_mg_l": _round(row.season.to_air),
        "from_water_mg_l": _round(row.season.brought),
        "short_mg_l": _round(row.short_by),
        "runs_out_day": row.season.run_out_day,
    }


def _by_day(values: dict[int, float] | None) -> dict[str, float | None] | None:
    return None if not values else {str(d): _round(v) for d, v in values.items()}


def _ph(evaluation: Evaluation) -> dict[str, Any]:
    target = list(evaluation.ph_band)
    acidity, forecast = evaluation.acidity, evaluation.forecast
    if acidity is None or forecast is None:
        problem = evaluation.acidity_problem
        return {"start": None, "settled": None, "target": target, "problem": problem}
    p10, p50, p90 = (_series(line) for line in forecast.ph)
    return {
        "start": _round(acidity.start.value),
        "settled": _round(acidity.settled.value),
        "settled_range": _span(acidity.settled),
        "at_180": _round(forecast.ph_on(JUDGED_DAY)),
        "at_730": _round(forecast.ph_on(LINE_DAYS)),
        "rest": _round(acidity.rest.ph),
        "target": target,
        "day": list(range(forecast.days + 1)),
        "p10": p10,
        "p50": p50,
        "p90": p90,
        "drivers_meq_l": {d.name: _round(d.at(forecast.days)) for d in forecast.drivers},
    }


def _ec(evaluation: Evaluation) -> dict[str, Any] | None:
    forecast = evaluation.forecast
    if forecast is None:
        return None
    return {
        "basis": "saturated media extract",
        "parts": _round(forecast.own_ec),
        **{str(day): _round(float(forecast.ec[day])) for day in EC_DAYS},
        "target_max": evaluation.crop.ec_target[1],
        "most": evaluation.crop.ec_max,
    }


def _air(evaluation: Evaluation) -> dict[str, Any] | None:
    pot = evaluation.pot
    if pot is None:
        return None
    return {
        "total_porosity": round(pot.total_porosity, 3),
        "air_filled": round(pot.air_filled, 3),
        "container_capacity": round(pot.container_capacity, 3),
        "pot_height_cm": pot.height_cm,
        "wanted_air": round(evaluation.wanted_air, 3),
    }


def _cure(forecast: Forecast | None) -> dict[str, Any] | None:
    if forecast is None:
        return None
    ready = forecast.ready
    return {
        "ready_day": {"p10": ready.p10, "p50": ready.p50, "p90": ready.p90},
        "waiting_for": ready.waiting_for,
        "floor_days": ready.floor_days,
        "criteria": [
            {
                "id": c.key,
                "day": c.day,
                "p10": c.low,
                "p90": c.high,
                "met_share": round(c.met_share, 2),
            }
            for c in ready.criteria
        ],
    }


def _cost(bill: Cost) -> dict[str, Any]:
    return {
        "total": None if bill.total is None else float(bill.total),
        "per_litre": None if bill.per_litre is None else round(float(bill.per_litre), 4),
        "currency": bill.currency,
        "missing_prices": list(bill.missing),
    }


def _series(line: NDArray[np.float64]) -> list[float]:
    return [round(float(v), 3) for v in line]


def _span(figure: Figure) -> list[float | None]:
    return [_round(figure.low), _round(figure.high)]


def _round(value: float | None) -> float | None:
    """Keep five figures: more would claim what nobody knows."""
    return None if value is None else float(f"{value:.5g}")
