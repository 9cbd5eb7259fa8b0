"""The dose that brings a mix to a pH on a day, in both directions, or why there is none."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.buffering import CALCITE_PH, BlendCurve, Carbonate, blend_curve
from pelk.core.acid_base.equilibrium import settle
from pelk.core.base.elements import SULFUR_MEQ_PER_G, base_meq_per_g
from pelk.core.base.errors import UnreachableError
from pelk.core.base.guards import answers
from pelk.core.base.limits import limit
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import with_doses
from pelk.core.simulation.run import CENTRAL, LONGEST_DAYS, Draws, Surroundings, Trace, simulate

Floats = NDArray[np.float64]

MOST_LIME_G_L, MOST_SULFUR_G_L = 60.0, 10.0
# A dose is judged over two years; where it rests, by the one margin of all advice.
REST_DAYS, JUDGED_FROM, EDGE_SLACK = 730, 180, 0.005
RESTS_WITHIN = limit("ph_keeps", "drifts_beyond")
# A day that asks for more than this times the safe dose is too soon.
TOO_MUCH, LEAST_G_L, NEAR_PH = 1.25, 0.005, 0.05
LEAST_PH = 2.5
REFUSED_SULFUR_G_L = limit("ph", "sulfur_refused_g_l")


@dataclass(frozen=True, slots=True)
class DosePlan:
    """A dose for a pH on a day, cut back to what a mix may rest at.

    Attributes
    ----------
    g_per_l : float
        To give: the least of what hits the day and of what rests inside the edge. [g/L]
    hits_g_per_l : float
        For the target on the day; infinite where none gets there by then. [g/L]
    full_g_per_l : float
        For the target once all of it has reacted. [g/L]
    reached_day : int or None
        When the dose to give gets to the target; None within two years. [d]
    ph_on_day, rest_ph : float
        With the dose to give, on the day and two years after it was given. [pH]
    half_day, most_day : float or None
        By when half and nine tenths of it have reacted. [d]
    """

    g_per_l: float
    hits_g_per_l: float
    full_g_per_l: float
    reached_day: int | None
    ph_on_day: float
    rest_ph: float
    half_day: float | None
    most_day: float | None

    @property
    def is_too_slow(self) -> bool:
        """Whether the day asks for much more than the mix may be given."""
        return self.hits_g_per_l > TOO_MUCH * self.g_per_l + LEAST_G_L


@dataclass(frozen=True, slots=True, kw_only=True)
class Errand:
    """A pH that a mix is to have on a day.

    Attributes
    ----------
    target_ph : float
        Wanted. [pH]
    day : int
        By when, from mixing on. [d]
    given : int
        When the dose goes in. [d]
    band : tuple of float or None
        What grows in it wants; how far past it a mix may rest is counted from its edges. [pH]
    draws : Draws
        What readings taught of the mix.
    is_mixed : bool
        It lies mixed already: nothing can be left out of it.
    """

    target_ph: float
    day: int
    given: int = 0
    band: tuple[float, float] | None = None
    draws: Draws = CENTRAL
    is_mixed: bool = False

    def edge(self, up: int) -> float:
        """Return how far a mix may drift: up with lime, down with sulfur. [pH]."""
        wanted = [self.target_ph, *(self.band or ())]
        return max(wanted) + RESTS_WITHIN if up > 0 else min(wanted) - RESTS_WITHIN


def rest_day(given: int) -> int:
    """Return the day a dose is judged up to: two years on, as far as a heap is followed. [d].

    Parameters
    ----------
    given : int
        When it is given. [d]
    """
    return min(given + REST_DAYS, LONGEST_DAYS)


class _Trials:
    """One product tried at one rate after the other in one mix."""

    def __init__(
        self, heap: Heap, around: Surroundings, material: Material, errand: Errand
    ) -> None:
        self.heap, self.around, self.material, self.errand = heap, around, material, errand
        self.up = 1 if material.lime_grade else -1

    def dosed(self, rate: float) -> Heap:
        return with_doses(self.heap, [(self.material, rate)], day=float(self.errand.given))

    def course(self, rate: float, days: int) -> Trace:
        return simulate(self.dosed(rate), self.around, max(days, 1), self.errand.draws)

    def short_of_day(self, rate: float) -> float:
        ph = float(self.course(rate, self.errand.day)["ph"][-1])
        return self.up * (ph - self.errand.target_ph)

    def past_edge(self, rate: float) -> float:
        """Return how far the worst of two years lies past the edge, once the day is there."""
        errand, up = self.errand, self.up
        trace = self.course(rate, rest_day(errand.given))
        ahead = trace["ph"][trace.edges >= min(errand.day, errand.given + JUDGED_FROM)]
        return up * (float(up * np.max(up * ahead)) - errand.edge(up))

    def plan(self, most: float, full: float) -> DosePlan:
        """Return the dose to give.

        Raises
        ------
        UnreachableError
            When nothing of it gets there in two years either.
        """
        errand, up = self.errand, self.up
        hits = _solve(self.short_of_day, most)
        rate = most if hits is None else hits
        if rate > 0 and self.past_edge(rate) > EDGE_SLACK:
            rate = _solve(self.past_edge, rate) or 0.0
        trace = self.course(rate, rest_day(errand.given))
        daily = trace.daily("ph")
        there = np.flatnonzero(up * (daily[errand.given :] - errand.target_ph) >= -NEAR_PH)
        if hits is None and not there.size:
            slow = "a finer one" if up > 0 else "more warmth"
            raise UnreachableError(
                f"{self.material.spoken_name} does not bring it to pH {errand.target_ph:g} "
                f"within two years: it wants {slow}, or another part",
                "day",
            )
        key = "lime_meq_l" if up > 0 else "sulfur_meq_l"
        half, most_day = _worked(trace.daily(key), self.dosed(rate), up)
        return DosePlan(
            rate,
            np.inf if hits is None else hits,
            full,
            errand.given + int(there[0]) if there.size else None,
            float(daily[min(errand.day, len(daily) - 1)]),
            float(daily[-1]),
            half,
            most_day,
        )


def _worked(daily: Floats, dosed: Heap, up: int) -> tuple[float | None, float | None]:
    """Return by when half and nine tenths of what lies in a dosed mix have reacted."""
    whole = dosed.limed_meq_l if up > 0 else dosed.dosed_acid_meq_l
    return _days_to(daily / whole) if whole > 1e-9 else (None, None)


def _solve(short: Callable[[float], float], most: float) -> float | None:
    """Return where a rising function crosses zero, or None when it does not."""
    low, high = 0.0, most
    if short(low) >= 0:
        return 0.0
    if short(high) < 0:
        return None
    from scipy.optimize import brentq  # noqa: PLC0415  (loaded once a dose is sought)

    return float(brentq(short, low, high, xtol=1e-3, rtol=1e-4, maxiter=40))


@answers
def lime_dose(heap: Heap, around: Surroundings, lime: Material, errand: Errand) -> DosePlan:
    """Return the lime that brings a mix to a pH on a day.

    Parameters
    ----------
    heap : Heap
        As it is, other doses included.
    around : Surroundings
        Where it lies.
    lime : Material
        Product; its CCE and fineness count.
    errand : Errand
        What is wanted.

    Returns
    -------
    DosePlan
        Zero when none is needed.

    Raises
    ------
    UnreachableError
        When lime cannot bring the mix there, with the reason.
    """
    target_ph = errand.target_ph
    if lime.cce is None or not lime.lime_grade:
        raise UnreachableError(f"{lime.name} is not a lime: it does not raise pH", "lime")
    if target_ph >= CALCITE_PH - 0.05:
        raise UnreachableError(
            f"lime stops dissolving near pH {CALCITE_PH:g}: no dose goes past it", "target_ph"
        )
    full = full_reaction_lime(blend_curve(heap.components), heap, lime, target_ph)
    return _Trials(heap, around, lime, errand).plan(MOST_LIME_G_L, full)


@cites("arithmetic", "charge to the target, less base that is still to come")
def full_reaction_lime(curve: BlendCurve, heap: Heap, lime: Material, target_ph: float) -> float:
    """Return the lime for a pH once all of it has reacted.

    Parameters
    ----------
    curve : BlendCurve
        Of the parts.
    heap : Heap
        With what lies in it already.
    lime : Material
        Product.
    target_ph : float
        Wanted.

    Returns
    -------
    float
        Dose. [g/L]
    """
    there = heap.start_base_meq_l - heap.dosed_acid_meq_l
    there -= sum(acid for _, acid in heap.strong)
    there += sum(s.base_meq_l for s in heap.solids if s.saturation_ph > target_ph)
    cce = lime.cce.typ / 100 if lime.cce else 1.0
    return max(curve.base_at(target_ph) - there, 0.0) / base_meq_per_g(cce)


@answers
def sulfur_dose(heap: Heap, around: Surroundings, sulfur: Material, errand: Errand) -> DosePlan:
    """Return the sulfur that brings a mix to a pH on a day.

    Parameters
    ----------
    heap : Heap
        As it is, other doses included.
    around : Surroundings
        Where it lies.
    sulfur : Material
        Product; its elemental sulfur and fineness count.
    errand : Errand
        What is wanted.

    Returns
    -------
    DosePlan
        Zero when none is needed.

    Raises
    ------
    UnreachableError
        When free lime forbids it, with the reason.
    """
    target_ph, content = errand.target_ph, sulfur.composition.get("S elemental")
    if sulfur.acidity_role != "sulfur" or content is None:
        raise UnreachableError(f"{sulfur.name} holds no elemental sulfur", "sulfur")
    if target_ph < LEAST_PH:
        raise UnreachableError(f"no mix is held under pH {LEAST_PH:g}", "target_ph")
    curve = blend_curve(heap.components)
    base = [Carbonate(s.base_meq_l, s.saturation_ph) for s in heap.solids]
    full = _full_sulfur(curve, heap, base, target_ph)
    if full > REFUSED_SULFUR_G_L:
        left = sum(c.base_meq_l for c in base if c.saturation_ph > target_ph)
        raise UnreachableError(
            f"it would take {full:.1f} kg of sulfur per m³, of which "
            f"{left / SULFUR_MEQ_PER_G:.1f} only to use up the free lime: choose another "
            "part"
            if left > 5
            else f"it would take {full:.1f} kg of sulfur per m³, more than any mix can bear",
            "target_ph",
        )
    return _Trials(heap, around, sulfur, errand).plan(MOST_SULFUR_G_L, full / (content.typ / 100))


def _full_sulfur(curve: BlendCurve, heap: Heap, base: list[Carbonate], target_ph: float) -> float:
    there = heap.start_base_meq_l - sum(acid for _, acid in heap.strong)
    there += sum(c.base_meq_l for c in base if c.saturation_ph > target_ph)
    there -= heap.dosed_acid_meq_l
    return max(there - curve.base_at(target_ph), 0.0) / SULFUR_MEQ_PER_G


def _days_to(
    share: np.ndarray[tuple[int], np.dtype[np.float64]],
) -> tuple[float | None, float | None]:
    days: list[float | None] = []
    for level in (0.5, 0.9):
        past = np.flatnonzero(share >= level)
        days.append(float(past[0]) if past.size else None)
    return days[0], days[1]


@cites("arithmetic", "charge balance come to rest")
def rest_ph(heap: Heap) -> float:
    """Return where a heap rests once all lime, sulfur and acids have acted.

    Parameters
    ----------
    heap : Heap
        With its doses.

    Returns
    -------
    float
        pH. [-]
    """
    acid = heap.dosed_acid_meq_l + sum(a for _, a in heap.strong)
    solids = [Carbonate(s.base_meq_l, s.saturation_ph) for s in heap.solids]
    return settle(blend_curve(heap.components), heap.start_base_meq_l - acid, solids).ph
