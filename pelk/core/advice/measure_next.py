"""What to measure next: the reading that would narrow a forecast most by its decision day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.sources import cites
from pelk.core.materials.library import library
from pelk.core.simulation.ensemble import SAMPLES, draws_of
from pelk.core.simulation.followed_soil import FollowedSoil
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import with_doses
from pelk.core.simulation.run import FAN_PACE, Draws, Surroundings, Trace, simulate
from pelk.core.simulation.telling import ALKALINITY_SD, Telling, ph_sd, told_by

Floats = NDArray[np.float64]

# Shrinking by less tells nothing; a pH known to this needs no more.
LEAST_SHRINK, KNOWN_PH = 0.05, 0.30
# What is as good within so much: the quicker goes first.
ALIKE = 0.05
LATER_DAYS, JAR_DAYS, JAR_C, JAR_LIME_G_L = 14, 14, 22.0, 1.0
# A reading so near the decision comes too late to act on.
LAST_DAYS = 3


class Measure(StrEnum):
    """What can be measured."""

    PH_NOW = "ph now"
    PH_NOW_CHECKED = "ph now, pen checked"
    PH_LATER = "ph later"
    JARS = "two jars"
    STRIP = "strip of the water"


# What each takes, the least first.
EFFORT = {
    Measure.PH_NOW: 1,
    Measure.PH_LATER: 1,
    Measure.PH_NOW_CHECKED: 2,
    Measure.STRIP: 2,
    Measure.JARS: 3,
}


@dataclass(frozen=True, slots=True)
class Offer:
    """A measurement, the day it is done by, and what it would tell. [d since mixing]."""

    measure: Measure
    day: int
    telling: Telling


@dataclass(frozen=True, slots=True)
class NextMeasure:
    """What to measure next, for the pH of a day.

    Attributes
    ----------
    offer : Offer or None
        None where nothing is worth it.
    decision : int
        The day that is asked about, since mixing. [d]
    low, high : float
        p10 and p90 of its pH as it is known now. [pH]
    is_known : bool
        It is known well enough.
    changes_nothing : bool
        Whatever it shows, one would do the same: all of it lies on one side of the band's
        ends.
    offers : tuple of Offer
        All that were weighed, the best first.
    """

    offer: Offer | None
    decision: int
    low: float
    high: float
    is_known: bool
    changes_nothing: bool
    offers: tuple[Offer, ...]

    @property
    def width_now(self) -> float:
        """How far apart the ends are. [pH]."""
        return self.high - self.low


@dataclass(frozen=True, slots=True)
class PhDraws:
    """The draws of a pH along its days: of a heap, or of a soil that goes on."""

    edges: Floats
    ph: Floats

    @classmethod
    def of(cls, run: Trace | FollowedSoil) -> PhDraws:
        """Return the draws of a run."""
        return cls(run.edges, run.values["ph"])

    def on(self, day: float) -> Floats:
        """Return the pH of each draw on a day."""
        right = int(np.clip(np.searchsorted(self.edges, day, "right"), 1, len(self.edges) - 1))
        start, end = self.edges[right - 1], self.edges[right]
        part = (day - start) / (end - start)
        return np.asarray(self.ph[right - 1] * (1 - part) + self.ph[right] * part)


def ph_offers(draws: PhDraws, today: int, decision: int, *, pen_is_checked: bool) -> list[Offer]:
    """Return what pH readings would tell of the pH of a later day.

    Parameters
    ----------
    draws : PhDraws
        Of the forecast as it stands.
    today, decision : int
        Days since mixing. [d]
    pen_is_checked : bool
        It passed its buffers within the month.
    """
    asked, now = draws.on(decision), draws.on(today)
    checked, unchecked = ph_sd("checked pen"), ph_sd("unchecked pen")
    offers = [
        Offer(Measure.PH_NOW, today, told_by(now, asked, checked if pen_is_checked else unchecked))
    ]
    if not pen_is_checked:
        offers.append(Offer(Measure.PH_NOW_CHECKED, today, told_by(now, asked, checked)))
    later = today + LATER_DAYS
    if later <= decision - LAST_DAYS:
        told = told_by(draws.on(later), asked, checked if pen_is_checked else unchecked)
        offers.append(Offer(Measure.PH_LATER, later, told))
    return offers


def strip_offer(draws: PhDraws, alkalinity: Floats, today: int, decision: int) -> Offer:
    """Return what a strip in the tap's water would tell; `alkalinity` is each draw's factor."""
    told = told_by(np.log(alkalinity), draws.on(decision), ALKALINITY_SD)
    return Offer(Measure.STRIP, today, told)


@cites("pelk", "the same draws in two jars at 22 °C, one with a gram of hydrated lime a litre")
def jar_offer(
    heap: Heap, draws: PhDraws, today: int, decision: int, drawn: Draws | None = None
) -> Offer:
    """Return what two jars of the mix would tell: one plain, one limed, for a fortnight.

    Parameters
    ----------
    heap : Heap
        As it was mixed.
    draws : PhDraws
        Of its forecast, drawn by `draws_of` as usual.
    today, decision : int
        Days since mixing. [d]
    drawn : Draws, optional
        The same draws, where they were not drawn as usual.
    """
    lanes = drawn if drawn is not None else draws_of(heap, draws.ph.shape[1] or SAMPLES)
    around = Surroundings(temperature_c=JAR_C)
    lime = library()["lime-hydrated"]
    jars = [
        simulate(pot, around, JAR_DAYS, lanes, FAN_PACE)["ph"][-1]
        for pot in (with_doses(heap, [(lime, JAR_LIME_G_L)]), heap)
    ]
    told = told_by(np.stack(jars, axis=1), draws.on(decision), ph_sd("checked pen"))
    return Offer(Measure.JARS, today + JAR_DAYS, told)


@cites("pelk", "the most that is taken off the width, in time, the quicker of what is alike")
def next_measure(
    draws: PhDraws, offers: Sequence[Offer], decision: int, band: tuple[float, float] | None
) -> NextMeasure:
    """Return what to measure next for the pH of a day.

    Parameters
    ----------
    draws : PhDraws
        Of the forecast as it stands.
    offers : sequence of Offer
        What may be measured.
    decision : int
        The day that is asked about. [d since mixing]
    band : tuple of float, optional
        What the crop wants.
    """
    low, high = (float(x) for x in np.quantile(draws.on(decision), (0.1, 0.9)))
    in_time = [o for o in offers if o.day <= decision - LAST_DAYS or o.day < decision]
    ranked = sorted(in_time, key=lambda o: -o.telling.worth)
    worthy = [o for o in ranked if o.telling.shrink >= LEAST_SHRINK]
    is_known = high - low < KNOWN_PH
    changes_nothing = band is not None and _side(low, band) == _side(high, band)
    none = NextMeasure(None, decision, low, high, is_known, changes_nothing, tuple(ranked))
    if is_known or not worthy:
        return none
    best = worthy[0].telling.shrink
    alike = [o for o in worthy if o.telling.shrink >= best - ALIKE]
    chosen = min(alike, key=lambda o: (EFFORT[o.measure], o.day))
    return replace(none, offer=chosen)


def _side(ph: float, band: tuple[float, float]) -> int:
    low, high = band
    return -1 if ph < low else 1 if ph > high else 0
