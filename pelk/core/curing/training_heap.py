"""The practice heap: cases of the trade's mistakes, played against a hidden truth."""

import tomllib
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import numpy as np

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
from pelk.core.simulation.synthetic_heap import PEN_SD, Truth, true_line, truth_of

LITRES = 60.0
LAST_DAY = 180
G_PER_L = DoseUnit("g/L", "mass", 1.0, 1.0)
# How much a planting suffers: share of the plants' growth lost, by common sense, for practice only.
LOSS_A_PH, LOSS_AMMONIUM, LOSS_SALTS, LOSS_HUNGER, MOST_LOSS = 0.25, 0.35, 0.2, 0.3, 0.95
DAYS_FREE = 60
# New roots are tender for so long after planting.
ROOTS_DAYS = 21
# The season after planting that counts, once roots have settled; a pen is no better than this.
SETTLED, SEASON, NEAR_BAND = 14, 110, 0.15
COSTS_A_DAY = 0.002


@dataclass(frozen=True, slots=True)
class Case:
    """A story with a mistake in it.

    Attributes
    ----------
    doses : mapping of str to float
        What the story's grower gives. [g/L]
    offered : mapping of str to float
        What the player may give on mixing day, and at most. [g/L]
    pen_off : float
        How much too high the player's pen reads until it is checked. [pH]
    """

    key: str
    title: str
    story: str
    crop: str
    parts: Mapping[str, float]
    doses: Mapping[str, float]
    offered: Mapping[str, float]
    temperature_c: float
    lesson: str
    pen_off: float = 0.0


@dataclass(frozen=True, slots=True)
class Given:
    """A dose given on a day. [d], [g/L]."""

    day: int
    slug: str
    g_per_l: float


@dataclass(frozen=True, slots=True)
class Played:
    """A case with what was given: what the sums believe, and what is true.

    Attributes
    ----------
    believed, true : Trace
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
        series = self.true.daily("ph")
        return float(np.interp(day, np.arange(len(series)), series)) + self.truth.own_ph


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
    ammonium_mg_l: float
    lost_share: float
    troubles: tuple[str, ...]


@cache
def cases() -> dict[str, Case]:
    """Return the cases by key."""
    text = (files("pelk.core") / "data" / "practice.toml").read_text("utf-8")
    return {key: Case(key=key, **data) for key, data in tomllib.loads(text).items()}


def plan_of(case: Case, doses: Mapping[str, float]) -> Plan:
    """Return a case's mix with doses of the player's own. [g/L]."""
    return Plan(
        name=case.title,
        crop=case.crop,
        batch=Batch(volume_l=LITRES),
        parts=tuple(Part(material=slug, parts=n) for slug, n in case.parts.items()),
        doses=tuple(
            Dose(material=slug, amount=g, unit=G_PER_L) for slug, g in doses.items() if g > 0
        ),
        conditions=Conditions(temperature_c=case.temperature_c),
    )


@cites("pelk", "the same sums on one hidden draw; a game, not a forecast")
def played(case: Case, doses: Mapping[str, float], later: Sequence[Given], seed: int) -> Played:
    """Return a case as it goes with what was given.

    Parameters
    ----------
    case : Case
        The story.
    doses : mapping of str to float
        Given on mixing day. [g/L]
    later : sequence of Given
        Lime or sulfur given afterwards.
    seed : int
        Of the hidden truth.
    """
    evaluation = evaluate(plan_of(case, doses), library(), samples=0)
    ahead = evaluation.forecast
    if ahead is None:
        raise UnknownError(f"nothing is known of the pH of {case.key}")
    truth = truth_of(seed)
    heap = ahead.heap
    for given in later:
        heap = with_doses(heap, [(library()[given.slug], given.g_per_l)], day=float(given.day))
    return Played(evaluation, ahead, true_line(heap, ahead.around, LAST_DAY, truth), truth)


@cites("pelk", "noise of a cheap pen")
def pen_reading(game: Played, day: int, off: float, seed: int) -> float:
    """Return what the player's pen says on a day.

    Parameters
    ----------
    game : Played
        How it went.
    day : int
        Since mixing. [d]
    off : float
        How much too high it reads. [pH]
    seed : int
        Of its noise.

    Returns
    -------
    float
        To a tenth. [pH]
    """
    lot = np.random.default_rng([seed, day])
    return round(game.ph(day) + off + float(lot.normal(0, PEN_SD)), 1)


@cites("pelk", "losses of a planting, for practice only")
def planted(case: Case, game: Played, day: int) -> Outcome:
    """Return what planting a case on a day comes to.

    Parameters
    ----------
    case : Case
        The story.
    game : Played
        How it went.
    day : int
        Of planting. [d]
    """
    low, high = game.evaluation.ph_band
    limits, group = game.ahead.limits, crop(case.crop)
    ph = game.ph(day)
    season = [game.ph(d) for d in range(day + SETTLED, min(day + SEASON, LAST_DAY) + 1, 5)]
    off = [max(low - p, p - high, 0.0) for p in season] or [0.0]
    roots = game.true.daily("ammonium_mg_l")[day : day + ROOTS_DAYS + 1]
    ammonium = float(roots.max())
    ec = float(game.ahead.ec[min(day, len(game.ahead.ec) - 1)]) * game.truth.ec
    nitrogen = float(
        (game.true.daily("ammonium_mg_l") + game.true.daily("nitrate_mg_l"))[
            min(day + DAYS_FREE // 2, LAST_DAY)
        ]
    )
    troubles, lost = [], 0.0
    if max(off) > NEAR_BAND:
        worst = season[off.index(max(off))]
        side = "under" if worst < low else "over"
        troubles.append(
            f"In its season it went to pH {worst:.1f}, {max(off):.1f} {side} what "
            f"{group.name.lower()} want."
        )
        lost += LOSS_A_PH * sum(off) / len(off)
    if ammonium > limits.ammonium_mg_l:
        times = ammonium / limits.ammonium_mg_l
        troubles.append(
            f"Ammonium came to {ammonium:.0f} mg/L round the new roots; they stand "
            f"{limits.ammonium_mg_l:.0f}."
        )
        lost += LOSS_AMMONIUM * min(times / 2, 2.0)
    if ec > limits.ec_ds_m:
        troubles.append(f"Salts stood at {ec:.1f} dS/m; {limits.ec_ds_m:g} is the most they stand.")
        lost += LOSS_SALTS
    if nitrogen < 0.1 * group.uptake_mg_l["N"]:
        troubles.append("A month later there was no nitrogen left to take up: they starved.")
        lost += LOSS_HUNGER
    return Outcome(day, ph, ammonium, min(lost, MOST_LOSS), tuple(troubles))


def best_day(case: Case, game: Played) -> Outcome:
    """Return the planting that would have lost least, counting what a day of waiting costs."""
    return min(
        (planted(case, game, day) for day in range(0, LAST_DAY - DAYS_FREE, 3)),
        key=lambda o: o.lost_share + COSTS_A_DAY * o.day,
    )
