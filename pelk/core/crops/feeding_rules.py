"""Keeping it going: top-dressing, liquid feeds, teas, and the winter rule."""

from collections.abc import Mapping
from dataclasses import dataclass
from math import ceil, pi

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.crops.demand import washed_out
from pelk.core.release.organic_nitrogen import SURFACE
from pelk.core.release.rate_factors import decay_by_temperature

EFFECTIVE_CM = 15.0
# Water that fills the pores of a litre once.
PORE_VOLUME_L_L = 0.55
MOST_ON_TOP_G_M2 = 500.0
# Days before the crop runs dry that a dressing must lie, by what it is.
LEAD_DAYS = {"hot meal": 14, "pellets": 21, "seed meal": 21, "alfalfa": 28, "liquid": 2}
LEAD_CAP = 3.0
# Weeks between top-dressings by crop group; None gets none.
INTERVAL_WEEKS: dict[str, float | None] = {
    "seedling": None,
    "leafy": 4,
    "fruiting": 4,
    "roots": 6,
    "legumes": None,
    "alliums": 5,
    "med-herbs": None,
    "ericaceous": 20,
    "citrus": 5,
    "annuals": 4,
    "foliage": 6,
    "lean": None,
}
TEA_MOST_HOURS, TEA_BEST_HOURS = 24.0, (4.0, 6.0)
WINTER_PORE_VOLUMES = 0.7
LEACHABLE = frozenset(["N", "K", "S", "B"])
COLD_C = 10.0


@cites("arithmetic", "rate times effective depth")
@answers
def rate_per_area(dose_g_l: float, depth_cm: float = EFFECTIVE_CM) -> float:
    """Return a rate per volume as a rate per area.

    Parameters
    ----------
    dose_g_l : float
        Rate. [g/L]
    depth_cm : float
        Effective depth. [cm]

    Returns
    -------
    float
        Rate. [g/m2]
    """
    return dose_g_l * 10 * depth_cm


@cites("trade", "no more than 500 g/m2 at once: a granule deep")
@answers
def most_on_top(diameter_cm: float) -> float:
    """Return the most of a dressing that a round pot takes at once.

    Parameters
    ----------
    diameter_cm : float
        Of the surface. [cm]

    Returns
    -------
    float
        Dressing. [g]
    """
    return MOST_ON_TOP_G_M2 * pi * (diameter_cm / 100) ** 2 / 4


@cites("arithmetic", "depth times weight of a litre")
@answers
def layer_weight(depth_cm: float, density_kg_l: float) -> float:
    """Return what a layer weighs on its area.

    Parameters
    ----------
    depth_cm : float
        Of the layer. [cm]
    density_kg_l : float
        Weight of a litre. [kg/L]

    Returns
    -------
    float
        Weight. [kg/m2]
    """
    return depth_cm * 10 * density_kg_l


@dataclass(frozen=True, slots=True)
class Dressing:
    """A top-dressing: when, how much a pot, and in how many goes."""

    day: int
    g_per_pot: float
    goes: int
    nitrogen_mg_l: float


@cites("em8954", "plant-available share of the product")
@cites("pelk", "surface efficiency 0.75; lead time stretched in the cold")
@answers
def top_dress(
    run_out_day: int,
    short_mg_l: float,
    pot_l: float,
    nitrogen_pct: float,
    available_share: float,
    *,
    kind: str = "pellets",
    temperature_c: float = 20.0,
    surface_cm: float | None = None,
) -> Dressing:
    """Return when to top-dress, and with how much.

    Parameters
    ----------
    run_out_day : int
        When the supply runs out. [d]
    short_mg_l : float
        Nitrogen that will lack. [mg/L]
    pot_l : float
        Filled volume. [L]
    nitrogen_pct : float
        Of the product. [%]
    available_share : float
        Of its nitrogen that comes free in time. [-]
    kind : str
        One of `LEAD_DAYS`.
    temperature_c : float
        Of the mix. [°C]
    surface_cm : float, optional
        Diameter of the pot: caps what goes on at once. [cm]

    Returns
    -------
    Dressing
        Grams a pot, in goes three to four weeks apart.
    """
    if kind not in LEAD_DAYS:
        raise PelkError(f"found {kind!r}, allowed: {', '.join(LEAD_DAYS)}", "kind")
    if available_share <= 0 or nitrogen_pct <= 0:
        raise PelkError("this product gives no nitrogen in time", "product")
    pace = max(float(decay_by_temperature(temperature_c)), 1 / LEAD_CAP)
    lead = LEAD_DAYS[kind] * min(1 / pace, LEAD_CAP)
    grams = short_mg_l * pot_l / (nitrogen_pct * 10 * available_share * SURFACE)
    goes = 1
    if surface_cm is not None:
        goes = max(ceil(grams / most_on_top(surface_cm)), 1)
    return Dressing(max(round(run_out_day - lead), 0), grams, goes, short_mg_l)


@cites("arithmetic", "millilitres times density times percent times ten")
@answers
def liquid_strength(dose_ml_l: float, percent: float, density_kg_l: float = 1.0) -> float:
    """Return what a diluted liquid feed holds of an element.

    Parameters
    ----------
    dose_ml_l : float
        Concentrate in a litre of water. [mL/L]
    percent : float
        Of the element in the concentrate, by mass. [%]
    density_kg_l : float
        Of the concentrate. [kg/L]

    Returns
    -------
    float
        Strength. [mg/L]
    """
    return dose_ml_l * density_kg_l * percent * 10


@cites("arithmetic", "the same, solved for the dose")
@answers
def dilution_for(strength_mg_l: float, percent: float, density_kg_l: float = 1.0) -> float:
    """Return the concentrate that makes a feed of some strength.

    Parameters
    ----------
    strength_mg_l : float
        Wanted. [mg/L]
    percent : float
        Of the element in the concentrate, by mass. [%]
    density_kg_l : float
        Of the concentrate. [kg/L]

    Returns
    -------
    float
        Concentrate in a litre of water. [mL/L]
    """
    if percent <= 0:
        raise PelkError("this feed holds none of it", "percent")
    return strength_mg_l / (density_kg_l * percent * 10)


@cites("arithmetic", "strength times litres given over litres of mix")
@answers
def liquid_dose(strength_mg_l: float, given_l: float, pot_l: float) -> float:
    """Return what a feeding brings to a litre of mix.

    Parameters
    ----------
    strength_mg_l : float
        Of the feed. [mg/L]
    given_l, pot_l : float
        Poured on, and the mix in the pot. [L]

    Returns
    -------
    float
        Dose. [mg/L]
    """
    return strength_mg_l * given_l / pot_l


@cites("arithmetic", "tub over doses")
@answers
def tub_lasts(tub_kg: float, g_per_pot: float, pots: int, weeks: float | None) -> float:
    """Return how long a tub lasts.

    Parameters
    ----------
    tub_kg : float
        What it holds. [kg]
    g_per_pot : float
        At each feeding. [g]
    pots : int
        How many. [-]
    weeks : float or None
        Between feedings; None counts feedings. [weeks]

    Returns
    -------
    float
        Weeks, or feedings when no interval is given. [weeks]
    """
    feedings = tub_kg * 1000 / (g_per_pot * pots)
    return feedings if weeks is None else feedings * weeks


@dataclass(frozen=True, slots=True)
class Tea:
    """Whether a tea may still be used, and in words why."""

    is_usable: bool
    text: str


@answers
def tea(age_hours: float, *, food: bool, sweetened: bool = False, raw: bool = False) -> Tea:
    """Return whether a compost or worm tea may be used.

    Parameters
    ----------
    age_hours : float
        Since the air stopped. [h]
    food : bool
        On plants that are eaten.
    sweetened : bool
        With sugar, molasses or kelp in the brew.
    raw : bool
        From raw manure.
    """
    if age_hours > TEA_MOST_HOURS:
        ending = "pour it on ornamentals or the heap." if food else "pour it on the heap."
        return Tea(False, f"Over {TEA_MOST_HOURS:g} hours old: {ending}")
    if food and (sweetened or raw):
        why = "fed with sugar or kelp" if sweetened else "brewed from raw manure"
        return Tea(False, f"It was {why}: germs may have grown. Not on food crops.")
    best = f"{TEA_BEST_HOURS[0]:g} to {TEA_BEST_HOURS[1]:g}"
    return Tea(True, f"Use it now, best within {best} hours; on the soil, not on leaves eaten raw.")


@dataclass(frozen=True, slots=True)
class WinterRule:
    """What a wet winter takes, and what not to load before it."""

    pore_volumes: float
    lost: Mapping[str, float]
    leave_out: tuple[str, ...]
    text: str


@answers
def winter_rule(
    drained_l_l: float,
    theta: float,
    held_back: Mapping[str, float],
    *,
    acid_lovers: bool = False,
    holds_soil: bool = False,
) -> WinterRule:
    """Return what would wash out before the crop takes up any of it.

    Parameters
    ----------
    drained_l_l : float
        Water that drains from a litre of mix between loading and growth. [L/L]
    theta : float
        Water it holds. [L/L]
    held_back : mapping of str to float
        How much slower than nitrate each element moves.
    acid_lovers : bool
        They get no lime and no bone, in winter or ever.
    holds_soil : bool
        Soil holds phosphorus where peat and bark do not.

    Returns
    -------
    WinterRule
        With the elements not to load, none when the winter is dry.
    """
    volumes = drained_l_l / theta
    lost = {e: washed_out(drained_l_l, theta, r) for e, r in held_back.items()}
    if volumes <= WINTER_PORE_VOLUMES:
        return WinterRule(volumes, lost, (), "Little would wash out: load when you like.")
    nitrate = washed_out(drained_l_l, theta, 1.0)
    return WinterRule(
        volumes,
        lost,
        tuple(e for e in held_back if e in LEACHABLE),
        "Do not load leachables before a dormant wet winter: about "
        f"{nitrate:.0%} of the nitrate would wash out. {_may_go_in(acid_lovers, holds_soil)} "
        "may go in; cover the pots, or feed 3 to 6 weeks before planting.",
    )


def _may_go_in(acid_lovers: bool, holds_soil: bool) -> str:
    """Name what a wet winter does not take, of what a crop stands."""
    if acid_lovers:
        return "Bark and needles"
    return (
        "Lime, rock phosphate, bone, compost and bark" if holds_soil else "Lime, compost and bark"
    )


@cites("arithmetic", "removal over what the product gives")
@answers
def replace_removed(
    harvest_kg: float, removed_g_kg: float, nitrogen_pct: float, available_share: float
) -> float:
    """Return the meal that puts back the nitrogen of a harvest.

    Parameters
    ----------
    harvest_kg : float
        Fruit taken. [kg]
    removed_g_kg : float
        Nitrogen in fruit and plant, a kilogram of fruit. [g/kg]
    nitrogen_pct : float
        Of the meal. [%]
    available_share : float
        Of its nitrogen that comes free in the season. [-]

    Returns
    -------
    float
        Meal. [g]
    """
    return harvest_kg * removed_g_kg / (nitrogen_pct / 100 * available_share)


@answers
def is_feed_due(
    ec_ds_m: float | None, ec_warn: float, pool_mg_l: float, month_mg_l: float, temperature_c: float
) -> tuple[bool, str]:
    """Return whether the next dose is due, and why it is not.

    Parameters
    ----------
    ec_ds_m : float or None
        Last reading. [dS/m]
    ec_warn : float
        Amber line of the crop. [dS/m]
    pool_mg_l, month_mg_l : float
        Nitrogen there, and wanted in the coming four weeks. [mg/L]
    temperature_c : float
        Of the mix. [°C]
    """
    if ec_ds_m is not None and ec_ds_m > ec_warn:
        return False, "salts are high: plain water first"
    if pool_mg_l > 2 * month_mg_l:
        return False, "there is food for two months"
    if temperature_c < COLD_C:
        return False, "too cold for it to be used"
    return True, "due"
