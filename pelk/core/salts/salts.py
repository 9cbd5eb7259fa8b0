"""Salts: what a meter reads, by which method, and what plants stand."""

from collections.abc import Mapping
from functools import cache
from math import log

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.elements import ATOMIC_MASS
from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.salts.pore_water import UNKNOWN_EC, UNKNOWN_PASTE_L_L

Floats = NDArray[np.float64]

# Water in the saturated paste of a litre of mix; meq/L in a dS/m.
PASTE_L_L, MEQ_PER_DS = UNKNOWN_PASTE_L_L, 10.0
METHODS = {"sme": 1.0, "1:2": 2.8, "1:5": 5.4, "pour-through": 1 / 1.3}
BAND_COLUMN = {
    "sme": "sme",
    "1:2": "one_to_two",
    "1:5": "one_to_five",
    "pour-through": "pour_through",
}
# mg of an ion (nitrogen, sulfur as the element) to a milliequivalent.
MG_PER_MEQ = {
    "NH4": ATOMIC_MASS["N"],
    "NO3": ATOMIC_MASS["N"],
    "K": ATOMIC_MASS["K"],
    "Na": ATOMIC_MASS["Na"],
    "Ca": ATOMIC_MASS["Ca"] / 2,
    "Mg": ATOMIC_MASS["Mg"] / 2,
    "Cl": ATOMIC_MASS["Cl"],
    "SO4": ATOMIC_MASS["S"] / 2,
    "P": ATOMIC_MASS["P"],
}
CATIONS, ANIONS = ("NH4", "K", "Na", "Ca", "Mg"), ("NO3", "Cl", "SO4", "P")
# How much slower than nitrate an ion moves; phosphorus by where it is.
RETARDATION = {
    "NO3": 1.0,
    "Cl": 1.0,
    "S": 1.1,
    "B": 1.5,
    "Na": 1.5,
    "NH4": 2.5,
    "K": 3.0,
    "Mg": 4.0,
    "Ca": 6.0,
    "P": 3.0,
    "P held": 20.0,
}
EXTRACT_POROSITY = 0.55
AMMONIUM_MOST, AMMONIUM_MOST_SEED, AMMONIUM_MOST_ACID = 40.0, 20.0, 80.0
FREE_AMMONIA_MOST, FREE_AMMONIA_SEED = 2.0, 0.5
# Soluble boron that warns and that stops, mg/L of mix, by tolerance.
BORON = {"sensitive": (0.3, 0.5), "semi": (0.6, 1.0), "tolerant": (1.2, 2.0)}
BORON_SENSITIVE = frozenset(["seedling", "legumes", "ericaceous", "citrus", "foliage"])


@cites("cavins", "reading by method for the same mix")
@answers
def as_saturated_extract(reading_ds_m: float, method: str, tap_ds_m: float = 0.0) -> float:
    """Return what a reading by another method would be in the saturated extract.

    Parameters
    ----------
    reading_ds_m : float
        As the meter shows. [dS/m]
    method : str
        ``sme``, ``1:2``, ``1:5`` or ``pour-through``.
    tap_ds_m : float
        Of the water used; taken off dilutions when over 0.2. [dS/m]

    Returns
    -------
    float
        Conductivity of the saturated extract. [dS/m]
    """
    if method not in METHODS:
        raise PelkError(f"found {method!r}, allowed: {', '.join(METHODS)}", "method")
    own = reading_ds_m
    if method in ("1:2", "1:5") and tap_ds_m > 0.2:
        own = max(reading_ds_m - tap_ds_m, 0.0)
    return own * METHODS[method]


@answers
def ec_band(reading_ds_m: float, method: str = "sme") -> tuple[str, str]:
    """Return the band a reading falls in, and what it means."""
    if method not in BAND_COLUMN:
        raise PelkError(f"found {method!r}, allowed: {', '.join(BAND_COLUMN)}", "method")
    column = BAND_COLUMN[method]
    for row in rows("ec_bands.csv"):
        if reading_ds_m < float(row[column]):
            return row["band"], row["meaning"]
    last = rows("ec_bands.csv")[-1]
    return last["band"], last["meaning"]


@cites("maas1977", "threshold and slope, mineral-soil ECe; peat mixes stand about 1 more")
@answers
def yield_left(ece_ds_m: float, threshold_ds_m: float, slope_pct: float) -> float:
    """Return what is left of a yield in salty soil.

    Parameters
    ----------
    ece_ds_m : float
        Conductivity of the saturated extract. [dS/m]
    threshold_ds_m : float
        Up to which nothing is lost. [dS/m]
    slope_pct : float
        Lost for each dS/m above it. [%/(dS/m)]

    Returns
    -------
    float
        Of the full yield. [%]
    """
    return min(max(100 - slope_pct * max(ece_ds_m - threshold_ds_m, 0.0), 0.0), 100.0)


@cache
def salt_tolerance() -> dict[str, tuple[float, float]]:
    """Return threshold and slope by crop. [dS/m], [%/(dS/m)]."""
    return {
        row["crop"]: (float(row["threshold"]), float(row["slope"]))
        for row in rows("salt_tolerance.csv")
    }


@cites("pelk", "one distribution of each ion serves extraction and leaching")
@answers
def extract_share(
    retardation: float, water_l_l: float = PASTE_L_L, theta: float = EXTRACT_POROSITY
) -> float:
    """Return the share of an available ion that an extract holds in solution.

    Parameters
    ----------
    retardation : float
        How much slower than nitrate it moves. [-]
    water_l_l : float
        Water in the extract of a litre of mix: 0.85 in a paste, 2.4 in 1:2. [L/L]
    theta : float
        Water at which the retardation holds. [L/L]

    Returns
    -------
    float
        Share. [-]
    """
    return water_l_l / (water_l_l + (retardation - 1) * theta)


def extract_mg_l(
    pool_mg_l: Mapping[str, float], *, phosphorus_held: bool = True, water_l_l: float = PASTE_L_L
) -> dict[str, float]:
    """Return what a media extract should read of each element.

    Cations beyond the anions there are stay on exchange sites: calcium and magnesium
    are scaled down first, then potassium.

    Parameters
    ----------
    pool_mg_l : mapping of str to float
        Available now in a litre of mix: ``N P K Ca Mg S Na Cl``. [mg/L]
    phosphorus_held : bool
        With soil, or from organic matter, bone and rock.
    water_l_l : float
        Water in the extract. [L/L]

    Returns
    -------
    dict of str to float
        By element. [mg/L]
    """
    ions = {}
    for element, amount in pool_mg_l.items():
        key = "P held" if element == "P" and phosphorus_held else element
        key = "NO3" if element == "N" else key
        share = extract_share(RETARDATION[key], water_l_l)
        ions[element] = max(amount, 0.0) * share / water_l_l
    return _balanced(ions)


def _balanced(ions: dict[str, float]) -> dict[str, float]:
    meq = {
        e: ions.get(e, 0.0) / MG_PER_MEQ[ion]
        for e, ion in (
            ("N", "NO3"),
            ("Cl", "Cl"),
            ("S", "SO4"),
            ("K", "K"),
            ("Na", "Na"),
            ("Ca", "Ca"),
            ("Mg", "Mg"),
        )
    }
    anions = meq["N"] + meq["Cl"] + meq["S"] + 1.0
    over = meq["K"] + meq["Na"] + meq["Ca"] + meq["Mg"] - anions
    hard = meq["Ca"] + meq["Mg"]
    if over > 0 and hard > 0:
        kept = max(1 - over / hard, 0.1)
        ions = {e: v * kept if e in ("Ca", "Mg") else v for e, v in ions.items()}
        over -= hard * (1 - kept)
    if over > 0 and meq["K"] > 0:
        kept = max(1 - over / meq["K"], 0.1)
        ions = {e: v * kept if e == "K" else v for e, v in ions.items()}
    return ions


@cites("pelk", "pore volumes that bring salts down, with a third over")
@answers
def pore_volumes_to_flush(ec_ds_m: float, target_ds_m: float) -> float:
    """Return how many pore volumes of water bring salts down.

    Parameters
    ----------
    ec_ds_m, target_ds_m : float
        Now, and wanted. [dS/m]

    Returns
    -------
    float
        Pore volumes; one is container capacity times volume. [-]
    """
    return 1.3 * log(ec_ds_m / target_ds_m) if ec_ds_m > target_ds_m else 0.0


@cites("arithmetic", "linear mixing with an unfed mix")
@answers
def share_to_dilute(ec_ds_m: float, most_ds_m: float, unfed_ds_m: float = UNKNOWN_EC) -> float:
    """Return the share of unfed mix that brings salts down to a limit.

    Parameters
    ----------
    ec_ds_m, most_ds_m : float
        Now, and the most wanted. [dS/m]
    unfed_ds_m : float
        Of the mix to dilute with. [dS/m]

    Returns
    -------
    float
        Share of the whole. [-]
    """
    return max((ec_ds_m - most_ds_m) / (ec_ds_m - unfed_ds_m), 0.0)


def boron_lines(crop: str) -> tuple[float, float]:
    """Return soluble boron that warns and that injures a crop group. [mg/L]."""
    return BORON["sensitive" if crop in BORON_SENSITIVE else "semi"]


@cites("maas_boron", "soil-water limits brought to a litre of mix")
@answers
def boron_ratio(soluble_boron_mg_l: float, crop: str) -> float:
    """Return soluble boron over what injures a crop group.

    Parameters
    ----------
    soluble_boron_mg_l : float
        In a litre of mix. [mg/L]
    crop : str
        Slug of the group.

    Returns
    -------
    float
        Above 1 it injures. [-]
    """
    return soluble_boron_mg_l / boron_lines(crop)[1]
