"""Regions and climates: what a place measures in, and what its months are like."""

from dataclasses import dataclass
from functools import cache

from pelk.core.base.tables import rows

MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


@dataclass(frozen=True, slots=True)
class Region:
    """A territory and its habits.

    Attributes
    ----------
    units : str
        ``metric``, ``us``, or ``imperial-mix``: metric, with pounds and feet understood.
    is_comma : bool
        Decimals are written with a comma.
    climate : str
        The usual one.
    asks_climate : bool
        Where one cannot fit the land.
    """

    code: str
    name: str
    units: str
    temperature: str
    currency: str
    is_comma: bool
    climate: str
    english: str
    asks_climate: bool


@dataclass(frozen=True, slots=True)
class Climate:
    """A type of climate.

    Attributes
    ----------
    normals_c : tuple of float
        Mean of each month, January first. [°C]
    rain_mm : tuple of float
        Of each month. [mm]
    et0_mm_d : tuple of float
        Reference evaporation of each month. [mm/d]
    """

    slug: str
    name: str
    example_regions: str
    normals_c: tuple[float, ...]
    rain_mm: tuple[float, ...]
    et0_mm_d: tuple[float, ...]


@cache
def regions() -> dict[str, Region]:
    """Return the regions by code."""
    return {
        row["code"]: Region(
            row["code"],
            row["name"],
            row["units"],
            row["temperature"],
            row["currency"],
            row["decimal"] == "comma",
            row["default_climate"],
            row["english_words"],
            row["ask_climate"] == "yes",
        )
        for row in rows("regions.csv")
    }


@cache
def climates() -> dict[str, Climate]:
    """Return the climates by slug."""

    def months(row: dict[str, str], what: str) -> tuple[float, ...]:
        return tuple(float(row[f"{what}_{month}"]) for month in MONTHS)

    return {
        row["slug"]: Climate(
            row["slug"],
            row["name"],
            row["example_regions"],
            months(row, "t"),
            months(row, "rain"),
            months(row, "et0"),
        )
        for row in rows("climates.csv")
    }
