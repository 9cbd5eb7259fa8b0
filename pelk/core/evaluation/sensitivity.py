"""What would change a number: each line and each condition moved a little, all else the same."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from pelk.core.base.errors import PelkError
from pelk.core.base.sources import cites
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.material import Material
from pelk.core.plans.plan import Plan

STEP = 0.25
WARMER_C = 5.0
HARDER_MG_L = 50.0
MOST = 4
# Smaller changes than this share of the number are not told.
LEAST = 0.002


@dataclass(frozen=True, slots=True)
class Change:
    """What one change does to a figure.

    Attributes
    ----------
    what : str
        The change, in words.
    value : float
        Of the figure then, in its own unit.
    by : float
        How far that is from what it was.
    """

    what: str
    value: float
    by: float


@cites("arithmetic", "the evaluation run again with one thing moved")
def what_changes(plan: Plan, shelf: Mapping[str, Material], key: str) -> list[Change]:
    """Return what moves a figure most, the strongest first.

    Parameters
    ----------
    plan : Plan
        As it is.
    shelf : mapping of str to Material
        By slug.
    key : str
        Of the figure.

    Returns
    -------
    list of Change
        Four at most; empty where the figure has no value, or nothing moves it.
    """
    now = _value(plan, shelf, key)
    if now is None:
        return []
    changes = []
    for what, moved in _moved(plan, shelf):
        then = _value(moved, shelf, key)
        if then is not None and abs(then - now) > LEAST * max(abs(now), 1e-9):
            changes.append(Change(what, then, then - now))
    return sorted(changes, key=lambda change: -abs(change.by))[:MOST]


def _value(plan: Plan, shelf: Mapping[str, Material], key: str) -> float | None:
    try:
        figures = evaluate(plan, shelf, samples=0).figures
    except PelkError:
        return None
    return next((f.value for f in figures if f.quantity.key == key), None)


def _moved(plan: Plan, shelf: Mapping[str, Material]) -> Iterator[tuple[str, Plan]]:
    share = f"{STEP:.0%} more"
    for i, part in enumerate(plan.parts):
        more = replace(part, parts=part.parts * (1 + STEP))
        rows = (*plan.parts[:i], more, *plan.parts[i + 1 :])
        yield f"{share} {_name(shelf, part.material)}", replace(plan, parts=rows)
    for i, dose in enumerate(plan.doses):
        more_of = replace(dose, amount=dose.amount * (1 + STEP))
        doses = (*plan.doses[:i], more_of, *plan.doses[i + 1 :])
        yield f"{share} {_name(shelf, dose.material)}", replace(plan, doses=doses)
    where = plan.conditions
    if where.monthly_c is None:
        warm = replace(where, temperature_c=where.temperature_c + WARMER_C)
    else:
        warm = replace(where, monthly_c=tuple(t + WARMER_C for t in where.monthly_c))
    yield f"{WARMER_C:g} °C warmer", replace(plan, conditions=warm)
    if where.water_l_per_l_week:
        hard = where.water_alkalinity_mg_l + HARDER_MG_L
        harder = replace(where, water_alkalinity_mg_l=hard)
        yield f"water {HARDER_MG_L:g} mg/L harder", replace(plan, conditions=harder)


def _name(shelf: Mapping[str, Material], slug: str) -> str:
    return shelf[slug].short_name.lower()
