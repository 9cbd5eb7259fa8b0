"""Routes propose, the judge disposes: what a dose would harm that was not harmed before."""

from collections.abc import Mapping
from dataclasses import replace

from pelk.core.advice.grades import Finding
from pelk.core.advice.judgement import judge
from pelk.core.advice.ph_answer import Outcome, PhAnswer
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.core.materials.material import Material
from pelk.core.materials.measures import DoseUnit
from pelk.core.plans.plan import Dose, Plan

G_PER_L = DoseUnit("g/L", "mass", 1.0, 1.0)


def with_rate(plan: Plan, slug: str, g_per_l: float) -> Plan:
    """Return a plan with a dose at a rate, in place of what it had of it; none at zero."""
    dose = Dose(material=slug, amount=g_per_l, unit=G_PER_L)
    if any(d.material == slug for d in plan.doses):
        doses = tuple(dose if d.material == slug else d for d in plan.doses)
    else:
        doses = (*plan.doses, dose)
    return replace(plan, doses=tuple(d for d in doses if d.amount > 0))


def new_harms(
    plan: Plan, shelf: Mapping[str, Material], before: Evaluation, slug: str, g_per_l: float
) -> tuple[Finding, ...]:
    """Return what harms once a dose is added, and did not before.

    Parameters
    ----------
    plan : Plan
        As it is.
    shelf : mapping of str to Material
        What it names, and the dose.
    before : Evaluation
        Of the plan.
    slug : str
        Of the dose.
    g_per_l : float
        Added to what lies there of it. [g/L]
    """
    lying = sum(d.g_per_l for d in before.doses if d.material.slug == slug)
    after = judge(evaluate(with_rate(plan, slug, lying + g_per_l), shelf, samples=0))
    had = {(f.kind, f.of) for f in judge(before).harms}
    return tuple(f for f in after.harms if (f.kind, f.of) not in had)


def disposed(
    answer: PhAnswer, plan: Plan, shelf: Mapping[str, Material], before: Evaluation
) -> PhAnswer:
    """Return an answer, or no way where its dose would harm otherwise.

    Parameters
    ----------
    answer : PhAnswer
        Proposed.
    plan : Plan
        That it was asked of.
    shelf : mapping of str to Material
        What the plan names.
    before : Evaluation
        Of the plan.
    """
    if answer.material is None or answer.g_per_l <= 0:
        return answer
    slug = answer.material.slug
    harms = new_harms(plan, {**shelf, slug: answer.material}, before, slug, answer.g_per_l)
    if not harms:
        return answer
    harm = harms[0].text.rstrip(".")
    return replace(
        answer, outcome=Outcome.NO_WAY, plan=None, material=None, problem=f"with it, {harm}"
    )
