"""Traces of a mix: what of iron, manganese, zinc, copper and boron a season can use."""

from collections.abc import Sequence

from pelk.core.base.figures import Figure, Input, figure
from pelk.core.base.quantities import Quantity
from pelk.core.base.sources import cites
from pelk.core.materials.library import Material
from pelk.core.materials.totals import MixIngredient
from pelk.core.simulation.availability import TRACES, Times, available

NAMES = {"Fe": "Iron", "Mn": "Manganese", "Zn": "Zinc", "Cu": "Copper", "B": "Boron"}
# What a season wants in a mix without compost, by common practice. [mg/L]
WANTED: dict[str, tuple[float, float]] = {
    "Fe": (5.0, 10.0),
    "Mn": (1.0, 3.0),
    "Zn": (0.5, 1.5),
    "Cu": (0.2, 0.5),
    "B": (0.2, 0.5),
}
# Over this pH iron and manganese fail whatever there is of them.
FAILS_OVER_PH = 6.8
FAILING = ("Fe", "Mn")
LEAST_SHOWN_MG_L = 0.005
# By rule of thumb a tenth of compost, castings or soil, or a gram of kelp a litre, brings
# enough of the others.
COVERING = ("compost", "manure", "castings", "soil", "old-mix")
COVERED_SHARE, KELP_G_L = 0.1, 1.0
COVERED = ("Zn", "Cu", "B")


@cites("pelk", "a share of each material's traces serves in a season, by kind")
@cites("trade", "Fe 5-10, Mn 1-3, Zn 0.5-1.5, Cu and B 0.2-0.5 mg a litre for a season")
def trace_figures(
    ingredients: Sequence[MixIngredient], times: Times, end_ph: float
) -> dict[str, Figure]:
    """Return what of each trace a season can use.

    Parameters
    ----------
    ingredients : sequence of Supply
        All parts and doses.
    times : Times
        Where the course stands.
    end_ph : float
        Where the mix's pH ends. [pH]

    Returns
    -------
    dict of str to Figure
        By element. [mg/L]
    """
    return {e: _figure(e, ingredients, times, end_ph) for e in TRACES}


def _figure(
    element: str, ingredients: Sequence[MixIngredient], times: Times, end_ph: float
) -> Figure:
    by = [(s, float(available(element, s, times)[-1])) for s in ingredients]
    brought = sorted((b for b in by if b[1] >= LEAST_SHOWN_MG_L), key=lambda b: -b[1])
    low, high = WANTED[element]
    note = f"A season wants {low:g} to {high:g} mg/L where there is no compost in the mix."
    if element in FAILING and end_ph > FAILS_OVER_PH:
        note = f"Over pH {FAILS_OVER_PH:g} it fails whatever there is of it: lower the pH first."
    return figure(
        Quantity(
            f"{element}_trace",
            f"{NAMES[element]}, of use in a season",
            element,
            "mg/L",
            high=1e7,
            digits=2,
        ),
        sum(amount for _, amount in by),
        trace_figures,
        inputs=tuple(
            Input(
                s.material.name,
                amount,
                "mg/L",
                s.material.mark_of(element),
                f"{s.g_per_l:.3g} g/L in the mix",
            )
            for s, amount in brought
        ),
        method="the share of each material's content that serves in a season, added up",
        note=note,
    )


@cites("trade", "a tenth of compost, or 1 g/L of kelp, covers zinc, copper and boron")
def covers_traces(
    parts: Sequence[tuple[Material, float]], rates: Sequence[tuple[Material, float]]
) -> bool:
    """Return whether compost, castings, soil or kelp bring traces enough.

    Parameters
    ----------
    parts : sequence of (Material, float)
        Each with its share of the loose volume. [-]
    rates : sequence of (Material, float)
        Doses. [g/L]
    """
    rich = sum(x for m, x in parts if m.family in COVERING)
    kelp = sum(g for m, g in rates if m.slug == "kelp-meal")
    return rich >= COVERED_SHARE or kelp >= KELP_G_L


def trace_state(element: str, value_mg_l: float, end_ph: float, *, covered: bool = False) -> str:
    """Return ``short``, ``within`` or ``plenty``; ``short`` as well where pH locks it.

    Parameters
    ----------
    element : str
        One of ``Fe Mn Zn Cu B``.
    value_mg_l : float
        Of use in a season. [mg/L]
    end_ph : float
        Where the mix's pH ends. [pH]
    covered : bool
        Whether `covers_traces`.
    """
    low, high = WANTED[element]
    if covered and element in COVERED and value_mg_l < low:
        return "within"
    if value_mg_l < low or (element in FAILING and end_ph > FAILS_OVER_PH):
        return "short"
    return "within" if value_mg_l <= 2 * high else "plenty"
