"""The grades of findings; where each begins stands in `base/limits`."""

from dataclasses import dataclass
from enum import IntEnum, StrEnum


class Grade(IntEnum):
    """How grave a finding is; the greater, the graver."""

    FINE = 0
    BETTER = 1
    DRIFTS = 2
    HARMS = 3


class Kind(StrEnum):
    """What is found."""

    PH_LOW = "ph_low"
    PH_HIGH = "ph_high"
    PH_KEEPS_FALLING = "ph_keeps_falling"
    PH_KEEPS_RISING = "ph_keeps_rising"
    SULFUR_UNSPENT = "sulfur_unspent"
    LIME_UNSPENT = "lime_unspent"
    LIME_AND_SULFUR = "lime_and_sulfur"
    AMMONIUM = "ammonium"
    AMMONIA_LOST = "ammonia_lost"
    SALTS = "salts"
    SODIUM = "sodium"
    CHLORIDE = "chloride"
    BORON = "boron"
    METAL = "metal"
    SHORT = "short"
    LOCKED = "locked"
    WOODY_ROBBERY = "woody_robbery"
    WASHES_OUT = "washes_out"
    AIR_LOW = "air_low"
    RUNS_HOT = "runs_hot"
    RAW_MANURE = "raw_manure"
    NOT_READY = "not_ready"
    USELESS = "useless"
    SHARE_NOT_MEANT = "share_not_meant"


class DoKind(StrEnum):
    """What a remedy changes."""

    SWAP = "swap"
    ADD = "add"
    SCALE = "scale"
    TAKE_OUT = "take_out"
    DOSE = "dose"
    WAIT = "wait"
    WATER = "water"


@dataclass(frozen=True, slots=True, kw_only=True)
class Change:
    """One thing that a remedy does.

    Attributes
    ----------
    material : str
        Slug of what is added, swapped out, scaled or taken out.
    into : str
        Slug of what comes in its place.
    litres : float
        Loose litres that are swapped or added. [L]
    g_per_l : float
        Rate of the dose once this is done. [g/L]
    share : float
        Of a dose that is left; of the whole mix, loose, that is swapped. [-]
    day : int
        To wait for. [d]
    """

    do: DoKind
    material: str = ""
    into: str = ""
    litres: float = 0.0
    g_per_l: float = 0.0
    share: float = 1.0
    day: int = 0


@dataclass(frozen=True, slots=True)
class Remedy:
    """A fix that was run through the same evaluation and the same judge.

    Attributes
    ----------
    text : str
        What to do, in words.
    changes : tuple of Change
        The same, to be carried out.
    before, after : dict of str to float
        ``ph``, ``ec_ds_m``, ``air``, ``nitrogen``, ``ready_day`` as far as known, and ``value``
        of the finding; none after, where it is gone.
    """

    text: str
    changes: tuple[Change, ...]
    before: dict[str, float]
    after: dict[str, float]


@dataclass(frozen=True, slots=True, kw_only=True)
class Finding:
    """Something that is not as it should be, when, and how sure.

    Attributes
    ----------
    of : str
        Element, metal or material it is about; empty for the whole mix.
    from_day, to_day : int or None
        When it holds, within the window that is judged; None for always. [d]
    value, low, high, limit : float or None
        In base units; low and high are 8 in 10.
    probability : float
        Of crossing the limit. [-]
    text : str
        In words, worst first where several hold.
    why : str
        Key of the figure behind it.
    """

    kind: Kind
    grade: Grade
    text: str
    of: str = ""
    from_day: int | None = None
    to_day: int | None = None
    value: float | None = None
    low: float | None = None
    high: float | None = None
    limit: float | None = None
    probability: float = 1.0
    why: str = ""
    remedies: tuple[Remedy, ...] = ()
