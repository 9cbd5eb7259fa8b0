"""What a mix supplies: what is there, what comes free when, and how long it lasts."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.water import Water
from pelk.core.base.figures import Figure, Input, figure
from pelk.core.base.quantities import available_quantity
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.crops.demand import (
    RESERVE_MG_L,
    Balance,
    Week,
    balance,
    held_back_of,
    run_out,
    uptake_by_day,
    weeks,
)
from pelk.core.crops.groups import Crop, season_demand
from pelk.core.materials.totals import MixIngredient, NutrientTotal, nutrient_total
from pelk.core.release.organic_nitrogen import net_nitrogen, release_class_of
from pelk.core.release.phosphorus import UNSURE, UNSURE_SPAN, season_phosphorus
from pelk.core.salts.salts import RETARDATION, extract_mg_l
from pelk.core.salts.water_ions import after_watering
from pelk.core.simulation.availability import ELEMENTS, soluble_share
from pelk.core.simulation.forecast import LINE_DAYS, Forecast
from pelk.core.simulation.run import SEASON_PACE, simulate

Floats = NDArray[np.float64]

# Less than this is not spoken of.
LEAST_TOLD_MG_L = 1.0
REPORT_DAYS = (0, 30, 60, 90, 180)
# Without a word on watering a pot outdoors is watered so that 5 mL a litre drain in a day.
USUAL_WATER_L_L_D, USUAL_LEACHING = 1 / 30, 0.15
SPREAD = {"P": (0.6, 1.4), "K": (0.8, 1.15), "Ca": (0.6, 1.5), "Mg": (0.6, 1.5), "S": (0.6, 1.4)}
RULE: dict[str, Callable[..., object]] = {
    "N": net_nitrogen,
    "P": season_phosphorus,
    "K": soluble_share,
    "Ca": soluble_share,
    "Mg": soluble_share,
    "S": soluble_share,
}


@dataclass(frozen=True, slots=True)
class ElementSupply:
    """One element: in total, free over time, and against the crop.

    Attributes
    ----------
    total : NutrientTotal
        All of it, by material.
    free : Figure
        Come free by the end of the look ahead. [mg/L]
    free_at, extract_at : dict of int to float
        Come free, and what an extract should read, by day. [mg/L]
    free_by : dict of str to float
        Come free by the end, by material. [mg/L]
    extract_band : tuple of float or None
        Wanted in the extract now; None where there is none. [mg/L]
    season : Balance
        Day by day once planted.
    weeks : tuple of Week
        The same by the week.
    """

    element: str
    total: NutrientTotal
    free: Figure
    free_at: dict[int, float]
    free_by: dict[str, float]
    extract_at: dict[int, float]
    extract_band: tuple[float, float] | None
    demand: tuple[float, float]
    season: Balance
    weeks: tuple[Week, ...]

    @property
    def season_free(self) -> float:
        """What has come free by the end of the crop's season, the water's apart. [mg/L]."""
        balance = self.season
        whole = balance.pool[-1] + balance.taken[-1] + balance.leached[-1]
        return float(whole) - balance.brought

    @property
    def short_by(self) -> float:
        """What the crop lacks over its season. [mg/L]."""
        return float(self.season.short[-1])


@dataclass(frozen=True, slots=True)
class SeasonSupply:
    """All elements, with the day the crop is reckoned to be planted."""

    elements: dict[str, ElementSupply]
    planted_day: int
    season_days: int


@cites("pelk", "a pot outdoors gets a thirtieth of its volume a day, and 15 % of it drains")
def as_planted(water: Water, planted: int) -> Water:
    """Return what a pot is watered with: from planting on the usual, where nothing is said."""
    if water.l_per_l_day:
        return water
    return replace(
        water,
        l_per_l_day=USUAL_WATER_L_L_D,
        leaching_fraction=USUAL_LEACHING,
        from_day=float(planted),
    )


@cites("arithmetic", "dM/dt = w C - d M / (theta R) over the season")
def brought_by_season(element: str, water: Water, days: int, capacity: float) -> float:
    """Return what a season's water leaves of an element in a mix that had none.

    Parameters
    ----------
    element : str
        Of `pelk.core.salts.water_ions.ELEMENTS`.
    water : Water
        Of the planted pot.
    days : int
        The season. [d]
    capacity : float
        Water that the mix holds. [L/L]

    Returns
    -------
    float
        In a litre of mix. [mg/L]
    """
    drained = water.drained_l_per_l_day * days
    back = RETARDATION.get(element, 1.0)
    return after_watering(0.0, water.brings(element) * days, drained, capacity, back)


def season_supply(
    ingredients: Sequence[MixIngredient],
    comes_free: Forecast,
    crop: Crop,
    mineral_soil: float,
    planted_day: int,
) -> SeasonSupply:
    """Return what each element comes to over the look ahead and the crop's season.

    Parameters
    ----------
    ingredients : sequence of Supply
        All parts and doses.
    comes_free : Forecast
        How the heap goes on.
    crop : Crop
        What will grow.
    mineral_soil : float
        Share of mineral soil by volume. [-]
    planted_day : int
        When it is planted. [d]

    Returns
    -------
    Ledger
        N, P, K, Ca, Mg, S.
    """
    length = int(min(crop.season_days, max(LINE_DAYS - planted_day, 30)))
    day = np.arange(planted_day + length + 1.0)
    pools, elements = _season(comes_free, crop, mineral_soil, planted_day, day), {}
    has_unsure_p = any(s.material.phosphorus_class in UNSURE for s in ingredients)
    extracts = {
        at: extract_mg_l({e: comes_free.free_at(e, at) for e in comes_free.free})
        for at in REPORT_DAYS
    }
    for element in ELEMENTS:
        total = nutrient_total(element, ingredients, season_demand(crop, element))
        season = pools[element]
        wanted = _wanted(crop, element, planted_day, day)
        rows = tuple(weeks(season, wanted, planted_day))
        by = comes_free.free[element]
        elements[element] = ElementSupply(
            element=element,
            total=total,
            free=_free_figure(element, ingredients, comes_free, season, unsure_p=has_unsure_p),
            free_at={at: comes_free.free_at(element, at) for at in REPORT_DAYS},
            free_by={
                s.material.slug: float(np.interp(comes_free.days, comes_free.line.edges, row))
                for s, row in zip(ingredients, by, strict=True)
            },
            extract_at={at: extracts[at][element] for at in REPORT_DAYS},
            extract_band=crop.extract_bands.get(element),
            demand=season_demand(crop, element),
            season=season,
            weeks=rows,
        )
    return SeasonSupply(elements, planted_day, length)


def _wanted(crop: Crop, element: str, planted: int, day: Floats) -> Floats:
    return uptake_by_day(crop.uptake_mg_l[element], crop.season_days, day - planted)


def _season(
    comes_free: Forecast, crop: Crop, mineral_soil: float, planted: int, day: Floats
) -> dict[str, Balance]:
    """Return the season of each element: nitrogen by the course itself."""
    water = as_planted(comes_free.around.water, planted)
    wanted = _wanted(crop, "N", planted, day)
    around = replace(comes_free.around, demand_mg_l=wanted, water=water)
    trace = simulate(comes_free.heap, around, len(day) - 1, pace=SEASON_PACE)
    pool = trace.daily("ammonium_mg_l") + trace.daily("nitrate_mg_l")
    taken = trace.daily("taken_up_mg_l")
    short = np.maximum(wanted - taken, 0.0)
    seasons = {
        "N": Balance(
            pool,
            taken,
            short,
            trace.daily("leached_mg_l"),
            run_out(pool, wanted, short, RESERVE_MG_L["N"]),
            to_air=float(trace["denitrified_mg_l"][-1]),
            brought=float(trace["brought_by_water_mg_l"][-1]),
        )
    }
    edges = comes_free.line.edges
    for element in ELEMENTS[1:]:
        released = np.maximum.accumulate(np.interp(day, edges, comes_free.free[element].sum(0)))
        seasons[element] = balance(
            released,
            _wanted(crop, element, planted, day),
            water.drained_l_per_l_day,
            comes_free.heap.capacity,
            held_back_of(element, mineral_soil),
            RESERVE_MG_L.get(element, 0.0),
            water.brings(element),
            watered_from=int(water.from_day),
        )
    return seasons


def _free_figure(
    element: str,
    ingredients: Sequence[MixIngredient],
    comes_free: Forecast,
    season: Balance,
    *,
    unsure_p: bool,
) -> Figure:
    by = [
        float(np.interp(comes_free.days, comes_free.line.edges, r))
        for r in comes_free.free[element]
    ]
    value = sum(by)
    below = above = 0.0
    for ingredient, amount in zip(ingredients, by, strict=True):
        low, high = _doubt(element, ingredient)
        below += (amount * (1 - low)) ** 2
        above += (amount * (high - 1)) ** 2
    inputs = sorted(
        (
            Input(
                s.material.name,
                amount,
                "mg/L",
                s.material.mark_of(element),
                f"{sig(s.g_per_l, 3)} g/L in the mix",
            )
            for s, amount in zip(ingredients, by, strict=True)
            if abs(amount) >= 0.05
        ),
        key=lambda i: -abs(i.value or 0),
    )
    note = "Negative: wood and bark tie nitrogen up while they rot." if element == "N" else ""
    if season.to_air >= LEAST_TOLD_MG_L:
        note = f"{season.to_air:.0f} mg/L of nitrate goes off as gas from drowned pores. {note}"
    if season.brought >= LEAST_TOLD_MG_L:
        note = f"The water brings {season.brought:.0f} mg/L more by the season's end. {note}"
    if element == "P" and unsure_p:
        note += "Phosphorus of bone, guano and rock is known to a factor of two."
    return figure(
        available_quantity(element),
        value,
        RULE[element],
        span=(value - below**0.5, value + above**0.5),
        inputs=tuple(inputs),
        method=f"what each material has set free by day {comes_free.days}, at "
        f"{_mean(comes_free.around.temperature_c):.0f} °C, added up",
        note=note,
        also=(simulate,),
    )


def _mean(value: float | Floats) -> float:
    return float(np.mean(value))


def _doubt(element: str, ingredient: MixIngredient) -> tuple[float, float]:
    """Return how far low and high what a material sets free may be, 8 in 10."""
    if element == "N":
        release = release_class_of(ingredient.material)
        sd = release.pan_sd if release else 0.1
        return max(1 - 1.28 * sd, 0.0), 1 + 1.28 * sd
    if element == "P" and ingredient.material.phosphorus_class in UNSURE:
        return UNSURE_SPAN
    return SPREAD[element]
