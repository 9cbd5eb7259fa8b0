"""How a crop group lives in a pot: its leaves, its charge, and its years."""

from __future__ import annotations

from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.crops.demand import uptake_by_day
from pelk.core.crops.groups import Crop

Floats = NDArray[np.float64]

COLD_C, WARM_SPAN_C = 6.0, 9.0
# Share of the preset that a perennial wants in its first years.
YEARS = (0.5, 0.8, 1.0)
FIRST_HALF, YEAR_DAYS = 0.6, 365
# A small pot grows a small plant: a litre is never asked for more than this of the preset.
MOST_OF_PRESET = 1.3
# Of what stands, what roots that are left give back, as it is and with time.
ROOTS_LEFT, ROOTS_OUT, ROOTS_C_TO_N, LEGUME_C_TO_N = 0.30, 0.10, 25.0, 18.0
CUT_SHARE = 0.6


@dataclass(frozen=True, slots=True)
class Living:
    """How a group lives.

    Attributes
    ----------
    kappa : float
        Excess of cations over anions, nitrogen apart, for each nitrogen. [meq/mmol]
    leaf : float
        Leaves that lose water, times the soil's surface. [-]
    is_perennial : bool
        It lives over winter.
    fallen : float
        Share of a year's nitrogen that comes back with its leaves. [-]
    ammonium_first : float
        Times the weight of ammonium. [-]
    fixed : float
        Nitrogen fixed for each that the soil gave. [-]
    """

    kappa: float
    leaf: float
    is_perennial: bool
    fallen: float
    ammonium_first: float
    fixed: float


@cache
def livings() -> dict[str, Living]:
    """Return how each crop group lives, by slug."""
    return {
        row["group"]: Living(
            float(row["kappa"]),
            float(row["leaf"]),
            row["life"] == "perennial",
            float(row["fallen"]),
            float(row["ammonium_first"]),
            float(row["fixed"]),
        )
        for row in rows("crop_life.csv")
    }


@cites("pelk", "nothing grows under 6 °C, fully from 15 °C on; a judgement")
def growing_share(temperature_c: Floats) -> Floats:
    """Return how much of a day each counts for growth.

    Parameters
    ----------
    temperature_c : array
        Of each day. [°C]

    Returns
    -------
    array
        0 to 1. [-]
    """
    return np.asarray(np.clip((temperature_c - COLD_C) / WARM_SPAN_C, 0.0, 1.0))


@cites("pelk", "preset by plant over the litres it has, at most 1.3 of the preset")
def season_nitrogen(crop: Crop, plants: float, litres: float, vigour: float = 1.0) -> float:
    """Return the nitrogen that plants want of a litre of soil in a season.

    Parameters
    ----------
    crop : Crop
        The group.
    plants : float
        In the soil.
    litres : float
        Of the soil. [L]
    vigour : float
        0.7 to 1.3. [-]

    Returns
    -------
    float
        Wanted. [mg/L]
    """
    preset = crop.uptake_mg_l["N"]
    return min(preset * crop.reference_l * plants / litres, MOST_OF_PRESET * preset) * vigour


@cites("pelk", "logistic season of annuals; perennials 0.5, 0.8, 1 by year, 60 % in the first half")
def wanted_by_day(crop: Crop, temperature_c: Floats) -> Floats:
    """Return the share of a season's nitrogen that is wanted by the end of each day.

    Parameters
    ----------
    crop : Crop
        The group.
    temperature_c : array, shape (n_days,)
        Of each day since planting. [°C]

    Returns
    -------
    array, shape (n_days + 1,)
        In sum, from planting; a perennial's goes on by the year. [-]
    """
    growing = growing_share(temperature_c)
    if not livings()[crop.slug].is_perennial:
        line = uptake_by_day(1.0, crop.season_days, np.arange(len(growing) + 1.0))
        return np.concatenate([[0.0], np.cumsum(np.diff(line) * growing)])
    wanted = [np.zeros(1)]
    for year, start in enumerate(range(0, len(growing), YEAR_DAYS)):
        days = growing[start : start + YEAR_DAYS]
        # A year that is not over yet is taken to be as warm as its days so far.
        whole = days.sum() * YEAR_DAYS / len(days) if len(days) < YEAR_DAYS else days.sum()
        past = np.clip(np.cumsum(days) / max(whole, 1e-9), 0.0, 1.0)
        share = np.where(
            past < 0.5, 2 * FIRST_HALF * past, FIRST_HALF + 2 * (1 - FIRST_HALF) * (past - 0.5)
        )
        wanted.append(wanted[-1][-1] + YEARS[min(year, len(YEARS) - 1)] * share)
    return np.concatenate(wanted)


@cites("pelk", "bare soil 0.25 of the leaves, in full at the season's end; a judgement")
def cover_by(wanted_share: Floats) -> Floats:
    """Return how far leaves cover the pot where so much of a season is wanted.

    Parameters
    ----------
    wanted_share : array
        0 to 1; a perennial in its later years stays at 1. [-]

    Returns
    -------
    array
        0.25 to 1. [-]
    """
    return np.asarray(0.25 + 0.75 * np.clip(wanted_share, 0.0, 1.0))
