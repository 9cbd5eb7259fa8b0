"""What a grower asks for: how much, of which parts, with which doses."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from pelk.core.materials.measures import DoseUnit

# What the words of `Conditions` mean: share of container capacity, live material by share.
MOISTURE = {"dry": 0.30, "moist": 0.60, "wet": 0.90}
INOCULUM = {"none": 0.0, "some": 0.05, "rich": 0.20}


@dataclass(frozen=True, slots=True, kw_only=True)
class Vessels:
    """A number of pots of one kind.

    Attributes
    ----------
    litres : float or None
        What one holds to the brim; None takes the true volume of a trade class.
    """

    kind: str
    count: int
    litres: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Batch:
    """How much mixed soil is wanted, said in one of four ways.

    Attributes
    ----------
    volume_l : float or None
        Mixed soil. [L]
    vessels : tuple of Vessels
        Pots to fill.
    part_l : float or None
        The loose size of one part. [L]
    spare : float
        Kept over, because counts are guessed; used with `vessels`. [-]

    With none of the three, the parts themselves say how much (absolute amounts).
    """

    volume_l: float | None = None
    vessels: tuple[Vessels, ...] = ()
    part_l: float | None = None
    spare: float = 0.05


@dataclass(frozen=True, slots=True, kw_only=True)
class Part:
    """A bulk row: its share by loose volume, or its litres."""

    material: str
    parts: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Dose:
    """A dose row as typed.

    Attributes
    ----------
    per : str or None
        Slug of the part whose loose litres alone the rate counts.
    """

    material: str
    amount: float
    unit: DoseUnit
    per: str | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Conditions:
    """Where a mix lies, and what waters it.

    Attributes
    ----------
    temperature_c : float
        Mean of the air. [°C]
    moisture : str
        ``dry``, ``moist`` or ``wet``.
    inoculum : str or None
        ``none``, ``some`` or ``rich``; None takes what the parts bring.
    monthly_c : tuple of float or None
        Mean of each month, January first, in place of `temperature_c`. [°C]
    start_day : int
        Day of the year of mixing, 0 for the first of January. [d]
    water_alkalinity_mg_l : float
        As calcium carbonate. [mg/L]
    water_l_per_l_week : float
        Water given per litre of mix and week. [L/L/week]
    leaching_fraction : float
        Share of it that drains away. [-]
    water_ions_mg_l : mapping of str to float
        What else is in the water, by element. [mg/L]
    water_ions_as_given : bool
        The list of ions is not complete: their charges need not add up.
    """

    temperature_c: float = 20.0
    moisture: str = "moist"
    inoculum: str | None = None
    monthly_c: tuple[float, ...] | None = None
    start_day: int = 0
    water_alkalinity_mg_l: float = 0.0
    water_l_per_l_week: float = 0.0
    leaching_fraction: float = 0.15
    water_ions_mg_l: Mapping[str, float] = field(default_factory=dict)
    water_ions_as_given: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Plan:
    """A recipe with its batch.

    Attributes
    ----------
    parts_are_litres : bool
        The parts are loose litres that were measured, not shares.
    conditions : Conditions
        Where it lies.
    days : int
        How far ahead to look. [d]
    pot_height_cm : float or None
        Of the mix in the pot; None takes it from the pots. [cm]
    planted_day : int or None
        When it was planted; None takes the day it is ready. [d]
    """

    name: str
    crop: str
    batch: Batch
    parts: tuple[Part, ...]
    doses: tuple[Dose, ...] = field(default=())
    parts_are_litres: bool = False
    conditions: Conditions = Conditions()
    days: int = 180
    pot_height_cm: float | None = None
    planted_day: int | None = None
