"""Irrigation water: its alkalinity, the acid it takes, and what it does to a pot."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from math import isfinite, log10

from pelk.core.acid_base.acids import equivalents_of_weak_acid
from pelk.core.acid_base.buffering import PK1, PK2, PKH, PKW, ROOT_ZONE_CO2_ATM
from pelk.core.base.elements import CACO3_G_PER_EQ
from pelk.core.base.errors import OutOfRangeError, UnknownError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.salts.solution import single_activity

LOWEST_PH, HIGHEST_PH = 1.5, 11.0
# Solubility product of calcite, -log at 25 C.
PK_CALCITE = 8.48
# Pore water of a mix: judgement. What the slurry loses of carbon dioxide on the way to the pen.
PORE_CALCIUM_MOL_L, PORE_IONIC_MOL_L = 0.005, 0.02
CO2_LOST_PH, MOST_REST_PH = 0.30, 8.0
US_GALLON_L, FLUID_OUNCE_ML, OUNCE_G = 3.785411784, 29.5735295625, 28.349523125
# Acids as bought: normality for strong, mol/L for phosphoric; g/mol for citric.
SULFURIC_35_N, NITRIC_67_N, PHOSPHORIC_75_M, CITRIC_G_MOL = 9.0, 14.9, 12.1, 192.12


@cites("plummer1982", "carbonate constants at 25 C")
@answers
def alkalinity_share(ph: float) -> float:
    """Return the charge of dissolved carbonate per mole of it.

    Parameters
    ----------
    ph : float
        Of the water.

    Returns
    -------
    float
        Charge. [eq/mol]
    """
    h, k1, k2 = 10.0**-ph, 10.0**-PK1, 10.0**-PK2
    return (h * k1 + 2 * k1 * k2) / (h * h + h * k1 + k1 * k2)


@cites("arithmetic", "alkalinity less hydroxide plus protons, over its charge")
@answers
def total_carbonate(alkalinity_meq_l: float, ph: float) -> float:
    """Return the dissolved carbonate of a water.

    Parameters
    ----------
    alkalinity_meq_l : float
        Alkalinity. [meq/L]
    ph : float
        Of the water.

    Returns
    -------
    float
        Carbonate. [mol/L]
    """
    h = 10.0**-ph
    return (alkalinity_meq_l / 1000 - 10.0**-PKW / h + h) / alkalinity_share(ph)


@cites("plummer1982", "carbonate constants at 25 C, closed to the air")
@answers
def alkalinity_at(carbonate_mol_l: float, ph: float) -> float:
    """Return the alkalinity that a water has at a pH, its carbonate kept.

    Parameters
    ----------
    carbonate_mol_l : float
        Dissolved carbonate. [mol/L]
    ph : float
        Of the water.

    Returns
    -------
    float
        Alkalinity. [meq/L]
    """
    h = 10.0**-ph
    return 1000 * (carbonate_mol_l * alkalinity_share(ph) + 10.0**-PKW / h - h)


@cites("arithmetic", "alkalinity of the water less what is left at the target")
@answers
def strong_acid_for(alkalinity_meq_l: float, ph: float, target_ph: float) -> float:
    """Return the mineral acid that takes a water to a pH.

    Parameters
    ----------
    alkalinity_meq_l : float
        Alkalinity. [meq/L]
    ph : float
        Of the water.
    target_ph : float
        Wanted.

    Returns
    -------
    float
        Acid; zero when the water is below the target already. [meq/L]
    """
    carbonate = total_carbonate(alkalinity_meq_l, ph)
    return max(alkalinity_meq_l - alkalinity_at(carbonate, target_ph), 0.0)


@cites("crc", "dissociation constants of the weak acid")
@answers
def weak_acid_for(alkalinity_meq_l: float, ph: float, target_ph: float, acid: str) -> float:
    """Return the weak acid that takes a water to a pH.

    Citric and acetic acid are eaten in the pot and give the alkalinity back: they do
    not lower its lime load.

    Parameters
    ----------
    alkalinity_meq_l : float
        Alkalinity. [meq/L]
    ph : float
        Of the water.
    target_ph : float
        Wanted.
    acid : str
        ``citric``, ``acetic`` or ``phosphoric``.

    Returns
    -------
    float
        Acid. [mmol/L]
    """
    strong = strong_acid_for(alkalinity_meq_l, ph, target_ph)
    return strong / float(equivalents_of_weak_acid(acid, target_ph))


@cites("arithmetic", "root of the charge balance")
@answers
def ph_after_acid(
    alkalinity_meq_l: float,
    ph: float,
    strong_meq_l: float = 0.0,
    weak_mmol_l: Mapping[str, float] | None = None,
) -> float:
    """Return the pH of a water once acid has gone in, closed to the air.

    Parameters
    ----------
    alkalinity_meq_l : float
        Alkalinity. [meq/L]
    ph : float
        Of the water.
    strong_meq_l : float
        Mineral acid. [meq/L]
    weak_mmol_l : mapping of str to float, optional
        Weak acids by name. [mmol/L]

    Returns
    -------
    float
        pH. [-]
    """
    from scipy.optimize import brentq  # noqa: PLC0415  (a second: only where roots are sought)

    carbonate, weak = total_carbonate(alkalinity_meq_l, ph), weak_mmol_l or {}

    def short(at: float) -> float:
        taken = sum(float(equivalents_of_weak_acid(a, at)) * c for a, c in weak.items())
        return alkalinity_at(carbonate, at) - (alkalinity_meq_l - strong_meq_l) + taken

    if short(LOWEST_PH) > 0:
        raise OutOfRangeError("that much acid takes the water below pH 1.5", "acid")
    return float(brentq(short, LOWEST_PH, HIGHEST_PH))


@cites("plummer1982", "calcite at rest with carbon dioxide, no activity correction")
@answers
def calcite_rest_ph(co2_atm: float) -> float:
    """Return the pH at which pure water rests with calcite and air of some CO2.

    Parameters
    ----------
    co2_atm : float
        Partial pressure of carbon dioxide. [atm]

    Returns
    -------
    float
        pH. [-]
    """
    low, high = 5.0, 11.0
    for _ in range(60):
        middle = (low + high) / 2
        h = 10.0**-middle
        bicarbonate = 10.0 ** (-PKH - PK1) * co2_atm / h
        carbonate = bicarbonate * 10.0**-PK2 / h
        calcium = 10.0**-PK_CALCITE / carbonate
        balance = 2 * calcium - (10.0**-PKW / h - h + bicarbonate + 2 * carbonate)
        low, high = (middle, high) if balance > 0 else (low, middle)
    return (low + high) / 2


@cites("plummer1982", "calcite and CO2 at 25 C")
@cites("davies1962", "activity of calcium")
def carbonate_rest_ph(
    calcium_mol_l: float = PORE_CALCIUM_MOL_L,
    ionic_mol_l: float = PORE_IONIC_MOL_L,
    co2_atm: float = ROOT_ZONE_CO2_ATM,
) -> float:
    """Return the pH, on the slurry scale, at which carbonate in a mix stops dissolving.

    The slurry loses carbon dioxide on the way to the pen, hence the last term.

    Parameters
    ----------
    calcium_mol_l, ionic_mol_l : float
        Calcium and ionic strength of the pore water. [mol/L]
    co2_atm : float
        Of the air in the pores. [atm]

    Returns
    -------
    float
        pH; `CALCITE_PH` is this with the defaults. [-]
    """
    log_gamma = 4 * log10(float(single_activity(ionic_mol_l)))
    equilibrium = PK1 + PK2 + PKH - PK_CALCITE
    at_rest = 0.5 * (equilibrium - log10(calcium_mol_l) - log_gamma - log10(co2_atm))
    return min(MOST_REST_PH, at_rest + CO2_LOST_PH)


@dataclass(frozen=True, slots=True, kw_only=True)
class Water:
    """What a pot is watered with.

    Attributes
    ----------
    alkalinity_meq_l : float
        Alkalinity; hardness is not alkalinity. [meq/L]
    l_per_l_day : float
        Water given per litre of mix and day. [L/L/d]
    leaching_fraction : float
        Share of it that drains away. [-]
    ions_mg_l : mapping of str to float
        What else is in it, by `pelk.core.salts.water_ions.ELEMENTS`. [mg/L]
    from_day : float
        When watering begins; a heap under cover is not washed. [d]
    """

    alkalinity_meq_l: float = 0.0
    l_per_l_day: float = 0.0
    leaching_fraction: float = 0.15
    ions_mg_l: Mapping[str, float] = field(default_factory=dict)
    from_day: float = 0.0

    def brings(self, *elements: str) -> float:
        """Return what a day's water brings of elements. [mg/L of mix/d]."""
        return self.l_per_l_day * sum(self.ions_mg_l.get(e, 0.0) for e in elements)

    @property
    def drained_l_per_l_day(self) -> float:
        """Water that drains from a litre of mix in a day. [L/L/d]."""
        return self.l_per_l_day * self.leaching_fraction


@cites("arithmetic", "base in the water over buffer capacity")
@answers
def drift_per_month(water: Water, buffer_meq_l: float) -> float:
    """Return how far a month of this water moves the pH of a pot.

    Parameters
    ----------
    water : Water
        What it is watered with.
    buffer_meq_l : float
        Buffer capacity of the mix. [meq/L/pH]

    Returns
    -------
    float
        Rise of pH in 30 days, before leaching and plants. [-]
    """
    if not (isfinite(buffer_meq_l) and buffer_meq_l > 0):
        raise UnknownError("the buffer capacity of the mix is not known")
    return 30 * water.l_per_l_day * water.alkalinity_meq_l / buffer_meq_l


@cites("arithmetic", "one equivalent is 50.04 g CaCO3")
@answers
def alkalinity_from_ppm(alkalinity_mg_l: float) -> float:
    """Return alkalinity in charge from the figure a water report prints.

    Parameters
    ----------
    alkalinity_mg_l : float
        As calcium carbonate. [mg/L]

    Returns
    -------
    float
        Alkalinity. [meq/L]
    """
    return alkalinity_mg_l / CACO3_G_PER_EQ


@cites("bailey_alkalinity", "rates per 1000 gallons and milliequivalent")
@answers
def ounces_per_1000_gal(acid: str, target_ph: float = 5.8) -> float:
    """Return the acid for 1000 US gallons of water, for each meq/L of alkalinity.

    Parameters
    ----------
    acid : str
        ``sulfuric 35 %``, ``nitric 67 %``, ``phosphoric 75 %`` or ``citric``.
    target_ph : float
        Wanted.

    Returns
    -------
    float
        Acid; citric by weight, the others by volume. [oz or fl oz/1000 gal/meq]
    """
    taken = alkalinity_taken(target_ph)
    litres = 1000 * US_GALLON_L
    if acid == "citric":
        grams = taken / float(equivalents_of_weak_acid("citric", target_ph)) * CITRIC_G_MOL
        return grams / 1000 * litres / OUNCE_G
    strength = {
        "sulfuric 35 %": SULFURIC_35_N,
        "nitric 67 %": NITRIC_67_N,
        "phosphoric 75 %": PHOSPHORIC_75_M
        * float(equivalents_of_weak_acid("phosphoric", target_ph)),
    }[acid]
    return taken / strength * litres / FLUID_OUNCE_ML


@cites("plummer1982", "first dissociation of carbonic acid")
@answers
def alkalinity_taken(target_ph: float) -> float:
    """Return the share of a water's alkalinity that is gone at a pH.

    Parameters
    ----------
    target_ph : float
        Wanted.

    Returns
    -------
    float
        Share. [-]
    """
    return 1 - 1 / (1 + 10 ** (PK1 - target_ph))
