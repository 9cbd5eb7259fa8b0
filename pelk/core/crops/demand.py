"""What a crop wants over its season, and how supply stands against it."""

from dataclasses import dataclass
from math import exp, log

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.salts.salts import RETARDATION
from pelk.core.salts.water_ions import mean_stay

Floats = NDArray[np.float64]

MIDDLE, SPAN = 0.55, 0.60
# Share of what is supplied that reaches the plant when drainage is not followed.
REACHES = {"saucer": 0.80, "normal": 0.65, "over": 0.50}
RESERVE_MG_L = {"N": 20.0, "P": 5.0, "K": 30.0}
EARLY_SHARE, SHORT_SHARE = 0.02, 0.10
# How much slower than nitrate each element washes out of a pot.
HELD_BACK = {element: RETARDATION[element] for element in ("P", "K", "Ca", "Mg", "S")}
# Phosphorus is held as firmly as soil holds it from this share of soil on, less below it.
SOIL_HOLDS_FROM = 0.1


@cites("pelk", "logistic uptake, 10 to 90 % in 0.6 of the season")
def uptake_by_day(
    season_mg_l: float, season_days: float, day: Floats, middle: float = MIDDLE, span: float = SPAN
) -> Floats:
    """Return what a crop has wanted by each day of its season.

    Parameters
    ----------
    season_mg_l : float
        In the whole season. [mg/L]
    season_days : float
        Its length. [d]
    day : array
        Days since planting. [d]
    middle, span : float
        Where half is reached, and how long 10 to 90 % takes, of the season. [-]

    Returns
    -------
    array
        In sum. [mg/L]
    """
    steep = log(81) / (span * season_days)

    def rise(at: Floats | float) -> Floats:
        return np.asarray(1 / (1 + np.exp(-steep * (at - middle * season_days))))

    start = 1 / (1 + exp(steep * middle * season_days))
    end = float(rise(season_days))
    inside = np.clip(day, 0, season_days)
    return np.asarray(season_mg_l * (rise(inside) - start) / (end - start))


@cites("pelk", "uptake over what reaches the plant: 0.65 in an ordinary pot")
@answers
def supply_to_plan(season_mg_l: float, drainage: str = "normal") -> float:
    """Return the supply that covers a season's uptake and its usual losses.

    Only where drainage is not followed day by day.

    Parameters
    ----------
    season_mg_l : float
        Uptake. [mg/L]
    drainage : str
        ``saucer``, ``normal`` or ``over``.

    Returns
    -------
    float
        Supply. [mg/L]
    """
    return season_mg_l / REACHES[drainage]


@dataclass(frozen=True, slots=True)
class Balance:
    """An element day by day in a planted pot.

    Attributes
    ----------
    pool, taken, short, leached : array, shape (n_days + 1,)
        Left in the pot; taken up, wanted in vain and washed out, in sum. [mg/L]
    run_out_day : int or None
        First day on which less than the reserve is left.
    to_air : float
        Nitrate that drowned pores gave to the air by the end. [mg/L]
    brought : float
        What the water has brought by the end. [mg/L]
    """

    pool: Floats
    taken: Floats
    short: Floats
    leached: Floats
    run_out_day: int | None
    to_air: float = 0.0
    brought: float = 0.0


@cites("pelk", "phosphorus 3 in mixes, 20 from a tenth of soil on, in between by share")
def held_back_of(element: str, mineral_soil: float) -> float:
    """Return how much slower than nitrate an element washes out of a mix.

    Parameters
    ----------
    element : str
        Key of `HELD_BACK`; others wash out as nitrate does.
    mineral_soil : float
        Share of mineral soil by volume. [-]

    Returns
    -------
    float
        Retardation. [-]
    """
    free = HELD_BACK.get(element, 1.0)
    if element != "P":
        return free
    return free + (RETARDATION["P held"] - free) * min(mineral_soil / SOIL_HOLDS_FROM, 1.0)


@cites("arithmetic", "release, then leaching, then uptake; mass closes every day")
@cites("pelk", "retardation of each element; reserve of 20 N, 5 P, 30 K mg/L")
def balance(
    released: Floats,
    wanted: Floats,
    drained_l_l_day: float,
    capacity: float,
    held_back: float,
    reserve_mg_l: float = 0.0,
    brought_mg_l_day: float = 0.0,
    watered_from: int = 0,
) -> Balance:
    """Return how an element stands day by day.

    Parameters
    ----------
    released, wanted : array, shape (n_days + 1,)
        Set free since mixing and wanted since planting, in sum. [mg/L]
    drained_l_l_day : float
        Water that drains from a litre in a day. [L/L/d]
    capacity : float
        Water that it holds. [L/L]
    held_back : float
        How much slower than nitrate it washes out. [-]
    reserve_mg_l : float
        Below this it has run out. [mg/L]
    brought_mg_l_day : float
        What a day's water brings. [mg/L/d]
    watered_from : int
        Before this day nothing drains and nothing is brought. [d]

    Returns
    -------
    Balance
        Released + brought = pool + taken + leached, every day.
    """
    pore_volumes = drained_l_l_day / (capacity * held_back)
    stays, kept = exp(-pore_volumes), brought_mg_l_day * mean_stay(pore_volumes)
    gains, wants = np.diff(released).tolist(), np.diff(wanted).tolist()
    pool = float(released[0])
    pools, taken, leached = [pool], [0.0], [0.0]
    for day, (gain, want) in enumerate(zip(gains, wants, strict=True)):
        pool += gain
        lost = 0.0
        if day >= watered_from:
            lost = pool * (1 - stays) + brought_mg_l_day - kept
            pool += brought_mg_l_day
        took = min(want, pool - lost)
        pool -= lost + took
        pools.append(pool)
        taken.append(taken[-1] + took)
        leached.append(leached[-1] + lost)
    stacked = np.array(pools), np.array(taken), np.array(leached)
    short = wanted - wanted[0] - stacked[1]
    return Balance(
        stacked[0],
        stacked[1],
        short,
        stacked[2],
        run_out(stacked[0], wanted, short, reserve_mg_l),
        brought=brought_mg_l_day * max(len(gains) - watered_from, 0),
    )


@cites("pelk", "first day under the reserve once 2 % of the demand is past")
def run_out(pool: Floats, wanted: Floats, short: Floats, reserve_mg_l: float) -> int | None:
    """Return the first day on which a crop's supply has run out.

    Parameters
    ----------
    pool, wanted, short : array, shape (n_days + 1,)
        Left; wanted and wanted in vain, in sum. [mg/L]
    reserve_mg_l : float
        Below this it has run out. [mg/L]

    Returns
    -------
    int or None
        Day; None when it lasts. [d]
    """
    total = wanted[-1] - wanted[0]
    if total <= 0:
        return None
    begun = (wanted - wanted[0]) > EARLY_SHARE * total
    growing = np.append(np.diff(wanted) > 1e-9, False)
    wanting = np.append(False, np.diff(short) > SHORT_SHARE * np.diff(wanted))
    low = (pool < reserve_mg_l) if reserve_mg_l else wanting
    days = np.flatnonzero(begun & growing & low)
    return int(days[0]) if days.size else None


@dataclass(frozen=True, slots=True)
class Week:
    """A week of a crop: what it wanted, took and lacked, and what is left. [mg/L]."""

    number: int
    wanted: float
    taken: float
    short: float
    left: float
    leached: float

    @property
    def state(self) -> str:
        """``short`` when over a tenth of the week is wanting, ``watch`` when low, or ``ok``."""
        if self.short > SHORT_SHARE * self.wanted:
            return "short"
        return "watch" if self.left < 2 * self.wanted else "ok"


def weeks(supply: Balance, wanted: Floats, first_day: int = 0) -> list[Week]:
    """Return a balance by the week, from a day on."""
    rows = []
    for number, start in enumerate(range(first_day, len(wanted) - 1, 7), 1):
        end = min(start + 7, len(wanted) - 1)
        rows.append(
            Week(
                number=number,
                wanted=float(wanted[end] - wanted[start]),
                taken=float(supply.taken[end] - supply.taken[start]),
                short=float(supply.short[end] - supply.short[start]),
                left=float(supply.pool[end]),
                leached=float(supply.leached[end] - supply.leached[start]),
            )
        )
    return rows


@cites("arithmetic", "rain less evaporation over depth")
@answers
def winter_drainage(rain_mm: float, evaporation_mm: float, depth_cm: float) -> float:
    """Return the water that drains from a litre of mix over a winter.

    Parameters
    ----------
    rain_mm, evaporation_mm : float
        Over the winter. [mm]
    depth_cm : float
        Of the mix. [cm]

    Returns
    -------
    float
        Drained. [L/L]
    """
    return max(rain_mm - evaporation_mm, 0.0) / (10 * depth_cm)


@cites("arithmetic", "a pore volume carries off 1 - e^-1 of what moves freely")
@answers
def washed_out(drained_l_l: float, theta: float, held_back: float) -> float:
    """Return the share of an element that drained water has carried off.

    Parameters
    ----------
    drained_l_l : float
        Water drained from a litre of mix. [L/L]
    theta : float
        Water it holds. [L/L]
    held_back : float
        How much slower than nitrate it moves. [-]

    Returns
    -------
    float
        Share lost. [-]
    """
    return 1 - exp(-drained_l_l / (theta * held_back))
