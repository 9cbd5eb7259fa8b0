"""The pots that are fed, what feeds them, and one feeding."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from pelk.core.advice.whole_doses import Most
from pelk.core.crops.groups import Crop
from pelk.core.materials.feeding_styles import FeedingWay, Inputs


@dataclass(frozen=True, slots=True)
class Feed:
    """A product that feeds: its nitrogen, and how much of it comes free in a season.

    Attributes
    ----------
    nitrogen_pct : float
        Of the product. [%]
    season_share : float
        Of its nitrogen that comes free. [-]
    density_kg_l : float
        Of a liquid. [kg/L]
    lead : str
        Key of `LEAD_DAYS`.
    most : Most or None
        What everything in it allows; None where that is not known.
    """

    name: str
    nitrogen_pct: float
    season_share: float
    density_kg_l: float = 1.0
    lead: str = "seed meal"
    most: Most | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Pots:
    """Some pots as the plan of their feeding needs them.

    Attributes
    ----------
    pot_l : float
        Settled soil in one. [L]
    surface_cm : float
        Diameter of its surface. [cm]
    normals_c : sequence of float
        Mean of each month, January first. [°C]
    soil_n : sequence of float
        Nitrogen that the soil gives each week from planting on, free or not taken. [mg/L]
    feeding, inputs : str
        The school's answers.
    potassium_short_mg_l : float
        What the season will lack. [mg/L]
    ec_ds_m, ec_on : float, date or None
        The newest reading of salts.
    buds_on, leaves_on : date or None
        When first buds, or well-grown true leaves, were seen.
    strength : float
        Of liquid feeds, over the usual one. [-]
    """

    crop: Crop
    planted_on: date
    pot_l: float
    count: int
    surface_cm: float
    normals_c: Sequence[float]
    soil_n: Sequence[float] = ()
    run_out_day: int | None = None
    feeding: FeedingWay = FeedingWay.CHARGE_AND_TOP_DRESS
    inputs: Inputs = Inputs.ANY_ORGANIC
    filled_on: date | None = None
    is_topped: bool = False
    potassium_short_mg_l: float = 0.0
    ec_ds_m: float | None = None
    ec_on: date | None = None
    buds_on: date | None = None
    leaves_on: date | None = None
    dressing: Feed
    liquid: Feed | None = None
    potash: str = ""
    strength: float = 1.0


@dataclass(frozen=True, slots=True)
class Feeding:
    """One thing to give, or to look at.

    Attributes
    ----------
    key : str
        Names it for good, so that it can be ticked.
    on : date or None
        None waits for what it names.
    kind : str
        ``top up``, ``dress``, ``liquid``, ``tea``, ``acid``, ``potash``, ``need``, ``check``,
        ``water`` or ``coated``.
    g_per_pot, ml_per_l, l_per_pot : float
        As far as it has them. [g], [mL/L], [L]
    nitrogen_mg_l : float
        That it brings to the soil, in time. [mg/L]
    days, lead_days : int
        For how long it feeds, and how long before that it lies. [d]
    """

    key: str
    on: date | None
    kind: str
    what: str
    why: str
    g_per_pot: float = 0.0
    ml_per_l: float = 0.0
    l_per_pot: float = 0.0
    nitrogen_mg_l: float = 0.0
    days: int = 1
    lead_days: int = 0
    care: str = ""
