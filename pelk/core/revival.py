"""Last year's soil: what was seen, what follows from it, and with which amounts.

Rules stand in order of danger and the first that fits decides. What is not known never
fires a rule; three or more unknowns make the answer provisional.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from math import log, pi

from pelk.core.crops import Crop, crop
from pelk.core.demand import REACHES
from pelk.core.errors import PelkError
from pelk.core.feeding import MOST_ON_TOP_G_M2
from pelk.core.sources import cites

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
    frozenset(["Solanaceae"]), frozenset(["Brassicaceae"]), frozenset(["Cucurbitaceae"]),
    frozenset(["Fabaceae"]), frozenset(["Apiaceae"]), frozenset(["Amaryllidaceae"]),
    frozenset(["Asteraceae"]), frozenset(["Amaranthaceae"]), frozenset(["strawberry", "rose"]),
)  # fmt: skip
ASKED_FIRST = ("slurry", "squeeze", "ec_ds_m", "ph", "disease")
PROVISIONAL_FROM = 3
SALTY, VERY_SALTY, TOO_SWEET, TOO_SOUR, TOO_SOUR_ACID = 3.0, 5.0, 8.0, 4.0, 3.5
LOW_AIR, POOR_AIR = 8.0, 12.0
RINSE_LEFT = {"NO3": 1.0, "Cl": 1.0, "Na": 1.5, "K": 3.0, "Mg": 4.0, "Ca": 6.0}
# Share of last season's available additions still there: after a dry and a wet winter.
CARRIED = {
    "N": (0.10, 0.02), "K": (0.30, 0.10), "Ca": (0.60, 0.60), "Mg": (0.50, 0.50),
    "S": (0.20, 0.20), "P": (0.70, 0.70),
}  # fmt: skip
ROOTS_MANY, ROOTS_N_MG_L = 30.0, 10.0
BLEND_N_PCT, BLEND_LEAST_G_L, BLEND_MOST_G_L = 4.0, 1.0, 4.0
ENOUGH_P_SME = 10.0


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
        Which rule decided, 1 to 14.
    route : str
        ``discard``, ``discard for food``, ``hold``, ``air out``, ``treat``, ``flush``,
        ``not for this crop``, ``minor part``, ``dump and refresh``, ``in place``,
        ``reuse`` or ``bed``.
    why : str
        In a sentence.
    also : tuple of str
        Everything else that applies.
    is_provisional : bool
        Too little is known; `ask` says what would help.
    """

    rule: int
    route: str
    why: str
    also: tuple[str, ...]
    is_provisional: bool
    ask: tuple[str, ...] = field(default=())


def decide(seen: Inspection, pot_l: float = 10.0) -> Decision:
    """Return what to do with last year's soil.

    Parameters
    ----------
    seen : Inspection
        What was seen.
    pot_l : float
        Of the pot; over 25 L it is not dumped out. [L]

    Returns
    -------
    Decision
        By the first rule that fits, with everything else that applies.
    """
    wanted = crop(seen.next_crop)
    number, route, why, _ = next(r for r in _RULES if r[3](seen, wanted, pot_l))
    ask = tuple(seen.unknown)
    return Decision(
        number, route, why, tuple(_also(seen, route)), len(ask) >= PROVISIONAL_FROM, ask
    )


def _over(value: float | None, line: float) -> bool:
    return value is not None and value > line


def _under(value: float | None, line: float) -> bool:
    return value is not None and value < line


def _sick(s: Inspection, c: Crop, v: float) -> bool:
    return s.disease == "soil-borne" or s.pest == "knots"


def _unsafe(s: Inspection, c: Crop, v: float) -> bool:
    untested = s.origin == "unknown" and s.lead_ok is None and "food" in c.tags
    return s.lead_ok is False or untested


def _poisoned(s: Inspection, c: Crop, v: float) -> bool:
    return s.herbicide == "suspected"


def _doubtful(s: Inspection, c: Crop, v: float) -> bool:
    many = s.pest in ("weevil", "aphid-mealy") and s.pest_amount == "many"
    return s.disease == "unknown-death" or many


def _airless(s: Inspection, c: Crop, v: float) -> bool:
    return s.smell in ("sour", "rotten")


def _extreme(s: Inspection, c: Crop, v: float) -> bool:
    sour = TOO_SOUR_ACID if "ericaceous" in c.tags else TOO_SOUR
    return _over(s.ec_ds_m, VERY_SALTY) or _over(s.ph, TOO_SWEET) or _under(s.ph, sour)


def _salty(s: Inspection, c: Crop, v: float) -> bool:
    return s.crust == "heavy" or _over(s.ec_ds_m, min(SALTY, c.ec_max))


def _for_seed(s: Inspection, c: Crop, v: float) -> bool:
    return "seedling" in c.tags


def _worn_out(s: Inspection, c: Crop, v: float) -> bool:
    signs = [
        s.slurry in ("mixed", "silky"),
        s.squeeze == "lump",
        _under(s.air_pct, POOR_AIR),
    ]
    old = s.seasons is not None and s.seasons >= 4
    tired = s.seasons is not None and 3 <= s.seasons < 4 and sum(signs) >= 2
    broken = s.slurry == "silky" and s.squeeze == "lump"
    return s.kind == "container" and (
        broken or _under(s.air_pct, LOW_AIR) or old or tired
    )


def _tired(s: Inspection, c: Crop, v: float) -> bool:
    signs = (
        s.seasons is not None and s.seasons >= 2, s.slurry in ("mixed", "silky"),
        s.squeeze == "lump", _under(s.air_pct, POOR_AIR), s.crop_ok is False,
    )  # fmt: skip
    return s.kind == "container" and any(signs)


def _heavy(s: Inspection, c: Crop, v: float) -> bool:
    return s.kind == "container" and s.seasons == 1 and (bool(s.roots_left_in) or v > 25)


def _unused(s: Inspection, c: Crop, v: float) -> bool:
    return s.planted_once is False


def _container(s: Inspection, c: Crop, v: float) -> bool:
    return s.kind == "container"


def _asks_little(s: Inspection, c: Crop, v: float) -> bool:
    return s.kind == "container" and c.intensity <= 1


def _always(s: Inspection, c: Crop, v: float) -> bool:
    return True


_Rule = tuple[int, str, str, Callable[[Inspection, Crop, float], bool]]
_RULES: tuple[_Rule, ...] = (
    (1, "discard", "A disease or pest that lives in soil: sealed waste, not compost, not "
     "beds.", _sick),
    (2, "discard for food", "Lead is not ruled out: for ornamentals or cover only.", _unsafe),
    (3, "hold", "It may hold weedkiller: bean test, three weeks, then look again.", _poisoned),
    (4, "hold", "Something killed the last plants: sprout and bean test for three weeks, "
     "search a litre for grubs. All clean: a third of a new mix, for another family.",
     _doubtful),
    (5, "air out", "It went airless: spread it 20 cm deep or less, turn on days 0, 3, 7 and "
     "14, add a tenth of something coarse, smell again on day 14. Twice in vain: landscape.",
     _airless),
    (6, "treat", "Salts or pH are far out: treat and test again in a week. Still out: "
     "landscape.", _extreme),
    (7, "flush", "Salty: rinse it first, then judge it again with the new reading.", _salty),
    (8, "not for this crop", "Never start seedlings in used soil: take new mix, or grow "
     "something else in it.", _for_seed),
    (9, "minor part", "It has broken down: at most a third of a new mix, a quarter if it "
     "feels silky; the rest fills low spots.", _worn_out),
    (10, "dump and refresh", "Tired but sound: tip it out, sieve, and renew it.", _tired),
    (11, "in place", "Sound, and too heavy or rooted to tip out: refresh it where it stands.",
     _heavy),
    (12, "reuse", "Never planted: use it as it is, after pH, salts and ammonium.", _unused),
    (13, "reuse", "Sound, and the next crop asks little: use it as it is, after pH, salts and "
     "ammonium.", _asks_little),
    (13, "dump and refresh", "Sound: a light refresh, a fifth of compost and no new peat.",
     _container),
    (14, "bed", "A bed: yearly upkeep; fork a tenth of coarse stuff into the top 15 cm where "
     "it is airless.", _always),
)  # fmt: skip


def _also(s: Inspection, route: str) -> list[str]:
    """Return everything that applies beside the route."""
    found = []
    if s.last_family and s.next_family and route != "minor part":
        same = s.last_family == s.next_family or any(
            {s.last_family, s.next_family} <= group for group in FAMILIES
        )
        if same:
            found.append("The same family grew here: choose another for three years.")
    notes = {
        ("disease", "leaf"): "Take all debris off, and grow another family.",
        ("disease", "damping-off"): "No seed in it, and no more than a third.",
        ("pest", "gnats"): "Let the top 3 cm dry, then 1 cm of grit or sand.",
        ("crust", "light"): "Take off the top 2 cm.",
    }  # fmt: skip
    found += [text for (name, word), text in notes.items() if getattr(s, name) == word]
    if s.pest in ("aphid-mealy", "weevil") and s.pest_amount != "many":
        found.append(
            "Sieve, spread dry for two weeks; not for houseplants; nematodes by label."
        )
    if _over(s.roots_pct, ROOTS_MANY):
        found.append("Tear out roots over 5 mm and the crown; the fine ones give about "
                     f"{ROOTS_N_MG_L:.0f} (5 to 15) mg N a litre.")  # fmt: skip
    if s.is_dry:
        found.append(
            "It sheds water: three slow waterings of 0.1 L a litre, 20 minutes apart."
        )
    return found


@dataclass(frozen=True, slots=True)
class Prescription:
    """What goes into old soil, for its volume.

    Attributes
    ----------
    rows : tuple of (str, float, str)
        What, how much, unit.
    makes_l : float
        Mixed litres it comes to. [L]
    steps : tuple of str
        In order.
    """

    rows: tuple[tuple[str, float, str], ...]
    makes_l: float
    steps: tuple[str, ...]


@cites("pelk", "half of the season's supply to plan, less half of what is carried over")
def blend_to_add(
    nitrogen_uptake_mg_l: float, credit_mg_l: float, litres: float, nitrogen_pct: float,
    available_share: float,
) -> float:  # fmt: skip
    """Return the organic blend that old soil is given.

    Parameters
    ----------
    nitrogen_uptake_mg_l : float
        Of the crop over its season. [mg/L]
    credit_mg_l : float
        Carried over and slow, as far as it is credited. [mg/L]
    litres : float
        Of soil. [L]
    nitrogen_pct : float
        Of the blend. [%]
    available_share : float
        Of its nitrogen in the season. [-]

    Returns
    -------
    float
        Blend, between 1 and 4 g/L of a 4 % blend or the same nitrogen. [g]
    """
    need = max(0.5 * nitrogen_uptake_mg_l / REACHES["normal"] - credit_mg_l, 0.0)
    grams_l = need / (nitrogen_pct * 10 * available_share)
    scale = BLEND_N_PCT / nitrogen_pct
    return min(max(grams_l, BLEND_LEAST_G_L * scale), BLEND_MOST_G_L * scale) * litres


def carried_over(
    added_mg_l: Mapping[str, float], *, wet_winter: bool
) -> dict[str, float]:
    """Return what is still there of last season's available additions, untracked. [mg/L]."""
    return {
        e: amount * CARRIED[e][1 if wet_winter else 0] for e, amount in added_mg_l.items()
    }


@cites("pelk", "rinse 1.3 ln(EC/target), between one and three pore volumes")
def rinse_pore_volumes(ec_ds_m: float, target_ds_m: float) -> float:
    """Return how many pore volumes rinse old soil.

    Parameters
    ----------
    ec_ds_m, target_ds_m : float
        Now, and the middle of the crop's band. [dS/m]

    Returns
    -------
    float
        Pore volumes, about 0.55 L of water a litre each. [-]
    """
    return min(max(1.3 * log(max(ec_ds_m / target_ds_m, 1.0)), 1.0), 3.0)


def left_after_rinse(pore_volumes: float) -> dict[str, float]:
    """Return the share of each ion that stays after a rinse. [-]."""
    return {ion: 2.718281828 ** (-pore_volumes / r) for ion, r in RINSE_LEFT.items()}


def prescribe(
    decision: Decision, seen: Inspection, litres: float, *, credit_mg_l: float = 0.0,
    pot_cm: float | None = None, pot: str = "plastic", habit: str = "normal",
    nitrogen_pct: float = BLEND_N_PCT, available_share: float = 0.55,
) -> Prescription:  # fmt: skip
    """Return what to put into old soil, in place or tipped out.

    Parameters
    ----------
    decision : Decision
        What was decided.
    seen : Inspection
        What was seen.
    litres : float
        Old soil, settled. [L]
    credit_mg_l : float
        Nitrogen carried over and slow; half of it counts. [mg/L]
    pot_cm : float, optional
        Diameter of the pot. [cm]
    pot, habit : str
        Kind of pot, and watering: over, normal, under.
    nitrogen_pct, available_share : float
        Of the blend. [%], [-]

    Returns
    -------
    Prescription
        Amounts for all of the soil.

    Raises
    ------
    PelkError
        For soil that gets nothing, with the reason.
    """
    if litres <= 0:
        raise PelkError("found no soil, allowed: over 0 L", "litres")
    wanted = crop(seen.next_crop)
    grams = blend_to_add(
        wanted.uptake_mg_l["N"], credit_mg_l / 2, litres, nitrogen_pct, available_share
    )
    if decision.route == "dump and refresh":
        return _tipped_out(decision, seen, litres, grams, pot, habit)
    if decision.route == "in place":
        return _in_place(litres, grams, pot_cm)
    if decision.route == "minor part":
        share = 0.25 if seen.slurry == "silky" else 1 / 3
        return Prescription(
            (("new mix", litres * (1 - share) / share, "L"),), litres / share,
            (f"Use it as {share:.0%} of a new mix, fed as new mix is.",),
        )  # fmt: skip
    if decision.route == "flush":
        target = sum(wanted.ec_target) / 2
        volumes = rinse_pore_volumes(seen.ec_ds_m or SALTY, target)
        return Prescription(
            (("water", volumes * 0.55 * litres, "L"),), litres,
            (f"{volumes:.1f} pore volumes in three goes over two days, water under 0.5 dS/m; "
             "catch it. Test again a day later; feed nitrogen and potassium from zero.",),
        )  # fmt: skip
    if decision.route in ("reuse", "bed"):
        return Prescription(
            (("balanced organic blend", grams, "g"),), litres, (decision.why,)
        )
    raise PelkError(decision.why, "route")


def _tipped_out(
    decision: Decision,
    seen: Inspection,
    litres: float,
    grams: float,
    pot: str,
    habit: str,
) -> Prescription:
    light = decision.rule == 13
    salty = _over(seen.ec_ds_m, 2.0)
    compost = 0.20 if light or salty else 0.33 if _under(seen.ec_ds_m, 0.75) else 0.25
    aggregate = {"fabric": 0.075}.get(pot, 0.15) + (0.05 if habit == "over" else 0.0)
    slumped = seen.slurry in ("mixed", "silky") or seen.squeeze == "lump"
    peat = 0.25 if slumped and not light else 0.0
    old = 1 - compost - aggregate - peat
    whole = litres / old
    rows = [
        ("compost", compost * whole, "L"), ("aggregate", aggregate * whole, "L"),
        ("balanced organic blend", grams, "g"),
    ]  # fmt: skip
    if peat:
        rows.insert(2, ("fresh peat or coir", peat * whole, "L"))
    if compost < 0.2:
        rows.append(("kelp meal", 0.5 * litres, "g"))
    steps = [
        "Break it up and sieve; pick out roots over 5 mm.",
        "Mix in compost, aggregate" + (", peat or coir" if peat else "") + ", then the blend.",
        "pH test; lime only by it." + (" No phosphorus: there is enough."
                                       if _over(seen.phosphorus_mg_l, ENOUGH_P_SME) else ""),
        "Moisten and rest two to three weeks, then feed by the crop.",
    ]  # fmt: skip
    return Prescription(tuple(rows), whole, tuple(steps))


def _in_place(litres: float, grams: float, pot_cm: float | None) -> Prescription:
    most = grams
    if pot_cm is not None:
        most = min(grams, MOST_ON_TOP_G_M2 * pi * (pot_cm / 100) ** 2 / 4)
    rows = [("pelletised balanced organic, now", most, "g")]
    if grams > most:
        rows.append(("the rest, in three to four weeks", grams - most, "g"))
    steps = (
        "Pull the stems, leave the root channels; loosen only if it is hard.",
        "Rake 2 cm; three slow waterings if it sheds water.",
        "A thin scatter of pellets, one granule deep, worked in with the fingers; no bagged "
        "manure on top, it repels water.",
        "1 to 2 cm of castings or compost if it wets, water in, 3 to 5 cm of mulch.",
    )
    return Prescription(tuple(rows), litres, steps)
