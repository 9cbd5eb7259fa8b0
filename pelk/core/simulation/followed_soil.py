"""What a run through a life leaves behind: values at the edges, what came in, sums of nitrogen."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.arithmetic import Lane
from pelk.core.materials.totals import MixIngredient
from pelk.core.simulation.minerals import MineralBook

Floats = NDArray[np.float64]
Posting = Callable[[MineralBook, int], None]
Sieved = tuple[float, Any]


@dataclass(slots=True)
class Totals:
    """Sums of nitrogen since mixing day, in a pot. [mg]."""

    given: Lane = 0.0
    taken: Lane = 0.0
    from_soil: Lane = 0.0
    wanted: Lane = 0.0
    leached: Lane = 0.0
    lost: Lane = 0.0
    standing: Lane = 0.0


@dataclass(frozen=True, slots=True)
class Comes:
    """A material that comes into a soil: at which edge, how much, and how far it had got.

    Attributes
    ----------
    share, pace, kept : float
        Of a litre of soil; how fast it rots there; what of it stays. [-]
    days, tau, tau_hot : float
        How long it had lain in a heap, and its rate-days there. [d]
    """

    at: int
    ingredient: MixIngredient
    share: float
    pace: float = 1.0
    kept: float = 1.0
    days: float = 0.0
    tau: float = 0.0
    tau_hot: float = 0.0


@dataclass(slots=True)
class FollowedSoil:
    """What a run leaves behind: values at the edges, and the postings of the minerals.

    Attributes
    ----------
    edges : array, shape (n_edges,)
        Days since mixing. [d]
    values : dict of str to array, shape (n_edges,) or (n_edges, n_draws)
        Of the stepper, of the pot (`litres`, `air`), and sums of nitrogen (`n_...`).
    before : dict of int to dict
        What stood on a day before anything was done to it.
    postings : list of (int, callable, bool)
        What happened to the minerals, by edge; True for the step that begins there.
    """

    edges: Floats
    values: dict[str, Floats]
    before: dict[int, dict[str, Lane]]
    postings: list[tuple[int, Posting, bool]]
    supplies: list[Comes]
    lime_shares: list[dict[Sieved, float]] = field(default_factory=list)
    sulfur_shares: list[dict[Sieved, float]] = field(default_factory=list)
    thirsty_days: int = 0


def sieved_key(day: float, sieves: Any) -> Sieved:
    """Return what a lime or sulfur is known by: when it starts to work, and its sizes."""
    return round(day, 6), sieves


def by_sieves(grains: Sequence[Any], shares: Sequence[Lane]) -> dict[Sieved, float]:
    """Return shares by the day and the sieves of their grains."""
    pairs = zip(grains, shares, strict=True)
    return {sieved_key(g.day, g.sieves): float(share) for g, share in pairs}
