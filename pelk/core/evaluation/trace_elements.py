"""Traces of a mix: what of iron, manganese, zinc, copper and boron a season can use."""

from collections.abc import Mapping, Sequence

from pelk.core.base.figures import Figure, Input, figure
from pelk.core.base.quantities import Quantity
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
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
# Where half of iron and of manganese falls out as the pH rises (+-0.3); plants that take iron
# badly go short half a unit sooner. In full use up to the reference.
MIDDLE_PH = {"Fe": 6.8, "Mn": 6.6}
SHY_BY_PH, FULL_USE_PH = 0.5, 5.5
IRON_SHY = frozenset(["ericaceous", "citrus", "annuals"])
LEAST_SHOWN_MG_L = 0.005
# The pH is named as the cause where it leaves less than this.
SHORT_BY_PH = 0.6
# By rule of thumb a tenth of compost, castings or soil, or a gram of kelp a litre, brings
# enough of the others.
COVERING = ("compost", "manure", "castings", "soil", "old-mix")
COVERED_SHARE, KELP_G_L = 0.1, 1.0
COVERED = ("Zn", "Cu", "B")


@cites("pelk", "a share of each material's traces serves in a season, by kind")
@cites("trade", "Fe 5-10, Mn 1-3, Zn 0.5-1.5, Cu and B 0.2-0.5 mg a litre for a season")
def trace_figures(
    ingredients: Sequence[MixIngredient],
    times: Times,
    ph: float,
    crop: str,
    by_water: Mapping[str, float] | None = None,
) -> dict[str, Figure]:
    """Return what of each trace a season can use.

    Parameters
    ----------
    ingredients : sequence of Supply
        All parts and doses.
    times : Times
        Where the course stands.
    ph : float
        Of the mix on the day looked at. [pH]
    crop : str
        Key of what grows; some take iron badly.
    by_water : mapping of str to float, optional
        What a season's water leaves of them. [mg/L]

    Returns
    -------
    dict of str to Figure
        By element. [mg/L]
    """
    watered = by_water or {}
    return {e: _figure(e, ingredients, times, ph, crop, watered.get(e, 0.0)) for e in TRACES}


def _figure(
    element: str,
    ingredients: Sequence[MixIngredient],
    times: Times,
    ph: float,
    crop: str,
    by_water: float,
) -> Figure:
    by = [(s, float(available(element, s, times)[-1])) for s in ingredients]
    brought = sorted((b for b in by if b[1] >= LEAST_SHOWN_MG_L), key=lambda b: -b[1])
    low, high = WANTED[element]
    note = f"A season wants {low:g} to {high:g} mg/L where there is no compost in the mix."
    kept = left_at_ph(element, ph, is_iron_shy=crop in IRON_SHY)
    if kept < SHORT_BY_PH:
        note = f"At pH {ph:.1f} only {kept:.0%} of it stays in reach: lower the pH first."
    return figure(
        Quantity(
            f"{element}_trace",
            f"{NAMES[element]}, of use in a season",
            element,
            "mg/L",
            high=1e7,
            digits=2,
        ),
        (sum(amount for _, amount in by) + by_water) * kept,
        trace_figures,
        also=(left_at_ph,) if element in MIDDLE_PH else (),
        inputs=tuple(
            Input(
                s.material.name,
                amount,
                "mg/L",
                s.material.mark_of(element),
                f"{sig(s.g_per_l, 3)} g/L in the mix",
            )
            for s, amount in brought
        )
        + ((Input("a season's water", by_water, "mg/L", "yours"),) if by_water else ())
        + ((Input("left in reach", kept, "", "guess", f"at pH {ph:.1f}"),) if kept < 1 else ()),
        method="the share of each material's content that serves in a season, added up, times "
        "what the pH leaves in reach",
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


@cites("trade", "iron and manganese go short from pH 6.5 to 7 on, the more the higher")
def left_at_ph(element: str, ph: float, *, is_iron_shy: bool = False) -> float:
    """Return the share of a trace that the pH leaves in reach.

    ``min(1, g(pH) / g(5.5))``, ``g = 1 / (1 + 10^(pH - middle))``.

    Parameters
    ----------
    element : str
        One of ``Fe Mn Zn Cu B``; all of the last three stays.
    ph : float
        Of the mix. [pH]
    is_iron_shy : bool
        What grows takes iron badly.

    Returns
    -------
    float
        Share. [-]
    """
    if element not in MIDDLE_PH:
        return 1.0
    middle = MIDDLE_PH[element] - (SHY_BY_PH if is_iron_shy else 0.0)
    return float(min(1.0, (1 + 10 ** (FULL_USE_PH - middle)) / (1 + 10 ** (ph - middle))))


def trace_state(element: str, value_mg_l: float, *, covered: bool = False) -> str:
    """Return ``short``, ``within`` or ``plenty``, by the amount of use alone.

    Parameters
    ----------
    element : str
        One of ``Fe Mn Zn Cu B``.
    value_mg_l : float
        Of use in a season. [mg/L]
    covered : bool
        Whether `covers_traces`.
    """
    low, high = WANTED[element]
    if covered and element in COVERED and value_mg_l < low:
        return "within"
    if value_mg_l < low:
        return "short"
    return "within" if value_mg_l <= 2 * high else "plenty"
