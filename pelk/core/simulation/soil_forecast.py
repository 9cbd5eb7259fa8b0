"""What comes of a soil's life: pH with its ensemble, salts, each element, and the balance."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.release.grains import lime_grade_of, sulfur_grades
from pelk.core.salts.pore_water import PoreSalts
from pelk.core.simulation.availability import Times
from pelk.core.simulation.ensemble import SAMPLES, Posterior, life_draws_of
from pelk.core.simulation.follow import Follower
from pelk.core.simulation.followed_soil import Comes, FollowedSoil, sieved_key
from pelk.core.simulation.life import Life
from pelk.core.simulation.minerals import (
    MINERALS,
    MineralBook,
    Supply,
    conductivity_along,
    supply_of,
)
from pelk.core.simulation.run import LINE_PACE, Pace
from pelk.core.simulation.salts_of_a_course import pore_salts
from pelk.core.simulation.soil_learning import Drains, as_learned, learn, learn_drains

Floats = NDArray[np.float64]
Days = int | Sequence[int]

# An ensemble over years: no longer steps than these.
LIFE_FAN_PACE = Pace(0.5, 1.5, 9.0, 90.0, 30.0, 200, 8e-2)


@dataclass(frozen=True, slots=True)
class ElementCourse:
    """One element through a life.

    Attributes
    ----------
    free : array, shape (n_days + 1,)
        In a litre of the day's soil. [mg/L]
    given, taken, wanted, short, leached : array, shape (n_days + 1,)
        In sum since mixing day, per litre of the day's soil. [mg/L]
    balance : dict of str to float
        ``in held taken leached lost`` at the end, in a pot. [mg]
    """

    free: Floats
    given: Floats
    taken: Floats
    wanted: Floats
    short: Floats
    leached: Floats
    balance: dict[str, float]


@dataclass(frozen=True, slots=True)
class SoilForecast:
    """What comes of a life.

    Attributes
    ----------
    ph, ec : array, shape (3, n_days + 1)
        p10, the central line, p90. [pH], [dS/m]
    litres : array, shape (n_days + 1,)
        Of soil in a pot. [L]
    elements : dict of str to ElementCourse
        N, P, K, Ca, Mg, S, Na, Cl.
    line : FollowedSoil
        The central line at its edges.
    ensemble : FollowedSoil or None
        Many draws; None where none were asked for.
    """

    life: Life
    ph: Floats
    ec: Floats
    litres: Floats
    elements: dict[str, ElementCourse]
    line: FollowedSoil
    ensemble: FollowedSoil | None

    @property
    def dates(self) -> list[date]:
        """Each day of it."""
        return [self.life.mixed_on + timedelta(days=i) for i in range(self.life.days + 1)]

    def gained(self, element: str, name: str, first: Days, last: Days) -> Floats:
        """Return what a sum grew by between two days, per litre of the later day's soil.

        Sums are kept for a pot: its shrinking is no growth. [mg/L]

        Parameters
        ----------
        element : str
            Key of `elements`.
        name : str
            ``given taken wanted short leached``.
        first, last : int or sequence of int
            Days since mixing. [d]
        """
        line = getattr(self.elements[element], name) * self.litres
        after, before = np.asarray(last), np.asarray(first)
        return np.asarray((line[after] - line[before]) / self.litres[after])

    def daily(self, name: str) -> Floats:
        """Return a value of the central line for every day."""
        return _daily(self.line.edges, self.line.values[name], self.life.days)


@dataclass(slots=True)
class _Snapshot:
    """The minerals at one edge."""

    free: dict[str, float]
    sums: dict[str, dict[str, float]]
    dissolved: dict[str, float]
    salts: PoreSalts


@cites("pelk", "one stepper for a soil's life; uptake, rain, rinsing, joining and rotting in it")
def follow_soil(
    life: Life,
    samples: int = SAMPLES,
    learned: Posterior | None = None,
    drains: Drains | None = None,
) -> SoilForecast:
    """Return what comes of a soil's life.

    Parameters
    ----------
    life : Life
        The mix, the pot, the place, and what was done when.
    samples : int
        Draws of the ensemble; 0 leaves it out.
    learned : Posterior, optional
        What its readings of pH taught (`pelk.core.simulation.soil_learning`).
    drains : tuple of float, optional
        What its readings of salts taught of what drains.

    Returns
    -------
    SoilForecast
        From mixing day to the last.
    """
    told, central = as_learned(life, learned, drains)
    line = Follower(told, LINE_PACE, central).run()
    book, snapshots = _minerals(life, line)
    days = life.days
    dissolved, salts = [s.dissolved for s in snapshots], [s.salts for s in snapshots]
    ph = np.repeat(_daily(line.edges, line.values["ph"], days)[None], 3, axis=0)
    ec_line = conductivity_along(
        dissolved, salts, line.values["ammonium_mg_l"], line.values["nitrate_mg_l"]
    )
    ec = np.repeat(_daily(line.edges, ec_line, days)[None], 3, axis=0)
    ensemble = None
    if samples:
        drawn_of = life_draws_of(
            life.soil.heap, samples, learned, guessed=life.water_is_guessed, drains=drains
        )
        ensemble = Follower(life, LIFE_FAN_PACE, drawn_of).run()
        ph = _with_quantiles(ph[1], ensemble, ensemble.values["ph"], days)
        at = np.searchsorted(line.edges, ensemble.edges, side="right") - 1
        drawn = conductivity_along(
            [dissolved[i] for i in at],
            [salts[i] for i in at],
            ensemble.values["ammonium_mg_l"],
            ensemble.values["nitrate_mg_l"],
        )
        ec = _with_quantiles(ec[1], ensemble, drawn, days)
    litres = _daily(line.edges, line.values["litres"], days)
    elements = {"N": _nitrogen(line, litres, days)}
    for element in MINERALS:
        elements[element] = _mineral(element, line, book, snapshots, litres)
    return SoilForecast(life, ph, ec, litres, elements, line, ensemble)


def taught_by(life: Life) -> tuple[Posterior | None, Drains | None]:
    """Return what the readings of pH teach of a life, and those of salts."""
    taught = learn(life)
    held = taught.posterior if taught else None

    def conductivity(past: Life, drains: float) -> Floats:
        ec: Floats = follow_soil(past, 0, held, (float(np.log(drains)), 0.0)).ec[1]
        return ec

    return held, learn_drains(life, conductivity)


def _daily(edges: Floats, values: Floats, days: int) -> Floats:
    return np.asarray(np.interp(np.arange(days + 1.0), edges, values))


def _with_quantiles(line: Floats, drawn: FollowedSoil, values: Floats, days: int) -> Floats:
    low, high = np.quantile(values, (0.1, 0.9), axis=1)
    low, high = (_daily(drawn.edges, end, days) for end in (low, high))
    return np.array([np.minimum(low, line), line, np.maximum(high, line)])


def _minerals(life: Life, line: FollowedSoil) -> tuple[MineralBook, list[_Snapshot]]:
    """Play what happened to the minerals, and keep where they stand at each edge."""
    soil = life.soil
    book = MineralBook(
        soil.heap.capacity,
        soil.mineral,
        pore_salts(soil.heap, soil.parts, soil.loss),
        life.pot.litres,
    )
    book.begin()
    book.waiting = [_supply(line, soil.mineral, told) for told in line.supplies]
    postings, snapshots = iter(line.postings), []
    following = next(postings, None)
    for i in range(len(line.edges)):
        while following is not None and _is_past(following, i):
            following[1](book, following[0])
            following = next(postings, None)
        snapshots.append(_snapshot(book, float(line.values["ph"][i])))
    return book, snapshots


def _is_past(posting: tuple[int, Any, bool], edge: int) -> bool:
    """Whether it happened by an edge: a step stands under the edge that it begins at."""
    at, _, is_step = posting
    return at < edge or (at == edge and not is_step)


def _snapshot(book: MineralBook, ph: float) -> _Snapshot:
    sums = {
        name: dict(getattr(book, name))
        for name in ("given", "taken", "wanted", "short", "leached", "lost")
    }
    return _Snapshot(dict(book.free), sums, book.dissolved_meq_l(ph), book.salts)


def _supply(line: FollowedSoil, mineral: float, comes: Comes) -> Supply:
    start, material = comes.at, comes.ingredient.material
    tau = line.values["rate_days"][start:]
    hot = line.values["rate_days_hot"][start:]
    day = float(line.edges[start]) - comes.days
    times = Times(
        comes.tau + comes.pace * (tau - tau[0]),
        comes.tau_hot + comes.pace * (hot - hot[0]),
        line.values["ph"][start:],
        _lime_shares(line, start, material, day),
        _sulfur_shares(line, start, material, day),
        mineral,
    )
    supply = supply_of(comes.ingredient, times, start, comes.kept)
    supply.share = comes.share
    return supply


def _lime_shares(line: FollowedSoil, start: int, material: Material, day: float) -> Floats:
    count = len(line.edges) - start
    if not (material.lime_grade and material.cce):
        return np.ones(count)
    grade = lime_grade_of(material)
    key = sieved_key(day + grade.delay_days, grade.passing)
    return np.array([shares.get(key, 0.0) for shares in line.lime_shares[start:]])


def _sulfur_shares(line: FollowedSoil, start: int, material: Material, day: float) -> Floats:
    count = len(line.edges) - start
    if material.acidity_role != "sulfur":
        return np.ones(count)
    sieves = sulfur_grades().get(material.sulfur_grade or "powder") or sulfur_grades()["powder"]
    key = sieved_key(day, sieves)
    return np.array([shares.get(key, 0.0) for shares in line.sulfur_shares[start:]])


def _nitrogen(line: FollowedSoil, litres: Floats, days: int) -> ElementCourse:
    def per_litre(name: str) -> Floats:
        return np.asarray(_daily(line.edges, line.values[name], days) / litres)

    free = _daily(line.edges, line.values["ammonium_mg_l"] + line.values["nitrate_mg_l"], days)
    at_end = {name: float(line.values[f"n_{name}"][-1]) for name in NITROGEN_SUMS}
    wanted, taken = per_litre("n_wanted"), per_litre("n_taken_from_soil")
    return ElementCourse(
        free,
        per_litre("n_given"),
        per_litre("n_taken"),
        wanted,
        np.maximum(wanted - taken, 0.0),
        per_litre("n_leached"),
        {
            "in": at_end["given"],
            "held": at_end["held"],
            "taken": at_end["taken"],
            "leached": at_end["leached"],
            "lost": at_end["lost"],
        },
    )


NITROGEN_SUMS = ("given", "held", "taken", "leached", "lost")


def _mineral(
    element: str, line: FollowedSoil, book: MineralBook, snapshots: list[_Snapshot], litres: Floats
) -> ElementCourse:
    days = len(litres) - 1

    def sums(name: str) -> Floats:
        at_edges = np.array([s.sums[name][element] for s in snapshots])
        return np.asarray(_daily(line.edges, at_edges, days) / litres)

    last = len(line.edges) - 1
    held = (book.free[element] + book.bound(element, last)) * book.litres
    return ElementCourse(
        _daily(line.edges, np.array([s.free[element] for s in snapshots]), days),
        sums("given"),
        sums("taken"),
        sums("wanted"),
        sums("short"),
        sums("leached"),
        {
            "in": book.given[element],
            "held": held,
            "taken": book.taken[element],
            "leached": book.leached[element],
            "lost": book.lost[element],
        },
    )
