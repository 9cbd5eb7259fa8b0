"""One question, one answer: what, if anything, brings a mix to a pH by a day.

Every page that is asked for lime or sulfur asks here. What still works counts, lime and
sulfur never fight, and no dose rests further past the edge than the one margin of all advice.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from pelk.core.advice.dose_for_ph import NEAR_PH, DosePlan, Errand, lime_dose, rest_day, sulfur_dose
from pelk.core.base.errors import PelkError
from pelk.core.base.limits import limit
from pelk.core.base.quantities import PH
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.simulation.ensemble import Posterior, ensemble
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import with_doses
from pelk.core.simulation.run import Surroundings, simulate

Floats = NDArray[np.float64]

# Nearer than a pen can tell.
NEAR = 0.1
# Less than this left of a dose is spent; a course that moves less than this has done its work.
SPENT, MOVES = 0.05, 0.1
# A mix at work is looked at again after this long at the latest, and this soon at the earliest.
LOOK_AGAIN, LOOK_SOON = 60, 7
LONGEST_WISH_DAYS = 365
HALVINGS = 14
RANGE_SAMPLES = 100


class Outcome(StrEnum):
    """What is answered."""

    THERE = "there"
    WAIT = "wait"
    DOSE = "dose"
    TOO_SLOW = "too slow"
    TAKE_BACK = "take back"
    NO_WAY = "no way"


@dataclass(frozen=True, slots=True, kw_only=True)
class PhAnswer:
    """What to do for a pH by a day.

    Attributes
    ----------
    outcome : Outcome
        Dose, or why not.
    kind : str
        ``lime`` or ``sulfur``: what is given, waited for or taken back; empty for neither.
    ph_by_itself : float
        On the day, with what lies in it. [pH]
    target_ph : float
        Asked for. [pH]
    material : Material or None
        What to give.
    plan : DosePlan or None
        How much, and where it leads.
    look_again_day : int or None
        When what lies in it has done its work, or should be looked at. [d]
    keep_share : float
        Of the lime or sulfur that lies in it, how much may stay; 1 for all. [-]
    rest_ph : float
        Two years on, once this was done. [pH]
    ph_range : tuple of float
        8 in 10 on the day, once this was done. [pH]
    problem : str
        Why there is no way, in words.
    """

    outcome: Outcome
    ph_by_itself: float
    target_ph: float
    rest_ph: float
    kind: str = ""
    material: Material | None = None
    plan: DosePlan | None = None
    look_again_day: int | None = None
    keep_share: float = 1.0
    ph_range: tuple[float, float] | None = None
    problem: str = ""

    @property
    def diluted_with(self) -> float:
        """Litres of the same mix without it that thin a litre as far. [L/L]."""
        return 1 / max(self.keep_share, 1e-3) - 1

    @property
    def g_per_l(self) -> float:
        """What to give. [g/L]."""
        return self.plan.g_per_l if self.plan else 0.0


@cites("pelk", "the course solved for a day; what still works counts; never lime against sulfur")
def ph_answer(
    heap: Heap,
    around: Surroundings,
    errand: Errand,
    limes: Sequence[Material],
    sulfurs: Sequence[Material],
    learned: Posterior | None = None,
    *,
    with_range: bool = False,
) -> PhAnswer:
    """Return what brings a mix to a pH by a day, or why to keep still.

    Parameters
    ----------
    heap : Heap
        As it is, doses included.
    around : Surroundings
        Where it lies.
    errand : Errand
        What is wanted, by when, and what grows in it.
    limes, sulfurs : sequence of Material
        To choose from, the preferred first.
    learned : Posterior, optional
        What readings taught, for the range.
    with_range : bool
        Draw the range on the day too.

    Returns
    -------
    PhAnswer
        What to do.

    Raises
    ------
    PelkError
        When the wish is none.
    """
    PH.check(errand.target_ph, "target_ph")
    if not 1 <= errand.day - errand.given <= LONGEST_WISH_DAYS:
        raise PelkError(f"found day {errand.day}, allowed: from 1 to {LONGEST_WISH_DAYS}", "day")
    asked = _Asked(heap, around, errand)
    answer = asked.answer(limes, sulfurs)
    if not with_range:
        return answer
    after = asked.after(answer)
    drawn = ensemble(after, around, errand.day, RANGE_SAMPLES, learned=learned)["ph"][-1]
    low, high = (float(q) for q in np.quantile(drawn, (0.1, 0.9)))
    middle = float(simulate(after, around, errand.day, errand.draws)["ph"][-1])
    return replace(answer, ph_range=(min(low, middle), max(high, middle)))


class _Asked:
    """A question on its way to an answer."""

    def __init__(self, heap: Heap, around: Surroundings, errand: Errand) -> None:
        self.heap, self.around, self.errand = heap, around, errand
        self.line = simulate(heap, around, rest_day(errand.given), errand.draws)
        self.daily = self.line.daily("ph")
        self.by_itself = float(self.daily[errand.day])

    def answer(self, limes: Sequence[Material], sulfurs: Sequence[Material]) -> PhAnswer:
        up = 1 if self.errand.target_ph > self.by_itself else -1
        if abs(self.errand.target_ph - self.by_itself) < NEAR:
            return self._rests() or self._said(Outcome.THERE)
        at_work = self._at_work(up)
        if at_work is not None:
            return at_work
        if self._unspent(-up) > SPENT:
            too_far = self._goes_too_far(-up, by_harm=self.errand.is_mixed)
            return self._taken_back(-up) if too_far else self._let_work(-up)
        kind, choices = ("lime", limes) if up > 0 else ("sulfur", sulfurs)
        if not choices:
            return self._said(Outcome.NO_WAY, kind=kind, problem=f"there is no {kind} to dose")
        solve = lime_dose if up > 0 else sulfur_dose
        try:
            plan = solve(self.heap, self.around, choices[0], self.errand)
        except PelkError as error:
            return self._said(Outcome.NO_WAY, kind=kind, problem=error.message)
        outcome = Outcome.TOO_SLOW if plan.is_too_slow else Outcome.DOSE
        if plan.g_per_l <= 0:
            outcome = Outcome.NO_WAY
        return replace(
            self._said(outcome, kind=kind, material=choices[0], plan=plan), rest_ph=plan.rest_ph
        )

    def _said(self, outcome: Outcome, **more: object) -> PhAnswer:
        return PhAnswer(
            outcome=outcome,
            ph_by_itself=self.by_itself,
            target_ph=self.errand.target_ph,
            rest_ph=float(self.daily[-1]),
            **more,  # type: ignore[arg-type]
        )

    def _goes_too_far(self, up: int, *, by_harm: bool) -> bool:
        """Return whether unspent lime (up) or sulfur takes it further than it may rest.

        What is on its way, or mixed in already, is not picked out again for a drift (`by_harm`):
        that is said, and read.
        """
        margin = 0.0
        if by_harm:
            margin = limit("ph_keeps", "harms_beyond") - limit("ph_keeps", "drifts_beyond")
        worst = up * float(np.max(up * self.daily[self.errand.day :]))
        return up * (worst - self.errand.edge(up)) > margin and self._unspent(up) > SPENT

    def _rests(self) -> PhAnswer | None:
        """Return what to take back where a mix gets there by itself and goes on too far."""
        return next(
            (self._taken_back(up) for up in (1, -1) if self._goes_too_far(up, by_harm=True)), None
        )

    def _unspent(self, up: int) -> float:
        """Return the share of the lime, or of the sulfur, that still lies there. [-]."""
        whole = self.heap.limed_meq_l if up > 0 else self.heap.dosed_acid_meq_l
        if not whole:
            return 0.0
        key = "lime_meq_l" if up > 0 else "sulfur_meq_l"
        done = float(np.interp(self.errand.given, self.line.edges, self.line[key]))
        return 1 - done / whole

    def _at_work(self, up: int) -> PhAnswer | None:
        """Return that what lies there gets it there, where it does."""
        errand = self.errand
        if self._unspent(up) <= SPENT:
            return None
        ahead = self.daily[errand.given :]
        there = np.flatnonzero(up * (ahead - errand.target_ph) >= -NEAR)
        if not there.size:
            inside = up * (ahead - _near_edge(errand, up)) >= 0
            there = np.flatnonzero(inside) if not inside[0] else there
        if not there.size:
            return None
        look = errand.given + max(min(int(there[0]), LOOK_AGAIN), LOOK_SOON)
        kind = "lime" if up > 0 else "sulfur"
        return self._rests() or self._said(Outcome.WAIT, kind=kind, look_again_day=look)

    def _let_work(self, up: int) -> PhAnswer:
        """Return to wait for what goes past the wish, but no further than it may."""
        look = self.errand.given + LOOK_AGAIN
        kind = "lime" if up > 0 else "sulfur"
        return self._said(Outcome.WAIT, kind=kind, look_again_day=look)

    def _taken_back(self, up: int) -> PhAnswer:
        """Return how much of the lime (up) or sulfur (down) that lies there may stay."""
        errand = self.errand
        wanted = errand.target_ph

        def past(share: float) -> float:
            kept = keeping(self.heap, up, share)
            course = simulate(kept, self.around, rest_day(errand.given), errand.draws)["ph"]
            return up * (float(course[-1]) - wanted)

        kind = "lime" if up > 0 else "sulfur"
        if past(1.0) <= 0:
            return self._let_work(up)
        share = 0.0
        if past(share) <= 0:
            low, high = 0.0, 1.0
            for _ in range(HALVINGS):
                middle = (low + high) / 2
                low, high = (low, middle) if past(middle) > 0 else (middle, high)
            share = low
        kept = keeping(self.heap, up, share)
        rest = simulate(kept, self.around, rest_day(errand.given), errand.draws)["ph"]
        return replace(
            self._said(Outcome.TAKE_BACK, kind=kind, keep_share=share), rest_ph=float(rest[-1])
        )

    def after(self, answer: PhAnswer) -> Heap:
        """Return the mix once the answer was followed."""
        if answer.outcome is Outcome.TAKE_BACK:
            return keeping(self.heap, 1 if answer.kind == "lime" else -1, answer.keep_share)
        if answer.material is not None and answer.plan is not None:
            dose = [(answer.material, answer.plan.g_per_l)]
            return with_doses(self.heap, dose, day=float(self.errand.given))
        return self.heap


def _near_edge(errand: Errand, up: int) -> float:
    """Return the edge of the band that a mix on its way there comes to first. [pH]."""
    low, high = errand.band or (errand.target_ph, errand.target_ph)
    return (low if up > 0 else high) - up * NEAR_PH


def keeping(heap: Heap, up: int, share: float) -> Heap:
    """Return a mix with a share of its lime (up) or of its sulfur (down) left in it."""
    if up > 0:
        solids = tuple(
            replace(s, base_meq_l=s.base_meq_l * share) if s.is_lime else s for s in heap.solids
        )
        return replace(heap, solids=solids)
    sulfurs = tuple(replace(s, acid_meq_l=s.acid_meq_l * share) for s in heap.sulfurs)
    return replace(heap, sulfurs=sulfurs)
