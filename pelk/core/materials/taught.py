"""What a yard's readings taught of its materials, from heap to heap: a prior for the next mix."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import exp, hypot, sqrt

from pelk.core.base.sources import cites
from pelk.core.materials.material import Material, Taught


class Factor(StrEnum):
    """What readings can teach of a material: its own pH as a shift, else a factor."""

    PH = "ph"
    BUFFER = "buffer"
    LIME = "lime"
    SULFUR = "sulfur"
    CARBONATE = "carbonate"


# How far off the book a lot usually is: of pH as it is, else of the logarithm.
USUAL_SD = {
    Factor.PH: 0.20,
    Factor.BUFFER: 0.28,
    Factor.LIME: 0.40,
    Factor.SULFUR: 0.55,
    Factor.CARBONATE: 0.60,
}
# No reading of a heap knows a material better.
LEAST_ERROR = 0.05
# Half of the spread is the lot's, the rest the material's in this yard.
OF_THE_LOT = 0.5
ODD_SIGMAS = 3.0


@dataclass(frozen=True, slots=True)
class Estimate:
    """What one soil says of a factor of a material.

    Attributes
    ----------
    value, error : float
        Off the book, and how sure. [pH] or logarithm
    lot : str
        The bag it came from; empty is not known.
    """

    value: float
    error: float
    lot: str = ""


@dataclass(frozen=True, slots=True)
class Learned:
    """A prior for the next mix, and which estimates stand against the others.

    Attributes
    ----------
    odd : tuple of int
        Over three sigma off what the rest say: told, and left out.
    """

    taught: Taught
    odd: tuple[int, ...] = ()


@cites("pelk", "half of a spread is the lot's; soils are averaged over it, shrunk to the book")
def learned_of(estimates: Sequence[Estimate], usual_sd: float, lot: str = "") -> Learned | None:
    """Return what a yard's soils teach of a factor of a material; None without any.

    Parameters
    ----------
    estimates : sequence of Estimate
        One of each soil.
    usual_sd : float
        How far off the book a lot usually is. [pH] or logarithm
    lot : str
        The bag that is used now; estimates of the same bag count for itself too.

    Returns
    -------
    Learned or None
        Mean and spread off the book.
    """
    if not estimates:
        return None
    odd = _odd(estimates, usual_sd)
    kept = [e for i, e in enumerate(estimates) if i not in odd]
    if not kept:
        return None
    lot_sd, material_var = OF_THE_LOT * usual_sd, (1 - OF_THE_LOT**2) * usual_sd**2
    same = [e for e in kept if lot and e.lot == lot]
    others = _of_each_lot([e for e in kept if not (lot and e.lot == lot)])
    mean, var = _combined(0.0, material_var, others, lot_sd)
    mean, var = _combined(mean, var + lot_sd**2, same, 0.0)
    return Learned(Taught(mean, sqrt(var), len(kept)), tuple(odd))


def _of_each_lot(estimates: Sequence[Estimate]) -> list[Estimate]:
    """Return one estimate of each known lot: a bag that was read twice is still one bag."""
    lots: dict[str, list[Estimate]] = {}
    for i, estimate in enumerate(estimates):
        lots.setdefault(estimate.lot or f"#{i}", []).append(estimate)
    merged = []
    for lot, held in lots.items():
        sure = [1 / max(e.error, LEAST_ERROR) ** 2 for e in held]
        value = sum(w * e.value for w, e in zip(sure, held, strict=True)) / sum(sure)
        merged.append(Estimate(value, 1 / sqrt(sum(sure)), lot))
    return merged


def _combined(
    mean: float, var: float, estimates: Sequence[Estimate], lot_sd: float
) -> tuple[float, float]:
    """Return a mean and variance with more estimates, each off by a lot of its own."""
    weight, total = 1 / var, mean / var
    for estimate in estimates:
        sure = 1 / (max(estimate.error, LEAST_ERROR) ** 2 + lot_sd**2)
        weight, total = weight + sure, total + sure * estimate.value
    return total / weight, 1 / weight


def _odd(estimates: Sequence[Estimate], usual_sd: float) -> list[int]:
    """Return the estimates that lie over three sigma off the rest, the furthest taken first."""
    odd: list[int] = []
    left = list(range(len(estimates)))
    while len(left) > 1:
        off = [_sigmas_off(i, left, estimates, usual_sd) for i in left]
        furthest = max(off)
        if furthest <= ODD_SIGMAS:
            break
        odd.append(left.pop(off.index(furthest)))
    return sorted(odd)


def _sigmas_off(
    i: int, among: Sequence[int], estimates: Sequence[Estimate], usual_sd: float
) -> float:
    """Return how far an estimate is off what the others say. [sigma]."""
    lot_sd, material_var = OF_THE_LOT * usual_sd, (1 - OF_THE_LOT**2) * usual_sd**2
    rest = [estimates[j] for j in among if j != i]
    mean, var = _combined(0.0, material_var, rest, lot_sd)
    doubt = hypot(sqrt(var), lot_sd, max(estimates[i].error, LEAST_ERROR))
    return abs(estimates[i].value - mean) / doubt


@cites("pelk", "off the book by what was read of it")
def shift_of(material: Material, factor: Factor) -> float:
    """Return how far off the book a material is taken.

    Parameters
    ----------
    material : Material
        With what was taught of it.
    factor : Factor
        Of which.

    Returns
    -------
    float
        Of pH as it is, else of the logarithm. [pH] or [-]
    """
    taught = material.taught.get(factor)
    return taught.mean if taught else 0.0


@cites("pelk", "the exponential of what was learned")
def times_of(material: Material, factor: Factor) -> float:
    """Return the factor on what the book says of a material.

    Parameters
    ----------
    material : Material
        With what was taught of it.
    factor : Factor
        Of which.

    Returns
    -------
    float
        1 where nothing was taught. [-]
    """
    return exp(shift_of(material, factor))


@cites("pelk", "the spread that is left over the usual")
def doubt_of(material: Material, factor: Factor) -> float:
    """Return what is left of the usual doubt in a factor of a material.

    Parameters
    ----------
    material : Material
        With what was taught of it.
    factor : Factor
        Of which.

    Returns
    -------
    float
        1 where nothing was taught. [-]
    """
    taught = material.taught.get(factor)
    return taught.sd / USUAL_SD[factor] if taught else 1.0


# Nearer the book than this nothing is off it.
ALIKE_PH, ALIKE_SHARE = 0.05, 0.05
SIDES = {
    Factor.BUFFER: ("holds its pH {} more firmly than", "gives way {} more easily than"),
    Factor.LIME: ("works {} faster than", "works {} more slowly than"),
    Factor.SULFUR: ("works {} faster than", "works {} more slowly than"),
    Factor.CARBONATE: ("carries {} more free lime than", "carries {} less free lime than"),
}


def taught_says(factor: Factor, taught: Taught) -> str:
    """Say a factor against the book, and from how many heaps."""
    heaps = f"from {taught.soils} heap{'s' if taught.soils != 1 else ''}"
    if factor is Factor.PH:
        if abs(taught.mean) < ALIKE_PH:
            return f"own pH as in the book, {heaps}"
        side = "lower" if taught.mean < 0 else "higher"
        return f"own pH {abs(taught.mean):.1f} {side} than the book, {heaps}"
    share = abs(exp(taught.mean) - 1)
    more, less = SIDES[factor]
    if share < ALIKE_SHARE:
        return f"as the book has it, {heaps}"
    return f"{(more if taught.mean > 0 else less).format(f'{100 * share:.0f} %')} the book, {heaps}"


def told_by_heaps(materials: Iterable[Material]) -> str:
    """Say which materials are taken as a yard's own heaps know them; empty for none."""
    said = [
        f"{m.spoken_name}: {taught_says(Factor(key), taught)}"
        for m in materials
        for key, taught in sorted(m.taught.items())
    ]
    return f"By your own heaps, {'; '.join(said)}." if said else ""
