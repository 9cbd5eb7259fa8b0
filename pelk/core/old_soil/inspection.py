"""Last year's soil: what was seen of it, and where it may go."""

from dataclasses import dataclass, field
from enum import StrEnum

from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import crop
from pelk.core.crops.named import family_of

WORDS: dict[str, tuple[str, ...]] = {
    "disease": ("none", "leaf", "damping-off", "soil-borne", "unknown-death"),
    "pest": ("none", "gnats", "aphid-mealy", "weevil", "knots"),
    "pest_amount": ("few", "many"),
    "herbicide": ("no", "suspected", "bioassay-ok"),
    "origin": ("own", "bought", "unknown"),
    "smell": ("earthy", "sour", "rotten"),
    "slurry": ("gritty", "mixed", "silky"),
    "squeeze": ("springs", "crumbles", "lump"),
    "crust": ("none", "light", "heavy"),
    "kind": ("container", "bed"),
}
FAMILIES = (
    frozenset(["Solanaceae"]),
    frozenset(["Brassicaceae"]),
    frozenset(["Cucurbitaceae"]),
    frozenset(["Fabaceae"]),
    frozenset(["Apiaceae"]),
    frozenset(["Amaryllidaceae"]),
    frozenset(["Asteraceae"]),
    frozenset(["Amaranthaceae"]),
    frozenset(["strawberry", "rose"]),
)
ASKED_FIRST = ("slurry", "squeeze", "ec_ds_m", "ph", "disease")
SALTY, VERY_SALTY = 3.0, 5.0


class Route(StrEnum):
    """Where old soil goes."""

    DISCARD = "discard"
    DISCARD_FOR_FOOD = "discard-for-food"
    HOLD = "hold"
    AIR_OUT = "air-out"
    TREAT = "treat"
    FLUSH = "flush"
    NOT_FOR_THIS_CROP = "not-for-this-crop"
    MINOR_PART = "minor-part"
    DUMP_AND_REFRESH = "dump-and-refresh"
    IN_PLACE = "in-place"
    PARTLY_OUT = "partly-out"
    AIR_IN_PLACE = "air-in-place"
    REUSE = "reuse"
    BED = "bed"


@dataclass(frozen=True, slots=True, kw_only=True)
class Inspection:
    """What was seen; None is not known.

    Attributes
    ----------
    air_pct, roots_pct : float or None
        Air after draining; roots by volume. [%]
    ec_ds_m, ph : float or None
        Saturated extract, and pH. [dS/m], [pH]
    seasons : float or None
        Since the last full renewal.
    next_crop : str
        Slug of the group that will grow.
    phosphorus_mg_l : float or None
        In a saturated extract. [mg/L]
    """

    disease: str | None = None
    pest: str | None = None
    pest_amount: str | None = None
    herbicide: str | None = None
    origin: str | None = None
    lead_ok: bool | None = None
    smell: str | None = None
    slurry: str | None = None
    squeeze: str | None = None
    air_pct: float | None = None
    roots_pct: float | None = None
    roots_left_in: bool | None = None
    crust: str | None = None
    ec_ds_m: float | None = None
    ph: float | None = None
    seasons: float | None = None
    crop_ok: bool | None = None
    last_family: str | None = None
    next_family: str | None = None
    next_crop: str = "fruiting"
    kind: str = "container"
    planted_once: bool | None = None
    is_dry: bool | None = None
    phosphorus_mg_l: float | None = None

    def __post_init__(self) -> None:
        """Refuse a word that the inspection does not know."""
        for name, allowed in WORDS.items():
            value = getattr(self, name)
            if value is not None and value not in allowed:
                raise PelkError(f"found {value!r}, allowed: {', '.join(allowed)}", name)

    @property
    def unknown(self) -> list[str]:
        """What would tell most and is not known."""
        return [name for name in ASKED_FIRST if getattr(self, name) is None]


@dataclass(frozen=True, slots=True)
class Decision:
    """What follows from an inspection.

    Attributes
    ----------
    rule : int
        Which rule decided, 1 to 15.
    route : Route
        Where it goes.
    why : str
        In a sentence.
    also : tuple of str
        Everything else that applies.
    is_provisional : bool
        Too little is known; `ask` says what would help.
    """

    rule: int
    route: Route
    why: str
    also: tuple[str, ...]
    is_provisional: bool
    ask: tuple[str, ...] = field(default=())


def is_same_family(last: str, following: str) -> bool:
    """Return whether two crops share what ails them: one family, or a pair that counts as one.

    Either may be a family or a crop by its name: peppers, then tomatoes.
    """
    a, b = family_of(last).lower(), family_of(following).lower()
    if not a or not b:
        return False
    return a == b or any({a, b} <= {f.lower() for f in group} for group in FAMILIES)


def over(value: float | None, line: float) -> bool:
    """Return whether something known is over a line."""
    return value is not None and value > line


def under(value: float | None, line: float) -> bool:
    """Return whether something known is under a line."""
    return value is not None and value < line


def band_of(observed: Inspection) -> tuple[float, float]:
    """Return the pH that the next crop wants of this soil. [pH]."""
    wanted = crop(observed.next_crop)
    return wanted.ph_mineral if observed.kind == "bed" else wanted.ph_soilless
