"""A whole dose: a blend or a granular is capped by everything in it, not fed by one element."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import inf

from pelk.core.base.limits import limit
from pelk.core.base.sources import cites
from pelk.core.crops.groups import Crop
from pelk.core.lab.blends import feed_grams
from pelk.core.materials.material import Material
from pelk.core.salts.pore_water import MEQ_AT_ONE_DS, UNKNOWN_PASTE_L_L
from pelk.core.salts.salts import MG_PER_MEQ
from pelk.core.simulation.salts_of_a_course import SALT_CLASSES

SOLUBLE = ("K", "Mg", "Ca", "Na")


class CapKind(StrEnum):
    """What of a blend stops first."""

    LIME = "lime"
    SULFUR = "sulfur"
    PHOSPHORUS = "phosphorus"
    SALTS = "salts"
    LABEL = "label"
    PRACTICE = "practice"


# Limits of one feed; the others are of a season.
AT_ONCE = frozenset([CapKind.LABEL, CapKind.PRACTICE, CapKind.SALTS])


@dataclass(frozen=True, slots=True)
class Cap:
    """The most of a blend that one thing in it allows.

    Attributes
    ----------
    season_g_l : float
        In a season. [g/L]
    of : str
        Name of the material, where it is one's own limit.
    """

    kind: CapKind
    season_g_l: float
    of: str = ""

    @property
    def says(self) -> str:
        """What stops it, after "its"."""
        if self.kind is CapKind.LABEL:
            return f"{self.of.lower()}, by its label,"
        if self.kind is CapKind.PRACTICE:
            return f"{self.of.lower()}, by common practice,"
        return self.kind.value


@dataclass(frozen=True, slots=True)
class Most:
    """The most of a feed, whatever its nitrogen asks for.

    Attributes
    ----------
    once_g_l, season_g_l : float
        At once, and in a season. [g/L]
    cap : Cap or None
        What stops a season of it; None where nothing does.
    """

    once_g_l: float
    season_g_l: float
    cap: Cap | None


@dataclass(frozen=True, slots=True)
class WholeDose:
    """What of a blend a season may get, beside what its nitrogen would ask for.

    Attributes
    ----------
    needed_g_l : float
        For all of the nitrogen of the season. [g/L]
    season_g_l : float
        To give in a season, whatever its nitrogen asks. [g/L]
    cap : Cap or None
        What stops it; None where nothing does.
    feeds : float
        How many times it is given. [-]
    once_g_l : float
        The most at once, by label, practice and salts. [g/L]
    """

    needed_g_l: float
    season_g_l: float
    cap: Cap | None
    feeds: float
    once_g_l: float

    @property
    def nitrogen_share(self) -> float:
        """What it covers of the nitrogen needed. [-]."""
        return min(self.season_g_l / self.needed_g_l, 1.0) if self.needed_g_l > 0 else 1.0

    @property
    def is_too_weak(self) -> bool:
        """Whether it cannot feed by itself; then all of it is given once."""
        return self.nitrogen_share < limit("whole_dose", "weak_share")

    @property
    def each_g_l(self) -> float:
        """Each time; once, where it is too weak to feed by. [g/L]."""
        shared = self.season_g_l if self.is_too_weak else self.season_g_l / max(self.feeds, 1.0)
        return min(shared, self.once_g_l)


@cites("pelk", "each thing in it against the one table of limits")
def caps_of(lines: Sequence[tuple[Material, float]], crop: Crop, feeds: float) -> list[Cap]:
    """Return the most of a blend in a season, by each thing in it, the tightest first.

    Parameters
    ----------
    lines : sequence of (Material, float)
        Each with its weight. [kg]
    crop : Crop
        What is fed.
    feeds : float
        How many times it is given. [-]

    Returns
    -------
    list of Cap
        Those that hold at all. [g/L]
    """
    total = sum(kg for _, kg in lines)
    shares = [(m, kg / total) for m, kg in lines]
    caps: list[Cap] = []

    def cap(kind: CapKind, most: float, per_g: float, of: str = "") -> None:
        if per_g > 0:
            caps.append(Cap(kind, most / per_g, of))

    lime = sum(x * m.cce.typ / 100 for m, x in shares if m.lime_grade and m.cce)
    cap(CapKind.LIME, limit("whole_dose", "lime_g_l"), lime)
    sulfur = sum(
        x * m.composition["S elemental"].typ / 100
        for m, x in shares
        if "S elemental" in m.composition
    )
    cap(CapKind.SULFUR, limit("whole_dose", "sulfur_g_l"), sulfur)
    phosphorus = sum(10 * x * m.composition["P"].typ for m, x in shares if "P" in m.composition)
    most_p = limit("whole_dose", "phosphorus_times") * crop.uptake_mg_l["P"]
    cap(CapKind.PHOSPHORUS, most_p, phosphorus)
    salts = sum(
        10 * x * m.composition[e].typ / MG_PER_MEQ[e]
        for m, x in shares
        if m.availability_class in SALT_CLASSES
        for e in SOLUBLE
        if e in m.composition
    )
    each = limit("whole_dose", "salts_ds_m") * MEQ_AT_ONE_DS * UNKNOWN_PASTE_L_L
    cap(CapKind.SALTS, each * max(feeds, 1.0), salts)
    for material, share in shares:
        # Labels and practice say how much at once.
        if material.label_max_g_l:
            most = max(feeds, 1.0) * material.label_max_g_l
            cap(CapKind.LABEL, most, share, material.short_name)
        if material.dose_max_g_l:
            most = max(feeds, 1.0) * material.dose_max_g_l
            cap(CapKind.PRACTICE, most, share, material.short_name)
    return sorted(caps, key=lambda c: c.season_g_l)


@cites("arithmetic", "the tightest cap of a season, and of those at once")
def most_of(lines: Sequence[tuple[Material, float]], crop: Crop, feeds: float) -> Most:
    """Return the most of a feed at once and in a season.

    Parameters
    ----------
    lines : sequence of (Material, float)
        What it is made of, each with its weight. [kg]
    crop : Crop
        What is fed.
    feeds : float
        How many times it is given. [-]

    Returns
    -------
    Most
        In a litre of mix; infinite where nothing in it stops it. [g/L]
    """
    feeds = max(feeds, 1.0)
    caps = caps_of(lines, crop, feeds)
    once = min((c.season_g_l / feeds for c in caps if c.kind in AT_ONCE), default=inf)
    return Most(once, caps[0].season_g_l if caps else inf, caps[0] if caps else None)


@cites("arithmetic", "the nitrogen of a season, no more than the tightest cap")
def whole_dose(
    lines: Sequence[tuple[Material, float]],
    crop: Crop,
    demand_mg_l: float,
    weeks: float,
    nitrogen_pct: float,
    free_share: float,
) -> WholeDose:
    """Return what of a blend a season may get.

    Parameters
    ----------
    lines : sequence of (Material, float)
        Each with its weight. [kg]
    crop : Crop
        What is fed.
    demand_mg_l : float
        Nitrogen it takes up in its season. [mg/L]
    weeks : float
        Between two feeds. [wk]
    nitrogen_pct : float
        In the blend. [%]
    free_share : float
        Of it that comes free within the season. [-]

    Returns
    -------
    WholeDose
        In a litre of mix.
    """
    season = crop.season_days / 7
    needed = feed_grams(demand_mg_l, 1.0, season, season, nitrogen_pct, free_share)
    feeds = max(season / weeks, 1.0)
    most = most_of(lines, crop, feeds)
    stops = most.season_g_l < needed
    once = most.once_g_l if most.once_g_l < inf else needed
    return WholeDose(needed, min(most.season_g_l, needed), most.cap if stops else None, feeds, once)
