"""Doses, and parts where allowed, from what is there: what a crop wants at least cost.

Everything is linear but the last step: doses are rounded to what a scale shows and the
whole is judged by the one judge; where it finds a fault, the sides are drawn in and it is
solved again. What is called met has no harm and no drift.
"""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from pelk.core.advice.disposal import G_PER_L
from pelk.core.advice.goal import Goal, check_goal
from pelk.core.advice.grades import Grade, Kind
from pelk.core.advice.judgement import Judgement, judge
from pelk.core.advice.part_choice import with_best_parts
from pelk.core.advice.proposal_rows import EC_DAY, Desk
from pelk.core.advice.proposal_words import NAMES, binds_of, conflicts_of, notes_of
from pelk.core.base.errors import UnknownError
from pelk.core.base.guards import answers
from pelk.core.base.integer_programme import Answer, Conflict, solve
from pelk.core.base.sources import cites
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.core.materials.cost import Package
from pelk.core.materials.material import Material
from pelk.core.plans.plan import Dose, Plan
from pelk.core.simulation.availability import ELEMENTS

STEP_G, FINE_STEP_G, FINE_UNDER_G = 5.0, 0.5, 50.0
PASSES = 6


@dataclass(frozen=True, slots=True)
class Proposal:
    """A plan with doses that meets the goal, or why there is none.

    Attributes
    ----------
    plan : Plan
        With the proposed doses; the nearest there is when not `is_met`.
    evaluation : Evaluation
        Of that plan.
    judgement : Judgement
        Of it; met is no harm and no drift.
    binds : tuple of str
        What holds it where it is, in sentences.
    conflicts : tuple of str
        Which wishes stand against each other, in sentences.
    misses : dict of str to float
        How far each wish is missed; empty when it is met.
    gap : float
        How far from the best it may be. [-]
    """

    plan: Plan
    evaluation: Evaluation
    judgement: Judgement
    is_met: bool
    binds: tuple[str, ...]
    conflicts: tuple[str, ...]
    misses: dict[str, float]
    gap: float
    cost: float
    notes: tuple[str, ...]


def propose(
    plan: Plan,
    shelf: Mapping[str, Material],
    goal: Goal,
    packages: Mapping[str, Package] | None = None,
) -> Proposal:
    """Return doses that give a mix what its crop wants.

    Parameters
    ----------
    plan : Plan
        Parts and batch; its doses are kept as they are.
    shelf : mapping of str to Material
        What may go in, and what the plan names.
    goal : Goal
        What is wished for.
    packages : mapping of str to Package, optional
        Prices, by slug.

    Returns
    -------
    Proposal
        Rounded to what a scale shows, and judged again by `evaluate`.

    Raises
    ------
    PelkError
        When the plan itself is impossible, or a wish is not known.
    """
    check_goal(goal)
    if goal.may_change_parts:
        plan = with_best_parts(plan, shelf, packages or {})
    base = evaluate(plan, shelf, samples=0)
    if base.forecast is None:
        raise UnknownError(base.acidity_problem, "bulk")
    desk = Desk(plan, base, base.forecast, goal, packages or {}, shelf)
    candidates = desk.candidates(shelf)
    rows = desk.rows()
    best: _Attempt | None = None
    for _ in range(PASSES):
        solution = solve(
            candidates, rows, fewest=goal.minimise == "ingredients", most_used=goal.most_used
        )
        amounts = solution.amounts if isinstance(solution, Answer) else solution.nearest
        dosed = _dosed(plan, amounts, base.volumes.mixed_l)
        result = evaluate(dosed, shelf, samples=0)
        attempt = _Attempt(dosed, result, judge(result), solution)
        best = attempt if best is None or attempt.score(desk) < best.score(desk) else best
        tighter = desk.tightened(rows, result, attempt.judgement)
        if isinstance(solution, Conflict) or tighter is None:
            break
        rows = tighter
    if best is None:
        raise UnknownError("nothing could be tried", "goal")
    sure = evaluate(best.plan, shelf)
    return _told(desk, replace(best, evaluation=sure, judgement=judge(sure)))


@dataclass(frozen=True, slots=True)
class _Attempt:
    """One solution with what it comes to."""

    plan: Plan
    evaluation: Evaluation
    judgement: Judgement
    solution: Answer | Conflict

    def score(self, desk: Desk) -> tuple[int, int, float]:
        """Return how far from met it is, the less the better: a shortage by what is short."""
        against = desk.against(self.judgement)
        harms = sum(f.grade is Grade.HARMS for f in against)
        missing = sum(
            1 - f.value / f.limit if f.kind is Kind.SHORT and f.value and f.limit else 1.0
            for f in against
        )
        return harms, int(isinstance(self.solution, Conflict)), missing


def _dosed(plan: Plan, amounts: Mapping[str, float], volume_l: float) -> Plan:
    """Return a plan with doses rounded to what a scale shows."""
    doses = [
        Dose(material=slug, amount=rounded_g(g_per_l * volume_l) / volume_l, unit=G_PER_L)
        for slug, g_per_l in amounts.items()
        if rounded_g(g_per_l * volume_l) > 0
    ]
    return replace(plan, doses=(*plan.doses, *doses))


@cites("trade", "half grams when small, fives when large")
@answers
def rounded_g(grams: float) -> float:
    """Return a weight as it is weighed out.

    Parameters
    ----------
    grams : float
        As computed. [g]

    Returns
    -------
    float
        As weighed. [g]
    """
    step = FINE_STEP_G if grams < FINE_UNDER_G else STEP_G
    return round(grams / step) * step


def _told(desk: Desk, best: _Attempt) -> Proposal:
    solution, against = best.solution, desk.against(best.judgement)
    stands = [f.text for f in against]
    tried = (best.plan, best.evaluation, best.judgement)
    if isinstance(solution, Conflict):
        conflicts = tuple(dict.fromkeys([*conflicts_of(desk, solution), *stands]))
        misses = _misses(desk, best, solution)
        return Proposal(*tried, False, (), conflicts, misses, 0.0, 0.0, tuple(desk.notes))
    return Proposal(
        *tried,
        not against,
        tuple(binds_of(desk, solution)),
        tuple(dict.fromkeys(stands)),
        {},
        solution.gap,
        solution.cost,
        tuple(notes_of(desk, solution, against)),
    )


def _misses(desk: Desk, best: _Attempt, solution: Conflict) -> dict[str, float]:
    """Return by how much the nearest misses each wish, in the unit that it is wished in."""
    misses = {NAMES.get(k, k): v for k, v in solution.misses.items() if k in ELEMENTS}
    ahead = best.evaluation.forecast
    if ahead is None:
        return misses
    for name, value in (("pH", float(ahead.ph[1][-1])), ("salts", float(ahead.ec[EC_DAY]))):
        low, high = desk.band(name)
        if not low <= value <= high:
            misses[NAMES[name]] = value - high if value > high else value - low
    return misses
