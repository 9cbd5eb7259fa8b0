"""Common practice as handbooks say it, read in the other system: spoons a gallon, grams a bed."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from pelk.core.base.rounding import sig

NUMBER = r"\d+(?:/\d+)?(?:\.\d+)?"
TSP_ML, TBSP_ML, CUP_ML, GAL_L, FT3_L, LB_G, FT2_M2 = 4.93, 14.8, 237.0, 3.785, 28.32, 453.6, 0.0929
OZ_G, YD2_M2, IN_CM = 28.35, 0.8361, 2.54


@dataclass(frozen=True, slots=True)
class Way:
    """One way of saying a rate, and how it is said elsewhere."""

    pattern: re.Pattern[str]
    unit: str
    times: float


def _way(said: str, unit: str, times: float) -> Way:
    span = rf"(?P<first>{NUMBER})(?:-(?P<last>{NUMBER}))? {said}(?![\w/])"
    return Way(re.compile(span), unit, times)


TO_METRIC = (
    _way(r"tsp per gallon", "mL per litre", TSP_ML / GAL_L),
    _way(r"tbsp per gallon", "mL per litre", TBSP_ML / GAL_L),
    _way(r"cups? per gallon", "mL per litre", CUP_ML / GAL_L),
    _way(r"tbsp per ft3", "mL per litre", TBSP_ML / FT3_L),
    _way(r"cups? per ft3", "mL per litre", CUP_ML / FT3_L),
    _way(r"lb per 100 ft2", "g/m²", LB_G / (100 * FT2_M2)),
    _way(r"lb per 1000 ft2", "g/m²", LB_G / (1000 * FT2_M2)),
    _way(r"tbsp per 10 ft2", "mL/m²", TBSP_ML / (10 * FT2_M2)),
    _way(r"tbsp per ft2", "mL/m²", TBSP_ML / FT2_M2),
    _way(r"cups? per 3 ft", "mL per metre", CUP_ML / 0.9144),
)
TO_US = (
    _way(r"kg/m3", "lb/yd³", 1.6856),
    _way(r"g/m3", "oz/yd³", 0.7646 / OZ_G),
    _way(r"g/m2", "oz/yd²", YD2_M2 / OZ_G),
    _way(r"cm", "in", 1 / IN_CM),
    _way(r"mL per litre", "tsp per gallon", GAL_L / TSP_ML),
    _way(r"g per litre", "oz per gallon", GAL_L / OZ_G),
    _way(r"per cm2", "per in²", IN_CM**2),
)
GALLONS = ((re.compile(r"per 10 gallons"), "per 38 L"),)


def practice_in(text: str, *, is_us: bool) -> str:
    """Return what is common practice, said in one system; what has no rate stays as it is."""
    for way in TO_US if is_us else TO_METRIC:
        text = way.pattern.sub(_said(way), text)
    if not is_us:
        for pattern, instead in GALLONS:
            text = pattern.sub(instead, text)
    return text


def _said(way: Way) -> Callable[[re.Match[str]], str]:
    def said(match: re.Match[str]) -> str:
        ends = [end for end in (match["first"], match["last"]) if end]
        return f"{'–'.join(sig(_read(end) * way.times, 2) for end in ends)} {way.unit}"

    return said


def _read(number: str) -> float:
    """Return ``0.5``, ``3`` or ``1/2`` as a number."""
    return float(Fraction(number))
