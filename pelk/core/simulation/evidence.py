"""What one heap's readings say of the materials in it: the yard's evidence."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from math import hypot, sqrt

import numpy as np

from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.materials.taught import LEAST_ERROR, USUAL_SD, Factor, doubt_of, shift_of
from pelk.core.simulation.calibration import Calibration, prior_sd
from pelk.core.simulation.initial_state import ph_when_mixed
from pelk.core.simulation.life import MixedSoil
from pelk.core.simulation.telling import ph_sd

# An estimate that is no surer than this many usual spreads says nothing.
VAGUE = 1.5
FACTORS = (Factor.BUFFER, Factor.LIME, Factor.SULFUR, Factor.CARBONATE)


@dataclass(frozen=True, slots=True)
class Evidence:
    """What a heap says of a factor of a material: off the book, and how sure.

    Attributes
    ----------
    value, error : float
        Of pH as they are, else of the logarithm.
    against : float
        What the book said then: own pH, buffer capacity; 0 for the others.
    """

    slug: str
    factor: Factor
    value: float
    error: float
    against: float


@cites("pelk", "each factor's own evidence: the posterior less the prior, shared by sensitivity")
def evidence_of(
    soil: MixedSoil,
    taught: Calibration | None,
    start_ph: float | None = None,
    meter: str = "unchecked pen",
) -> list[Evidence]:
    """Return what a heap's readings say of the materials in it.

    Parameters
    ----------
    soil : MixedSoil
        As it was mixed, with what was known of its materials then.
    taught : Calibration, optional
        What its later readings say.
    start_ph : float, optional
        Read on mixing day, as a slurry of the mix itself shows it. [pH]
    meter : str
        What it was read with.

    Returns
    -------
    list of Evidence
        Of all that is surer than its usual spread times `VAGUE`.
    """
    rows: list[Evidence] = []
    parts = _parts(soil)
    whole = sum(c.litres * c.buffer for c in soil.heap.components)
    if whole <= 0:
        return rows
    shares = [
        (material, c.litres * c.buffer / whole)
        for material, c in zip(parts, soil.heap.components, strict=True)
    ]
    if start_ph is not None:
        off = start_ph - ph_when_mixed(soil.heap)
        rows += _shared(Factor.PH, shares, off, ph_sd(meter))
    if taught is None:
        return rows
    sensitive = {
        Factor.BUFFER: shares,
        Factor.LIME: _by_base(soil, Factor.LIME),
        Factor.SULFUR: _by_acid(soil),
        Factor.CARBONATE: _by_base(soil, Factor.CARBONATE),
    }
    priors = prior_sd(soil.heap)
    held = taught.posterior
    for i, factor in enumerate(FACTORS):
        precision = 1 / float(held.covariance[i, i]) - 1 / float(priors[i]) ** 2
        if precision <= 0 or not sensitive[factor]:
            continue
        value = float(held.mean[i]) / float(held.covariance[i, i]) / precision
        rows += _shared(factor, sensitive[factor], value, 1 / sqrt(precision))
    return rows


def _parts(soil: MixedSoil) -> list[Material]:
    """Return the materials of a heap's components, in their order: parts, then bulk doses."""
    return [m for m, _ in soil.parts] + [m for m, _ in soil.doses if m.acidity_role == "bulk"]


def _shared(
    factor: Factor, shares: Sequence[tuple[Material, float]], value: float, error: float
) -> Iterator[Evidence]:
    """Yield what a step of the whole says of each material in it, the others being as usual."""
    usual = USUAL_SD[factor]
    merged: dict[str, tuple[Material, float]] = {}
    for material, share in shares:
        _, held = merged.get(material.slug, (material, 0.0))
        merged[material.slug] = (material, held + share)
    for slug, (material, share) in merged.items():
        if share <= 0:
            continue
        others = [
            s * usual * doubt_of(m, factor) for other, (m, s) in merged.items() if other != slug
        ]
        sure = max(hypot(error, *others) / share, LEAST_ERROR)
        if sure > VAGUE * usual:
            continue
        yield Evidence(
            slug,
            factor,
            shift_of(material, factor) + value / share,
            sure,
            _against(material, factor),
        )


def _against(material: Material, factor: Factor) -> float:
    if factor is Factor.PH and material.ph:
        return material.ph.typ
    if factor is Factor.BUFFER and material.buffer:
        return material.buffer.typ
    return 0.0


def _by_base(soil: MixedSoil, factor: Factor) -> list[tuple[Material, float]]:
    """Return limes, or parts with free carbonate, by their share of its base."""
    if factor is Factor.LIME:
        held = [(m, g_l * (m.cce.typ if m.cce else 0.0)) for m, g_l in soil.doses if m.lime_grade]
    else:
        held = [
            (m, c.litres * c.carbonate_meq)
            for m, c in zip(_parts(soil), soil.heap.components, strict=True)
        ]
    return _as_shares(held)


def _by_acid(soil: MixedSoil) -> list[tuple[Material, float]]:
    held = []
    for material, g_l in soil.doses:
        if material.acidity_role == "sulfur":
            elemental = material.composition.get("S elemental")
            held.append((material, g_l * (elemental.typ if elemental else 0.0)))
    return _as_shares(held)


def _as_shares(held: Sequence[tuple[Material, float]]) -> list[tuple[Material, float]]:
    whole = float(np.sum([amount for _, amount in held]))
    return [(m, amount / whole) for m, amount in held if amount > 0] if whole > 0 else []
