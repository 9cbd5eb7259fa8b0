"""A soil's life as it is told: the mix, the pot, the place, and what was done when."""

from __future__ import annotations

from dataclasses import dataclass, field
from datetime import date
from enum import StrEnum

from pelk.core.acid_base.water import Water
from pelk.core.crops.groups import Crop
from pelk.core.materials.material import Material
from pelk.core.materials.totals import MixIngredient
from pelk.core.simulation.heap import Heap


class Placed(StrEnum):
    """How a dressing is put."""

    TURNED = "turned"
    TOP_THIRD = "top_third"
    SCRATCHED = "scratched"
    ON_TOP = "on_top"


# Share of a lime's surface that each reaches: judgement.
CONTACT = {Placed.TURNED: 1.0, Placed.TOP_THIRD: 0.5, Placed.SCRATCHED: 0.25, Placed.ON_TOP: 0.1}
# What lies on top dries between waterings and rots more slowly: judgement.
PACE_ON_TOP = 0.6


class Where(StrEnum):
    """Where a soil rests."""

    RAIN = "rain"
    ROOFED = "roofed"
    INDOORS = "indoors"


@dataclass(frozen=True, slots=True, kw_only=True)
class MixedSoil:
    """A mix as it goes into a life.

    Attributes
    ----------
    heap : Heap
        Per litre, at the height of a heap.
    ingredients : tuple of MixIngredient
        Everything in it. [g/L]
    parts, doses : tuple of (Material, float)
        Shares of loose volume, and rates. [-], [g/L]
    loss, mineral : float
        Lost on blending; share of mineral soil. [-]
    """

    heap: Heap
    ingredients: tuple[MixIngredient, ...]
    parts: tuple[tuple[Material, float], ...]
    doses: tuple[tuple[Material, float], ...]
    loss: float
    mineral: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Pot:
    """One pot.

    Attributes
    ----------
    litres : float
        Settled soil in it. [L]
    height_cm : float
        Of the soil. [cm]
    count : int
        How many of them.
    wall : str
        Key of `pelk.core.vessels.watering.WALLS`.
    saucer : bool
        It drinks up again what drains.
    """

    litres: float
    height_cm: float
    count: int = 1
    wall: str = "plastic"
    saucer: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Place:
    """Where it stands.

    Attributes
    ----------
    temperature_c : float
        Where no months are known. [°C]
    monthly_c, monthly_rain_mm, monthly_et0_mm : tuple of float, or empty
        Of January to December. [°C], [mm], [mm/d]
    roof : bool
        No rain reaches it.
    moisture : float
        Of the mix while it rests, over container capacity. [-]
    """

    temperature_c: float = 20.0
    monthly_c: tuple[float, ...] = ()
    monthly_rain_mm: tuple[float, ...] = ()
    monthly_et0_mm: tuple[float, ...] = ()
    roof: bool = True
    moisture: float = 0.60


@dataclass(frozen=True, slots=True, kw_only=True)
class Event:
    """Something that happened to a soil on a day after mixing. [d]."""

    day: int


@dataclass(frozen=True, slots=True, kw_only=True)
class Read(Event):
    """A reading. [pH], [dS/m]."""

    ph: float | None = None
    ec_ds_m: float | None = None
    method: str = "slurry"
    checked: bool = False


@dataclass(frozen=True, slots=True, kw_only=True)
class Harvested(Event):
    """Picked: kilograms from a pot, or a share of what stands. [kg], [-]."""

    crop: Crop | None = None
    kg: float | None = None
    share: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Cleared(Event):
    """The plants are taken out, roots left in or not."""

    roots_in: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class PottedOn(Event):
    """Into another pot, with litres of the old soil kept; the new lay mixed so long. [L], [d]."""

    soil: MixedSoil
    pot: Pot
    kept_l: float
    mixed_days: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Topped(Event):
    """More soil on top, which lay mixed so long. [L], [d]."""

    soil: MixedSoil
    litres: float
    mixed_days: int = 0


@dataclass(frozen=True, slots=True, kw_only=True)
class Dressed(Event):
    """Something dry, in grams a pot. [g]."""

    material: Material
    grams: float
    placed: Placed = Placed.ON_TOP


@dataclass(frozen=True, slots=True, kw_only=True)
class Rinsed(Event):
    """Plain water through it, in litres a pot. [L]."""

    litres: float


@dataclass(frozen=True, slots=True, kw_only=True)
class Poured(Event):
    """A feed in water: grams in a litre of the can, litres a pot, what runs through.

    [g/L], [L], [-].
    """

    material: Material
    g_per_l: float
    litres: float
    through: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Watered(Event):
    """A regime from this day on: litres a pot and week, share that drains. [L], [-]."""

    litres_week: float | None = None
    leaching: float | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Rested(Event):
    """No plants: in the rain, under a roof, or indoors."""

    where: Where = Where.ROOFED


@dataclass(frozen=True, slots=True, kw_only=True)
class Planted(Event):
    """Plants in each pot."""

    crop: Crop
    plants: float = 1.0
    vigour: float = 1.0


# In which order things of one day happen.
ORDER: tuple[type[Event], ...] = (
    Read,
    Harvested,
    Cleared,
    PottedOn,
    Topped,
    Dressed,
    Rinsed,
    Poured,
    Rested,
    Watered,
    Planted,
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Life:
    """One soil from mixing day on.

    Attributes
    ----------
    days : int
        How long it is followed. [d]
    water : Water
        Of the tap: alkalinity and ions; amounts come from regimes.
    water_is_guessed : bool
        Nobody analysed it.
    """

    soil: MixedSoil
    mixed_on: date
    days: int
    pot: Pot
    place: Place = field(default_factory=Place)
    water: Water = field(default_factory=Water)
    water_is_guessed: bool = False
    events: tuple[Event, ...] = ()

    @property
    def by_day(self) -> dict[int, list[Event]]:
        """What happened on each day, in the order it acts."""
        days: dict[int, list[Event]] = {}
        for event in sorted(self.events, key=lambda e: (e.day, ORDER.index(type(e)))):
            days.setdefault(event.day, []).append(event)
        return days
