"""What to do with last year's soil: rules in order of danger, the first that fits decides.

What is not known never fires a rule; three or more unknowns make the answer provisional.
"""

from collections.abc import Callable

from pelk.core.base.limits import limit
from pelk.core.crops.groups import Crop, crop
from pelk.core.old_soil.inspection import (
    SALTY,
    VERY_SALTY,
    Decision,
    Inspection,
    Route,
    band_of,
    is_same_family,
    over,
    under,
)

PROVISIONAL_FROM = 3
LOW_AIR, POOR_AIR = 8.0, 12.0
# More than this is not tipped out by one pair of arms. [L]
HEAVY_L = 25.0
# Rules up to here are dangers: every one that fits is said, not the first alone.
LAST_DANGER = 7
ROOTS_MANY, ROOTS_N_MG_L = 30.0, 10.0


def decide(observed: Inspection, pot_l: float = 10.0) -> Decision:
    """Return what to do with last year's soil.

    Parameters
    ----------
    observed : Inspection
        What was seen.
    pot_l : float
        Of the pot; over 25 L it is not dumped out. [L]

    Returns
    -------
    Decision
        By the first rule that fits, with everything else that applies.
    """
    wanted = crop(observed.next_crop)
    number, route, why, _ = next(r for r in _RULES if r[3](observed, wanted, pot_l))
    stays = cannot_be_tipped(observed, pot_l)
    if stays:
        route, why = WHERE_IT_STANDS.get((number, route), (route, why))
    ask = tuple(observed.unknown)
    graver = [r for r in _RULES if number < r[0] <= LAST_DANGER and r[3](observed, wanted, pot_l)]
    besides = [WHERE_IT_STANDS.get((r[0], r[1]), (r[1], r[2])) if stays else r[1:3] for r in graver]
    also = (*(said for _, said in besides), *_also(observed, route, stays=stays))
    return Decision(number, route, why, also, len(ask) >= PROVISIONAL_FROM, ask)


def cannot_be_tipped(observed: Inspection, pot_l: float) -> bool:
    """Return whether a container is too heavy or too rooted to tip out.

    Parameters
    ----------
    observed : Inspection
        What was seen.
    pot_l : float
        Of the pot. [L]
    """
    if observed.kind != "container":
        return False
    # Who has tipped it knows better than its litres.
    return pot_l > HEAVY_L if observed.roots_left_in is None else observed.roots_left_in


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
    return over(s.ec_ds_m, VERY_SALTY)


def _wrong_ph(s: Inspection, c: Crop, v: float) -> bool:
    low, high = band_of(s)
    beyond = limit("ph", "harms_beyond")
    return over(s.ph, high + beyond) or under(s.ph, low - beyond)


def _fell_over(s: Inspection, c: Crop, v: float) -> bool:
    return s.disease == "damping-off" and s.kind == "container"


def _salty(s: Inspection, c: Crop, v: float) -> bool:
    return s.crust == "heavy" or over(s.ec_ds_m, min(SALTY, c.ec_max))


def _for_seed(s: Inspection, c: Crop, v: float) -> bool:
    return "seedling" in c.tags


def _worn_out(s: Inspection, c: Crop, v: float) -> bool:
    signs = [s.slurry in ("mixed", "silky"), s.squeeze == "lump", under(s.air_pct, POOR_AIR)]
    old = s.seasons is not None and s.seasons >= 4
    tired = s.seasons is not None and 3 <= s.seasons < 4 and sum(signs) >= 2
    broken = s.slurry == "silky" and s.squeeze == "lump"
    return s.kind == "container" and (broken or under(s.air_pct, LOW_AIR) or old or tired)


def _tired(s: Inspection, c: Crop, v: float) -> bool:
    signs = (
        s.seasons is not None and s.seasons >= 2,
        s.slurry in ("mixed", "silky"),
        s.squeeze == "lump",
        under(s.air_pct, POOR_AIR),
        s.crop_ok is False,
    )
    return s.kind == "container" and any(signs)


def _heavy(s: Inspection, c: Crop, v: float) -> bool:
    return s.seasons == 1 and cannot_be_tipped(s, v)


def _unused(s: Inspection, c: Crop, v: float) -> bool:
    return s.planted_once is False


def _container(s: Inspection, c: Crop, v: float) -> bool:
    return s.kind == "container"


def _asks_little(s: Inspection, c: Crop, v: float) -> bool:
    return s.kind == "container" and c.intensity <= 1


def _always(s: Inspection, c: Crop, v: float) -> bool:
    return True


_Rule = tuple[int, Route, str, Callable[[Inspection, Crop, float], bool]]
_RULES: tuple[_Rule, ...] = (
    (
        1,
        Route.DISCARD,
        "A disease or pest that lives in soil: sealed waste, not compost, not beds.",
        _sick,
    ),
    (2, Route.DISCARD_FOR_FOOD, "Lead is not ruled out: for ornamentals or cover only.", _unsafe),
    (3, Route.HOLD, "It may hold weedkiller: bean test, three weeks, then look again.", _poisoned),
    (
        4,
        Route.HOLD,
        "Something killed the last plants: sprout and bean test for three weeks, "
        "search a litre for grubs. All clean: a third of a new mix, for another family.",
        _doubtful,
    ),
    (
        5,
        Route.AIR_OUT,
        "It went airless: spread it 20 cm deep or less, turn on days 0, 3, 7 and "
        "14, add a tenth of something coarse, smell again on day 14. If it "
        "is still sour after two tries, use it to fill low ground.",
        _airless,
    ),
    (
        6,
        Route.TREAT,
        "Salts are far out: rinse it and test again in a week. If they are still out, use it "
        "to fill low ground.",
        _extreme,
    ),
    (
        6,
        Route.TREAT,
        "Its pH is far from what the next crop wants: treat it and read it again, or grow "
        "something else in it.",
        _wrong_ph,
    ),
    (7, Route.FLUSH, "Salty: rinse it first, then judge it again with the new reading.", _salty),
    (
        8,
        Route.NOT_FOR_THIS_CROP,
        "Never start seedlings in used soil: take new mix, or grow something else in it.",
        _for_seed,
    ),
    (
        15,
        Route.MINOR_PART,
        "Seedlings fell over in it: no seed, and at most a third of a new mix.",
        _fell_over,
    ),
    (
        9,
        Route.MINOR_PART,
        "It has broken down: at most a third of a new mix, a quarter if it "
        "feels silky; the rest fills low spots.",
        _worn_out,
    ),
    (10, Route.DUMP_AND_REFRESH, "Tired but sound: tip it out, sieve, and renew it.", _tired),
    (
        11,
        Route.IN_PLACE,
        "Sound, and too heavy or rooted to tip out: refresh it where it stands.",
        _heavy,
    ),
    (12, Route.REUSE, "Never planted: use it as it is, after pH, salts and ammonium.", _unused),
    (
        13,
        Route.REUSE,
        "Sound, and the next crop asks little: use it as it is, after pH, salts and ammonium.",
        _asks_little,
    ),
    (
        13,
        Route.DUMP_AND_REFRESH,
        "Sound: a light refresh, a fifth of compost and no new peat.",
        _container,
    ),
    (
        14,
        Route.BED,
        "A bed: yearly upkeep; fork a tenth of coarse stuff into the top 15 cm where "
        "it is airless.",
        _always,
    ),
)


# What is done in place of what a rule says, where soil cannot be tipped out; by its number.
WHERE_IT_STANDS = {
    (1, Route.DISCARD): (
        Route.DISCARD,
        "A disease or pest that lives in soil: it must come out, however heavy, dug out a bucket "
        "at a time into bags that one can carry: sealed waste, not compost, not beds.",
    ),
    (5, Route.AIR_OUT): (
        Route.AIR_IN_PLACE,
        "It went airless: loosen it where it stands with a fork to two thirds of its depth on days "
        "0, 3, 7 and 14, keep rain off, look at the holes below; smell again on day 14.",
    ),
    (9, Route.MINOR_PART): (
        Route.PARTLY_OUT,
        "It has broken down, and is too heavy to turn over: take the upper half out a bucket at a "
        "time for low spots, loosen the rest, fill up with new mix; the other half next year.",
    ),
    (15, Route.MINOR_PART): (
        Route.PARTLY_OUT,
        "Seedlings fell over in it, and it is too heavy to turn over: take the upper two thirds "
        "out a bucket at a time, fill up with new mix; no seed in it.",
    ),
    (10, Route.DUMP_AND_REFRESH): (
        Route.PARTLY_OUT,
        "Tired but sound, and too heavy to turn over: take the upper third out a bucket at a time, "
        "loosen the rest with a hand fork, fill up with new mix.",
    ),
    (13, Route.DUMP_AND_REFRESH): (
        Route.IN_PLACE,
        "Sound, and too heavy or rooted to turn over: refresh it where it stands.",
    ),
}


def _also(s: Inspection, route: Route, *, stays: bool = False) -> list[str]:
    """Return everything that applies beside the route."""
    sayings = []
    is_same = is_same_family(s.last_family or "", s.next_family or "")
    if is_same and route != Route.MINOR_PART:
        sayings.append("The same family grew here: choose another for three years.")
    notes = {
        ("disease", "leaf"): "Take all debris off, and grow another family.",
        ("pest", "gnats"): "Let the top 3 cm dry, then 1 cm of grit or sand.",
        ("crust", "light"): "Take off the top 2 cm.",
    }
    sayings += [text for (name, word), text in notes.items() if getattr(s, name) == word]
    if s.pest in ("aphid-mealy", "weevil") and s.pest_amount != "many":
        sayings.append(
            "Nematodes by their label, now and in two weeks; look under the rim at night; not for "
            "houseplants."
            if stays
            else "Sieve, spread dry for two weeks; not for houseplants; nematodes by label."
        )
    if over(s.roots_pct, ROOTS_MANY):
        pull = (
            "Cut the crown out and leave the root channels"
            if stays
            else ("Tear out roots over 5 mm and the crown")
        )
        sayings.append(
            f"{pull}; the fine ones give about {ROOTS_N_MG_L:.0f} (5 to 15) mg N a litre."
        )
    if s.is_dry:
        sayings.append("It sheds water: three slow waterings of 0.1 L a litre, 20 minutes apart.")
    return sayings
