"""How one material's nitrogen comes free over the days of a season."""

import numpy as np
from numpy.typing import ArrayLike, NDArray

from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.release.organic_nitrogen import net_nitrogen, organic_n
from pelk.core.release.rate_factors import Q10, Q10_HOT, decay_by_temperature

Floats = NDArray[np.float64]
MONTH_DAYS = (31, 28, 31, 30, 31, 30, 31, 31, 30, 31, 30, 31)


def daily_temperatures(monthly_c: ArrayLike, first_day_of_year: int, days: int) -> Floats:
    """Return the temperature of each day from the normals of the twelve months.

    Parameters
    ----------
    monthly_c : array, shape (12,)
        Mean of each month, taken for its middle. [°C]
    first_day_of_year : int
        Day of the year of the first one, 0 for the first of January. [d]
    days : int
        How many. [d]

    Returns
    -------
    array, shape (days,)
        By straight lines between the middles of months. [°C]
    """
    lengths = np.array(MONTH_DAYS, dtype=float)
    middles = np.cumsum(lengths) - lengths / 2
    at = (first_day_of_year + np.arange(days)) % lengths.sum()
    return np.asarray(
        np.interp(at, middles, np.asarray(monthly_c, dtype=float), period=float(lengths.sum()))
    )


@cites("pelk", "two pools, moist, at the temperature of each day")
def nitrogen_released(material: Material, temperature_c: ArrayLike) -> Floats | None:
    """Return the share of a material's nitrogen that is free by the end of each day.

    Parameters
    ----------
    material : Material
        Alone in a moist, living mix.
    temperature_c : array, shape (n_days,)
        Of the mix, day by day. [°C]

    Returns
    -------
    array, shape (n_days + 1,), or None
        Share of total nitrogen; negative while it ties nitrogen up; None when it
        holds none. [-]
    """
    held = organic_n(material, 1.0, is_bulk=material.role == "bulk")
    if held is None:
        return None
    daily = np.asarray(temperature_c, dtype=float)
    days, hot = (
        np.concatenate([[0.0], np.cumsum(decay_by_temperature(daily, q10))])
        for q10 in (Q10, Q10_HOT)
    )
    given = np.zeros_like(days)
    if held.release is not None and held.organic_mg_l > 0:
        given = net_nitrogen(held.release, held.organic_mg_l, held.carbon_mg_l, days, hot)
    return np.asarray((held.mineral_mg_l + given) / held.total_mg_l)
