"""The one answer on lime and sulfur, in words: on the Bench, in Cure and at the pH desk."""

from dataclasses import dataclass

from pelk.core.advice.giving_doses import Advice
from pelk.core.advice.ph_answer import Outcome, PhAnswer
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig
from pelk.core.materials.material import Material
from pelk.ui.units import Measures

STATES = {
    Outcome.THERE: "good",
    Outcome.WAIT: "wait",
    Outcome.DOSE: "short",
    Outcome.TOO_SLOW: "wait",
    Outcome.TAKE_BACK: "stop",
    Outcome.NO_WAY: "stop",
}
ALL_OF_IT, NEXT_TO_NOTHING = 0.02, 0.98


@dataclass(frozen=True, slots=True)
class AnswerSaid:
    """An answer in words.

    Attributes
    ----------
    state : str
        Its mark.
    say : str
        What to do.
    then : str
        Where it leads, and how to give it.
    """

    state: str
    say: str
    then: str = ""

    @property
    def whole(self) -> str:
        """All of it in one line."""
        return f"{self.say} {self.then}".strip()


def answer_said(
    answer: PhAnswer,
    measures: Measures,
    litres: float,
    day: int,
    *,
    advice: Advice | None = None,
    quicker: Material | None = None,
    is_mixed: bool = False,
) -> AnswerSaid:
    """Return an answer in words.

    Parameters
    ----------
    answer : PhAnswer
        As the core gives it.
    measures : Measures
        How the yard writes amounts.
    litres : float
        Of mix. [L]
    day : int
        That was asked for. [d]
    advice : Advice, optional
        How to give a dose.
    quicker : Material, optional
        What does it by the day.
    is_mixed : bool
        It lies mixed already: what is too much can only be thinned.
    """
    span = ""
    if answer.ph_range is not None:
        span = f" ({written_ph(answer.ph_range[0])} to {written_ph(answer.ph_range[1])})"
    rests = f"Two years on, unplanted, it stands at {written_ph(answer.rest_ph)}."
    by_itself = f"By itself it stands at pH {written_ph(answer.ph_by_itself)} on day {day}"
    say, then = f"{by_itself}{span}.", rests
    if answer.outcome is Outcome.THERE:
        say = f"{by_itself}{span}: add nothing."
    elif answer.outcome is Outcome.WAIT:
        say = (
            f"The {answer.kind} in it is still working: look again on day {answer.look_again_day}."
        )
        then = f"{by_itself}{span}. {rests}"
    elif answer.outcome is Outcome.TAKE_BACK:
        say = _taken_back(answer, is_mixed=is_mixed)
        then = f"{by_itself}. Then two years on, unplanted, at {written_ph(answer.rest_ph)}."
    elif answer.outcome is Outcome.NO_WAY:
        say = f"{by_itself}. No {answer.kind} mends that: {answer.problem}."
    elif answer.plan is not None and answer.material is not None:
        say = _dosed(answer, measures, litres, day, span)
        half = (
            f" Half of it has reacted by day {answer.plan.half_day:.0f}."
            if answer.plan.half_day
            else ""
        )
        then = f"{rests}{half}"
        if quicker is not None:
            then += f" {quicker.short_name} gets it there by day {day}."
        elif answer.outcome is Outcome.TOO_SLOW:
            sort = "sourer" if answer.kind == "sulfur" else "sweeter"
            then += f" Quicker is a part that is {sort} by itself."
    if advice is not None and advice.is_split and answer.plan is not None:
        now = measures.mass(advice.at_once_g_l * litres, 2)
        then += f" Give {now} first and read again after {advice.wait_days} days."
    return AnswerSaid(STATES[answer.outcome], say, then)


def _dosed(answer: PhAnswer, measures: Measures, litres: float, day: int, span: str) -> str:
    plan, material = answer.plan, answer.material
    if plan is None or material is None:
        return ""
    name = material.spoken_name
    amount = (
        f"{measures.rate(plan.g_per_l)} of {name}, {measures.mass(plan.g_per_l * litres, 2)} in all"
    )
    wanted = f"{sig(answer.target_ph, 2)}"
    if answer.outcome is Outcome.DOSE:
        return f"{amount}: pH {wanted} by day {day}{span}."
    asked = (
        f"it would take {measures.rate(plan.hits_g_per_l)}"
        if plan.hits_g_per_l < 1e3
        else "no dose does it"
    )
    gets = (
        f"it gets there about day {plan.reached_day}"
        if plan.reached_day is not None
        else f"it does not get all the way, to pH {written_ph(plan.rest_ph)}"
    )
    return (
        f"Too slow for day {day}: {asked}, and would go on past what it may rest at. "
        f"The safe dose is {amount}; {gets}."
    )


def _taken_back(answer: PhAnswer, *, is_mixed: bool) -> str:
    kind, keep = answer.kind, answer.keep_share
    begun = f"Too much {kind} lies in it"
    if keep > NEXT_TO_NOTHING:
        return f"{begun}, by very little: leave it, and read it again."
    if keep < ALL_OF_IT:
        back = f"take all of the {kind} back"
        thin = "make it anew without it"
    else:
        back = f"take back {1 - keep:.0%} of the {kind}"
        thin = (
            f"thin each litre with {sig(answer.diluted_with, 2)} L of the same mix without {kind}"
        )
    if is_mixed:
        return f"{begun}: {thin}. Add nothing against it."
    return f"{begun}: {back}, or, where it is mixed, {thin}. Add nothing against it."
