"""Changes of a plan, carried out."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from pelk.core.advice.disposal import with_rate
from pelk.core.advice.grades import Change, DoKind
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.plans.plan import Part, Plan


def carried_out(plan: Plan, changes: Sequence[Change], evaluation: Evaluation) -> Plan:
    """Return a plan with changes made.

    Parameters
    ----------
    plan : Plan
        As it is.
    changes : sequence of Change
        What to do.
    evaluation : Evaluation
        Of the plan: its loose litres and rates.
    """
    loose = {b.material.slug: b.loose_l for b in evaluation.bulk}
    rates = {d.material.slug: d.g_per_l for d in evaluation.doses}
    for change in changes:
        if change.do in (DoKind.SWAP, DoKind.ADD):
            plan = _swapped(plan, change, loose)
        elif change.do is DoKind.DOSE:
            plan = with_rate(plan, change.material, change.g_per_l)
        elif change.do is DoKind.SCALE:
            plan = with_rate(plan, change.material, rates.get(change.material, 0.0) * change.share)
        elif change.do is DoKind.TAKE_OUT:
            plan = replace(
                plan, doses=tuple(d for d in plan.doses if d.material != change.material)
            )
        elif change.do is DoKind.WAIT:
            plan = replace(plan, planted_day=change.day)
    return plan


def _swapped(plan: Plan, change: Change, loose: Mapping[str, float]) -> Plan:
    """Return a plan with litres of one part in place of another's, or added."""
    whole = sum(loose.values())
    per_litre = sum(p.parts for p in plan.parts) / whole
    parts = {p.material: p.parts for p in plan.parts}
    more = change.litres * per_litre
    if change.do is DoKind.SWAP:
        parts[change.material] = parts.get(change.material, 0.0) - more
    into = change.into or change.material
    parts[into] = parts.get(into, 0.0) + more
    rows = tuple(Part(material=m, parts=n) for m, n in parts.items() if n > 1e-9)
    return replace(plan, parts=rows)
