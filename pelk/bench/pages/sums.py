"""What a mix comes to in sentences: warmth and salts while it cures, weight, cost."""

from __future__ import annotations

import numpy as np

from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.cost import Package
from pelk.ui.units import Measures
from pelk.yards.models import Yard


def cure_says(evaluation: Evaluation) -> str:
    """Say how hot and how salty it gets while it lies, and what wood takes."""
    ahead = evaluation.forecast
    if ahead is None:
        return ""
    ammonium = ahead.line.daily("ammonium_mg_l")[: ahead.days + 1]
    day, limit = int(np.argmax(ammonium)), ahead.limits.ammonium_mg_l
    said = f"Ammonium at most {sig(float(ammonium[day]), 2)} mg/L, on day {day}"
    above = np.flatnonzero(ammonium > limit)
    said += (
        f"; under {limit:.0f} after day {int(above[-1])}."
        if above.size
        else f"; {limit:.0f} is safe."
    )
    salty = int(np.argmax(ahead.ec[: ahead.days + 1]))
    said += f" Salts at most {sig(float(ahead.ec[salty]), 2)} dS/m, on day {salty}."
    robbed = min(ahead.free_at("N", 0), ahead.free_at("N", 30), ahead.free_at("N", 60))
    if robbed < 0:
        said += f" Wood ties up {sig(-robbed, 2)} mg/L of nitrogen in the first two months."
    return said


def beside_a_bag(evaluation: Evaluation, yard: Yard, bag: Package | None) -> str:
    """Say what a ready-made bag would cost beside it."""
    more = evaluation.cost.beside(bag) if bag is not None else None
    if more is None:
        return ""
    word = "more" if more > 0 else "less"
    return f"A ready bag costs {yard.money.each(abs(more))} a litre {word}."


def weighs(evaluation: Evaluation, measures: Measures) -> str:
    """Say what it weighs watered and drained; empty where that is not known."""
    wet = evaluation.wet_mass.value
    return "" if wet is None else measures.mass(wet * 1000, 2)


def costs(evaluation: Evaluation, yard: Yard) -> str:
    """Say the price in a word or two; empty where it is not known."""
    bill = evaluation.cost
    if bill.total is None:
        return ""
    return f"{yard.money.write(bill.total)}, {yard.money.each(bill.per_litre)} a litre"


def cost(evaluation: Evaluation, yard: Yard) -> str:
    """Say what goes in costs, by what was paid for the last bag of each."""
    bill = evaluation.cost
    if bill.total is not None:
        write = yard.money
        return f"Costs {write.write(bill.total)}, {write.each(bill.per_litre)} a litre."
    rows = [b.material for b in evaluation.bulk] + [d.material for d in evaluation.doses]
    names = [m.short_name.lower() for m in rows if m.slug in bill.missing]
    if len(bill.missing) == len(bill.lines):
        return ""
    return f"Its cost is not known: no price for {', '.join(names)}."


def salts(evaluation: Evaluation) -> str:
    """Say the salts now and in a month; empty where they are not known."""
    now, later = evaluation.ec_now, evaluation.ec_later
    if now is None or later is None:
        return ""
    return f"{now.value:.1f} dS/m now, {later.value:.1f} in a month"
