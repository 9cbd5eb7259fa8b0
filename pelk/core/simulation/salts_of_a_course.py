"""The salts of a mix along a course: there, come free, brought and taken by water."""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.water import Water
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.materials.totals import MixIngredient, concentration_mg_l
from pelk.core.release.rate_factors import bicarbonate
from pelk.core.salts.pore_water import PoreSalts, mix_ec, own_salts
from pelk.core.salts.salts import MG_PER_MEQ, RETARDATION
from pelk.core.salts.solution import CHARGE, GYPSUM_MMOL_L
from pelk.core.salts.water_ions import along_a_course
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.run import Trace

Floats = NDArray[np.float64]
Parts = Sequence[tuple[Material, float]]

# Only magnesium and calcium of salts count as dissolved cations of doses, besides gypsum.
SALT_CLASSES = frozenset(["salt", "langbeinite"])
ION_OF = {"S": "SO4"}
# Nitrogen goes through the course itself.
FOLLOWED = ("K", "Na", "Ca", "Mg", "Cl", "SO4")
ELEMENT_OF = {"SO4": "S"}


def dose_ions(ingredients: Sequence[MixIngredient], free: dict[str, Floats]) -> dict[str, Floats]:
    """Return the ions that the doses have set free, nitrogen apart.

    Parameters
    ----------
    ingredients : sequence of MixIngredient
        All parts and doses.
    free : dict of str to array, shape (n_ingredients, n_edges)
        What each has set free of each element. [mg/L]

    Returns
    -------
    dict of str to array, shape (n_edges,)
        By ion, as `mix_ec` takes them; gypsum by all of it. [meq/L]
    """
    dose = np.array([not s.is_bulk for s in ingredients], dtype=bool)
    salt = dose & [s.material.availability_class in SALT_CLASSES for s in ingredients]
    gypsum = dose & [s.material.availability_class == "gypsum" for s in ingredients]
    rows = {"K": dose, "Na": dose, "Mg": salt, "Ca": salt, "Cl": dose, "S": dose & ~gypsum}
    ions = {
        ION_OF.get(element, element): free[element][which].sum(0)
        / MG_PER_MEQ[ION_OF.get(element, element)]
        for element, which in rows.items()
    }
    calcium = sum(
        concentration_mg_l(s.g_per_l, s.material.composition["Ca"].typ)
        for s, it_is in zip(ingredients, gypsum, strict=True)
        if it_is and "Ca" in s.material.composition
    )
    ions["gypsum"] = np.full(free["N"].shape[1], calcium / MG_PER_MEQ["Ca"])
    return ions


def salts_over_time(
    trace: Trace, own: PoreSalts, day: Floats, doses_meq_l: Mapping[str, Floats]
) -> Floats:
    """Return the salts of a mix along a course, before any crop.

    Parameters
    ----------
    trace : Trace
        Central line or fan.
    own : PoreSalts
        Of the parts.
    day : array, shape (n_edges,)
        Of the ions of the doses. [d]
    doses_meq_l : mapping of str to array, shape (n_edges,)
        Ions of the doses. [meq/L]

    Returns
    -------
    array, shape like the trace
        Conductivity of the saturated extract. [dS/m]
    """
    at = {ion: np.interp(trace.edges, day, values) for ion, values in doses_meq_l.items()}
    if trace["nitrate_mg_l"].ndim > 1:
        at = {ion: values[:, None] for ion, values in at.items()}
    return mix_ec(own, at, trace["ammonium_mg_l"], trace["nitrate_mg_l"])


def pore_salts(heap: Heap, parts: Parts, loss: float) -> PoreSalts:
    """Return the parts' own salts, without the mineral nitrogen that the course follows."""
    bulk = [n for n in heap.nitrogen if n.is_bulk]
    ammonium, nitrate = (sum(n.ammonium_mg_l for n in bulk), sum(n.nitrate_mg_l for n in bulk))
    return own_salts(parts, loss, ammonium, nitrate)


@cites("arithmetic", "dM/dt = w C - d M / (theta R) for each ion")
@cites("pelk", "of what water brings, one part in R is dissolved; the rest is held")
def along_watering(
    own: PoreSalts, line: Trace, doses_meq_l: dict[str, Floats], water: Water, capacity: float
) -> tuple[PoreSalts, dict[str, Floats]]:
    """Return the salts of parts and doses, washed and added to by what a mix is watered with.

    Parameters
    ----------
    own : PoreSalts
        Of the parts, on mixing day.
    line : Trace
        Central line: its edges, and its pH for the bicarbonate that pore water can hold.
    doses_meq_l : dict of str to array, shape (n_edges,)
        As of `dose_ions`. [meq/L]
    water : Water
        What it is watered with; nothing changes where none is given.
    capacity : float
        Water that the mix holds. [L/L]

    Returns
    -------
    tuple of (PoreSalts, dict of str to array)
        As `salts_over_time` takes them; what was the parts' own is among the ions.
    """
    if not water.l_per_l_day:
        return own, doses_meq_l
    edges, drained = line.edges.tolist(), water.drained_l_per_l_day
    ions: dict[str, Floats] = {}

    def washed(start: float, released: Floats | None, brought: float, held_back: float) -> Floats:
        gains = [start] + [0.0] * (len(edges) - 1)
        if released is not None:
            gains = [start + float(released[0]), *np.diff(released).tolist()]
        return np.array(along_a_course(edges, gains, brought, drained, capacity * held_back))

    for ion in FOLLOWED:
        element = ELEMENT_OF.get(ion, ion)
        back = RETARDATION[element]
        there = washed(own.ions_meq_l.get(ion, 0.0), doses_meq_l.get(ion), 0.0, back)
        brought = water.brings(element) / MG_PER_MEQ[ion]
        ions[ion] = there + washed(0.0, None, brought, back) / back
    held = washed(0.0, None, water.l_per_l_day * water.alkalinity_meq_l, 1.0)
    held = np.minimum(held, capacity * bicarbonate(np.asarray(line["ph"])))
    ions["HCO3"] = washed(own.ions_meq_l.get("HCO3", 0.0), None, 0.0, 1.0) + held
    ions["NO3"] = washed(own.ions_meq_l.get("NO3", 0.0), None, 0.0, 1.0)
    ions["gypsum"] = _gypsum_left(doses_meq_l["gypsum"], edges, drained, capacity)
    return replace(own, ions_meq_l={}), ions


def _gypsum_left(all_of_it: Floats, edges: list[float], drained: float, capacity: float) -> Floats:
    """Return the gypsum that drainage has left, dissolved or not. [meq/L]."""
    left = float(all_of_it[0])
    line = [left]
    full = CHARGE["Ca"] * GYPSUM_MMOL_L
    for days in np.diff(edges).tolist():
        left -= min(left / capacity, full) * min(drained * days, capacity)
        line.append(max(left, 0.0))
    return np.array(line)
