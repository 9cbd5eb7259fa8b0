"""The science and the rules of Pelk: pure functions on plain numbers, no Django.

Rooms, from the ground up; a room may use those above it in this list, never below:

``base``        errors, quantities, sources, figures, elements, arithmetic, integer programmes
``materials``   what a material is and holds; units, weighings, bags, cost, feeding styles
``plans``       what a grower asks for: parts, doses, batch, conditions
``salts``       what a meter reads, what plants stand; metals over the years
``acid_base``   charge curves, acids, water, where charges settle
``release``     nitrogen, phosphorus, lime and sulfur: what comes free, and how fast
``crops``       what crops want, and how they are fed
``vessels``     pots, volumes, air and water, loads, the order of work
``simulation``  a heap through time: one stepper for a line and an ensemble; what readings teach
``evaluation``  the one door: a plan and a shelf in, an `Evaluation` out
``old_soil``    last year's soil: questions, judgement, prescription
``lab``         laboratory reports, feed blends, what does the same job
``advice``      doses for a pH and a crop, jar tests, feeding plans
``curing``      what to do while a heap cures; the heap to train on
"""

from importlib import import_module
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from pelk.core.advice.goal import Goal as Goal
    from pelk.core.advice.proposals import propose as propose
    from pelk.core.advice.report import report as report
    from pelk.core.base.errors import PelkError as PelkError
    from pelk.core.evaluation.evaluate import evaluate as evaluate
    from pelk.core.materials.library import library as library
    from pelk.core.materials.material import Material as Material
    from pelk.core.materials.measures import GRAMS_PER_LITRE as GRAMS_PER_LITRE
    from pelk.core.materials.measures import DoseUnit as DoseUnit
    from pelk.core.plans.plan import Batch as Batch
    from pelk.core.plans.plan import Conditions as Conditions
    from pelk.core.plans.plan import Dose as Dose
    from pelk.core.plans.plan import Part as Part
    from pelk.core.plans.plan import Plan as Plan

# The public face: what a program that only reckons needs, loaded when it is asked for.
FACE = {
    "Batch": "plans.plan",
    "Conditions": "plans.plan",
    "Dose": "plans.plan",
    "DoseUnit": "materials.measures",
    "GRAMS_PER_LITRE": "materials.measures",
    "Goal": "advice.goal",
    "Material": "materials.material",
    "Part": "plans.plan",
    "PelkError": "base.errors",
    "Plan": "plans.plan",
    "evaluate": "evaluation.evaluate",
    "library": "materials.library",
    "propose": "advice.proposals",
    "report": "advice.report",
}


def __getattr__(name: str) -> Any:
    """Return what is asked of the face."""
    if name not in FACE:
        raise AttributeError(f"pelk.core has no {name!r}")
    return getattr(import_module(f"pelk.core.{FACE[name]}"), name)
