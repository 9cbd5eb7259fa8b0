"""What a mix comes to in sentences: warmth and salts while it cures, weight, cost."""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.cost import Package, beside_bag
from pelk.ui.units import Measures
from pelk.yards.models import Yard


def cure_says(evaluation: Evaluation) -> str:
    """Say how hot and how salty it gets while it lies, and what wood takes."""
    ahead = evaluation.forecast
    if ahead is None:
        return ""
    ammonium = ahead.line.daily("ammonium_mg_l")[: ahead.days + 1]
    day, limit = int(np.argmax(ammonium)), ahead.limits.ammonium_mg_l
    said = f"Ammonium peaks at {sig(float(ammonium[day]), 2)} mg/L on day {day}"
    above = np.flatnonzero(ammonium > limit)
    said += (
        f"; under {limit:.0f} after day {int(above[-1])}."
        if above.size
        else f"; roots of this crop tolerate {limit:.0f}."
    )
    salty = int(np.argmax(ahead.ec[: ahead.days + 1]))
    said += (
        f" Salts peak at {sig(float(ahead.ec[salty]), 2)} dS/m on day {salty}, if nothing drains."
    )
    robbed = min(ahead.free_at("N", 0), ahead.free_at("N", 30), ahead.free_at("N", 60))
    if robbed < 0:
        said += f" Wood ties up {sig(-robbed, 2)} mg/L of nitrogen in the first two months."
    return said


def a_litre(price: Decimal | None, yard: Yard) -> str:
    """Write a price by the litre, or by the gallon where that is what a yard reads."""
    if price is None:
        return "–"
    if not yard.measures.is_us:
        return f"{yard.money.each(price)} a litre"
    return f"{yard.money.each(price / Decimal(repr(yard.measures.space(1.0))))} a gallon"


@dataclass(frozen=True, slots=True)
class Beside:
    """What a mix is set beside: a ready-made bag, for the same pots."""

    bag: Package | None = None
    pots: int = 0
    spare: float = 0.0


NOTHING_BESIDE = Beside()


def beside_a_bag(evaluation: Evaluation, yard: Yard, beside: Beside) -> list[str]:
    """Set the mix against a ready-made bag: a litre, a pot, all of it, and what is left over."""
    total, volumes, bag = evaluation.cost.total, evaluation.volumes, beside.bag
    if bag is None or not bag.litres or total is None:
        return []
    pots = beside.pots
    pot_l = volumes.mixed_l / (1 + beside.spare) / pots if pots else None
    got = beside_bag(total, volumes.mixed_l, bag, pot_l)
    write = yard.money
    says = [
        f"Ready-bagged instead, {yard.measures.volume(bag.litres)} for {write.write(bag.price)}: "
        f"{a_litre(got.bag_per_l, yard)} against {a_litre(got.mix_per_l, yard)}."
    ]
    if pot_l:
        each = Decimal(repr(pot_l))
        bag_pot, mix_pot = write.each(got.bag_per_l * each), write.each(got.mix_per_l * each)
        says.append(f"A pot of it: {bag_pot} against {mix_pot}.")
    a_bag = got.mix_per_l * Decimal(repr(bag.litres))
    says.append(f"A bag’s worth of this mix: {write.write(a_bag)}.")
    bags = f"{got.bags} bag{'s' if got.bags != 1 else ''}"
    over = f"{yard.measures.volume(got.left_l, 2)} left over" if got.left_l > 0 else "nothing over"
    fills = int(got.pots)
    more = f", enough for {fills} more pot{'s' if fills != 1 else ''}" if fills else ""
    says.append(
        f"All of it: {bags} for {write.write(got.bags_whole)} against "
        f"{write.write(got.mix_whole)}; {over}{more}."
    )
    return says


def weighs(evaluation: Evaluation, measures: Measures) -> str:
    """Say what it weighs watered and drained; empty where that is not known."""
    wet = evaluation.wet_mass.value
    return "" if wet is None else measures.mass(wet * 1000, 2)


def costs(evaluation: Evaluation, yard: Yard) -> str:
    """Say the price in a word or two; empty where it is not known."""
    bill = evaluation.cost
    if bill.total is None:
        return ""
    return f"{yard.money.write(bill.total)}, {a_litre(bill.per_litre, yard)}"


def cost(evaluation: Evaluation, yard: Yard) -> str:
    """Say what goes in costs, by what was paid for the last bag of each."""
    bill = evaluation.cost
    if bill.total is not None:
        return f"Costs {costs(evaluation, yard)}."
    rows = [b.material for b in evaluation.bulk] + [d.material for d in evaluation.doses]
    names = [m.spoken_name for m in rows if m.slug in bill.missing]
    if len(bill.missing) == len(bill.lines):
        return ""
    return f"Total cost unknown: no price for {', '.join(names)}."


def salts(evaluation: Evaluation) -> str:
    """Say the salts now and in a month; empty where they are not known."""
    now, later = evaluation.ec_now, evaluation.ec_later
    if now is None or later is None:
        return ""
    return f"{now.value:.1f} dS/m now, {later.value:.1f} in a month"
