"""What came into a soil on one day and keeps its own clock: organic matter, grains, roots."""

from __future__ import annotations

from typing import NamedTuple

from pelk.core.base.arithmetic import Lane
from pelk.core.release.organic_nitrogen import ReleaseCurves
from pelk.core.release.processes import RETURNED
from pelk.core.simulation.heap import Solid


class Roots(NamedTuple):
    """How what grows takes up its nitrogen.

    Attributes
    ----------
    kappa : float
        Excess of cations over anions in the plants, for each nitrogen taken. [meq/mmol]
    ammonium_first : float
        Times the weight of ammonium beside nitrate. [-]
    fixed : float
        Nitrogen fixed from the air for each that the soil gave. [-]
    """

    kappa: float = 1 - RETURNED
    ammonium_first: float = 1.0
    fixed: float = 0.0


USUAL_ROOTS = Roots()


class Cohort:
    """Organic matter that came in on one day: its curves, its share, and its own clock.

    `organic_mg` is the nitrogen it holds at a share of one. [mg/L]
    """

    __slots__ = (
        "curves",
        "has_hot",
        "hot_mark",
        "mark",
        "organic_mg",
        "own_hot",
        "own_tau",
        "pace",
        "share",
    )

    def __init__(
        self,
        curves: ReleaseCurves,
        share: Lane = 1.0,
        mark: Lane = 0.0,
        hot_mark: Lane = 0.0,
        pace: float = 1.0,
        own: tuple[Lane, Lane] = (0.0, 0.0),
        organic_mg: float = 0.0,
    ) -> None:
        self.curves, self.share, self.pace = curves, share, pace
        self.mark, self.hot_mark = mark, hot_mark
        self.own_tau, self.own_hot = own
        self.organic_mg, self.has_hot = organic_mg, bool(curves.hot.many.any())

    def clocks(self, tau: Lane, tau_hot: Lane) -> tuple[Lane, Lane]:
        """Return its own rate-days where the soil's stand at `tau`. [d]."""
        return (
            self.own_tau + self.pace * (tau - self.mark),
            self.own_hot + self.pace * (tau_hot - self.hot_mark),
        )


class Grains(NamedTuple):
    """One lime or free carbonate in the mix: what it is, its base, its rest, what it has lost."""

    solid: Solid
    base_meq_l: Lane
    rest: Lane
    worn: Lane
