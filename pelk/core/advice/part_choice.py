"""Which of a plan's parts to take, and how much: cheapest with the air that is wanted."""

from collections.abc import Mapping
from dataclasses import replace

from pelk.core.base.integer_programme import Conflict, Row, Variable, solve
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.cost import Package
from pelk.core.materials.material import Material
from pelk.core.plans.plan import Part, Plan
from pelk.core.vessels.structure import structure_of
from pelk.core.vessels.volumes import blending_loss

PARTS_PASSES, PARTS_CLOSE = 6, 1e-4
LEAST_PART, USUAL_MOST_PART = 0.05, 0.7


def with_best_parts(
    plan: Plan, shelf: Mapping[str, Material], packages: Mapping[str, Package]
) -> Plan:
    """Return the plan with its parts chosen anew: cheapest with the air the crop wants.

    Blending loss is held fixed in each pass and found again from the parts.
    """
    wanted = evaluate(plan, shelf, samples=0)
    height = wanted.pot.height_cm if wanted.pot else 20.0
    loss = wanted.volumes.blending_loss
    shares: dict[str, float] = {}
    for _ in range(PARTS_PASSES):
        variables = [
            Variable(
                name=p.material,
                cost=_part_price(shelf[p.material], packages),
                most=(shelf[p.material].share_max_pct or 100 * USUAL_MOST_PART) / 100 / (1 - loss),
                least=LEAST_PART,
                per_unit={"volume": 1.0, "air": -_wet(shelf[p.material], height)},
            )
            for p in plan.parts
        ]
        total = 1 / (1 - loss)
        rows = [
            Row(name="volume", low=total, high=total),
            Row(name="air", low=wanted.wanted_air, base=1.0, scale=0.1),
        ]
        solution = solve(variables, rows)
        if isinstance(solution, Conflict):
            return plan
        shares = {s: v / total for s, v in solution.amounts.items()}
        again = blending_loss([(shelf[s], x) for s, x in shares.items()])
        if abs(again - loss) < PARTS_CLOSE:
            break
        loss = (loss + again) / 2
    return replace(
        plan,
        parts=tuple(Part(material=s, parts=100 * x) for s, x in shares.items()),
        parts_are_litres=False,
    )


def _wet(material: Material, height_cm: float) -> float:
    """Return solids and water of a loose litre after draining: what is not air."""
    alone = structure_of([(material, 1.0)], 0.0, height_cm)
    return 1 - alone.total_porosity + alone.container_capacity


def _part_price(material: Material, packages: Mapping[str, Package]) -> float:
    package = packages.get(material.slug)
    return float(package.price) / package.loose_litres(material) if package else 0.1
