"""What reaches the plant beside what it needs, and what stands in the way of it."""

from collections.abc import Iterator

from pelk.core.advice.grades import Finding, Grade, Kind
from pelk.core.base.limits import limit
from pelk.core.base.sources import cites
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.evaluation.season_supply import ElementSupply
from pelk.core.evaluation.trace_elements import IRON_SHY, NAMES, left_at_ph
from pelk.core.materials.material import MINERAL_SOIL
from pelk.core.simulation.forecast import Forecast

ELEMENT_NAMES = {
    "N": "nitrogen",
    "P": "phosphorus",
    "K": "potassium",
    "Ca": "calcium",
    "Mg": "magnesium",
    "S": "sulfur",
}
# Supply has no draws: a balance this far over its limit may still fall short, 8 in 10.
SUPPLY_SPAN = 0.1
# A season is met where all but this share of it is.
SLACK = 0.005


def supply_findings(evaluation: Evaluation, ahead: Forecast, day: int) -> Iterator[Finding]:
    """Return what runs short, is taken away, or lies out of reach."""
    supply = evaluation.supply
    if supply is not None:
        for row in supply.elements.values():
            yield from _short(evaluation, row)
        yield from _taken_away(ahead, supply.elements["N"])
    yield from _out_of_reach(evaluation, ahead, day)
    yield from _metals(evaluation, ahead, day)


@cites("arithmetic", "taken up by the balance of the season")
def reaches_of(row: ElementSupply) -> float:
    """Return what reaches the plant over its season.

    Parameters
    ----------
    row : ElementSupply
        Of one element.

    Returns
    -------
    float
        In a litre of mix. [mg/L]
    """
    return float(row.season.taken[-1])


@cites("arithmetic", "taken up and wanted in vain")
def needs_of(row: ElementSupply) -> float:
    """Return what the plant needs over its season.

    Parameters
    ----------
    row : ElementSupply
        Of one element.

    Returns
    -------
    float
        In a litre of mix. [mg/L]
    """
    return reaches_of(row) + row.short_by


def state_of(row: ElementSupply) -> str:
    """Return ``short``, ``within`` or ``plenty``: what reaches the plant beside what it needs."""
    reaches, needs = reaches_of(row), needs_of(row)
    if reaches < limit("short", "better_share") * needs - SLACK * needs:
        return "short"
    return "plenty" if row.season_free > limit("plenty", "times_needs") * needs else "within"


def _short(evaluation: Evaluation, row: ElementSupply) -> Iterator[Finding]:
    reaches, needs = reaches_of(row), needs_of(row)
    if needs <= 0:
        return
    share = reaches / needs
    if state_of(row) != "short":
        return
    grade = Grade.DRIFTS if share < limit("short", "drifts_share") else Grade.BETTER
    name, run_out = ELEMENT_NAMES[row.element], row.season.run_out_day
    since = ""
    if run_out is not None:
        since = f" It gives out about day {run_out}."
    whole = round(needs)
    got = min(round(reaches), whole)
    yield Finding(
        kind=Kind.SHORT,
        of=row.element,
        grade=grade,
        text=f"{name.capitalize()} is {whole - got} mg/L short: {got} of the {whole} needed reach "
        f"the plant.{since}",
        from_day=run_out,
        value=reaches,
        limit=needs,
        low=reaches * (1 - SUPPLY_SPAN),
        high=reaches * (1 + SUPPLY_SPAN),
        why=f"{row.element}_free",
    )


def _taken_away(ahead: Forecast, nitrogen: ElementSupply) -> Iterator[Finding]:
    """Say what wood and water take of the nitrogen."""
    reaches = max(reaches_of(nitrogen), 1.0)
    most = limit("takes", "drifts_share")
    hungry = float(ahead.line["hungry_mg_l"].max())
    if hungry > max(most * reaches, limit("takes", "least_mg_l")):
        yield Finding(
            kind=Kind.WOODY_ROBBERY,
            of="N",
            grade=Grade.DRIFTS,
            text=f"Wood, bark or straw ties up to {hungry:.0f} mg/L of nitrogen that is not there; "
            f"{reaches:.0f} reaches the plant.",
            value=hungry,
            limit=most * reaches,
            why="N_free",
        )
    lost = float(nitrogen.season.leached[-1]) + nitrogen.season.to_air
    if nitrogen.short_by > 0 and lost > most * reaches:
        to_air = nitrogen.season.to_air
        air = f", {to_air:.0f} of it as gas from drowned pores" if to_air >= 1 else ""
        yield Finding(
            kind=Kind.WASHES_OUT,
            of="N",
            grade=Grade.BETTER,
            text=f"{lost:.0f} mg/L of nitrogen is lost over the season{air}; {reaches:.0f} reaches "
            "the plant.",
            value=lost,
            limit=most * reaches,
            why="N_free",
        )


def _out_of_reach(evaluation: Evaluation, ahead: Forecast, day: int) -> Iterator[Finding]:
    ph = max(ahead.ph_on(day), ahead.ph_on(ahead.days))
    for element in ("Fe", "Mn"):
        left = left_at_ph(element, ph, is_iron_shy=evaluation.crop.slug in IRON_SHY)
        if left < limit("metal", "locked_below") and ph > evaluation.ph_band[1]:
            yield Finding(
                kind=Kind.LOCKED,
                of=element,
                grade=Grade.BETTER,
                text=f"At pH {ph:.1f} only {left:.0%} of the {NAMES[element].lower()} stays in "
                "reach, however much is there.",
                value=left,
                limit=limit("metal", "locked_below"),
                why=f"{element}_trace",
            )


def _metals(evaluation: Evaluation, ahead: Forecast, day: int) -> Iterator[Finding]:
    bark = sum(b.share for b in evaluation.bulk if b.material.family == "bark")
    soil = sum(b.share for b in evaluation.bulk if b.material.family in MINERAL_SOIL)
    low = min(float(ahead.ph_on(d)) for d in range(day, max(ahead.days, day) + 1, 10))
    wants_more = evaluation.ph_band[0] >= limit("metal", "aluminium_under")
    under = limit("metal", "manganese_under")
    if bark >= limit("metal", "bark_share") and low < under and evaluation.ph_band[0] >= under:
        yield Finding(
            kind=Kind.METAL,
            of="Mn",
            grade=Grade.DRIFTS,
            text=f"Bark under pH {under:g} sets much manganese free: brown specks on old leaves, "
            "pale new ones. Raise the pH; iron does not cure it.",
            value=low,
            limit=under,
            why="Mn_trace",
        )
    under = limit("metal", "aluminium_under")
    if soil >= limit("metal", "aluminium_soil_share") and low < under and wants_more:
        yield Finding(
            kind=Kind.METAL,
            of="Al",
            grade=Grade.DRIFTS,
            text=f"Soil under pH {under:g} sets aluminium free, which stunts roots.",
            value=low,
            limit=under,
            why="ph_forecast",
        )
