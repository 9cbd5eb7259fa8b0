"""What a step of time does to nitrogen and warmth: one small function a process.

All of them work on floats and on arrays over draws (`pelk.core.base.arithmetic`).
"""

from pelk.core.base.arithmetic import Arithmetic, Lane
from pelk.core.base.elements import ATOMIC_MASS
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.release.rate_factors import grow

N_MG = ATOMIC_MASS["N"]
# Nitrifiers: most they make, half saturation, growth, ammonia that halves them.
NITRIFY_MG_L_D, HALF_SATURATED_MG_L, NITRIFIER_GROWTH_D = 15.0, 20.0, 0.30
AMMONIA_HALVES_MG_L, VOLATILE_PER_DAY = 20.0, 0.5
# How much slower than nitrate ammonium washes out: exchange sites hold it.
AMMONIUM_HELD = 2.5
# Bacteria that breathe nitrate: their rate at 22 °C, the warmth they need, the carbon that
# feeds them fully.
DENITRIFY_PER_DAY, DENITRIFY_LEAST_C, DENITRIFIERS_FED_MG_L_D = 0.10, 4.0, 20.0
LN_2 = 0.6931471805599453
# Base that a plant gives back for each nitrate it takes up, after its cations.
RETURNED = 0.5
# Heat of respired carbon; loss through the skin of a heap; heat capacity.
HEAT_KJ_G, SKIN_W_M2_K, HEAT_CAPACITY_KJ_L_K = 39.0, 3.0, 1.8
STEAMS_C, STEAM_PER_K = 45.0, 0.06
KJ_D_PER_W = 86.4


@cites("pelk", "ammonium is tied up before nitrate; what is wanting is repaid first")
@cites("arithmetic", "proton balance: +1 for NH4 made, -1 for NH4 and +1 for NO3 tied up")
def gain(
    x: Arithmetic, ammonium: Lane, nitrate: Lane, unmet_n: Lane, net: Lane
) -> tuple[Lane, Lane, Lane, Lane]:
    """Add what rotting gave, or take what it wants.

    Parameters
    ----------
    x : Arithmetic
        Floats or arrays.
    ammonium, nitrate, unmet_n : float or array
        Mineral nitrogen, and what decomposers want beyond it. [mg/L]
    net : float or array
        Given +, wanted -. [mg/L]

    Returns
    -------
    tuple
        Ammonium, nitrate, hunger after [mg/L]; net base gained [meq/L].
    """
    given, wanted = x.most(net, 0.0), x.most(-net, 0.0)
    repaid = x.least(given, unmet_n)
    given = given - repaid
    of_ammonium = x.least(ammonium, wanted)
    of_nitrate = x.least(nitrate, wanted - of_ammonium)
    return (
        ammonium + given - of_ammonium,
        nitrate - of_nitrate,
        unmet_n - repaid + wanted - of_ammonium - of_nitrate,
        (given - of_ammonium + of_nitrate) / N_MG,
    )


@cites("arithmetic", "a pore volume carries off 1 - e^-1 of what moves freely")
@cites("pelk", "retardation 2.5 for ammonium; order of magnitude")
def leached(x: Arithmetic, amount: Lane, drained_l_l: Lane, held_l_l: float) -> Lane:
    """Return what drained water carries off.

    Parameters
    ----------
    x : Arithmetic
        Floats or arrays.
    amount : float or array
        Dissolved, in a litre of mix. [mg/L]
    drained_l_l : float or array
        Water drained from a litre of mix. [L/L]
    held_l_l : float
        Water it holds, times how much the ion is held back. [L/L]

    Returns
    -------
    float or array
        Lost. [mg/L]
    """
    return amount * -x.expm1(-drained_l_l / held_l_l)


@cites("pierre1933", "half of a nitrate's acid is taken back by the plant")
@cites("arithmetic", "ammonium and nitrate taken by abundance")
def take_up(
    x: Arithmetic,
    ammonium: Lane,
    nitrate: Lane,
    wanted: Lane,
    kappa: Lane = 1 - RETURNED,
    ammonium_first: float = 1.0,
) -> tuple[Lane, Lane, Lane]:
    """Let a crop take what it wants, as far as it is there.

    Parameters
    ----------
    x : Arithmetic
        Floats or arrays.
    ammonium, nitrate : float or array
        There. [mg/L]
    wanted : float or array
        By the crop. [mg/L]
    kappa : float or array
        Excess of cations over anions in the plant, nitrogen apart. [meq/mmol]
    ammonium_first : float
        Times the weight of ammonium beside nitrate: acid lovers like it better. [-]

    Returns
    -------
    tuple
        Ammonium and nitrate taken [mg/L]; net base gained [meq/L].
    """
    share = x.least(wanted / x.most(ammonium + nitrate, 1e-9), 1.0)
    of_ammonium, of_nitrate = share * ammonium, share * nitrate
    if ammonium_first != 1.0:
        whole, liked = of_ammonium + of_nitrate, ammonium_first * ammonium
        of_ammonium = x.least(ammonium, whole * liked / x.most(liked + nitrate, 1e-9))
        of_nitrate = x.least(nitrate, whole - of_ammonium)
        of_ammonium = whole - of_nitrate
    back = (1 - kappa) * of_nitrate - (1 + kappa) * of_ammonium
    return of_ammonium, of_nitrate, back / N_MG


@cites("pelk", "Monod nitrification with a growing population")
@cites("anthonisen1976", "free ammonia slows nitrifiers")
@cites("arithmetic", "proton balance: -2 for each NH4 nitrified, -1 for each NH3 lost")
def nitrify(
    x: Arithmetic,
    ammonium: Lane,
    nitrifiers: Lane,
    *,
    days: float,
    speed: Lane,
    most: Lane,
    growth: Lane,
    ammonia: Lane,
    solution_l_l: float,
) -> tuple[Lane, Lane, Lane, Lane, Lane]:
    """Turn ammonium into nitrate and lose some to the air, over one step.

    Implicit in ammonium, so that no step takes more than there is; the population
    grows by its own logistic law.

    Parameters
    ----------
    x : Arithmetic
        Floats or arrays.
    ammonium : float or array
        At the start. [mg/L]
    nitrifiers : float or array
        Share of the most there can be. [-]
    days : float
        Length of the step. [d]
    speed : float or array
        Temperature, moisture and pH, times days. [d]
    most : float or array
        What a full population makes. [mg/L/d]
    growth : float or array
        Its growth rate. [1/d]
    ammonia : float or array
        Share of ammonium that is free ammonia. [-]
    solution_l_l : float
        Water in a litre of mix, times how much ammonium is held back. [L/L]

    Returns
    -------
    tuple
        Ammonium left, nitrifiers, nitrified, lost to the air, free ammonia in the
        solution. [mg/L], [-], [mg/L], [mg/L], [mg/L]
    """
    lost = ammonium * -x.expm1(-VOLATILE_PER_DAY * days * ammonia)
    there = ammonium - lost
    free = there / solution_l_l * ammonia
    speed = speed / (1 + free / AMMONIA_HALVES_MG_L)
    rise = growth * speed * there / (there + HALF_SATURATED_MG_L) + 1e-12
    after, area = grow(x, nitrifiers, rise)
    made = most * speed * area / rise
    b = HALF_SATURATED_MG_L + made - there
    left = 0.5 * (x.sqrt(b * b + 4 * HALF_SATURATED_MG_L * there) - b)
    return left, after, there - left, lost, free


@cites("pelk", "39 kJ/g respired carbon; skin 3 W/m2/K, more when it steams")
def warm_up(
    x: Arithmetic,
    warmth: Lane,
    air_c: Lane,
    *,
    breathed_g_l: Lane,
    days: float,
    litres: float,
    skin_w_k: Lane,
) -> Lane:
    """Return the temperature of a heap after a step.

    Parameters
    ----------
    x : Arithmetic
        Floats or arrays.
    warmth, air_c : float or array
        Of the heap at the start, and of the air. [°C]
    breathed_g_l : float or array
        Carbon breathed out by a litre in the step. [g/L]
    days : float
        Length of the step. [d]
    litres : float
        Size of the heap. [L]
    skin_w_k : float or array
        Loss through its surface. [W/K]

    Returns
    -------
    float or array
        Temperature. [°C]
    """
    loss = skin_w_k * KJ_D_PER_W * (1 + STEAM_PER_K * x.most(warmth - STEAMS_C, 0.0))
    rest = air_c + HEAT_KJ_G * breathed_g_l / days * litres / loss
    return rest + (warmth - rest) * x.exp(-loss / (HEAT_CAPACITY_KJ_L_K * litres) * days)


@cites("arithmetic", "surface of a cube of the heap's volume")
@answers
def skin_of(litres: float) -> float:
    """Return the heat that a heap loses for each degree above the air.

    Parameters
    ----------
    litres : float
        Size. [L]

    Returns
    -------
    float
        Loss. [W/K]
    """
    return SKIN_W_M2_K * 6 * (max(litres, 1e-3) / 1000) ** (2 / 3)


@cites("pelk", "soil denitrification, from memory and loosened: 0.10 (0.03 to 0.3) a day at 22 C")
def denitrified(
    x: Arithmetic,
    nitrate_mg_l: Lane,
    *,
    days: float,
    warmth_c: Lane,
    drowned: Lane,
    breathed_mg_l_d: Lane,
) -> Lane:
    """Return the nitrate that goes off as nitrogen gas where water fills the pores.

    Parameters
    ----------
    x : Arithmetic
        Floats or arrays.
    nitrate_mg_l : float or array
        There is. [mg/L]
    days : float
        Length of the step. [d]
    warmth_c : float or array
        Of the mix; none below 4 °C. [°C]
    drowned : float or array
        `drowned_share` of the pores. [-]
    breathed_mg_l_d : float or array
        Carbon breathed out: food of the bacteria. [mg/L/d]

    Returns
    -------
    float or array
        Nitrogen lost; each mg eats 1/14 meq of acid. [mg/L]
    """
    fed = x.most(x.least(breathed_mg_l_d / DENITRIFIERS_FED_MG_L_D, 1.0), 0.0)
    warm = x.where(warmth_c >= DENITRIFY_LEAST_C, x.exp(LN_2 * (warmth_c - 22.0) / 10), 0.0)
    rate = DENITRIFY_PER_DAY * warm * drowned * fed
    return nitrate_mg_l * -x.expm1(-rate * days)
