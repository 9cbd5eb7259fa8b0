"""Peat and bark rot away: how a soil comes down over years, and what air is left."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache
from math import exp

from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.material import Material

# Of what rots, the share that the soil comes down by.
CHI = 0.7
FINES_PER_YEAR, LEAST_AIR = 0.01, 0.02
CRUSHED_PER_YEAR, CRUSHED = 0.01, frozenset(["perlite"])
DARK, LEAF = "peat-dark", "leaf-mould"
OWN_KIND = {"sphagnum-peat-dark": DARK, "reed-sedge-peat": DARK, "leaf-mould": LEAF}
YEAR_DAYS = 365.0


@cache
def rates_a_year() -> dict[str, float]:
    """Return how much of each kind rots in a year of 365 rate-days. [1/a]."""
    return {row["kind"]: float(row["per_year"]) for row in rows("rotting.csv")}


@cites("pelk", "by kind, in the order of how pots shrink, from memory; perlite crushes 0.01 a year")
def rate_of(material: Material) -> float:
    """Return how much of a part rots in a year of rate-days; minerals do not.

    Parameters
    ----------
    material : Material
        The part.

    Returns
    -------
    float
        Rate. [1/a]
    """
    kind = OWN_KIND.get(material.slug, material.release_class)
    crushed = CRUSHED_PER_YEAR if material.slug in CRUSHED else 0.0
    return rates_a_year().get(kind or "", crushed)


@dataclass(frozen=True, slots=True)
class Aged:
    """A soil once some of it has rotted.

    Attributes
    ----------
    volume : float
        Over what it was. [-]
    rotted : float
        Share of the parts that is gone. [-]
    air, porosity : float
        Left after draining; all pores. [L/L]
    """

    volume: float
    rotted: float
    air: float
    porosity: float


@cites("pelk", "0.7 of what rots comes down; fines 0.01 a year; order from memory of pots")
def aged(
    shares: Sequence[tuple[float, float]],
    rate_years: float,
    *,
    air: float,
    porosity: float,
    fines: float = FINES_PER_YEAR,
    years: float | None = None,
    chi: float = CHI,
) -> Aged:
    """Return what is left of a soil after a time.

    Parameters
    ----------
    shares : sequence of (float, float)
        Rate and share by volume of each part. [1/a], [-]
    rate_years : float
        Years at the rate of rotting. [a]
    air, porosity : float
        After draining, and all pores, at the start. [L/L]
    fines : float
        Air that fines fill in a year. [L/L/a]
    years : float, optional
        By the calendar; without it as many as `rate_years`. [a]
    chi : float
        Of what rots, what the soil comes down by. [-]

    Returns
    -------
    Aged
        Volume, what rotted, air and pores.
    """
    whole = sum(share for _, share in shares)
    left = sum(share * exp(-rate * rate_years) for rate, share in shares) / whole
    volume = 1 - chi * (1 - left)
    settled = fines * (rate_years if years is None else years)
    return Aged(
        volume,
        1 - left,
        max((air - (1 - volume)) / volume - settled, LEAST_AIR),
        1 - (1 - porosity) / volume,
    )
