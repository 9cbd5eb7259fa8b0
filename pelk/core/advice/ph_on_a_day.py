"""A pH on a day, for a mix on the Bench: the one answer, and what a bed table would do here."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from pelk.core.advice.disposal import disposed
from pelk.core.advice.dose_for_ph import Errand, rest_ph
from pelk.core.advice.giving_doses import Advice, advise
from pelk.core.advice.ph_answer import Outcome, PhAnswer, ph_answer
from pelk.core.base.elements import SULFUR_MEQ_PER_G
from pelk.core.base.errors import UnknownError
from pelk.core.base.sources import cites
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.material import Material
from pelk.core.plans.plan import Plan
from pelk.core.simulation.forecast import surroundings_of
from pelk.core.simulation.initial_state import with_doses

# Buffer capacity of the loam that bed tables are made for, as the library's topsoil.
LOAM_MEQ_L_PH = 35.0
OVERSHOOT = 0.3
GIVEN = (Outcome.DOSE, Outcome.TOO_SLOW)


@dataclass(frozen=True, slots=True)
class DoseForDay:
    """What brings a mix to a pH on a day.

    Attributes
    ----------
    answer : PhAnswer
        The one answer.
    quicker : Material or None
        A product that does it by the day, where the first choice is too slow.
    loam_g_per_l, loam_ph : float or None
        What a bed table for loam would give here, and where that would come to rest;
        None unless it overshoots.
    """

    answer: PhAnswer
    advice: Advice | None = None
    quicker: Material | None = None
    loam_g_per_l: float | None = None
    loam_ph: float | None = None


@cites("pelk", "the course solved for a day; loam 35 meq/L/pH")
def dose_for_day(
    plan: Plan,
    shelf: Mapping[str, Material],
    evaluation: Evaluation,
    target_ph: float,
    day: int,
    limes: Sequence[Material],
    sulfurs: Sequence[Material],
) -> DoseForDay:
    """Return what brings a mix to a pH on a day.

    Parameters
    ----------
    plan : Plan
        The mix as it is, doses included.
    shelf : mapping of str to Material
        What it names.
    evaluation : Evaluation
        Of the plan.
    target_ph : float
        Wanted.
    day : int
        By when. [d]
    limes, sulfurs : sequence of Material
        To choose from, the preferred first.

    Returns
    -------
    DoseForDay
        The answer with where it leads, past the judge.

    Raises
    ------
    PelkError
        When the wish is none, or nothing is known of its pH.
    """
    ahead, conditions = evaluation.forecast, plan.conditions
    if ahead is None:
        raise UnknownError(evaluation.acidity_problem, "bulk")
    heap, around = ahead.heap, surroundings_of(conditions)
    errand = Errand(target_ph=target_ph, day=day, band=ahead.limits.band)
    answer = ph_answer(heap, around, errand, limes, sulfurs, with_range=True)
    answer = disposed(answer, plan, shelf, evaluation)
    advice = quicker = loam = loam_ph = None
    if answer.outcome in GIVEN and answer.material is not None:
        advice = advise(
            answer.kind,
            answer.g_per_l,
            grade=answer.material.lime_grade or answer.material.sulfur_grade,
            gap=target_ph - answer.ph_by_itself,
            temperature_c=conditions.temperature_c,
        )
    if answer.outcome is Outcome.TOO_SLOW:
        others = (limes if answer.kind == "lime" else sulfurs)[1:]
        for other in others:
            tried = ph_answer(heap, around, errand, [other], [other])
            if tried.outcome is Outcome.DOSE:
                quicker = other
                break
    if answer.kind == "sulfur" and answer.material is not None:
        loam = LOAM_MEQ_L_PH * (answer.ph_by_itself - target_ph) / SULFUR_MEQ_PER_G
        loam_ph = rest_ph(with_doses(heap, [(answer.material, loam)]))
        if loam_ph > target_ph - OVERSHOOT:
            loam, loam_ph = None, None
    return DoseForDay(answer, advice, quicker, loam, loam_ph)
