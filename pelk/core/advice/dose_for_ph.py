"""The dose that brings a mix to a pH on a day, in both directions, or why there is none."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from pelk.core.acid_base.buffering import CALCITE_PH, BlendCurve, Carbonate, blend_curve
from pelk.core.acid_base.equilibrium import settle
from pelk.core.base.elements import CACO3_G_PER_EQ, SULFUR_MEQ_PER_G, base_meq_per_g
from pelk.core.base.errors import UnreachableError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.materials.library import Material
from pelk.core.release.grains import fineness_score, lime_grade_of
from pelk.core.simulation.initial_state import Heap, with_doses
from pelk.core.simulation.run import Surroundings, simulate

MOST_LIME_G_L, MOST_SULFUR_G_L = 60.0, 10.0
LONG_RUN_DAYS = 180
LEAST_PH = 2.5
# Field formulas: share of lime that mixing uses, of sulfur that a season oxidises.
MIXING, OXIDISED = 0.8, 0.85
REFUSED_SULFUR_G_L = 3.0
SUGGESTED_OVER, LONG_RUN_OVER = 1.25, 0.3
PLANTED = {"lime": 1.0, "sulfur": 0.3}
UNPLANTED_SULFUR_G_L = 1.0
SPLIT_FAN, SPLIT_NEAR, MOST_STEP_PLANTED = 1.0, 0.3, 1.0
WAIT_DAYS = {
    "hydrated": 7,
    "calcitic_hort": 14,
    "dolomitic_hort": 28,
    "aglime": 120,
    "acid": 14,
    "sulfur": 60,
    "sulfur cool": 105,
    "prill_dispersing": 180,
}


@dataclass(frozen=True, slots=True)
class DosePlan:
    """A dose for a pH on a day, with what it leads to.

    Attributes
    ----------
    g_per_l : float
        For the target on the day. [g/L]
    full_g_per_l : float
        For the target once all of it has reacted. [g/L]
    suggested_g_per_l : float
        What Pelk suggests: never far past the target in the long run. [g/L]
    long_run_ph : float
        Of the dose for the day, after half a year. [pH]
    half_day, most_day : float or None
        By when half and nine tenths of it have reacted. [d]
    """

    g_per_l: float
    full_g_per_l: float
    suggested_g_per_l: float
    long_run_ph: float
    half_day: float | None
    most_day: float | None


def _ph_on(heap: Heap, around: Surroundings, day: int) -> float:
    return float(simulate(heap, around, max(day, 1))["ph"][-1])


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
def lime_dose(
    heap: Heap, around: Surroundings, lime: Material, target_ph: float, day: int
) -> DosePlan:
    """Return the lime that brings a mix to a pH on a day.

    Parameters
    ----------
    heap : Heap
        As it is, other doses included.
    around : Surroundings
        Where it lies.
    lime : Material
        Product; its CCE and fineness count.
    target_ph : float
        Wanted.
    day : int
        By when. [d]

    Returns
    -------
    DosePlan
        Zero when none is needed.

    Raises
    ------
    UnreachableError
        When lime cannot bring the mix there, with the reason.
    """
    if lime.cce is None or not lime.lime_grade:
        raise UnreachableError(f"{lime.name} is not a lime: it does not raise pH", "lime")
    if target_ph >= CALCITE_PH - 0.05:
        raise UnreachableError(
            f"lime stops dissolving near pH {CALCITE_PH:g}: no dose goes past it", "target_ph"
        )

    def short(rate: float) -> float:
        return _ph_on(with_doses(heap, [(lime, rate)]), around, day) - target_ph

    rate = _solve(short, MOST_LIME_G_L)
    if rate is None:
        raise UnreachableError(
            f"even {MOST_LIME_G_L:g} g/L does not reach pH {target_ph:g} by day {day}: "
            "give it longer, or a finer lime",
            "day",
        )
    full = full_reaction_lime(blend_curve(heap.components), heap, lime, target_ph)
    long_run = _ph_on(with_doses(heap, [(lime, rate)]), around, LONG_RUN_DAYS)
    suggested = min(max(full * SUGGESTED_OVER, 0.0), _capped(heap, around, lime, target_ph))
    trace = simulate(with_doses(heap, [(lime, max(rate, 0.01))]), around, 365)
    done = trace.daily("lime_meq_l")
    half, most = _days_to(done / max(float(done[-1]), 1e-9))
    return DosePlan(rate, full, suggested, long_run, half, most)


def _capped(heap: Heap, around: Surroundings, lime: Material, target_ph: float) -> float:
    """Return the most lime whose long-run pH stays within 0.3 of the target."""

    def short(rate: float) -> float:
        dosed = with_doses(heap, [(lime, rate)])
        return _ph_on(dosed, around, LONG_RUN_DAYS) - target_ph - LONG_RUN_OVER

    dose_g_l = _solve(short, MOST_LIME_G_L)
    return MOST_LIME_G_L if dose_g_l is None else dose_g_l


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


@cites("lime_scores", "effective calcium carbonate equivalent")
@cites("pelk", "mixing efficiency 0.8, fitted to soil lime tables")
@answers
def field_lime(base_meq_l: float, lime: Material, scheme: str = "ohio") -> float:
    """Return the lime of the static field formula, to compare with a table.

    Parameters
    ----------
    base_meq_l : float
        Needed. [meq/L]
    lime : Material
        Product.
    scheme : str
        Fineness scheme.

    Returns
    -------
    float
        Dose. [g/L]
    """
    grade = lime_grade_of(lime)
    cce = lime.cce.typ / 100 if lime.cce else grade.cce
    score = cce * fineness_score(grade.passing, scheme)
    return base_meq_l * CACO3_G_PER_EQ / 1000 / score / MIXING


@cites("blueberry_sulfur", "table met within 12 % with e_S 0.85 and buffers set to it")
@answers
def field_sulfur(acid_meq_l: float, depth_cm: float) -> float:
    """Return the sulfur of the static field formula for a bed.

    Parameters
    ----------
    acid_meq_l : float
        Needed, free carbonate included. [meq/L]
    depth_cm : float
        Worked in to this depth. [cm]

    Returns
    -------
    float
        Elemental sulfur. [g/m2]
    """
    return acid_meq_l * depth_cm * 10 / SULFUR_MEQ_PER_G / OXIDISED


@answers
def sulfur_dose(
    heap: Heap, around: Surroundings, sulfur: Material, target_ph: float, day: int
) -> DosePlan:
    """Return the sulfur that brings a mix to a pH on a day.

    Parameters
    ----------
    heap : Heap
        As it is, other doses included.
    around : Surroundings
        Where it lies.
    sulfur : Material
        Product; its elemental sulfur and fineness count.
    target_ph : float
        Wanted.
    day : int
        By when. [d]

    Returns
    -------
    DosePlan
        Zero when none is needed.

    Raises
    ------
    UnreachableError
        When free lime forbids it, or the day is too soon, with the reason.
    """
    content = sulfur.composition.get("S elemental")
    if sulfur.acidity_role != "sulfur" or content is None:
        raise UnreachableError(f"{sulfur.name} holds no elemental sulfur", "sulfur")
    if target_ph < LEAST_PH:
        raise UnreachableError(f"no mix is held under pH {LEAST_PH:g}", "target_ph")
    pure = content.typ / 100
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
            else f"it would take {full:.1f} kg of sulfur per m³, more than any mix stands",
            "target_ph",
        )

    def short(rate: float) -> float:
        return target_ph - _ph_on(with_doses(heap, [(sulfur, rate)]), around, day)

    rate = _solve(short, MOST_SULFUR_G_L)
    if rate is None:
        raise UnreachableError(
            f"sulfur is too slow for day {day} at this warmth: give it longer", "day"
        )
    dosed = with_doses(heap, [(sulfur, max(rate, 0.01))])
    done = simulate(dosed, around, 730).daily("sulfur_meq_l")
    total = max(dosed.dosed_acid_meq_l, 1e-9)
    half, most = _days_to(done / total)
    long_run = _ph_on(with_doses(heap, [(sulfur, rate)]), around, LONG_RUN_DAYS)
    return DosePlan(rate, full / pure, min(full / pure, rate), long_run, half, most)


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


@dataclass(frozen=True, slots=True)
class Advice:
    """How to give a dose: at most how much at once, and when to look again."""

    at_once_g_l: float
    is_split: bool
    wait_days: int
    reasons: tuple[str, ...]


@answers
def advise(
    kind: str,
    dose_g_l: float,
    *,
    grade: str = "",
    fan_width: float = 0.0,
    gap: float = 1.0,
    planted: bool = False,
    temperature_c: float = 20.0,
) -> Advice:
    """Return how much of a dose to give at once, and how long to wait.

    Parameters
    ----------
    kind : str
        ``lime`` or ``sulfur``.
    dose_g_l : float
        Computed. [g/L]
    grade : str
        Key of the lime or sulfur grade.
    fan_width : float
        p90 less p10 at the horizon. [pH]
    gap : float
        Target less where the mix rests, either sign. [pH]
    planted : bool
        A plant is in the pot.
    temperature_c : float
        Of the mix. [°C]

    Returns
    -------
    Advice
        With its reasons in words.
    """
    reasons, share = [], 1.0
    if fan_width > SPLIT_FAN:
        reasons.append("the forecast is wide")
    if planted:
        reasons.append("a plant stands in it")
    if abs(gap) < SPLIT_NEAR:
        reasons.append("the target is near")
    if reasons:
        share = 0.5
    most = dose_g_l * share
    if planted:
        most = min(most, PLANTED[kind])
        if abs(gap) > MOST_STEP_PLANTED:
            most = min(most, dose_g_l * MOST_STEP_PLANTED / abs(gap))
    elif kind == "sulfur":
        most = min(most, UNPLANTED_SULFUR_G_L)
    if kind == "sulfur":
        cool = temperature_c < 20
        wait = WAIT_DAYS.get(grade) or WAIT_DAYS["sulfur cool" if cool else "sulfur"]
    else:
        wait = WAIT_DAYS.get(grade, 28)
    return Advice(most, most < dose_g_l - 1e-9, wait, tuple(reasons))


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
