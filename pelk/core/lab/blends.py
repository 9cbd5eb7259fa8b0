"""Dry feed blends without bulk: grade by weight, acid or base, release, how far a tub goes."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import ArrayLike, NDArray

from pelk.core.acid_base.contributions import lasting_meq_per_g
from pelk.core.base.elements import CACO3_G_PER_EQ, LABEL_OXIDE, element_in_oxide
from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material, Range
from pelk.core.materials.totals import concentration_mg_l
from pelk.core.release.nitrogen_curves import nitrogen_released

Floats = NDArray[np.float64]
SEASON_C, SEASON_DAYS = 20.0, 120
GRADE = ("N", "P", "K")
ELEMENTS = ("N", "P", "K", "Ca", "Mg", "S")
# A ready sack lacks what it holds less than this of, beside the blend; and the other way.
LACKS, TRACE_PCT = 0.5, 0.2


@dataclass(frozen=True, slots=True)
class Blend:
    """Some meals, dusts and salts mixed dry.

    Attributes
    ----------
    kg : float
        Of all together. [kg]
    litres : float or None
        Loose; None where one of them was never weighed. [L]
    contents : dict of str to Range
        Of each element, by weight. [%]
    base_kg_100kg : float
        Lasting effect unplanted, base +. [kg CaCO3/100 kg]
    unknown : tuple of str
        Names of what has no analysis of nitrogen: it counts as none.
    """

    kg: float
    litres: float | None
    contents: dict[str, Range]
    base_kg_100kg: float
    unknown: tuple[str, ...]

    @property
    def grade(self) -> tuple[float, float, float]:
        """Nitrogen, phosphate and potash as a label prints them. [%]."""
        n, p, k = (self.contents[e].typ if e in self.contents else 0.0 for e in GRADE)
        return (n, p / element_in_oxide(LABEL_OXIDE["P"]), k / element_in_oxide(LABEL_OXIDE["K"]))


@cites("arithmetic", "contents by weight; base and acid of each by charge")
def blend_of(lines: Sequence[tuple[Material, float]]) -> Blend:
    """Return what some dry feeds come to when they are mixed.

    Parameters
    ----------
    lines : sequence of (Material, float)
        Each with its weight. [kg]

    Returns
    -------
    Blend
        By weight.

    Raises
    ------
    PelkError
        When there is nothing in it, or a part goes in by volume.
    """
    total = sum(kg for _, kg in lines)
    if not lines or total <= 0:
        raise PelkError("put at least one meal, dust or salt in it", "rows")
    for i, (material, kg) in enumerate(lines):
        if material.role == "bulk":
            raise PelkError(f"{material.short_name} is a part: it goes on the Bench", f"rows[{i}]")
        if not 0 < kg < 1e6:
            raise PelkError(f"found {kg:g}, allowed: more than 0", f"rows[{i}]")
    contents = {}
    for element in ELEMENTS:
        held = [(m.composition[element], kg / total) for m, kg in lines if element in m.composition]
        if held:
            contents[element] = Range(
                sum(c.low * x for c, x in held),
                sum(c.typ * x for c, x in held),
                sum(c.high * x for c, x in held),
            )
    litres = None
    if all(m.is_weighed for m, _ in lines):
        litres = sum(kg / m.loose_density().typ for m, kg in lines)
    net_base = sum(_meq_per_g(m) * kg / total for m, kg in lines)
    unknown = tuple(m.short_name for m, _ in lines if "N" not in m.composition)
    return Blend(total, litres, contents, net_base * CACO3_G_PER_EQ / 10, unknown)


def _meq_per_g(material: Material) -> float:
    nitrogen = material.composition.get("N")
    share = nitrogen_released(material, [SEASON_C] * SEASON_DAYS)
    free = 0.0
    if nitrogen is not None and share is not None:
        free = concentration_mg_l(1.0, nitrogen.typ) * float(share[-1])
    return lasting_meq_per_g(material, free)


@cites("pelk", "each feed's two pools, by its share of the nitrogen")
def blend_released(
    lines: Sequence[tuple[Material, float]], temperature_c: ArrayLike
) -> Floats | None:
    """Return the share of a blend's nitrogen that is free by the end of each day.

    Parameters
    ----------
    lines : sequence of (Material, float)
        Each with its weight. [kg]
    temperature_c : array, shape (n_days,)
        Of the mix, day by day. [°C]

    Returns
    -------
    array, shape (n_days + 1,), or None
        Share of total nitrogen; None where there is none. [-]
    """
    total, free = 0.0, np.zeros(len(np.asarray(temperature_c)) + 1)
    for material, kg in lines:
        share = nitrogen_released(material, temperature_c)
        if share is not None:
            nitrogen = kg * material.composition["N"].typ
            total, free = total + nitrogen, free + nitrogen * share
    return free / total if total > 0 else None


@cites("arithmetic", "the nitrogen that is eaten between two feeds, over what comes free")
@answers
def feed_grams(
    demand_mg_l: float,
    litres: float,
    weeks: float,
    season_weeks: float,
    nitrogen_pct: float,
    free_share: float,
) -> float:
    """Return the weight of one feed for one plant.

    Parameters
    ----------
    demand_mg_l : float
        Nitrogen a crop takes up in its season from a litre of mix. [mg/L]
    litres : float
        Of mix the plant stands in. [L]
    weeks, season_weeks : float
        Between two feeds, and of the season. [wk]
    nitrogen_pct : float
        In the blend. [%]
    free_share : float
        Of it that comes free within the season. [-]

    Returns
    -------
    float
        Of the blend. [g]

    Raises
    ------
    PelkError
        When the blend feeds no nitrogen.
    """
    usable = nitrogen_pct / 100 * free_share
    if usable <= 0:
        raise PelkError("this blend gives no nitrogen in a season", "rows")
    if weeks <= 0 or season_weeks <= 0 or litres <= 0 or demand_mg_l < 0:
        raise PelkError("weeks and litres must be over 0", "weeks")
    return demand_mg_l * litres * min(weeks / season_weeks, 1.0) / 1000 / usable


@cites("arithmetic", "what is in the tub over what is given in a week")
@answers
def tub_weeks(tub_kg: float, feed_g: float, plants: float, weeks: float) -> float:
    """Return how long a tub serves some plants.

    Parameters
    ----------
    tub_kg : float
        Of the blend. [kg]
    feed_g : float
        For one plant at one feed. [g]
    plants : float
        Fed from it. [-]
    weeks : float
        Between two feeds. [wk]

    Returns
    -------
    float
        Until it is empty. [wk]

    Raises
    ------
    PelkError
        When nothing is fed.
    """
    if feed_g <= 0 or plants <= 0:
        raise PelkError("found 0, allowed: more than 0", "plants")
    return tub_kg * 1000 / (feed_g * plants) * weeks


def lacks_beside(blend: Blend, sack: Material) -> tuple[list[str], list[str]]:
    """Return what a ready sack holds much less of than a blend, and what much more.

    Parameters
    ----------
    blend : Blend
        One's own.
    sack : Material
        Ready-made.

    Returns
    -------
    tuple of list of str
        Elements; a trace in both is not spoken of.
    """
    less, more = [], []
    for element in ELEMENTS:
        own = blend.contents[element].typ if element in blend.contents else 0.0
        content = sack.composition.get(element)
        theirs = content.typ if content else 0.0
        if own > TRACE_PCT and theirs < LACKS * own:
            less.append(element)
        elif theirs > TRACE_PCT and own < LACKS * theirs:
            more.append(element)
    return less, more


@dataclass(frozen=True, slots=True)
class Ingredient:
    """One part of a dry blend: parts, label grade and weight of a litre.

    Attributes
    ----------
    n, p2o5, k2o : float
        As a label prints them. [%]
    density_kg_l : float
        Needed for parts by volume. [kg/L]
    """

    parts: float
    n: float
    p2o5: float
    k2o: float
    density_kg_l: float = 1.0


@cites("arithmetic", "grades weighed by mass; parts by volume through density")
def blend_grade(
    ingredients: Sequence[Ingredient], *, by_volume: bool = False
) -> tuple[float, float, float]:
    """Return the grade of a dry blend.

    Parameters
    ----------
    ingredients : sequence of Ingredient
        With their parts.
    by_volume : bool
        Parts are scoops, not weights.

    Returns
    -------
    tuple of float
        N, P2O5, K2O. [%]

    Raises
    ------
    PelkError
        Without any parts.
    """
    mass = [i.parts * (i.density_kg_l if by_volume else 1.0) for i in ingredients]
    total = sum(mass)
    if total <= 0:
        raise PelkError("a blend needs parts above zero", "parts")

    def mean(values: Sequence[float]) -> float:
        return sum(m * v for m, v in zip(mass, values, strict=True)) / total

    return (
        mean([i.n for i in ingredients]),
        mean([i.p2o5 for i in ingredients]),
        mean([i.k2o for i in ingredients]),
    )
