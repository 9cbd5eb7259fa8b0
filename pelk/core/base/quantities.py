"""What the numbers of Pelk are: name, symbol, unit and possible range."""

from dataclasses import dataclass
from math import isfinite

from pelk.core.base.errors import OutOfRangeError
from pelk.core.base.guards import answers


@dataclass(frozen=True, slots=True)
class Quantity:
    """A property of a mix or of a part of it."""

    key: str
    name: str
    symbol: str
    unit: str
    low: float = 0.0
    high: float = 1e9
    digits: int = 3

    def check(self, value: float, path: str = "") -> float:
        """Return `value` as it is, or raise if it cannot be true.

        Parameters
        ----------
        value : float
            In this quantity's unit.
        path : str
            Where it was typed, for the message.

        Returns
        -------
        float
            The same value.

        Raises
        ------
        OutOfRangeError
            When the value is not a number or is outside the possible range.
        """
        if isfinite(value) and self.low <= value <= self.high:
            return value
        unit = "" if self.unit == "-" else f" {self.unit}"
        span = f"from {_plain(self.low)} to {_plain(self.high)}{unit}"
        raise OutOfRangeError(f"{self.name}: found {value:g}, allowed: {span}", path)


# Outside these the charge curve only keeps the sum bounded: no number is claimed there.
PH_TOLD = (3.0, 8.3)


@answers
def written_ph(ph: float) -> str:
    """Return a computed pH as it is told: ``5.1``, ``under 3``, ``over 8.3``."""
    low, high = PH_TOLD
    if ph < low:
        return f"under {low:g}"
    return f"over {high:g}" if ph > high else f"{ph:.1f}"


@answers
def written_beside(value: float, limit: float, decimals: int = 1) -> str:
    """Return a value with as many decimals as it takes to be told from its limit.

    Parameters
    ----------
    value, limit : float
        What it is, and what it is compared with, in one unit.
    decimals : int
        To begin with.

    Returns
    -------
    str
        ``2.31`` beside a limit of 2.3; never the same as the limit where it is not.
    """
    for more in range(decimals, decimals + 3):
        if f"{value:.{more}f}" != f"{limit:.{more}f}":
            return f"{value:.{more}f}"
    return f"{value:.{decimals}f}"


def _plain(value: float) -> str:
    """Write a bound without an exponent."""
    text = f"{value:.6f}".rstrip("0").rstrip(".")
    return text or "0"


MIXED_VOLUME = Quantity("mixed_volume", "Mixed volume", "V", "L", low=0.01, high=1_000_000)
LOOSE_VOLUME = Quantity("loose_volume", "Loose volume", "V₀", "L", high=2_000_000)
MASS = Quantity("mass", "Weight before watering", "m", "kg", high=5_000_000)
WET_MASS = Quantity("wet_mass", "Weight watered and drained", "m_w", "kg", high=5e6)
PARTS = Quantity("parts", "Parts", "x", "-", low=0.0001, high=1_000_000)
PERCENT = Quantity("percent", "Percent", "x", "%", low=0.0001, high=100)
COUNT = Quantity("count", "Number of pots", "n", "-", low=1, high=100_000)
VESSEL_VOLUME = Quantity("vessel_volume", "Pot volume", "V", "L", low=0.005, high=1e5)
SPARE = Quantity("spare", "Spare", "s", "-", high=1.0)
DOSE = Quantity("dose", "Dose", "d", "g/L", high=2000)
DOSE_AMOUNT = Quantity("dose_amount", "Dose amount", "a", "-", low=1e-6, high=1e6)
DENSITY = Quantity("density", "Weight by volume", "BD", "kg/L", low=0.001, high=25)
LOOSENING = Quantity("loosening", "Litres loosened", "e", "L/kg", low=0.04, high=1000)
MOISTURE = Quantity("moisture", "Moisture", "M", "%", high=99.9)
CONTENT = Quantity("content", "Content", "c", "%", high=100)
OWN_PH = Quantity("own_ph", "pH of a material", "pH", "-", high=14)
CCE = Quantity("cce", "Calcium carbonate equivalent", "CCE", "%", high=300)
ACID_BASE = Quantity("acid_base", "Acid or base", "AB", "% CaCO3", low=-400, high=400)
SALTS = Quantity("ec", "Electrical conductivity", "EC", "dS/m", high=200)
PH = Quantity("ph", "pH", "pH", "-", low=2.0, high=10.0, digits=2)
PH_START = Quantity("ph_start", "pH on mixing day", "pH₀", "-", 2.0, 10.0, 2)
PH_SETTLED = Quantity(
    "ph_settled", "pH once all lime and sulfur are spent", "pH∞", "-", 2.0, 10.0, 2
)
BUFFER = Quantity("buffer", "Buffer capacity", "B", "meq/L/pH", high=1000)
CHARGE = Quantity("charge", "Net base", "A", "meq/L", low=-1e6, high=1e6)
TEMPERATURE = Quantity("temperature", "Temperature", "T", "°C", low=-30, high=60)
ALKALINITY = Quantity("alkalinity", "Alkalinity as CaCO3", "Alk", "mg/L", high=2000)
WATERING = Quantity("watering", "Water a week", "V", "L/L", high=20)
SHARE = Quantity("share", "Share", "x", "-", high=1.0)
DAYS = Quantity("days", "Days ahead", "t", "d", low=1, high=730)
HEIGHT = Quantity("height", "Height of the mix", "H", "cm", low=1, high=200)
PH_FORECAST = Quantity("ph_forecast", "Forecast pH", "pH", "-", 2.0, 10.0, 2)
EC_NOW = Quantity("ec_now", "Salts on mixing day", "EC", "dS/m", high=1000, digits=2)
EC_LATER = Quantity(
    "ec_later", "Salts once the feeds have broken down", "EC", "dS/m", high=1000, digits=2
)
READY = Quantity("ready", "the day it is ready", "t", "d", high=2000)
AIR = Quantity("air", "Air after draining", "AFP", "%", high=100, digits=2)
WATER_HELD = Quantity("water_held", "Water after draining", "CC", "%", high=100, digits=2)
C_TO_N = Quantity("c_to_n", "Carbon to nitrogen", "C:N", "-", high=1e6)


def available_quantity(element: str) -> "Quantity":
    """Return the quantity of what has come free of an element."""
    name = NUTRIENTS[element].name.split(",")[0]
    return Quantity(f"{element}_free", f"{name}, free for the plant", element, "mg/L", -1e6, 1e7)


N_TOTAL = Quantity("N", "Nitrogen, total", "N", "mg/L", high=1e7)
P_TOTAL = Quantity("P", "Phosphorus, total", "P", "mg/L", high=1e7)
K_TOTAL = Quantity("K", "Potassium, total", "K", "mg/L", high=1e7)
CA_TOTAL = Quantity("Ca", "Calcium, total", "Ca", "mg/L", high=1e7)
MG_TOTAL = Quantity("Mg", "Magnesium, total", "Mg", "mg/L", high=1e7)
S_TOTAL = Quantity("S", "Sulfur, total", "S", "mg/L", high=1e7)

NUTRIENTS: dict[str, Quantity] = {
    q.key: q for q in (N_TOTAL, P_TOTAL, K_TOTAL, CA_TOTAL, MG_TOTAL, S_TOTAL)
}
