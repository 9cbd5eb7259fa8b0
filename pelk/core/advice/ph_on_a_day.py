"""A pH on a day: which way, how much of what, and what a bed table would do here."""

from collections.abc import Sequence
from dataclasses import dataclass

from pelk.core.advice.dose_for_ph import Advice, DosePlan, advise, lime_dose, rest_ph, sulfur_dose
from pelk.core.base.elements import SULFUR_MEQ_PER_G
from pelk.core.base.errors import PelkError
from pelk.core.base.quantities import PH
from pelk.core.base.sources import cites
from pelk.core.materials.library import Material
from pelk.core.plans.plan import Conditions
from pelk.core.simulation.forecast import Forecast, surroundings_of
from pelk.core.simulation.initial_state import with_doses

# Buffer capacity of the loam that bed tables are made for, as the library's topsoil.
LOAM_MEQ_L_PH = 35.0
NEAR_ENOUGH, OVERSHOOT = 0.05, 0.3
LONGEST_DAYS = 365


@dataclass(frozen=True, slots=True)
class DoseForDay:
    """What brings a mix to a pH on a day.

    Attributes
    ----------
    kind : str
        ``lime``, ``sulfur``, or ``none`` where the mix is there by itself.
    material : Material or None
        What to dose.
    plan : DosePlan or None
        How much, and where it leads.
    loam_g_per_l, loam_ph : float or None
        What a bed table for loam would give here, and where that would come to rest;
        None unless it overshoots.
    """

    kind: str
    ph_by_itself: float
    material: Material | None = None
    plan: DosePlan | None = None
    advice: Advice | None = None
    loam_g_per_l: float | None = None
    loam_ph: float | None = None


@cites("pelk", "the course solved for a day; loam 35 meq/L/pH")
def dose_for_day(
    ahead: Forecast,
    conditions: Conditions,
    target_ph: float,
    day: int,
    limes: Sequence[Material],
    sulfurs: Sequence[Material],
) -> DoseForDay:
    """Return what brings a mix to a pH on a day.

    Parameters
    ----------
    ahead : Forecast
        Of the mix as it is, doses included.
    conditions : Conditions
        Where it lies.
    target_ph : float
        Wanted.
    day : int
        By when. [d]
    limes, sulfurs : sequence of Material
        To choose from, the preferred first.

    Returns
    -------
    Aim
        The dose with where it leads.

    Raises
    ------
    PelkError
        When it cannot be had, with the reason.
    """
    PH.check(target_ph, "target_ph")
    if not 1 <= day <= LONGEST_DAYS:
        raise PelkError(f"found day {day}, allowed: from 1 to {LONGEST_DAYS}", "day")
    heap, around = ahead.heap, surroundings_of(conditions)
    series = ahead.line.daily("ph")
    by_itself = float(series[min(day, len(series) - 1)])
    gap = target_ph - by_itself
    if abs(gap) < NEAR_ENOUGH:
        return DoseForDay("none", by_itself)
    kind, choices = ("lime", limes) if gap > 0 else ("sulfur", sulfurs)
    if not choices:
        raise PelkError(f"there is no {kind} to dose", "material")
    material = choices[0]
    solve = lime_dose if kind == "lime" else sulfur_dose
    plan = solve(heap, around, material, target_ph, day)
    advice = advise(
        kind,
        plan.g_per_l,
        grade=material.lime_grade or material.sulfur_grade,
        gap=gap,
        temperature_c=conditions.temperature_c,
    )
    loam, loam_ph = None, None
    if kind == "sulfur":
        loam = LOAM_MEQ_L_PH * (by_itself - target_ph) / SULFUR_MEQ_PER_G
        loam_ph = rest_ph(with_doses(heap, [(material, loam)]))
        if loam_ph > target_ph - OVERSHOOT:
            loam, loam_ph = None, None
    return DoseForDay(kind, by_itself, material, plan, advice, loam, loam_ph)
