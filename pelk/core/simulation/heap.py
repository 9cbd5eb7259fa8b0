"""A heap on mixing day, as the time course starts from it: per litre of mixed soil."""

from dataclasses import dataclass
from typing import NamedTuple

from pelk.core.acid_base.buffering import CALCITE_PH, Component
from pelk.core.release.grains import Sieves
from pelk.core.release.organic_nitrogen import OrganicN
from pelk.core.release.phosphorus import PhosphorusClass


@dataclass(frozen=True, slots=True)
class Solid:
    """Lime or free carbonate as grains.

    Attributes
    ----------
    base_meq_l : float
        All of it. [meq/L]
    sieves : Sieves
        Grain sizes. [mm], [%]
    rate, contact : float
        Speed relative to calcite; share of the surface that mixing reaches. [-], [-]
    saturation_ph : float
        Where it comes to rest. [pH]
    day : float
        When it starts to dissolve. [d]
    is_lime : bool
        A dose, not the free carbonate of a part.
    part : int or None
        Index of the part whose own pH caps it; None for calcite's own.
    """

    base_meq_l: float
    sieves: Sieves
    rate: float = 1.0
    contact: float = 1.0
    saturation_ph: float = CALCITE_PH
    day: float = 0.0
    is_lime: bool = True
    part: int | None = None


@dataclass(frozen=True, slots=True)
class SulfurGrains:
    """Elemental sulfur as grains. [meq/L], [mm and %], [d]; its pace over the usual. [-]."""

    acid_meq_l: float
    sieves: Sieves
    day: float = 0.0
    pace: float = 1.0


class Doubt(NamedTuple):
    """What is left of the usual doubt in the paces of lime and sulfur, and in carbonate. [-]."""

    lime: float = 1.0
    sulfur: float = 1.0
    carbonate: float = 1.0


USUAL_DOUBT = Doubt()


@dataclass(frozen=True, slots=True)
class Apatite:
    """Phosphorus that eats acid as it dissolves: bone and rock. [mg/L]."""

    phosphorus_mg_l: float
    release: PhosphorusClass


@dataclass(frozen=True, slots=True, kw_only=True)
class Heap:
    """What lies there on mixing day.

    Attributes
    ----------
    components : tuple of Component
        The parts, as the charge curve needs them.
    strong : tuple of (float, float)
        Days and mineral acid. [d], [meq/L]
    weak : tuple of (float, str, float)
        Days, acid and amount. [d], [mmol/L]
    silicate_meq_l : float
        Slow base of rock dust, all of it. [meq/L]
    inoculum, sulfur_microbes : float
        Live material by share of volume, live compost 1. [-]
    capacity, porosity : float
        Container capacity and total porosity of the heap. [L/L]
    litres : float
        Size of the heap; a large one warms itself. [L]
    is_woody : bool
        Peat and bark, where acid slows rotting.
    start_base_meq_l : float
        Base already in the mix beyond its parts, from a day-0 reading. [meq/L]
    curve : tuple of (float, float)
        A charge curve given as it is, in place of the components. [pH, meq/L]
    doubt : Doubt
        Lessened by what a yard's readings taught.
    """

    components: tuple[Component, ...]
    solids: tuple[Solid, ...] = ()
    sulfurs: tuple[SulfurGrains, ...] = ()
    apatites: tuple[Apatite, ...] = ()
    nitrogen: tuple[OrganicN, ...] = ()
    strong: tuple[tuple[float, float], ...] = ()
    weak: tuple[tuple[float, str, float], ...] = ()
    silicate_meq_l: float = 0.0
    inoculum: float = 0.0
    sulfur_microbes: float = 0.0
    capacity: float = 0.55
    porosity: float = 0.85
    litres: float = 60.0
    is_woody: bool = False
    inhibited_days: float = 0.0
    start_base_meq_l: float = 0.0
    curve: tuple[tuple[float, float], ...] = ()
    doubt: Doubt = USUAL_DOUBT

    @property
    def dosed_acid_meq_l(self) -> float:
        """Acid of all sulfur once it has turned. [meq/L]."""
        return sum(s.acid_meq_l for s in self.sulfurs)

    @property
    def limed_meq_l(self) -> float:
        """Base of all lime doses. [meq/L]."""
        return sum(s.base_meq_l for s in self.solids if s.is_lime)
