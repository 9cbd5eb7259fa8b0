"""How fast things go: by temperature, moisture, pH and the life in a heap.

Each factor is a plain function of an array, with its source. The time course reads
them from even tables, all at once.
"""

from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.buffering import PH_GRID, PK1, PKH, ROOT_ZONE_CO2_ATM
from pelk.core.base.arithmetic import Arithmetic, Grid, Lane
from pelk.core.base.sources import cites

Floats = NDArray[np.float64]

REFERENCE_C = 22.0
Q10, Q10_HOT = 2.0, 1.5
LIME_Q10, SULFUR_Q10 = 1.6, 2.5
DECOMPOSER_GROWTH_D = 0.6
# Ammonia's pK is read off the table as a power of ten beside pH 8.
REFERENCE_PH = 8.0
DROWNS_FROM = 0.75
# Dolomite slows above this pH, by this power of ten a unit (0.3 to 0.8).
DOLOMITE_KNEE_PH, DOLOMITE_SLOWS = 5.5, 0.5
T_START, T_STEP, T_END = -30.0, 0.25, 90.0


@cites("pelk", "Q10 law at 22 C, ramps at 0 to 4 and 50 to 70 C; RothC within 14 %")
@cites("rothc", "cross-check, 12 to 30 C")
def decay_by_temperature(temperature_c: Floats | float, q10: float = Q10) -> Floats:
    """Return the speed of rotting relative to 22 °C.

    ``q10 ** ((min(T, 40) - 22) / 10)``, nothing in frost, dying off above 50 °C.

    Parameters
    ----------
    temperature_c : array or float
        Of the mix. [°C]
    q10 : float
        Times faster for ten degrees: 2, and 1.5 for the fast pool of hot meals. [-]

    Returns
    -------
    array
        Factor. [-]
    """
    t = np.asarray(temperature_c, dtype=float)
    speed = q10 ** ((np.minimum(t, 40.0) - REFERENCE_C) / 10)
    return np.asarray(speed * np.clip(t / 4, 0, 1) * np.clip((70 - t) / 20, 0, 1))


@cites("pelk", "after textbook moisture curves")
def decay_by_moisture(moisture: Floats | float) -> Floats:
    """Return the speed of rotting relative to a moist mix.

    Parameters
    ----------
    moisture : array or float
        Water as a share of container capacity. [-]

    Returns
    -------
    array
        Factor. [-]
    """
    return np.asarray(np.interp(moisture, [0.10, 0.50, 0.80, 1.00], [0.0, 1.0, 1.0, 0.6]))


@cites("pelk", "after textbook nitrification curves")
def nitrifiers_by_moisture(moisture: Floats | float) -> Floats:
    """Return the speed of nitrification relative to a moist mix.

    Parameters
    ----------
    moisture : array or float
        Water as a share of container capacity. [-]

    Returns
    -------
    array
        Factor. [-]
    """
    return np.asarray(np.interp(moisture, [0.20, 0.50, 0.75, 1.00], [0.0, 1.0, 1.0, 0.2]))


@cites("pelk", "Q10 2 at 25 C, none below 2 C and above 45 C")
def nitrifiers_by_temperature(temperature_c: Floats | float) -> Floats:
    """Return the speed of nitrification relative to 25 °C.

    Parameters
    ----------
    temperature_c : array or float
        Of the mix. [°C]

    Returns
    -------
    array
        Factor. [-]
    """
    t = np.asarray(temperature_c, dtype=float)
    speed = 2.0 ** ((np.minimum(t, 30.0) - 25.0) / 10)
    return np.asarray(speed * np.clip((45 - t) / 10, 0, 1) * np.clip((t - 2) / 6, 0, 1))


@cites("pelk", "none at pH 4.3, full at 6.5 to 8.2")
def nitrifiers_by_ph(ph: Floats | float) -> Floats:
    """Return the speed of nitrification relative to a neutral mix.

    Parameters
    ----------
    ph : array or float
        Of the mix.

    Returns
    -------
    array
        Factor. [-]
    """
    return np.asarray(np.interp(ph, [4.3, 5.0, 6.5, 8.2, 9.5], [0.0, 0.25, 1.0, 1.0, 0.2]))


@cites("emerson1975", "pKa = 0.09018 + 2729.92 / T")
def ammonia_share(ph: Floats | float, temperature_c: Floats | float) -> Floats:
    """Return the share of ammoniacal nitrogen that is free ammonia.

    Parameters
    ----------
    ph : array or float
        Of the solution.
    temperature_c : array or float
        Of the solution. [°C]

    Returns
    -------
    array
        Share. [-]
    """
    pka = 0.09018 + 2729.92 / (np.asarray(temperature_c, dtype=float) + 273.15)
    return np.asarray(1 / (1 + 10 ** (pka - np.asarray(ph, dtype=float))))


@cites("pelk", "Q10 1.6; none without liquid water")
def lime_by_temperature(temperature_c: Floats | float) -> Floats:
    """Return the speed of lime dissolving relative to 25 °C.

    Parameters
    ----------
    temperature_c : array or float
        Of the mix. [°C]

    Returns
    -------
    array
        Factor. [-]
    """
    t = np.asarray(temperature_c, dtype=float)
    return np.asarray(LIME_Q10 ** ((t - 25) / 10) * np.clip((t + 1) / 2, 0, 1))


@cites("pelk", "films of water carry the acid to the grain")
def lime_by_water(water_filled: Floats | float) -> Floats:
    """Return the speed of lime dissolving relative to a moist mix.

    Parameters
    ----------
    water_filled : array or float
        Share of pore space that is water. [-]

    Returns
    -------
    array
        Factor. [-]
    """
    return np.asarray(np.clip((np.asarray(water_filled, dtype=float) - 0.05) / 0.30, 0, 1))


@cites("pelk", "air is shut out from three quarters of the pores on (0.70 to 0.80)")
def drowned_share(water_filled: Floats | float) -> Floats:
    """Return how far water in the pores lets nitrate be breathed in place of air.

    Parameters
    ----------
    water_filled : array or float
        Share of the pores that is water. [-]

    Returns
    -------
    array
        0 up to 0.75, 1 when full. [-]
    """
    past = (np.asarray(water_filled, dtype=float) - DROWNS_FROM) / (1 - DROWNS_FROM)
    return np.asarray(np.clip(past, 0.0, 1.0) ** 2)


@cites("swartzendruber1965", "limestone as dissolving spheres; pH exponent 0.5 is a fit")
def lime_by_ph(ph: Floats | float) -> Floats:
    """Return the speed of calcite's retreat relative to pH 5, before saturation.

    Parameters
    ----------
    ph : array or float
        Of the mix.

    Returns
    -------
    array
        Factor. [-]
    """
    return np.asarray(10.0 ** (-0.5 * (np.asarray(ph, dtype=float) - 5)))


@cites("busenberg1982", "half-order law of dolomite; knee and exponent are judgement")
def dolomite_by_ph(ph: Floats | float) -> Floats:
    """Return the speed of dolomite's retreat relative to calcite's at the same pH.

    Parameters
    ----------
    ph : array or float
        Of the mix.

    Returns
    -------
    array
        1 up to pH 5.5, falling beyond as acid gives out. [-]
    """
    past = np.maximum(np.asarray(ph, dtype=float) - DOLOMITE_KNEE_PH, 0.0)
    return np.asarray(10.0 ** (-DOLOMITE_SLOWS * past))


@cites("janzen1987", "temperature; Q10 2.5, none below 4 C")
def sulfur_by_temperature(temperature_c: Floats | float) -> Floats:
    """Return the speed of sulfur oxidation relative to 25 °C.

    Parameters
    ----------
    temperature_c : array or float
        Of the mix. [°C]

    Returns
    -------
    array
        Factor. [-]
    """
    t = np.asarray(temperature_c, dtype=float)
    speed = SULFUR_Q10 ** ((np.minimum(t, 33) - 25) / 10)
    return np.asarray(speed * np.clip((t - 4) / 6, 0, 1) * np.clip((48 - t) / 10, 0, 1))


@cites("janzen1987", "moisture; dry and waterlogged both stop it")
def sulfur_by_water(water_filled: Floats | float) -> Floats:
    """Return the speed of sulfur oxidation relative to a moist mix.

    Parameters
    ----------
    water_filled : array or float
        Share of pore space that is water. [-]

    Returns
    -------
    array
        Factor. [-]
    """
    return np.asarray(np.interp(water_filled, [0.10, 0.40, 0.65, 0.95], [0, 1, 1, 0]))


@cites("pelk", "stops below pH 2, slackens above 8")
def sulfur_by_ph(ph: Floats | float) -> Floats:
    """Return the speed of sulfur oxidation relative to pH 4 to 8.

    Parameters
    ----------
    ph : array or float
        Of the mix.

    Returns
    -------
    array
        Factor. [-]
    """
    return np.asarray(np.interp(ph, [2.0, 2.5, 4.0, 8.0, 9.0], [0, 0.1, 1, 1, 0.7]))


@cites("plummer1982", "bicarbonate at rest with root-zone CO2")
def bicarbonate(ph: Floats | float) -> Floats:
    """Return the bicarbonate that pore water holds at a pH.

    Parameters
    ----------
    ph : array or float
        Of the water.

    Returns
    -------
    array
        Bicarbonate. [meq/L]
    """
    power = 10.0 ** np.asarray(ph, dtype=float)
    return np.asarray(1000 * 10 ** (-PKH - PK1) * ROOT_ZONE_CO2_ATM * power)


def grow(x: Arithmetic, level: Lane, growth: Lane) -> tuple[Lane, Lane]:
    """Step a logistic population exactly.

    Parameters
    ----------
    x : Arithmetic
        Floats or arrays.
    level : float or array
        Population as a share of the most there can be. [-]
    growth : float or array
        Growth rate times time. [-]

    Returns
    -------
    tuple
        The level after; the mean of the level over the step, times `growth`. [-], [-]
    """
    rise = x.expm1(x.least(growth, 50.0))
    after = level * (1 + rise) / (1 + level * rise)
    return after, x.log1p(level * rise)


@cache
def by_temperature() -> Grid:
    """Return temperature factors: rotting (of hot meals), nitrifiers, lime, sulfur, ammonia."""
    t = np.arange(T_START, T_END, T_STEP)
    share = ammonia_share(REFERENCE_PH, np.maximum(t, -20.0))
    return Grid(
        T_START,
        T_STEP,
        [
            decay_by_temperature(t),
            decay_by_temperature(t, Q10_HOT),
            nitrifiers_by_temperature(t),
            lime_by_temperature(t),
            sulfur_by_temperature(t),
            1 / share - 1,
        ],
    )


@cache
def by_ph() -> Grid:
    """Return the factors of pH.

    In turn: lime, sulfur, nitrifiers, bicarbonate, ten to the pH above 8, dolomite beside lime.
    """
    return Grid(
        float(PH_GRID[0]),
        float(PH_GRID[1] - PH_GRID[0]),
        [
            lime_by_ph(PH_GRID),
            sulfur_by_ph(PH_GRID),
            nitrifiers_by_ph(PH_GRID),
            bicarbonate(PH_GRID),
            10.0 ** (PH_GRID - REFERENCE_PH),
            dolomite_by_ph(PH_GRID),
        ],
    )
