"""How sure a course is: many draws of what is not known, and their quantiles."""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any
from zlib import crc32

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.sources import cites
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.run import FAN_PACE, Draws, Surroundings, Trace, simulate

Floats = NDArray[np.float64]

SAMPLES, SEED = 200, 7
# Standard deviation of the logarithm; of pH, degrees and moisture as they are.
SPREADS = {
    "lime": 0.40,
    "sulfur": 0.55,
    "alkalinity": 0.10,
    "carbonate": 0.60,
    "cce": 0.05,
    "decay": 0.30,
    "nitrify": 0.35,
    "growth": 0.20,
    "nitrifiers": 0.60,
    "heat": 0.25,
}
# Rates that readings teach besides the buffer, in the order of `Posterior`.
LEARNED = ("lime", "sulfur", "carbonate")
# Of a soil that goes on; water that nobody analysed; litres and share that drains together.
UPTAKE_SPREAD, KAPPA_SPREAD, DRAINS_SPREAD, GUESSED_ALKALINITY = 0.25, 0.20, 0.40, 0.50
SHIFTS = {"warmer_c": 1.5, "wetter": 0.04}
BUFFER_SHARED, BUFFER_EACH, PH_EACH = 0.20, 0.20, 0.20
QUANTILES = (0.1, 0.5, 0.9)
TAIL = 1e-4


@dataclass(frozen=True, slots=True)
class Posterior:
    """What readings taught: factors of this heap, and how they vary together.

    Attributes
    ----------
    mean : array, shape (4,)
        Logarithms of the factors on buffer, lime rate, sulfur rate and carbonate. [-]
    covariance : array, shape (4, 4)
        Of them. [-]
    own_ph_sd : float
        What is still not known of the pH the whole mix sits at. [pH]
    """

    mean: Floats
    covariance: Floats
    own_ph_sd: float = 0.0


@lru_cache(maxsize=256)
def _normals(name: str, count: int, seed: int) -> Floats:
    """Return normal deviates of one named parameter, evenly spread; the first is the central line.

    Each name has a stream of its own: a parameter more leaves all others as they were.
    """
    from scipy.special import ndtri  # noqa: PLC0415  (loaded once an ensemble is asked for)
    from scipy.stats import qmc  # noqa: PLC0415

    stream = np.random.default_rng([seed, crc32(name.encode())])
    evenly = qmc.LatinHypercube(1, rng=stream).random(count)[:, 0]
    normals = ndtri(np.clip(evenly, TAIL, 1 - TAIL))
    normals[0] = 0.0
    return np.asarray(normals)


@cites("pelk", "spreads of buffer, own pH, rates, carbonate, CCE, water, life and weather")
def draws_of(
    heap: Heap, samples: int = SAMPLES, seed: int = SEED, learned: Posterior | None = None
) -> Draws:
    """Return draws of all that is not known of a heap.

    Parameters
    ----------
    heap : Heap
        Whose parts are drawn.
    samples : int
        How many; the first is the central line.
    seed : int
        Fixes them, so that a page shows the same twice.
    learned : Posterior, optional
        What readings taught about this heap.

    Returns
    -------
    Draws
        Arrays over the draws.
    """
    parts = range(max(len(heap.components), 1))

    def z(name: str) -> Floats:
        return _normals(name, samples, seed)

    def each(name: str) -> Floats:
        return np.stack([z(f"{name} of part {i}") for i in parts], axis=1)

    doubt = heap.doubt._asdict()
    rates = {
        name: np.exp(doubt.get(name, 1.0) * spread * z(name)) for name, spread in SPREADS.items()
    }
    shifts = {name: spread * z(name) for name, spread in SHIFTS.items()}
    if learned is None:
        shared = BUFFER_SHARED * z("buffer")
        buffer_doubt = np.array([c.buffer_doubt for c in heap.components] or [1.0])
        ph_doubt = np.array([c.ph_doubt for c in heap.components] or [1.0])
        buffer = np.exp(buffer_doubt * (BUFFER_EACH * each("buffer") + shared[:, None]))
        ph = ph_doubt * PH_EACH * each("own pH")
    else:
        root = np.linalg.cholesky(learned.covariance + 1e-12 * np.eye(1 + len(LEARNED)))
        normal = np.stack([z("buffer"), *(z(name) for name in LEARNED)], axis=1)
        factor = np.exp(learned.mean + normal @ root.T)
        buffer = np.repeat(factor[:, :1], len(parts), axis=1)
        rates |= dict(zip(LEARNED, factor[:, 1:].T, strict=True))
        ph = np.repeat(learned.own_ph_sd * z("own pH")[:, None], len(parts), axis=1)
    values: dict[str, Any] = {**rates, **shifts}
    return Draws(buffer=buffer, ph=ph, **values)


@cites("pelk", "uptake ln .25, kappa .20, what drains ln .40, guessed alkalinity ln .50; judgement")
def life_draws_of(
    heap: Heap,
    samples: int,
    learned: Posterior | None = None,
    *,
    guessed: bool = False,
    drains: tuple[float, float] | None = None,
    seed: int = SEED,
) -> Draws:
    """Return draws of all that is not known of a soil that goes on.

    Parameters
    ----------
    heap : Heap
        As it was mixed.
    samples : int
        How many; the first is the central line.
    learned : Posterior, optional
        What readings taught.
    guessed : bool
        Nobody analysed the water.
    drains : tuple of float, optional
        Logarithm of the factor on what drains, and its spread, where salts were read. [-]
    seed : int
        Fixes them.

    Returns
    -------
    Draws
        Arrays over the draws; those of a heap are as `draws_of` makes them.
    """
    draws = draws_of(heap, samples, seed, learned)
    alkalinity = SPREADS["alkalinity"]
    if guessed:
        alkalinity = GUESSED_ALKALINITY

    mean, spread = drains or (0.0, DRAINS_SPREAD)

    def z(name: str) -> Floats:
        return _normals(name, samples, seed)

    return replace(
        draws,
        alkalinity=np.exp(alkalinity * z("alkalinity")),
        uptake=np.exp(UPTAKE_SPREAD * z("uptake")),
        kappa=KAPPA_SPREAD * z("kappa"),
        drains=np.exp(mean + spread * z("drains")),
    )


def ensemble(
    heap: Heap,
    around: Surroundings,
    days: int,
    samples: int = SAMPLES,
    seed: int = SEED,
    learned: Posterior | None = None,
) -> Trace:
    """Return the course of many draws at once.

    Parameters
    ----------
    heap, around, days
        As for `simulate`.
    samples, seed, learned
        As for `draws_of`.

    Returns
    -------
    Trace
        Values of shape (n_edges, n_draws).
    """
    return simulate(heap, around, days, draws_of(heap, samples, seed, learned), FAN_PACE)


@cites("arithmetic", "order statistics at each edge, straight lines between")
def quantiles(trace: Trace, name: str, wanted: tuple[float, ...] = QUANTILES) -> Floats:
    """Return quantiles over the draws for every day.

    Parameters
    ----------
    trace : Trace
        Of a fan.
    name : str
        What is asked for.
    wanted : tuple of float
        Quantiles. [-]

    Returns
    -------
    array, shape (n_wanted, n_days + 1)
        One line a quantile.
    """
    ordered = np.sort(trace[name], axis=1)
    last = ordered.shape[1] - 1
    lines = []
    for q in wanted:
        place = q * last
        low = int(place)
        high = min(low + 1, last)
        line = ordered[:, low] + (place - low) * (ordered[:, high] - ordered[:, low])
        lines.append(trace.each_day(line))
    return np.array(lines)
