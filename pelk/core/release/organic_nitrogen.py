"""Organic nitrogen and its carbon: two pools that rot, and what they give or take.

A pool rich in nitrogen feeds the mix, a woody one takes nitrogen from it; one
equation does both. Decomposed carbon is gross; a part of it is breathed out.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cache, lru_cache
from math import log1p

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.arithmetic import Grid
from pelk.core.base.elements import ATOMIC_MASS
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.material import Material
from pelk.core.materials.totals import concentration_mg_l

Floats = NDArray[np.float64]

# Share of decomposed carbon that is breathed out.
RESPIRED = 0.60
# Top-dressed organics dry and lose ammonia.
SURFACE = 0.75
NOT_COUNTED = frozenset(["none", "inert"])
# The rest of the mineral nitrogen is nitrate.
OLD_MATERIAL_AMMONIUM = 0.20
OLD_CLASSES = frozenset(["compost", "casting", "soil_om", "old_mix"])
MOST_RATE_DAYS = 4000.0
NODES = 500
COATED_DAYS = 120.0


@dataclass(frozen=True, slots=True)
class ReleaseClass:
    """How the organic nitrogen of a kind of material rots.

    Attributes
    ----------
    fast, slow : float
        Shares of organic nitrogen in the two pools. [-]
    k_fast, k_slow : float
        Rates at 22 °C and ideal moisture. [1/d]
    critical_fast, critical_slow : float
        C:N above which a pool takes nitrogen. [-]
    hot : bool
        Its fast pool is little slowed by cold.
    pan_sd : float
        Doubt of what it releases, relative. [-]
    linear_days : float
        Longevity of a coated feed, which gives the same every day; 0 for rotting. [d]
    """

    fast: float
    k_fast: float
    slow: float
    k_slow: float
    critical_fast: float
    critical_slow: float
    hot: bool
    pan_sd: float
    linear_days: float = 0.0


COATED = ReleaseClass(1, 0, 0, 0, 22.5, 36, hot=False, pan_sd=0.2, linear_days=COATED_DAYS)


@cache
def release_classes() -> dict[str, ReleaseClass]:
    """Return the classes by key."""
    return {
        row["class"]: ReleaseClass(
            float(row["fast"]),
            float(row["k_fast"]),
            float(row["slow"]),
            float(row["k_slow"]),
            float(row["critical_fast"]),
            float(row["critical_slow"]),
            row["hot"] == "1",
            float(row["pan_sd"]),
        )
        for row in rows("release_classes.csv")
    }


@dataclass(frozen=True, slots=True)
class OrganicN:
    """The nitrogen of one material in a litre of mix.

    Attributes
    ----------
    organic_mg_l, carbon_mg_l : float
        Organic nitrogen, and the carbon it is held with. [mg/L]
    ammonium_mg_l, nitrate_mg_l : float
        Mineral at mixing. [mg/L]
    base_meq_l : float
        Excess base that comes free as it rots; zero for parts. [meq/L]
    is_bulk : bool
        A part, not a dose.
    """

    slug: str
    organic_mg_l: float
    carbon_mg_l: float
    ammonium_mg_l: float
    nitrate_mg_l: float
    release: ReleaseClass | None
    base_meq_l: float = 0.0
    is_bulk: bool = False

    @property
    def mineral_mg_l(self) -> float:
        """Mineral nitrogen at mixing. [mg/L]."""
        return self.ammonium_mg_l + self.nitrate_mg_l

    @property
    def total_mg_l(self) -> float:
        """All nitrogen. [mg/L]."""
        return self.organic_mg_l + self.mineral_mg_l

    @property
    def base_at_once_meq_l(self) -> float:
        """Charge on mixing day: excess base and mineral nitrogen of a dose. [meq/L].

        A part's own pH holds that of its mineral nitrogen already.
        """
        if self.is_bulk:
            return 0.0
        pulse = (self.ammonium_mg_l - self.nitrate_mg_l) / ATOMIC_MASS["N"]
        return pulse + self.base_meq_l * self.mineral_mg_l / self.total_mg_l

    @property
    def base_to_come_meq_l(self) -> float:
        """Excess base that comes as it rots. [meq/L]."""
        return self.base_meq_l * self.organic_mg_l / self.total_mg_l


@cites("gale2006", "incubations at 22 C; composts 0.003 a day")
@cites("hartz2006", "hot meals at 2 and 8 weeks")
@cites("pelk", "pools set by hand to the recalled tables")
def net_nitrogen(
    release: ReleaseClass,
    organic: float,
    carbon: float,
    rate_days: Floats | float,
    rate_days_hot: Floats | float | None = None,
) -> Floats:
    """Return the mineral nitrogen that organic matter has given by some rate-days.

    ``N (f_f (1 - e^{-k_f t}) (1 - CN/CNc_f) + f_s (1 - e^{-k_s t}) (1 - CN/CNc_s))``;
    negative where it has tied nitrogen up.

    Parameters
    ----------
    release : ReleaseClass
        Pools of the material.
    organic, carbon : float
        Organic nitrogen and its carbon. [mg/L]
    rate_days : array or float
        Days at 22 °C and ideal moisture. [d]
    rate_days_hot : array or float, optional
        The same for the fast pool of hot meals. [d]

    Returns
    -------
    array
        Net release. [mg/L]
    """
    tau = np.asarray(rate_days, dtype=float)
    hot = tau if rate_days_hot is None or not release.hot else np.asarray(rate_days_hot)
    fast, slow = _shares_gone(release, tau, hot)
    of_fast, of_slow = _worth(release, organic, carbon)
    return np.asarray(organic * (fast * of_fast + slow * of_slow))


def _shares_gone(release: ReleaseClass, tau: Floats, hot: Floats) -> tuple[Floats, Floats]:
    if release.linear_days:
        return np.minimum(tau / release.linear_days, 1.0), np.zeros_like(tau)
    fast = release.fast * -np.expm1(-release.k_fast * hot)
    slow = release.slow * -np.expm1(-release.k_slow * tau)
    return fast, slow


def _worth(release: ReleaseClass, organic: float, carbon: float) -> tuple[float, float]:
    """Return what a milligram of each pool gives, net."""
    ratio = carbon / organic
    return 1 - ratio / release.critical_fast, 1 - ratio / release.critical_slow


@cites("em8954", "15 (N - 1) at 28 days, 10 points more at 70; slope unsure")
@answers
def available_by_n_line(nitrogen_pct_dry: float, days: int) -> float:
    """Return what a fresh material of unknown kind gives, from its nitrogen alone.

    Parameters
    ----------
    nitrogen_pct_dry : float
        Of dry matter. [%]
    days : int
        28 or 70. [d]

    Returns
    -------
    float
        Plant-available share of total nitrogen. [-]
    """
    line = 15 * (nitrogen_pct_dry - 1)
    percent = np.clip(line, 0, 60) if days <= 28 else np.clip(line + 10, 0, 75)
    return float(percent) / 100


@cites("arithmetic", "carbon over nitrogen, both by mass; never a mean of ratios")
def carbon_to_nitrogen(carbon: Sequence[float], nitrogen: Sequence[float]) -> float:
    """Return the C:N of a blend.

    Parameters
    ----------
    carbon, nitrogen : sequence of float
        Of each material, on one basis. [mg/L]

    Returns
    -------
    float
        Carbon to nitrogen, by mass. [-]

    Examples
    --------
    >>> round(carbon_to_nitrogen([0.76, 0.42], [0.022, 0.027]), 2)
    24.08
    """
    return sum(carbon) / sum(nitrogen)


def release_class_of(material: Material) -> ReleaseClass | None:
    """Return how a material's nitrogen rots; its own class, or one by its kind.

    A material without a class is taken for leaf litter when its C:N is over 60, for
    compost when its family says so, and else for a plain green meal.
    """
    key = material.release_class
    if key in release_classes():
        return release_classes()[key]
    if key == "coated":
        return COATED
    if key in NOT_COUNTED:
        return None
    nitrogen, carbon = (material.composition.get(e) for e in ("N", "C"))
    if nitrogen is None or nitrogen.typ <= 0:
        return None
    if carbon is not None and carbon.typ / nitrogen.typ > 60:
        return release_classes()["leaf"]
    composted = material.family in ("compost", "castings", "manure")
    return release_classes()["compost" if composted else "green_meal"]


def organic_n(
    material: Material,
    g_per_l: float,
    *,
    is_bulk: bool,
    base_meq_l: float = 0.0,
    on_top: bool = False,
) -> OrganicN | None:
    """Return the nitrogen of a material in a litre of mix, or None when it has none.

    Parameters
    ----------
    material : Material
        With its analysis.
    g_per_l : float
        As bought or used. [g/L]
    is_bulk : bool
        A part, not a dose.
    base_meq_l : float
        Excess base of the dose. [meq/L]
    on_top : bool
        Spread on the surface: a quarter of what rots there is lost.
    """
    content = material.composition.get("N")
    if content is None or content.typ <= 0:
        return None
    total = concentration_mg_l(g_per_l, content.typ)
    release = release_class_of(material)
    share = material.mineral_n or 0.0
    if release is None:
        # Salts are all mineral; inert carbon gives only what is mineral already.
        share = 1.0 if material.release_class == "none" else share
    carbon = material.composition.get("C")
    held = concentration_mg_l(g_per_l, carbon.typ) if carbon else total * 10
    if release is COATED:
        held = 0.0
    mineral = total * share
    kept = SURFACE if on_top else 1.0
    ammonium = mineral * _ammonium_share(material)
    nitrogen = OrganicN(
        material.slug,
        (total - mineral) * kept,
        held * kept,
        ammonium,
        mineral - ammonium,
        release,
        base_meq_l,
        is_bulk,
    )
    return nitrogen if release is not None else replace(nitrogen, carbon_mg_l=0.0)


def _ammonium_share(material: Material) -> float:
    if material.ammonium_share is not None:
        return material.ammonium_share
    if "nitrate-salt" in material.tags and "ammonium-rich" not in material.tags:
        return 0.0
    if "nitrate-salt" in material.tags:
        return 0.5
    return OLD_MATERIAL_AMMONIUM if material.release_class in OLD_CLASSES else 1.0


@dataclass(frozen=True, slots=True)
class ReleaseCurves:
    """All materials of a mix added up: what has been given by some rate-days.

    Attributes
    ----------
    cold, hot : Grid
        Over log(1 + rate-days): net nitrogen of doses, net nitrogen of parts, carbon
        gone, base come free, fast pool left. [mg/L], [mg/L], [mg/L], [meq/L], [mg/L]
    """

    cold: Grid
    hot: Grid


@lru_cache(maxsize=16)
def release_curves(items: tuple[OrganicN, ...]) -> ReleaseCurves:
    """Return the release of all materials over rate-days, tabulated once."""
    axis = np.linspace(0.0, log1p(MOST_RATE_DAYS), NODES)
    tau = np.expm1(axis)
    cold, hot = np.zeros((5, NODES)), np.zeros((5, NODES))
    for item in items:
        if item.release is None or item.organic_mg_l <= 0:
            continue
        gone = _shares_gone(item.release, tau, tau)
        worth = _worth(item.release, item.organic_mg_l, item.carbon_mg_l)
        for pool, (share, value) in enumerate(zip(gone, worth, strict=True)):
            table = hot if pool == 0 and item.release.hot else cold
            table[1 if item.is_bulk else 0] += item.organic_mg_l * share * value
            table[2] += item.carbon_mg_l * share
            table[3] += item.base_to_come_meq_l * share
            if pool == 0 and value > 0 and not item.is_bulk:
                table[4] += item.organic_mg_l * (item.release.fast - share) * value
    step = float(axis[1])
    return ReleaseCurves(Grid(0.0, step, list(cold)), Grid(0.0, step, list(hot)))
