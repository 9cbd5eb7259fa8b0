"""Heavy metals: what a mix comes to over the years, beside published limits.

A limit is shown with its source and "check the local rule". Pelk never says that a mix
complies.
"""

from collections.abc import Sequence
from functools import cache
from math import inf, isfinite

from pelk.core.base.errors import OutOfRangeError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.base.tables import number, rows

SUIP_LEAST_P2O5, SUIP_LEAST_MICRO = 6.0, 1.0


@cache
@cites("cfr503", "Table 3, recalled")
@cites("eu2019_1009", "annex I, product function categories, recalled")
def metal_limits() -> dict[str, dict[str, float]]:
    """Return the limits of each law by metal. [mg/kg dry]."""
    return {
        row["law"]: {
            metal: value
            for metal, text in row.items()
            if metal != "law" and (value := number(text)) is not None
        }
        for row in rows("metal_limits.csv")
    }


@cites("arithmetic", "metal mass over dry mass")
@answers
def metal_in_mix(start_mg_kg: float, dry_g_l: float, doses: Sequence[tuple[float, float]]) -> float:
    """Return the metal in a mix once doses have gone in.

    Parameters
    ----------
    start_mg_kg : float
        In the mix before. [mg/kg dry]
    dry_g_l : float
        Dry weight of a litre. [g/L]
    doses : sequence of (float, float)
        Rates and what they hold. [g/L], [mg/kg]

    Returns
    -------
    float
        In the mix after. [mg/kg dry]
    """
    mass = dry_g_l + sum(rate for rate, _ in doses)
    return (start_mg_kg * dry_g_l + sum(r * held for r, held in doses)) / mass


@cites("arithmetic", "yearly doses until the limit; a light mix reaches it sooner")
def years_to_limit(
    start_mg_kg: float, dry_g_l: float, dose_g_l: float, held_mg_kg: float, limit_mg_kg: float
) -> float:
    """Return the years of a yearly dose until a mix reaches a limit.

    Parameters
    ----------
    start_mg_kg : float
        In the mix before. [mg/kg dry]
    dry_g_l : float
        Dry weight of a litre. [g/L]
    dose_g_l : float
        Each year. [g/L]
    held_mg_kg : float
        Metal in the product. [mg/kg]
    limit_mg_kg : float
        The limit. [mg/kg dry]

    Returns
    -------
    float
        Years; infinite when the product itself is under the limit. [a]

    Raises
    ------
    OutOfRangeError
        For what is not a number.
    """
    given = (start_mg_kg, dry_g_l, dose_g_l, held_mg_kg, limit_mg_kg)
    if not all(map(isfinite, given)):
        raise OutOfRangeError(f"found {given}, allowed: numbers", "start_mg_kg")
    if held_mg_kg <= limit_mg_kg or dose_g_l <= 0:
        return inf
    reach = (limit_mg_kg - start_mg_kg) * dry_g_l / (dose_g_l * (held_mg_kg - limit_mg_kg))
    return max(reach, 0.0)


@cites("suip25", "value times guarantee, recalled")
@answers
def product_limit(metal: str, p2o5_pct: float = 0.0, micro_pct: float = 0.0) -> float:
    """Return what a fertiliser may hold of a metal by its guarantee.

    Parameters
    ----------
    metal : str
        ``As Cd Co Pb Hg Mo Ni Se Zn``.
    p2o5_pct, micro_pct : float
        Guaranteed phosphate and micronutrients. [%]

    Returns
    -------
    float
        Limit. [mg/kg]
    """
    row = next(r for r in rows("metal_suip.csv") if r["metal"] == metal)
    by_p = float(row["per_p2o5"]) * max(p2o5_pct, SUIP_LEAST_P2O5) if p2o5_pct else 0.0
    by_micro = float(row["per_micro"]) * max(micro_pct, SUIP_LEAST_MICRO) if micro_pct else 0.0
    return max(by_p, by_micro)
