"""What of each element comes free, from which material, and when.

Nitrogen and phosphorus follow the course; the others are soluble at once or come with
time. Total analysis is never read as what a plant gets.
"""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.elements import ATOMIC_MASS
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.material import Material
from pelk.core.materials.totals import MixIngredient, concentration_mg_l, nitrogen_to_sulfur
from pelk.core.release.organic_nitrogen import net_nitrogen, organic_n
from pelk.core.release.phosphorus import left_by_soil, phosphorus_classes, phosphorus_free
from pelk.core.simulation.run import Trace

Floats = NDArray[np.float64]

# In the lattice of rock and soil: not a salt.
LATTICE = frozenset(["soil", "granite", "vermiculite", "basalt", "zeolite", "greensand"])
# Dissolved gypsum: 30 meq in a litre of solution, 0.85 L of it in a saturated mix.
GYPSUM_MEQ_L_MIX = 25.5
SULFATE_OF_OLD = 0.3
OLD = frozenset(["manure", "compost"])
TRACES = ("Fe", "Mn", "Zn", "Cu", "B")
ELEMENTS = ("N", "P", "K", "Ca", "Mg", "S")
IONS = (*ELEMENTS, "Na", "Cl")
CATION_CHARGE = {"Ca": 2, "Mg": 2, "K": 1, "Na": 1}


@dataclass(frozen=True, slots=True)
class AvailabilityClass:
    """Shares soluble at once and with time, of potassium and of calcium, magnesium."""

    k_now: float
    k_more: float
    k_rate: float
    camg_now: float
    camg_more: float
    camg_rate: float


@cache
def availability_classes() -> dict[str, AvailabilityClass]:
    """Return the classes by key."""
    return {
        row["class"]: AvailabilityClass(
            *(float(row[c]) for c in AvailabilityClass.__dataclass_fields__)
        )
        for row in rows("availability_classes.csv")
    }


@dataclass(frozen=True, slots=True)
class Times:
    """Where a course stands at each of its edges.

    Attributes
    ----------
    rate_days, rate_days_hot, ph : array, shape (n_edges,)
        Days at 22 °C and ideal moisture; pH. [d], [d], [pH]
    lime_reacted, sulfur_turned : array, shape (n_edges,)
        Shares of all lime and of all sulfur. [-]
    mineral_soil : float
        Share of mineral soil by volume. [-]
    """

    rate_days: Floats
    rate_days_hot: Floats
    ph: Floats
    lime_reacted: Floats
    sulfur_turned: Floats
    mineral_soil: float = 0.0


def times_of(trace: Trace, limed_meq_l: float, acid_meq_l: float, mineral_soil: float) -> Times:
    """Return where a course stands, ready for `available`."""
    return Times(
        trace["rate_days"],
        trace["rate_days_hot"],
        trace["ph"],
        trace["lime_meq_l"] / limed_meq_l if limed_meq_l else np.ones(len(trace.edges)),
        trace["sulfur_meq_l"] / acid_meq_l if acid_meq_l else np.ones(len(trace.edges)),
        mineral_soil,
    )


@cites("pelk", "soluble share at once and with time, by kind of material")
def soluble_share(now: float, more: float, rate: float, rate_days: Floats | float) -> Floats:
    """Return the share of an element that has come free.

    Parameters
    ----------
    now, more : float
        At once, and with time. [-]
    rate : float
        At 22 °C. [1/d]
    rate_days : array or float
        Days at 22 °C and ideal moisture. [d]

    Returns
    -------
    array
        Share. [-]
    """
    return np.asarray(now + more * -np.expm1(-rate * np.asarray(rate_days, dtype=float)))


def available(element: str, ingredient: MixIngredient, times: Times) -> Floats:
    """Return what a material has set free of an element so far.

    Parameters
    ----------
    element : str
        One of ``N P K Ca Mg S Na Cl`` or a trace.
    ingredient : Supply
        The material, with grams of it in a litre of mix.
    times : Times
        Where the course stands.

    Returns
    -------
    array, shape (n_edges,)
        Set free; nitrogen may be negative, where wood ties it up. [mg/L]
    """
    rule = _RULES.get(element, _trace)
    return rule(element, ingredient, times)


def _total(element: str, ingredient: MixIngredient) -> float:
    content = ingredient.material.composition.get(element)
    return concentration_mg_l(ingredient.g_per_l, content.typ) if content else 0.0


def _class_of(material: Material) -> AvailabilityClass:
    return availability_classes().get(material.availability_class, _NONE)


_NONE = AvailabilityClass(0, 0, 1, 0, 0, 1)


def _nitrogen(element: str, ingredient: MixIngredient, times: Times) -> Floats:
    item = organic_n(ingredient.material, ingredient.g_per_l, is_bulk=ingredient.is_bulk)
    if item is None:
        return np.zeros_like(times.rate_days)
    start = np.full_like(times.rate_days, item.mineral_mg_l)
    if item.release is None or item.organic_mg_l <= 0:
        return start
    return start + net_nitrogen(
        item.release, item.organic_mg_l, item.carbon_mg_l, times.rate_days, times.rate_days_hot
    )


def _phosphorus(element: str, ingredient: MixIngredient, times: Times) -> Floats:
    material = ingredient.material
    held = phosphorus_classes().get(material.phosphorus_class)
    if held is None and "P" in material.usable:
        held = phosphorus_classes()["soluble"]
    total = _total("P", ingredient)
    if held is None or not total:
        return np.zeros_like(times.rate_days)
    if "P" in material.usable:
        # Typed as available: all of it within the season, at the pace of its form.
        return total * -np.expm1(-held.k * times.rate_days)
    free = phosphorus_free(held, total, times.ph, times.rate_days)
    return free * left_by_soil(times.mineral_soil)


def _potassium(element: str, ingredient: MixIngredient, times: Times) -> Floats:
    held, total = _class_of(ingredient.material), _total("K", ingredient)
    share = soluble_share(held.k_now, held.k_more, held.k_rate, times.rate_days)
    if "K" in ingredient.material.usable:
        whole = held.k_now + held.k_more
        return total * (share / whole if whole else np.ones_like(share))
    return total * share


def _calcium_magnesium(element: str, ingredient: MixIngredient, times: Times) -> Floats:
    material, total = ingredient.material, _total(element, ingredient)
    kind = material.availability_class
    if material.lime_grade and kind in ("lime", "ash", "animal_meal", "bone"):
        return total * times.lime_reacted
    if kind == "bone":
        phosphorus = _total("P", ingredient)
        free = _phosphorus("P", ingredient, times) if phosphorus else np.zeros(1)
        return total * free / (phosphorus or 1.0)
    if kind == "gypsum" and element == "Ca":
        cap = GYPSUM_MEQ_L_MIX * ATOMIC_MASS["Ca"] / 2
        return np.full_like(times.rate_days, min(total, cap))
    held = _class_of(material)
    share = soluble_share(held.camg_now, held.camg_more, held.camg_rate, times.rate_days)
    return total * share


def _sulfur(element: str, ingredient: MixIngredient, times: Times) -> Floats:
    material, total = ingredient.material, _total("S", ingredient)
    elemental = _total("S elemental", ingredient)
    turned = elemental * times.sulfur_turned
    total = max(total - elemental, 0.0)
    nitrogen = _total("N", ingredient)
    if material.availability_class == "gypsum":
        cap = GYPSUM_MEQ_L_MIX * ATOMIC_MASS["S"] / 2
        return turned + min(total, cap)
    ratio = nitrogen_to_sulfur(material)
    if ratio:
        return turned + np.maximum(_nitrogen("N", ingredient, times), 0.0) / ratio
    if not total:
        return turned
    soluble = {"sulfate": 1.0, "mixed": 0.5, "elemental": 0.0, "organic": 0.0}
    is_old = material.availability_class in OLD
    at_once = soluble.get(material.sulfur_form, SULFATE_OF_OLD if is_old else 0.0)
    organic = {"organic": 1.0, "mixed": 0.5}.get(material.sulfur_form, 0.0)
    free = turned + total * at_once
    if organic and nitrogen:
        rotted = np.maximum(_nitrogen("N", ingredient, times), 0.0) / nitrogen
        free = free + total * organic * rotted
    return free


def _salt(element: str, ingredient: MixIngredient, times: Times) -> Floats:
    locked = ingredient.material.availability_class in LATTICE
    return np.full_like(times.rate_days, 0.0 if locked else _total(element, ingredient))


def _trace(element: str, ingredient: MixIngredient, times: Times) -> Floats:
    share = ingredient.material.season_trace or 0.0
    return np.full_like(times.rate_days, _total(element, ingredient) * share)


_RULES: dict[str, Callable[[str, MixIngredient, Times], Floats]] = {
    "N": _nitrogen,
    "P": _phosphorus,
    "K": _potassium,
    "Ca": _calcium_magnesium,
    "Mg": _calcium_magnesium,
    "S": _sulfur,
    "Na": _salt,
    "Cl": _salt,
}


def available_of_all(
    ingredients: Sequence[MixIngredient], times: Times, elements: Sequence[str] = IONS
) -> dict[str, Floats]:
    """Return what each material has set free of each element.

    Returns
    -------
    dict of str to array, shape (n_supplies, n_edges)
        By element. [mg/L]
    """
    return {
        element: np.array([available(element, s, times) for s in ingredients])
        for element in elements
    }


@cites("pelk", "shares of charge; evidence that a balance pays is weak")
def cation_shares(free_mg_l: Mapping[str, float]) -> dict[str, float]:
    """Return the shares of some cations among their charges.

    Parameters
    ----------
    free_mg_l : mapping of str to float
        What is free of ``Ca``, ``Mg``, ``K``. [mg/L]

    Returns
    -------
    dict of str to float
        Shares that add up to one; empty where there is none. [-]
    """
    equivalents = {e: max(v, 0.0) * CATION_CHARGE[e] / ATOMIC_MASS[e] for e, v in free_mg_l.items()}
    total = sum(equivalents.values())
    return {e: c / total for e, c in equivalents.items()} if total > 0 else {}
