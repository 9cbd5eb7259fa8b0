"""What the page of a yard's water shows."""

from dataclasses import dataclass

from pelk.core.acid_base.water import Water, alkalinity_from_ppm
from pelk.core.base.rounding import sig
from pelk.core.salts.water_ions import HARDNESS, WaterAnalysis, analysis_of_hardness, charges_of

KNOWN = {
    "report": "from a report",
    "strip": "from strips",
    "hardness": "worked out from the hardness, good to a factor of two",
    "ec": "worked out from conductivity and alkalinity, good to a factor of two",
    "unknown": "not known",
}
NAMES = {
    "Ca": "calcium",
    "Mg": "magnesium",
    "Na": "sodium",
    "K": "potassium",
    "NH4-N": "ammonium nitrogen",
    "Cl": "chloride",
    "S": "sulfur",
    "NO3-N": "nitrate nitrogen",
    "P": "phosphorus",
    "B": "boron",
}
# What a pot outdoors usually gets, for what a month of this water does.
MONTH_DAYS, USUAL = 30, Water(l_per_l_day=1 / 30, leaching_fraction=0.15)


@dataclass(frozen=True)
class WaterRow:
    """One element of the water."""

    name: str
    mg_l: str
    month_mg_l: str
    percent: int


@dataclass(frozen=True)
class WaterPage:
    """A water and what it does."""

    known: str
    ec: str
    drained_ec: str
    cations: str
    anions: str
    limes: str
    rows: list[WaterRow]


def water_page(analysis: WaterAnalysis) -> WaterPage | None:
    """Return what is shown of a water; None where nothing is known of it."""
    if analysis.known == "unknown":
        return None
    litres = USUAL.l_per_l_day * MONTH_DAYS
    most = max(analysis.ions_mg_l.values(), default=1.0) or 1.0
    cations, anions = charges_of(analysis.ions_mg_l, analysis.alkalinity_mg_l)
    ec = analysis.ec_ds_m
    return WaterPage(
        known=KNOWN[analysis.known],
        ec=sig(ec, 2),
        drained_ec=sig(ec / USUAL.leaching_fraction, 2),
        cations=sig(cations, 2),
        anions=sig(anions, 2),
        limes=sig(litres * alkalinity_from_ppm(analysis.alkalinity_mg_l), 2),
        rows=[
            WaterRow(NAMES[element], sig(mg_l, 3), sig(mg_l * litres, 3), round(100 * mg_l / most))
            for element, mg_l in analysis.ions_mg_l.items()
            if mg_l > 0
        ],
    )


@dataclass(frozen=True)
class HardnessRow:
    """What a month of water of some hardness brings a litre of mix."""

    name: str
    limes: str
    calcium: str
    percent: int


def hardness_rows() -> list[HardnessRow]:
    """Return what waters of each hardness bring in a month, where a yard's own is not known."""
    waters = {name: analysis_of_hardness(hardness) for name, hardness in HARDNESS.items()}
    most = max(water.alkalinity_mg_l for water in waters.values())
    litres = USUAL.l_per_l_day * MONTH_DAYS
    return [
        HardnessRow(
            name,
            sig(litres * alkalinity_from_ppm(water.alkalinity_mg_l), 2),
            sig(litres * water.ions_mg_l["Ca"], 2),
            round(100 * water.alkalinity_mg_l / most),
        )
        for name, water in waters.items()
    ]


# What the yard says after a deed, or where it cannot be done.
SETTINGS_SAVED = "Settings saved."
WATER_KEPT = "The water is kept."
SIGNED_OUT = "It is signed out."
HERE_NOW = "You are in {yard} now."
LEFT = "You left {yard}."
EMAIL_SUBJECT = "Your new email at Pelk"
DOOR_SUBJECT = "Your yard at Pelk"
LINK_SENT = "A link is on its way to {email}; it counts once it is followed."
WITHDRAWN = "The link lets nobody in any more."
LINK_OLD = "This link is too old, or not yours: ask for another."
EMAIL_NOW = "Your email is {email} now."
YOU_STAY = "You stay. Nothing is deleted."
YARD_STAYS = "The yard stays."
# What browsers call themselves -> what a person calls them; the first that fits.
BROWSERS = (
    ("Edg", "Edge"),
    ("Firefox", "Firefox"),
    ("Chrome", "Chrome or its kin"),
    ("Safari", "Safari"),
)
MACHINES = (
    ("Android", "a phone"),
    ("iPhone", "a phone"),
    ("iPad", "a tablet"),
    ("Windows", "Windows"),
    ("Mac OS", "a Mac"),
    ("Linux", "Linux"),
)


def browser_named(browser: str) -> str:
    """Return a browser's name as a person would say it."""
    what = next((name for mark, name in BROWSERS if mark in browser), "A browser")
    where = next((name for mark, name in MACHINES if mark in browser), "")
    return f"{what} on {where}" if where else what
