"""What a practice heap tells: the pen, salts, warmth, its smell, a squeeze, cress."""

from collections.abc import Callable

import numpy as np

from pelk.core.base.sources import cites
from pelk.core.curing.sprout_test import germination_index
from pelk.core.curing.training_heap import Case, Played
from pelk.core.simulation.synthetic_heap import EC_READ_SD, PEN_SD, WARM_READ_SD

# Days a probe takes: cress is counted on the fifth.
CRESS_DAYS = 5
# Seeds sown, and the mean root of those beside it. [mm]
SEEDS, CONTROL_MM = 20, 40.0
SQUEEZES = {
    "dry": "it falls apart: too dry for anything to turn",
    "moist": "it holds, and no water comes: as it should be",
    "wet": "water runs out: no air for what turns meals and sulfur",
}


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
    return round(game.ph(day) + off + float(_lot(seed, day).normal(0, PEN_SD)), 1)


def smell_of(game: Played, day: int) -> str:
    """Return what a handful smells of: ammonia where it is free, or is on its way.

    Parameters
    ----------
    game : Played
    day : int
        Since mixing. [d]
    """
    free, most = game.on("free_ammonia_mg_l", day), game.ahead.limits.ammonium_mg_l
    if free > game.ahead.limits.free_ammonia_mg_l:
        return "it stings: ammonia"
    if game.on("ammonium_mg_l", day) > most:
        return "of earth, with something sharp in it"
    return "of earth"


def salts_reading(game: Played, day: int, seed: int) -> str:
    """Return what a salts pen says. [dS/m]."""
    noise = 1 + float(_lot(seed, day).normal(0, EC_READ_SD))
    return f"{game.ec(day) * noise:.1f} dS/m, and {game.ahead.limits.ec_ds_m:g} is the most"


@cites("pelk", "noise of a thermometer")
def warmth_in(game: Played, day: int, seed: int) -> float:
    """Return what a thermometer in the heap says.

    Parameters
    ----------
    game : Played
        How it goes.
    day : int
        Since mixing. [d]
    seed : int
        Of its noise.

    Returns
    -------
    float
        To a tenth. [°C]
    """
    around = game.ahead.around.temperature_c
    air = around if isinstance(around, float) else float(around[min(day, len(around) - 1)])
    return round(air + game.truth.warmer_c + float(_lot(seed, day).normal(0, WARM_READ_SD)), 1)


def squeeze_of(case: Case, choice: str) -> str:
    """Return what a squeezed handful does."""
    return SQUEEZES[case.conditions(choice).moisture]


@cites("pelk", "roots of cress by ammonium and salts, for practice only")
def cress_in(game: Played, day: int, seed: int) -> str:
    """Return how cress came up that was sown on a day, counted five days later.

    Parameters
    ----------
    game : Played
    day : int
        Of sowing. [d]
    seed : int
        Of the seeds' luck.
    """
    limits = game.ahead.limits
    days = range(day, day + CRESS_DAYS + 1)
    ammonium = max(game.on("ammonium_mg_l", d) for d in days) / limits.ammonium_mg_l
    salts = max(game.ec(d) for d in days) / limits.ec_ds_m
    worst = max(ammonium, salts, 0.0)
    grows = float(np.exp(-0.7 * max(worst - 0.8, 0.0)))
    lot = _lot(seed, day)
    up = int(lot.binomial(SEEDS, 0.95 * grows**0.5))
    root = CONTROL_MM * grows * float(np.exp(lot.normal(0, 0.06)))
    index = germination_index(up, 0.95 * SEEDS, root, CONTROL_MM)
    said = "it passes" if index >= 80 else "not yet" if index >= 50 else "it is poison to roots"
    return f"{up} of {SEEDS} came up, index {index:.0f} %: {said}"


PROBES: dict[str, str] = {
    "smell": "Smell it",
    "salts": "Measure its salts",
    "warmth": "Feel how warm it is",
    "squeeze": "Squeeze a handful",
    "cress": f"Sow cress, {CRESS_DAYS} days",
}


def looked(kind: str, case: Case, choice: str, game: Played, day: int, seed: int) -> str:
    """Return what one look at a heap says, in words.

    Parameters
    ----------
    kind : str
        A key of `PROBES`.
    case, choice, game
        What is played.
    day : int
        Since mixing. [d]
    seed : int
        Of the noise.
    """
    said: dict[str, Callable[[], str]] = {
        "smell": lambda: smell_of(game, day),
        "salts": lambda: salts_reading(game, day, seed),
        "warmth": lambda: f"{warmth_in(game, day, seed):g} °C",
        "squeeze": lambda: squeeze_of(case, choice),
        "cress": lambda: cress_in(game, day, seed),
    }
    return said[kind]()


def _lot(seed: int, day: int) -> np.random.Generator:
    return np.random.default_rng([seed, day])
