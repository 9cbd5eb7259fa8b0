"""The practice heap: cases of the trade's mistakes, played against a hidden truth."""

import tomllib
from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cache
from importlib.resources import files

import msgspec

from pelk.core.base.errors import UnknownError
from pelk.core.base.sources import cites
from pelk.core.crops.groups import crop
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.core.materials.library import library
from pelk.core.materials.measures import DoseUnit
from pelk.core.plans.plan import Batch, Conditions, Dose, Part, Plan
from pelk.core.simulation.forecast import Forecast
from pelk.core.simulation.initial_state import with_doses
from pelk.core.simulation.run import Trace
from pelk.core.simulation.synthetic_heap import Truth, true_line, true_ph, truth_of

LITRES = 60.0
LAST_DAY = 180
G_PER_L = DoseUnit("g/L", "mass", 1.0, 1.0)
# How much a planting suffers: share of the plants' growth lost, by common sense, for practice only.
LOSS_A_PH, LOSS_AMMONIUM, LOSS_SALTS, LOSS_HUNGER, MOST_LOSS = 0.25, 0.35, 0.2, 0.4, 0.95
# New roots are tender for so long after planting.
ROOTS_DAYS = 21
# The season after planting that counts, once roots have settled; a pen is no better than this.
SETTLED, SEASON, NEAR_BAND = 14, 110, 0.15
# What must have come free by then, of what the crop takes up in a year; below it plants hunger.
HUNGRY_AT = {"N": (90, 0.4), "Ca": (90, 1.1)}
RUN_DAYS = LAST_DAY + SEASON
# Watered by the pot's weight, hardly any drains away.
DRAINS = 0.02
COSTS_A_DAY = 0.001
# Means of the months, January first: a yard by the sea, and a house that is never cold. [°C]
AIR = {
    "yard": (5.0, 5.0, 7.0, 10.0, 14.0, 17.0, 19.0, 19.0, 16.0, 12.0, 8.0, 6.0),
    "house": (14.0, 14.0, 16.0, 18.0, 20.0, 22.0, 24.0, 23.0, 21.0, 18.0, 16.0, 14.0),
}


@dataclass(frozen=True, slots=True)
class Given:
    """A dose given on a day. [d], [g/L]."""

    day: int
    slug: str
    g_per_l: float


@dataclass(frozen=True, slots=True)
class Way:
    """How a story is played.

    Attributes
    ----------
    doses : mapping of str to float
        On mixing day. [g/L]
    later : tuple of Given
        Given afterwards.
    plant : int
        The day of planting. [d]
    choice : str
        A key of the case's choices; empty takes the first.
    """

    doses: Mapping[str, float] = field(default_factory=dict)
    later: tuple[Given, ...] = ()
    plant: int = 0
    choice: str = ""


@dataclass(frozen=True, slots=True)
class Choice:
    """One of two ways to keep a heap, such as the water it gets. [mg/L], [L/L/week]."""

    title: str
    air: str = ""
    water_alkalinity_mg_l: float = 0.0
    water_l_per_l_week: float = 0.0


@dataclass(frozen=True, slots=True)
class Case:
    """A story with a mistake in it.

    Attributes
    ----------
    offered : mapping of str to float
        What the player may give on mixing day, and at most. [g/L]
    air : str
        A key of `AIR`.
    start_day : int
        Day of the year of mixing. [d]
    told, better : Way
        The story's own course, and what its lesson does instead.
    pen_off : float
        How much too high the player's pen reads until it is checked. [pH]
    """

    key: str
    title: str
    story: str
    crop: str
    parts: Mapping[str, float]
    offered: Mapping[str, float]
    air: str
    start_day: int
    lesson: str
    told: Way
    better: Way
    choices: Mapping[str, Choice] = field(default_factory=dict)
    pen_off: float = 0.0

    def chosen(self, key: str) -> Choice:
        """Return a choice; the first where the key is none, and plain rain where there is none."""
        first = next(iter(self.choices.values()), Choice("as it is"))
        return self.choices.get(key, first)

    def conditions(self, choice: str) -> Conditions:
        """Return where a heap of this case lies."""
        chosen = self.chosen(choice)
        monthly = AIR[chosen.air or self.air]
        return Conditions(
            temperature_c=sum(monthly) / 12,
            monthly_c=monthly,
            start_day=self.start_day,
            water_alkalinity_mg_l=chosen.water_alkalinity_mg_l,
            water_l_per_l_week=chosen.water_l_per_l_week,
            leaching_fraction=DRAINS,
        )


@dataclass(frozen=True, slots=True)
class Played:
    """A case with what was given: what the sums believe, and what is true.

    Attributes
    ----------
    true : Trace
        Day by day.
    truth : Truth
        What was hidden.
    """

    evaluation: Evaluation
    ahead: Forecast
    true: Trace
    truth: Truth

    def ph(self, day: float) -> float:
        """Return the true pH on a day. [pH]."""
        return true_ph(self.true, self.truth, day)

    def on(self, name: str, day: int) -> float:
        """Return what else is true on a day, such as ``ammonium_mg_l``."""
        series = self.true.daily(name)
        return float(series[min(day, len(series) - 1)])

    def ec(self, day: int) -> float:
        """Return the true salts on a day. [dS/m]."""
        return float(self.ahead.ec[min(day, len(self.ahead.ec) - 1)]) * self.truth.ec


@dataclass(frozen=True, slots=True)
class Outcome:
    """What planting on a day comes to.

    Attributes
    ----------
    lost_share : float
        Of the plants' growth. [-]
    troubles : tuple of str
        What was wrong with it, in sentences; empty where nothing was.
    """

    day: int
    ph: float
    lost_share: float
    troubles: tuple[str, ...]

    @property
    def cost(self) -> float:
        """What is lost, and what waiting cost. [-]."""
        return self.lost_share + COSTS_A_DAY * self.day

    @property
    def score(self) -> int:
        """Of a hundred."""
        return round(100 * max(1 - self.cost, 0.0))


@cache
def cases() -> dict[str, Case]:
    """Return the cases by key."""
    text = (files("pelk.core") / "data" / "practice.toml").read_text("utf-8")
    raw = tomllib.loads(text)
    return {key: msgspec.convert({"key": key, **data}, Case) for key, data in raw.items()}


def plan_of(case: Case, doses: Mapping[str, float], choice: str) -> Plan:
    """Return a case's mix with doses of the player's own. [g/L]."""
    return Plan(
        name=case.title,
        crop=case.crop,
        batch=Batch(volume_l=LITRES),
        parts=tuple(Part(material=slug, parts=n) for slug, n in case.parts.items()),
        doses=tuple(
            Dose(material=slug, amount=g, unit=G_PER_L) for slug, g in doses.items() if g > 0
        ),
        conditions=case.conditions(choice),
        days=RUN_DAYS,
    )


@cites("pelk", "the same sums on one hidden draw; a game, not a forecast")
def played(case: Case, way: Way, seed: int, *, samples: int = 0) -> Played:
    """Return a case as it goes with what was given.

    Parameters
    ----------
    case : Case
        The story.
    way : Way
        What was given and chosen; when it is planted is asked of `planted`.
    seed : int
        Of the hidden truth.
    samples : int
        Draws of what is known; none gives the middle alone.
    """
    evaluation = evaluate(plan_of(case, way.doses, way.choice), library(), samples=samples)
    ahead = evaluation.forecast
    if ahead is None:
        raise UnknownError(f"nothing is known of the pH of {case.key}")
    truth = truth_of(seed)
    heap = ahead.heap
    for given in way.later:
        heap = with_doses(heap, [(library()[given.slug], given.g_per_l)], day=float(given.day))
    return Played(evaluation, ahead, true_line(heap, ahead.around, RUN_DAYS, truth), truth)


@cites("pelk", "losses of a planting, for practice only")
def planted(case: Case, game: Played, day: int) -> Outcome:
    """Return what planting a case on a day comes to, over the whole season that follows.

    Parameters
    ----------
    case : Case
        The story.
    game : Played
        How it went.
    day : int
        Of planting. [d]
    """
    losses = [
        _of_ph(case, game, day),
        _of_ammonium(game, day),
        _of_salts(game, day),
        *(_of_hunger(case, game, day, element) for element in HUNGRY_AT),
    ]
    troubles = tuple(say for _, say in losses if say)
    lost = min(sum(share for share, _ in losses), MOST_LOSS)
    return Outcome(day, game.ph(day), lost, troubles)


def _of_ph(case: Case, game: Played, day: int) -> tuple[float, str]:
    low, high = game.evaluation.ph_band
    season = [game.ph(d) for d in range(day + SETTLED, day + SEASON + 1, 5)]
    off = [max(low - p, p - high, 0.0) for p in season]
    worst = season[off.index(max(off))]
    lost = LOSS_A_PH * sum(off) / len(off)
    if max(off) <= NEAR_BAND:
        return lost, ""
    side = "under" if worst < low else "over"
    name = crop(case.crop).name.lower()
    return lost, (
        f"In its season it went to pH {worst:.1f}, {max(off):.1f} {side} what {name} want."
    )


def _of_ammonium(game: Played, day: int) -> tuple[float, str]:
    most = game.ahead.limits.ammonium_mg_l
    roots = float(game.true.daily("ammonium_mg_l")[day : day + ROOTS_DAYS + 1].max())
    if roots <= most:
        return 0.0, ""
    said = f"Ammonium came to {roots:.0f} mg/L round the new roots; they stand {most:.0f}."
    return LOSS_AMMONIUM * min(roots / most / 2, 2.0), said


def _of_salts(game: Played, day: int) -> tuple[float, str]:
    ec, most = max(game.ec(day), game.ec(day + ROOTS_DAYS)), game.ahead.limits.ec_ds_m
    if ec <= most:
        return 0.0, ""
    said = f"Salts stood at {ec:.1f} dS/m; {most:g} is the most they stand."
    return LOSS_SALTS * min(ec / most - 1, 1.0), said


def _of_hunger(case: Case, game: Played, day: int, element: str) -> tuple[float, str]:
    """Return what hunger costs: by the time it is asked for, too little has come free."""
    after, share = HUNGRY_AT[element]
    wanted = crop(case.crop).uptake_mg_l[element] * share
    when = day + after
    if element == "N":
        free = game.on("ammonium_mg_l", when) + game.on("nitrate_mg_l", when)
    else:
        free = game.ahead.free_at(element, when)
    if free >= wanted:
        return 0.0, ""
    name = {"N": "nitrogen", "Ca": "calcium"}[element]
    said = f"In three months {free:.0f} mg/L of {name} had come free; {wanted:.0f} were wanted."
    return LOSS_HUNGER * (1 - free / wanted), said


def best_day(case: Case, game: Played) -> Outcome:
    """Return the planting that would have lost least, counting what a day of waiting costs."""
    return min((planted(case, game, day) for day in range(0, LAST_DAY, 3)), key=lambda o: o.cost)


def did_nothing(case: Case, seed: int) -> Outcome:
    """Return what a grower comes to who gives nothing and plants at once."""
    return planted(case, played(case, Way(), seed), 0)
