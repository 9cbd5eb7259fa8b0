"""The inspection of old soil, a question a step; what would change its answer; where it may go."""

from collections.abc import Mapping
from dataclasses import dataclass

from pelk.core.base.sources import cites
from pelk.core.old_soil.deciding import decide
from pelk.core.old_soil.inspection import Decision, Inspection, Route

UNKNOWN = "unknown"


@dataclass(frozen=True, slots=True)
class Step:
    """One question of an inspection.

    Attributes
    ----------
    key : str
        Of `Inspection`.
    how : str
        What to do with hand, nose or pen.
    options : tuple of (str, str, object)
        What is chosen, in words, and as `Inspection` takes it; empty for a number.
    unit : str
        Of a number.
    """

    key: str
    ask: str
    how: str
    options: tuple[tuple[str, str, object], ...] = ()
    unit: str = ""
    limits: tuple[float, float] = (0.0, 0.0)


STEPS: tuple[Step, ...] = (
    Step(
        "smell",
        "How does it smell?",
        "Dig a hand deep, or knock the plug out, and smell the bottom of it.",
        (
            ("earthy", "of earth, or of nothing", "earthy"),
            ("sour", "sour, like silage", "sour"),
            ("rotten", "of sewage or rotten eggs", "rotten"),
        ),
    ),
    Step(
        "disease",
        "What was wrong with the last plants?",
        "Leaves, stems at the soil, roots.",
        (
            ("none", "nothing", "none"),
            ("leaf", "mildew, rust or spots on leaves", "leaf"),
            ("damping-off", "seedlings fell over", "damping-off"),
            ("soil-borne", "wilt, clubroot, white rot, black roots", "soil-borne"),
            ("unknown-death", "they died, cause unknown", "unknown-death"),
        ),
    ),
    Step(
        "pest",
        "What lives in it?",
        "Crumble a litre over a light sheet.",
        (
            ("none", "worms, nothing else", "none"),
            ("gnats", "small black flies", "gnats"),
            ("aphid-mealy", "white wool on the roots", "aphid-mealy"),
            ("weevil", "white grubs with a brown head", "weevil"),
            ("knots", "knots in the roots themselves", "knots"),
        ),
    ),
    Step(
        "pest_amount",
        "How many?",
        "In that one litre.",
        (("few", "one or two", "few"), ("many", "more", "many")),
    ),
    Step(
        "slurry",
        "Is there still fibre in it?",
        "A pinch in the palm, a few drops of water, rub it out with a thumb.",
        (
            ("gritty", "fibres and grit still seen", "gritty"),
            ("mixed", "half and half", "mixed"),
            ("silky", "a milky brown slurry", "silky"),
        ),
    ),
    Step(
        "squeeze",
        "Does it spring back?",
        "Press the moist plug with the fist, and let go.",
        (
            ("springs", "spongy, springs back", "springs"),
            ("crumbles", "falls to crumbs", "crumbles"),
            ("lump", "stays a lump, like rock", "lump"),
        ),
    ),
    Step(
        "roots_pct",
        "How much of it is root?",
        "Cut the plug down the middle.",
        (
            ("few", "a few threads", 5.0),
            ("some", "roots all through it", 20.0),
            ("matted", "a mat, more root than soil", 45.0),
        ),
    ),
    Step(
        "roots_left_in",
        "Can it be tipped out?",
        "Weight, and what still grows in it.",
        (("yes", "yes", False), ("no", "no: too heavy, or roots must stay", True)),
    ),
    Step(
        "crust",
        "Is there a white crust?",
        "On the soil and the rim.",
        (
            ("none", "none", "none"),
            ("light", "a bloom", "light"),
            ("heavy", "a hard crust", "heavy"),
        ),
    ),
    Step(
        "is_dry",
        "Does it take water?",
        "Pour a cup on it.",
        (("takes", "sinks in", False), ("sheds", "stands, or runs down the side", True)),
    ),
    Step(
        "ph",
        "What does the pen read?",
        "One part of soil, two of rain water, stir, wait half an hour.",
        unit="pH",
        limits=(2.0, 11.0),
    ),
    Step(
        "ec_ds_m",
        "How salty is it?",
        "Saturated extract, or the run-off of a watered pot.",
        unit="dS/m",
        limits=(0.0, 30.0),
    ),
    Step(
        "seasons",
        "How many seasons has it been used?",
        "Since it was last wholly renewed.",
        (
            ("0", "none: never planted", 0.0),
            ("1", "one", 1.0),
            ("2", "two", 2.0),
            ("3", "three", 3.0),
            ("4", "four or more", 4.0),
        ),
    ),
    Step(
        "crop_ok",
        "Did the last crop do well?",
        "Against what you hoped for.",
        (("yes", "yes", True), ("no", "poorly", False)),
    ),
    Step(
        "herbicide",
        "Does it hold hay, straw, manure or compost that may have been sprayed?",
        "Weedkiller can last in them for years; beans show it as cupped leaves.",
        (
            ("no", "no", "no"),
            ("suspected", "may be", "suspected"),
            ("bioassay-ok", "yes, but beans grew normally in it", "bioassay-ok"),
        ),
    ),
    Step(
        "origin",
        "Where is it from?",
        "Soil from near old walls and roads can hold lead.",
        (
            ("own", "mixed here", "own"),
            ("bought", "bought", "bought"),
            ("unknown", "not known", "unknown"),
        ),
    ),
)
BY_KEY = {step.key: step for step in STEPS}
# What to do where nothing is put in.
ROUTE_STEPS: dict[str, tuple[str, ...]] = {
    Route.DISCARD: (
        "Into a sealed bag, into the waste: not on the compost, not on a bed.",
        "Scrub the pot, then the tools; leave both in the sun.",
        "Next year another family, in new mix.",
    ),
    Route.DISCARD_FOR_FOOD: (
        "A laboratory can tell lead; until then nothing to eat grows in it.",
        "For ornamentals, or under a cover of turf. Gloves, and wash your hands.",
    ),
    Route.HOLD: (
        "Three pots of it, three of a mix you trust: a bean in each.",
        "After three weeks compare: cupped, twisted or missing leaves mean weed-killer.",
        "Search a litre for grubs. All clean: a third of a new mix, for another family.",
    ),
    Route.AIR_OUT: (
        "Spread it 20 cm deep or less, under a roof.",
        "Turn it today and on days 3, 7 and 14; mix in a tenth of bark, perlite or grit.",
        "Smell it again on day 14. Sour twice: it fills low spots.",
    ),
    Route.AIR_IN_PLACE: (
        "Free the holes below; stand the pot on feet, under a roof.",
        "Fork it loose to two thirds of its depth today and on days 3, 7 and 14; work a tenth of "
        "bark, perlite or grit into what is loose.",
        "Smell it again on day 14. Sour twice: it must come out, a bucket at a time, to low spots.",
    ),
    Route.TREAT: (
        "Salts: rinse with one to three pore volumes in three goes. pH: see the pH desk.",
        "Read again after a week. Still out: it fills low spots, or bulks a bed.",
    ),
    Route.NOT_FOR_THIS_CROP: (
        "New mix for seed and cuttings: a gnat or a fungus takes them all.",
        "Inspect again with another crop in mind.",
    ),
}
# Where soil may go that is not used in pots.
GOES_TO = {
    Route.DISCARD: ("sealed waste, as the council says",),
    Route.DISCARD_FOR_FOOD: ("ornamentals", "under turf"),
    Route.AIR_OUT: ("after airing, low spots and paths",),
    Route.PARTLY_OUT: ("what comes out: low spots", "the bulk of a bed"),
    Route.TREAT: ("low spots", "the bulk of a bed, thinly"),
    Route.MINOR_PART: ("a third of a new mix", "low spots", "the bulk of a bed"),
    Route.HOLD: ("nowhere until the beans have spoken",),
}


def inspected(answers: Mapping[str, object], **known: object) -> Inspection:
    """Return an inspection from the answers as they were chosen.

    Parameters
    ----------
    answers : mapping of str to object
        By key of `STEPS`: the option chosen, or a number; ``unknown`` is not known.
    **known
        What is known without asking, as `Inspection` takes it.
    """
    observed: dict[str, object] = dict(known)
    for key, said in answers.items():
        step = BY_KEY.get(key)
        if step is None or said == UNKNOWN:
            continue
        observed[key] = (
            said
            if not step.options
            else next((value for name, _, value in step.options if name == said), None)
        )
    if observed.get("seasons") == 0.0:
        observed["planted_once"] = False
    return Inspection(**observed)  # type: ignore[arg-type]


def next_step(answers: Mapping[str, object]) -> Step | None:
    """Return the first question not answered, or None; grubs are counted only where seen."""
    for step in STEPS:
        if step.key in answers:
            continue
        if step.key == "pest_amount" and answers.get("pest") not in ("aphid-mealy", "weevil"):
            continue
        return step
    return None


@cites("pelk", "the same rules, with one answer another way")
def what_would_change(
    answers: Mapping[str, object], pot_l: float, **known: object
) -> list[tuple[str, str, Decision]]:
    """Return which single answers would lead somewhere else.

    Parameters
    ----------
    answers : mapping of str to object
        As `inspected` takes them.
    pot_l : float
        Of the pot. [L]
    **known
        As `inspected` takes it.

    Returns
    -------
    list of (str, str, Decision)
        Question, other answer in words, and what would follow; one for each route.
    """
    now = decide(inspected(answers, **known), pot_l)
    by_route: dict[Route, tuple[str, str, Decision]] = {}
    for step in STEPS:
        if step.key not in answers:
            continue
        for name, words, _ in step.options:
            if name == answers[step.key]:
                continue
            other = decide(inspected({**answers, step.key: name}, **known), pot_l)
            if other.route != now.route:
                by_route.setdefault(other.route, (step.ask, words, other))
    return list(by_route.values())


def families() -> list[str]:
    """Return the crop groups' usual families, for a list to choose from."""
    return [
        "Solanaceae",
        "Brassicaceae",
        "Cucurbitaceae",
        "Fabaceae",
        "Apiaceae",
        "Amaryllidaceae",
        "Asteraceae",
        "Amaranthaceae",
        "Lamiaceae",
        "Theaceae",
        "Ericaceae",
        "Rutaceae",
        "Primulaceae",
        "strawberry",
        "rose",
    ]
