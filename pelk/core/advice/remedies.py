"""The fix with the fault: candidates, each run through the same evaluation and the same judge."""

from dataclasses import replace
from itertools import islice

from pelk.core.advice.grades import Finding, Grade, Remedy
from pelk.core.advice.judged_supply import reaches_of
from pelk.core.advice.judgement import Judgement
from pelk.core.advice.remedy_candidates import (
    MOST_CONFIRMED,
    MOST_TRIED,
    Mending,
    Pantry,
    Trial,
    candidates,
)
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.plans.plan import Plan
from pelk.core.simulation.forecast import JUDGED_DAY

MOST_OFFERED, MOST_FINDINGS = 3, 3


def remedied(plan: Plan, pantry: Pantry, evaluation: Evaluation, judgement: Judgement) -> Judgement:
    """Return a judgement with a fix beside each of its gravest findings, where there is one.

    Parameters
    ----------
    plan : Plan
        Of the evaluation.
    pantry : Pantry
        What may come in.
    evaluation : Evaluation
        Of the plan, with its ensemble.
    judgement : Judgement
        Of the evaluation.

    Returns
    -------
    Judgement
        At most three remedies on each of at most three findings; only those that were
        confirmed with the ensemble.
    """
    mending = Mending(plan, pantry, evaluation, judgement)
    findings = list(judgement.findings)
    passing = {i: _passing(mending, f) for i, f in enumerate(findings[:MOST_FINDINGS])}
    offered: dict[int, list[Remedy]] = {i: [] for i in passing}
    # The best of each finding is confirmed before the second best of any.
    for place in range(MOST_OFFERED):
        for i, tried in passing.items():
            if place < len(tried):
                remedy = _confirmed(mending, findings[i], tried[place])
                offered[i] += [] if remedy is None else [remedy]
    for i, remedies in offered.items():
        findings[i] = replace(findings[i], remedies=tuple(remedies))
    return replace(judgement, findings=tuple(findings))


def _passing(mending: Mending, finding: Finding) -> list[Trial]:
    """Return the candidates that mend a finding on the central line, least change first."""
    passed: list[Trial] = []
    for candidate in islice(candidates(mending, finding), MOST_TRIED):
        outcome = mending.judged(candidate.plan)
        if outcome is None:
            continue
        candidate.result, candidate.judged = outcome
        if mends(finding, mending.judgement, candidate.judged):
            passed.append(candidate)
            if len(passed) >= MOST_CONFIRMED:
                break
    return sorted(passed, key=lambda t: t.size)


def mends(finding: Finding, before: Judgement, after: Judgement) -> bool:
    """Return whether a finding is less grave, with no new harm and nothing worse in all."""
    left = max(
        (f.grade for f in after.findings if (f.kind, f.of) == (finding.kind, finding.of)),
        default=Grade.FINE,
    )
    hurt_before = {(f.kind, f.of) for f in before.harms}
    new_harm = any((f.kind, f.of) not in hurt_before for f in after.harms)
    return (
        left < finding.grade
        and not new_harm
        and _counted(after) <= _counted(before)
        and not _costs_the_day(before, after)
    )


# A fix may cost so many days of waiting, no more. [d]
MOST_LATER_DAYS = 30


def _costs_the_day(before: Judgement, after: Judgement) -> bool:
    """Return whether a fix trades a ready day for none, or for one far off."""
    if before.ready_day is None:
        return False
    return after.ready_day is None or after.ready_day > before.ready_day + MOST_LATER_DAYS


def _counted(judgement: Judgement) -> tuple[int, int]:
    """Return how many findings harm, and how many drift."""
    drifts = sum(f.grade is Grade.DRIFTS for f in judgement.findings)
    return len(judgement.harms), drifts


def _confirmed(mending: Mending, finding: Finding, candidate: Trial) -> Remedy | None:
    outcome = mending.confirm(candidate.plan)
    if outcome is None or not mends(finding, mending.judgement, outcome[1]):
        return None
    before, after = figures_of(mending.evaluation), figures_of(outcome[0])
    if finding.value is not None:
        before["value"] = finding.value
        same = (finding.kind, finding.of)
        left = [f.value for f in outcome[1].findings if (f.kind, f.of) == same]
        if left and left[0] is not None:
            after["value"] = left[0]
    return Remedy(candidate.text, candidate.changes, before, after)


def figures_of(evaluation: Evaluation) -> dict[str, float]:
    """Return what stands before and after a remedy: pH, salts, air, the ready day."""
    figures: dict[str, float] = {}
    ahead = evaluation.forecast
    if ahead is not None:
        figures = {"ph": ahead.ph_on(JUDGED_DAY), "ec_ds_m": float(ahead.ec[30])}
        if ahead.ready.p50 is not None:
            figures["ready_day"] = ahead.ready.p50
    if evaluation.pot is not None:
        figures["air"] = max(evaluation.pot.air_filled, 0.0)
    if evaluation.supply is not None:
        figures["nitrogen"] = reaches_of(evaluation.supply.elements["N"])
    return figures


# Changes of a plan ---------------------------------------------------------------------


# Candidates by kind --------------------------------------------------------------------
