"""The charge curve of a blend: which base or acid holds it at which pH.

pH is always the root of a charge balance; it is never added or averaged.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.elements import CACO3_G_PER_EQ
from pelk.core.base.errors import UnknownError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.materials.taught import Factor, doubt_of, shift_of, times_of

Curve = NDArray[np.float64]

PH_GRID = np.linspace(2.0, 10.0, 801)
# Many draws are drawn on every fourth point.
COARSER = 4
DRAWN_PH_GRID = PH_GRID[::COARSER]
# Carbonate constants at 25 C and zero ionic strength.
PK1, PK2, PKW, PKH = 6.352, 10.329, 13.995, 1.468
ROOT_ZONE_CO2_ATM = 0.003
WATER_L_PER_L = 0.40
# Carbonate rests here on the slurry scale, and dissolves no further (water.carbonate_rest_ph).
CALCITE_PH = 7.7
OWN_PH_FLOOR = 7.0
FINE_GRAIN_MM = 0.05
WATER_PH_CAP = 8.3
# Relative buffer strength by pH: 1 over the useful range.
SHAPES: dict[str, tuple[list[float], list[float]]] = {
    "organic": ([2, 3, 4, 7, 8, 9, 10], [1.6, 1.25, 1, 1, 1.1, 1.3, 1.5]),
    "mineral": ([2, 3.5, 4, 4.5, 5, 6.9, 7.3, 8, 9, 10], [4, 3, 2, 1.25, 1, 1, 1.2, 1.6, 2, 2]),
    "inert": ([2, 10], [1, 1]),
}


@dataclass(frozen=True, slots=True)
class Component:
    """One material in a blend, as the curve needs it.

    Attributes
    ----------
    litres : float
        Loose litres per litre of mixed soil. [L/L]
    ph, buffer : float
        Own pH; buffer capacity of its loose litre. [pH], [meq/L/pH]
    carbonate_meq : float
        Free carbonate of its loose litre that meets the mix. [meq/L]
    aged : bool
        Fine carbonate at rest inside its material.
    ph_doubt, buffer_doubt : float
        What is left of the usual doubt in them; readings of a yard lessen it. [-]
    """

    litres: float
    ph: float
    buffer: float
    shape: str = "organic"
    carbonate_meq: float = 0.0
    aged: bool = False
    ph_doubt: float = 1.0
    buffer_doubt: float = 1.0

    @property
    def saturation_ph(self) -> float:
        """The pH above which its carbonate no longer dissolves."""
        if self.aged:
            return min(CALCITE_PH, max(self.ph, OWN_PH_FLOOR))
        return CALCITE_PH


@dataclass(frozen=True, slots=True)
class Carbonate:
    """Solid base that dissolves only below its saturation pH.

    Attributes
    ----------
    base_meq_l : float
        All of it. [meq/L]
    saturation_ph : float
        Where it comes to rest. [pH]
    """

    base_meq_l: float
    saturation_ph: float = CALCITE_PH


@dataclass(frozen=True, slots=True)
class BlendCurve:
    """Base needed to hold a blend at each pH of `PH_GRID`.

    Attributes
    ----------
    buffer_meq_l, water_meq_l : array, shape (801,)
        What the materials and the pore water take. [meq/L]
    carbonates : tuple of Carbonate
        Free carbonate of the parts, not yet dissolved.
    start_ph_sd : float
        Doubt of the starting pH from the doubt of each part's. [pH]
    """

    buffer_meq_l: Curve
    water_meq_l: Curve
    carbonates: tuple[Carbonate, ...]
    start_ph_sd: float

    @property
    def base_meq_l(self) -> Curve:
        """Base needed to hold each pH of the grid. [meq/L]."""
        return self.buffer_meq_l + self.water_meq_l

    def base_at(self, ph: float) -> float:
        """Return the base that holds the blend at a pH. [meq/L]."""
        return float(np.interp(ph, PH_GRID, self.base_meq_l))

    def capacity_at(self, ph: float) -> float:
        """Return the buffer capacity at a pH. [meq/L/pH]."""
        return (self.base_at(ph + 0.05) - self.base_at(ph - 0.05)) / 0.1

    def ph_at(self, base_meq_l: float) -> float:
        """Return the pH at which the blend holds a base. [pH]."""
        return float(np.interp(base_meq_l, self.base_meq_l, PH_GRID))

    @property
    def start_ph(self) -> float:
        """What the meter shows on mixing day, before carbonates react."""
        return self.ph_at(0.0)


@cites("plummer1982", "constants at 25 C; open system at root-zone CO2 (estimate)")
def water_alkalinity(ph: Curve | float) -> Curve:
    """Return the alkalinity of pore water that is at rest with root-zone air.

    Parameters
    ----------
    ph : array or float
        pH of the water.

    Returns
    -------
    array
        Alkalinity. [meq/L]
    """
    h = 10.0 ** -np.asarray(ph, dtype=float)
    bicarbonate = 10 ** (-PKH - PK1) * ROOT_ZONE_CO2_ATM / h
    return np.asarray(1000 * (10**-PKW / h - h + bicarbonate + 2 * bicarbonate * 10**-PK2 / h))


@cites("arithmetic", "carbonate as is, in equivalents")
@answers
def free_carbonate(density_kg_l: float, cce_pct: float) -> float:
    """Return the free carbonate of a loose litre.

    Parameters
    ----------
    density_kg_l : float
        Weight of the loose litre, as is. [kg/L]
    cce_pct : float
        Calcium carbonate equivalent, as is. [%]

    Returns
    -------
    float
        Base. [meq/L]
    """
    return density_kg_l * cce_pct / 100 / CACO3_G_PER_EQ * 1e6


@cache
def _shape_integral(shape: str) -> Curve:
    strength = np.interp(PH_GRID, *SHAPES[shape])
    steps = (strength[1:] + strength[:-1]) / 2 * np.diff(PH_GRID)
    return np.concatenate([[0.0], np.cumsum(steps)])


@cache
def _water_on_grid() -> Curve:
    return water_alkalinity(PH_GRID)


def component(material: Material, litres: float) -> Component:
    """Return a material as the charge curve needs it.

    Parameters
    ----------
    material : Material
        A bulk material.
    litres : float
        Loose litres of it per litre of mixed soil. [L/L]

    Returns
    -------
    Component
        With its free carbonate.

    Raises
    ------
    UnknownError
        When its pH or buffer capacity was never measured.
    """
    if material.ph is None or material.buffer is None:
        raise UnknownError(f"the pH or the buffer capacity of {material.name} is not known")
    carbonate = (
        free_carbonate(material.loose_density().typ, material.cce.typ) if material.cce else 0.0
    )
    carbonate *= material.carbonate_share * times_of(material, Factor.CARBONATE)
    grain = material.carbonate_grain_mm
    return Component(
        litres=litres,
        ph=material.ph.typ + shift_of(material, Factor.PH),
        buffer=material.buffer.typ * times_of(material, Factor.BUFFER),
        shape=material.buffer_shape if material.buffer_shape in SHAPES else "inert",
        carbonate_meq=carbonate,
        aged=grain is not None and grain <= FINE_GRAIN_MM,
        ph_doubt=doubt_of(material, Factor.PH),
        buffer_doubt=doubt_of(material, Factor.BUFFER),
    )


@cites("helling1964", "cross-check of buffer defaults")
@cites("pelk", "shapes and defaults, set to published sulfur and lime tables")
def blend_curve(components: Sequence[Component], ph_sd: float = 0.20) -> BlendCurve:
    """Return the charge curve of a blend.

    ``Q(pH) = sum v B integral(shape) + theta (W(pH) - sum v W(own pH))``: each
    part resists in proportion to its buffer capacity, so the blend rests where
    the charges balance, not at a mean of pH.

    Parameters
    ----------
    components : sequence of Component
        Litres of each per litre of mixed soil.
    ph_sd : float
        Doubt of each part's own pH. [pH]

    Returns
    -------
    BlendCurve
        Strictly rising with pH.

    Raises
    ------
    UnknownError
        When nothing in the blend buffers.
    """
    if not components or sum(c.buffer * c.litres for c in components) <= 0:
        raise UnknownError("nothing in this mix has a known buffer capacity")
    buffer = np.zeros_like(PH_GRID)
    total = sum(c.litres for c in components)
    at_start = 0.0
    for c in components:
        integral = _shape_integral(c.shape)
        own = float(np.interp(c.ph, PH_GRID, integral))
        buffer += c.litres * c.buffer * (integral - own)
        at_start += c.litres / total * float(water_alkalinity(min(c.ph, WATER_PH_CAP)))
    weights = np.array([c.litres * c.buffer for c in components])
    weights /= weights.sum()
    return BlendCurve(
        buffer_meq_l=buffer,
        water_meq_l=WATER_L_PER_L * (_water_on_grid() - at_start),
        carbonates=tuple(
            Carbonate(c.litres * c.carbonate_meq, c.saturation_ph)
            for c in components
            if c.carbonate_meq
        ),
        start_ph_sd=ph_sd * float(np.sqrt((weights**2).sum())),
    )


@cites("pelk", "the same sum for many draws of buffer capacity and own pH")
def sampled_curves(components: Sequence[Component], buffer_factor: Curve, ph_shift: Curve) -> Curve:
    """Return the charge curves of a blend for many draws of its parts.

    Parameters
    ----------
    components : sequence of Component
        Litres of each per litre of mixed soil.
    buffer_factor : array, shape (n_draws, n_parts)
        Times the buffer capacity of each part. [-]
    ph_shift : array, shape (n_draws, n_parts)
        Added to the own pH of each part. [pH]

    Returns
    -------
    array, shape (n_draws, 201)
        Base that holds each pH of `DRAWN_PH_GRID`. [meq/L]
    """
    litres = np.array([c.litres for c in components])
    strength = buffer_factor * litres * np.array([c.buffer for c in components])
    own = np.array([c.ph for c in components]) + ph_shift
    total = np.zeros((len(strength), len(DRAWN_PH_GRID)))
    held = np.zeros(len(strength))
    for shape in {c.shape for c in components}:
        columns = [i for i, c in enumerate(components) if c.shape == shape]
        integral = _shape_integral(shape)
        total += strength[:, columns].sum(1)[:, None] * integral[::COARSER]
        at_own = np.interp(own[:, columns], PH_GRID, integral)
        held += (strength[:, columns] * at_own).sum(1)
    water = water_alkalinity(np.minimum(own, WATER_PH_CAP)) @ (litres / litres.sum())
    pore = WATER_L_PER_L * (_water_on_grid()[::COARSER] - water[:, None])
    return total - held[:, None] + pore
