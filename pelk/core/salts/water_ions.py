"""What irrigation water brings besides its alkalinity: ions, from a report, a strip or a guess."""

from collections.abc import Mapping, Sequence
from dataclasses import asdict, dataclass, field
from math import exp, expm1
from typing import Any

from pelk.core.base.elements import ATOMIC_MASS, CACO3_G_PER_EQ
from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.salts.solution import ec_of_solution

# Elements of a water analysis with the ion that each is, and its charge; sulfur, nitrogen and
# phosphorus are written as the element.
ION_OF = {
    "Ca": ("Ca", 2),
    "Mg": ("Mg", 2),
    "Na": ("Na", 1),
    "K": ("K", 1),
    "NH4-N": ("NH4", 1),
    "Cl": ("Cl", -1),
    "S": ("SO4", -2),
    "NO3-N": ("NO3", -1),
    "P": ("", -1),
    "B": ("", 0),
}
ELEMENTS = tuple(ION_OF)
MOST_ION_MG_L = 20_000.0
# Hardness by the words of a supplier, middle of each class, mg/L as calcium carbonate.
HARDNESS = {"soft": 30.0, "medium": 90.0, "hard": 150.0, "very hard": 250.0}
CA_OF_HARDNESS, MG_OF_HARDNESS, ALKALINITY_OF_HARDNESS = 0.30, 0.06, 0.75
# Total charge of a water by its conductivity.
MEQ_PER_DS = 10.0
CHARGES_APART = 0.20
# What is not known of the ions where they were reckoned from hardness or from EC: a factor.
RECKONED_SPAN = 2.0


def _mass(element: str) -> float:
    return ATOMIC_MASS[element.rsplit("-", maxsplit=1)[-1]]


@dataclass(frozen=True, slots=True, kw_only=True)
class WaterAnalysis:
    """A yard's water.

    Attributes
    ----------
    alkalinity_mg_l : float
        As calcium carbonate. [mg/L]
    ions_mg_l : dict of str to float
        By `ELEMENTS`. [mg/L]
    known : str
        ``report``, ``strip``, ``hardness``, ``ec`` or ``unknown``: where the ions come from.
    as_given : bool
        The list is not complete: its charges need not add up.
    """

    alkalinity_mg_l: float = 0.0
    ions_mg_l: dict[str, float] = field(default_factory=dict)
    known: str = "unknown"
    as_given: bool = False

    @classmethod
    def of(cls, stored: Mapping[str, Any]) -> "WaterAnalysis":
        """Return an analysis from how it was stored; nothing stored is water not known."""
        return cls(**stored)

    @property
    def stored(self) -> dict[str, Any]:
        """The analysis as plain values."""
        return asdict(self)

    @property
    def is_reckoned(self) -> bool:
        """The ions are a guess from hardness or conductivity, good to a factor of two."""
        return self.known in ("hardness", "ec")

    @property
    def ec_ds_m(self) -> float:
        """Conductivity by its ions. [dS/m]."""
        return water_ec(self.ions_mg_l, self.alkalinity_mg_l)


@cites("arithmetic", "charges over molar mass")
@answers
def charges_of(ions_mg_l: Mapping[str, float], alkalinity_mg_l: float) -> tuple[float, float]:
    """Return the charges of a water's ions.

    Parameters
    ----------
    ions_mg_l : mapping of str to float
        By `ELEMENTS`, as the element. [mg/L]
    alkalinity_mg_l : float
        As calcium carbonate; counts as an anion. [mg/L]

    Returns
    -------
    tuple of float
        Of cations and of anions. [meq/L]
    """
    cations, anions = 0.0, alkalinity_mg_l / CACO3_G_PER_EQ
    for element, mg_l in ions_mg_l.items():
        charge = ION_OF[element][1]
        meq = abs(charge) * mg_l / _mass(element)
        cations, anions = (cations + meq, anions) if charge > 0 else (cations, anions + meq)
    return cations, anions


@cites("arithmetic", "water carries no charge: cations and anions within 20 %")
def check_ions(
    ions_mg_l: Mapping[str, float],
    alkalinity_mg_l: float,
    path: str = "ions_mg_l",
    *,
    as_given: bool = False,
) -> None:
    """Refuse ions that no water can have.

    Parameters
    ----------
    ions_mg_l : mapping of str to float
        By `ELEMENTS`. [mg/L]
    alkalinity_mg_l : float
        As calcium carbonate. [mg/L]
    path : str
        Of the field, for the refusal.
    as_given : bool
        The grower says that the list is not complete: charges may be apart.

    Raises
    ------
    PelkError
        For an ion that is not known, a negative one, or charges that do not add up.
    """
    for element, mg_l in ions_mg_l.items():
        if element not in ION_OF:
            raise PelkError(f"found {element!r}, allowed: {', '.join(ELEMENTS)}", path)
        if not 0 <= mg_l <= MOST_ION_MG_L:
            raise PelkError(
                f"found {element} {mg_l:g}, allowed: from 0 to {MOST_ION_MG_L:g} mg/L",
                f"{path}.{element}",
            )
    if as_given or not ions_mg_l:
        return
    cations, anions = charges_of(ions_mg_l, alkalinity_mg_l)
    if abs(cations - anions) > CHARGES_APART * max(cations, anions):
        raise PelkError(
            f"These ions do not add up: {cations:.1f} meq/L of calcium, magnesium, sodium, "
            f"potassium and ammonium against {anions:.1f} of alkalinity, chloride, sulfur and "
            "nitrate, which should be within a fifth of each other. Look at the units (sulfate "
            "is three times its sulfur, nitrate 4.4 times its nitrogen), or say that the list is "
            "not complete and take it as it is",
            path,
        )


@cites("pelk", "three parts of a hardness are calcium, three quarters of it alkalinity")
@answers
def analysis_of_hardness(hardness_mg_l: float) -> WaterAnalysis:
    """Return the likely ions of a water of which only the hardness is known.

    Parameters
    ----------
    hardness_mg_l : float
        As calcium carbonate. [mg/L]

    Returns
    -------
    WaterAnalysis
        Good to a factor of two.
    """
    alkalinity = ALKALINITY_OF_HARDNESS * hardness_mg_l
    ions = {"Ca": CA_OF_HARDNESS * hardness_mg_l, "Mg": MG_OF_HARDNESS * hardness_mg_l}
    cations, anions = charges_of(ions, alkalinity)
    rest = max(cations - anions, 0.0) / 2
    ions |= {"Cl": rest * _mass("Cl"), "S": rest * _mass("S") / 2}
    return WaterAnalysis(alkalinity_mg_l=alkalinity, ions_mg_l=ions, known="hardness")


@cites("pelk", "what is not alkalinity is sodium chloride and calcium sulfate, half each")
@answers
def analysis_of_ec(ec_ds_m: float, alkalinity_mg_l: float) -> WaterAnalysis:
    """Return the likely ions of a water of which conductivity and alkalinity are known.

    Parameters
    ----------
    ec_ds_m : float
        Conductivity. [dS/m]
    alkalinity_mg_l : float
        As calcium carbonate. [mg/L]

    Returns
    -------
    WaterAnalysis
        Good to a factor of two.
    """
    alkalinity = alkalinity_mg_l / CACO3_G_PER_EQ
    half = max(MEQ_PER_DS * ec_ds_m - alkalinity, 0.0) / 2
    calcium, magnesium = 0.75 * alkalinity + half, 0.25 * alkalinity
    ions = {
        "Ca": calcium * _mass("Ca") / 2,
        "Mg": magnesium * _mass("Mg") / 2,
        "Na": half * _mass("Na"),
        "Cl": half * _mass("Cl"),
        "S": half * _mass("S") / 2,
    }
    return WaterAnalysis(alkalinity_mg_l=alkalinity_mg_l, ions_mg_l=ions, known="ec")


@cites("crc", "the sum of what the ions conduct")
@answers
def water_ec(ions_mg_l: Mapping[str, float], alkalinity_mg_l: float) -> float:
    """Return the conductivity of a water by its ions.

    Parameters
    ----------
    ions_mg_l : mapping of str to float
        By `ELEMENTS`. [mg/L]
    alkalinity_mg_l : float
        As calcium carbonate. [mg/L]

    Returns
    -------
    float
        Conductivity at 25 °C. [dS/m]
    """
    mmol = {
        ION_OF[e][0]: mg_l / _mass(e) for e, mg_l in ions_mg_l.items() if ION_OF[e][0] and mg_l > 0
    }
    return ec_of_solution({**mmol, "HCO3": alkalinity_mg_l / CACO3_G_PER_EQ})


@cites("arithmetic", "dM/dt = w C - d M / (theta R), solved over the time")
@answers
def after_watering(
    held_mg_l: float, given_mg_l: float, drained_l_l: float, capacity: float, held_back: float = 1.0
) -> float:
    """Return what is left of an element after a time of steady watering.

    Parameters
    ----------
    held_mg_l : float
        There at the start, in a litre of mix. [mg/L]
    given_mg_l : float
        What the water of that time brings: litres a litre of mix times its content. [mg/L]
    drained_l_l : float
        Water that drains from a litre of mix in that time. [L/L]
    capacity : float
        Water that a litre of mix holds. [L/L]
    held_back : float
        How much slower than nitrate the element washes out. [-]

    Returns
    -------
    float
        In a litre of mix. [mg/L]
    """
    pore_volumes = drained_l_l / (capacity * held_back)
    return held_mg_l * exp(-pore_volumes) + given_mg_l * mean_stay(pore_volumes)


@cites("arithmetic", "mean of e^-x over the time")
def mean_stay(pore_volumes: float) -> float:
    """Return the share that stays of what comes evenly while water drains.

    Parameters
    ----------
    pore_volumes : float
        Water drained over water held. [-]

    Returns
    -------
    float
        Share. [-]
    """
    return -expm1(-pore_volumes) / pore_volumes if pore_volumes > 1e-12 else 1.0


@cites("arithmetic", "the same, step by step")
def along_a_course(
    edges: Sequence[float],
    gains: Sequence[float],
    given_per_day: float,
    drained_per_day: float,
    held_l_l: float,
) -> list[float]:
    """Return an element at each edge: gained, then watered and drained, step by step.

    Parameters
    ----------
    edges : sequence of float
        Days. [d]
    gains : sequence of float
        There at the first edge, then what comes free in each step. [mg/L or meq/L]
    given_per_day, drained_per_day : float
        Brought by water [mg/L/d or meq/L/d]; water that drains. [L/L/d]
    held_l_l : float
        Water held, times how much the element is held back. [L/L]

    Returns
    -------
    list of float
        As many as edges. [mg/L or meq/L]
    """
    held = gains[0]
    line = [held]
    for i in range(1, len(edges)):
        days = edges[i] - edges[i - 1]
        volumes = drained_per_day * days / held_l_l
        held = (held + gains[i]) * exp(-volumes) + given_per_day * days * mean_stay(volumes)
        line.append(held)
    return line
