"""A plan as it was really made: the amounts that went in, all else as planned."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

from pelk.core.base.sources import cites
from pelk.core.materials.measures import DoseUnit
from pelk.core.plans.plan import Batch, Dose, Part, Plan

GRAMS = DoseUnit("g", "mass", 1.0)


@cites("arithmetic", "what went in, in place of what was planned")
def as_mixed(
    plan: Plan,
    litres: Mapping[str, float],
    grams: Sequence[float],
    pot_height_cm: float | None = None,
) -> Plan:
    """Return a plan with what really went in.

    Parameters
    ----------
    plan : Plan
        As it was written.
    litres : mapping of str to float
        Loose litres of each part, by slug; a part of none is left out. [L]
    grams : sequence of float
        Of each dose, in the plan's order; a dose of none is left out. [g]
    pot_height_cm : float, optional
        Of the mix in the pot it was planned for. [cm]

    Returns
    -------
    Plan
        Its volume is what the parts come to.
    """
    parts = tuple(
        Part(material=p.material, parts=litres[p.material])
        for p in plan.parts
        if litres[p.material] > 0
    )
    doses = tuple(
        Dose(material=d.material, amount=g, unit=GRAMS)
        for d, g in zip(plan.doses, grams, strict=True)
        if g > 0
    )
    return replace(
        plan,
        batch=Batch(),
        parts=parts,
        doses=doses,
        parts_are_litres=True,
        pot_height_cm=plan.pot_height_cm or pot_height_cm,
    )
