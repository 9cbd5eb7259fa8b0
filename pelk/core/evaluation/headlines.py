"""The headline figures of an evaluation: each with its inputs, method and sources."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from pelk.core.base.figures import Figure, Input, figure
from pelk.core.base.quantities import (
    AIR,
    C_TO_N,
    EC_LATER,
    EC_NOW,
    LOOSE_VOLUME,
    MASS,
    MIXED_VOLUME,
    PH_FORECAST,
    READY,
    WATER_HELD,
    WET_MASS,
    Quantity,
)
from pelk.core.base.rounding import sig
from pelk.core.materials.material import Material
from pelk.core.materials.totals import MixIngredient
from pelk.core.plans.plan import Plan
from pelk.core.salts.pore_water import mix_ec, own_salts, paste_water
from pelk.core.salts.solution import conductivity
from pelk.core.simulation.ensemble import draws_of
from pelk.core.simulation.forecast import LINE_DAYS, Forecast
from pelk.core.simulation.initial_state import heap_c_to_n
from pelk.core.simulation.readiness import HELD_UP, Readiness, passes
from pelk.core.simulation.run import simulate
from pelk.core.vessels.dose_amounts import DoseLine
from pelk.core.vessels.structure import Structure, dry_density, structure_of
from pelk.core.vessels.volumes import LOSS_SPREAD, Volumes, blending_loss, needed_for_vessels

EC_SPAN = (0.7, 1.4)
# A pen that shows this much less than the course is told of.
TELLS_PH = 0.1
# So is a pH in two years that differs this much.
TELLS_FAR_PH = 0.2
AIR_DOUBT, WATER_DOUBT, WET_DOUBT_KG_L = 5.0, 6.0, 0.06
LATER_DAY = 30


@dataclass(frozen=True, slots=True)
class BulkLine:
    """One part, worked out for the batch.

    Attributes
    ----------
    loose_l, kg : float
        To fetch; weight as bought or used. [L], [kg]
    share : float
        Of the loose volume. [-]
    """

    material: Material
    loose_l: float
    kg: float
    share: float


def mixed_figure(plan: Plan, mix_volumes: Volumes) -> Figure:
    """Return the mixed volume and how it was asked for."""
    batch, inputs, method = plan.batch, [], "as asked for"
    if batch.vessels and batch.volume_l is None:
        inputs = [
            Input("pots, headspace left", mix_volumes.filled_l, "L", "practice"),
            Input("settles in the pot", mix_volumes.settling * 100, "%", "practice"),
            Input("kept over", batch.spare * 100, "%", "practice"),
        ]
        method = "litres in the pots × (1 + kept over) ÷ (1 − settling)"
    elif batch.volume_l is None:
        inputs = [
            Input("loose parts", mix_volumes.loose_total_l, "L", "derived"),
            Input("lost on blending", mix_volumes.blending_loss * 100, "%", "guess"),
        ]
        method = "loose parts × (1 − loss on blending)"
    return figure(
        MIXED_VOLUME, mix_volumes.mixed_l, needed_for_vessels, inputs=tuple(inputs), method=method
    )


def loose_figure(bulk: Sequence[BulkLine], mix_volumes: Volumes) -> Figure:
    """Return the loose litres to fetch, and what blending may lose."""
    loss = mix_volumes.blending_loss
    spread = [
        mix_volumes.mixed_l / (1 - min(max(loss + off, 0.0), 0.3))
        for off in (-LOSS_SPREAD, LOSS_SPREAD)
    ]
    return figure(
        LOOSE_VOLUME,
        mix_volumes.loose_total_l,
        blending_loss,
        span=(spread[0], spread[1]),
        inputs=(
            Input("mixed soil", mix_volumes.mixed_l, "L", "derived"),
            Input("lost on blending", loss * 100, "%", "guess"),
            *(Input(b.material.name, b.loose_l, "L", "derived") for b in bulk),
        ),
        method="mixed ÷ (1 − loss): fines fall between coarse pieces",
        note="If you can measure it with a bucket, trust the bucket.",
    )


def mass_figure(bulk: Sequence[BulkLine], doses: Sequence[DoseLine]) -> Figure:
    """Return what the batch weighs before watering."""
    parts, dosed = sum(b.kg for b in bulk), sum(d.grams.typ for d in doses) / 1000
    low = sum(b.loose_l * b.material.loose_density().low for b in bulk) + dosed
    high = sum(b.loose_l * b.material.loose_density().high for b in bulk) + dosed
    return figure(
        MASS,
        parts + dosed,
        dry_density,
        span=(low, high),
        inputs=(
            *(
                Input(
                    b.material.name,
                    b.kg,
                    "kg",
                    b.material.mark_of("density"),
                    f"{sig(b.loose_l, 3)} L at {sig(b.material.loose_density().typ, 2)} kg/L",
                )
                for b in bulk
            ),
            Input("doses", dosed, "kg", "derived"),
        ),
        method="loose volume × weight by volume as bought, added up",
    )


def wet_figure(
    heap: Structure | None, problem: str, dry_kg_l: float, dosed_kg_l: float, mixed_l: float
) -> Figure:
    """Return the weight watered and drained, or why it is not known."""
    if heap is None:
        return figure(WET_MASS, None, structure_of, problem=problem)
    kg_l = dry_kg_l + dosed_kg_l + heap.container_capacity
    span = [max(kg_l + off, 0.0) * mixed_l for off in (-WET_DOUBT_KG_L, WET_DOUBT_KG_L)]
    return figure(
        WET_MASS,
        kg_l * mixed_l,
        structure_of,
        span=(span[0], span[1]),
        inputs=(
            Input("dry weight of the parts", dry_kg_l, "kg/L", "book"),
            Input("doses", dosed_kg_l, "kg/L", "derived"),
            Input("water held after draining", heap.container_capacity, "L/L", "guess"),
        ),
        method="dry weight, plus doses, plus the water a 30 cm heap holds after draining",
    )


def air_figures(pot: Structure) -> tuple[Figure, Figure]:
    """Return the air and the water of the mix in its pot."""
    inputs = (
        Input("all pores", pot.total_porosity * 100, "%", "guess"),
        Input("height of the mix", pot.height_cm, "cm", "derived"),
        Input("water easily had", pot.easily_available * 100, "%", "guess"),
    )
    method = (
        "water of each part by its retention curve, mean over the height, added by "
        "volume; air is what is left of the pores"
    )
    note = "True for this height only; a drain test is better."

    def one(quantity: Quantity, value: float, doubt: float) -> Figure:
        percent = 100 * value
        return figure(
            quantity,
            percent,
            structure_of,
            span=(max(percent - doubt, 0.0), percent + doubt),
            inputs=inputs,
            method=method,
            note=note,
        )

    air = one(AIR, max(pot.air_filled, 0.0), AIR_DOUBT)
    return air, one(WATER_HELD, pot.container_capacity, WATER_DOUBT)


def ph_figure(forecast: Forecast, told_by: str = "") -> Figure:
    """Return the pH at the end of the look ahead, with what moved it, and what heaps told of it."""
    day = forecast.days
    low, middle, high = (float(line[-1]) for line in forecast.ph)
    start = float(forecast.line["ph"][0])
    has_fan = forecast.ensemble is not None
    inputs = [Input("pH on mixing day", start, "", "derived")]
    inputs += [
        Input(driver.name, driver.at(day), "meq/L", "guess", f"by day {day}")
        for driver in forecast.drivers
    ]
    note = "With nothing planted and before any reading. A pH reading in weeks 2 to 4 narrows it."
    lowered = forecast.lowered_on(day)
    if abs(lowered) >= TELLS_PH:
        note += f" Salts lower what a pen in a slurry shows to about {middle - lowered:.1f}."
    far = forecast.ph_on(LINE_DAYS)
    if day < LINE_DAYS and abs(far - middle) >= TELLS_FAR_PH:
        note += f" In two years, unplanted: {far:.1f}."
    return figure(
        PH_FORECAST,
        middle,
        simulate,
        also=(draws_of,) if has_fan else (),
        span=(low, high) if has_fan else None,
        inputs=tuple(inputs),
        method=f"lime, carbonate and water add base, nitrogen, sulfur and acids take it; "
        f"the pH on day {day} is where the mix holds what is left",
        note=f"{note} {told_by}".strip(),
    )


def ec_figures(
    forecast: Forecast, parts: Sequence[tuple[Material, float]], loss: float
) -> tuple[Figure, Figure]:
    """Return the salts on mixing day and when the quick food has come free."""
    paste_l_l = paste_water(parts, loss)
    own = forecast.own_ec
    figures = []
    for quantity, day in ((EC_NOW, 0), (EC_LATER, LATER_DAY)):
        value = float(forecast.ec[day])
        inputs = [
            Input("the parts' own salts", own, "dS/m", "guess"),
            Input("doses and what has rotted", value - own, "dS/m", "guess", f"day {day}"),
            Input("water of the paste", paste_l_l, "L/L", "derived"),
        ]
        figures.append(
            figure(
                quantity,
                value,
                mix_ec,
                also=(own_salts, conductivity),
                span=(value * EC_SPAN[0], value * EC_SPAN[1]),
                inputs=tuple(inputs),
                method="every ion once in the water of the paste: the parts' own salts, what doses "
                "have set free, ammonium and nitrate; gypsum as far as it dissolves",
                note="An upper line: no crop has taken anything.",
            )
        )
    return figures[0], figures[1]


def ready_figure(forecast: Forecast) -> Figure:
    """Return the day the heap is ready, with each criterion and its day."""
    ready = forecast.ready
    problem = "" if ready.p50 is not None else _why_not(ready)
    span = None
    if ready.p10 is not None and ready.p90 is not None:
        span = (float(ready.p10), float(ready.p90))
    inputs = [
        Input(
            c.name,
            None if c.day is None else float(c.day),
            "days" if c.day is not None else "not within the look ahead",
            "guess",
            _between(c.low, c.high),
        )
        for c in ready.criteria
    ]
    inputs.append(Input("earliest possible", ready.floor_days, "days", "practice"))
    return figure(
        READY,
        None if ready.p50 is None else float(ready.p50),
        passes,
        span=span,
        inputs=tuple(inputs),
        method="the first of three days running on which every criterion holds, and goes on to: pH "
        "over the crop's season, what burns young roots over their first month",
        note="Smell is not counted here: if it smells of ammonia or sour, wait, whatever the date.",
        problem=problem,
    )


def _between(low: int | None, high: int | None) -> str:
    if low is None:
        return "in fewer than one lot in ten"
    if low == high:
        return f"8 in 10 from day {low}"
    if high is None:
        return f"8 in 10 not before day {low}, some not at all"
    return f"8 in 10 between day {low} and {high}"


def _why_not(ready: Readiness) -> str:
    held = ", ".join(HELD_UP[key] for key in ready.waiting_for)
    if ready.in_vain:
        return f"waiting does not mend this: {held}"
    return f"not within {ready.days} days: {held}"


def c_to_n_figure(ingredients: Sequence[MixIngredient]) -> Figure:
    """Return the C:N of the whole mix."""
    value = heap_c_to_n([(s.material, s.g_per_l) for s in ingredients])
    return figure(
        C_TO_N,
        value if np.isfinite(value) else None,
        heap_c_to_n,
        method="carbon that rots over nitrogen, both by mass; ratios are never averaged",
        problem="" if np.isfinite(value) else "nothing in it brings nitrogen",
    )
