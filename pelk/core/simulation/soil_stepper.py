"""A soil that goes on: what is put in, poured on, cut down or joined between two steps."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.acids import FADES_PER_DAY
from pelk.core.acid_base.buffering import PH_GRID
from pelk.core.acid_base.ph_of_net_base import inverse_of
from pelk.core.acid_base.water import Water
from pelk.core.base.arithmetic import ONE, Arithmetic, Lane
from pelk.core.release.organic_nitrogen import OrganicN, release_curves
from pelk.core.release.processes import skin_of
from pelk.core.simulation.cohorts import Cohort, Grains
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.stepper import LEAST_CAPACITY, WATER_REST, Forcing, Stepper

Floats = NDArray[np.float64]

# Amounts of a litre: what is cut, diluted or made denser with it.
PER_LITRE = (
    "nitrate",
    "nitrogen",
    "unmet_n",
    "leached",
    "brought",
    "denitrified",
    "taken_up",
    "fixed",
    "silicate",
    "start_base",
    "never_rots",
)
CHEMISTRY_PER_LITRE = (
    "ammonium",
    "nitrified",
    "lost",
    "lime",
    "carbonate",
    "sulfur",
    "watered",
    "precipitated",
    "apatite",
    "acids",
)
# Grains of which less than this is left are base in the ledger.
ALL_GONE = 0.999
SETTLING_TURNS = 40


@dataclass(frozen=True, slots=True)
class Solver:
    """What the pH is found with: the curve, its nodes, how close. [meq/L], [-], [pH]."""

    base: Floats
    nodes: int
    close: float


class SoilStepper(Stepper):
    """A stepper to whose soil things are done between two steps.

    Amounts stay per litre of soil as it is; `share_of` says what a litre of now holds of a
    litre of before.
    """

    def __init__(
        self, heap: Heap, forcing: Forcing, draws: Any, x: Arithmetic, solver: Solver
    ) -> None:
        self.base, self.nodes = solver.base, solver.nodes
        self.pools: dict[Any, list[tuple[Cohort, float, bool]]] = {}
        self.clocks: list[Cohort] = []
        # Organic nitrogen of later dressings that no pool gives. [mg/L]
        self.never_rots: Lane = 0.0
        super().__init__(
            heap, forcing, draws, x, inverse_of(solver.base, solver.nodes), solver.close
        )

    def scale(self, by: float, *, curve: float | None = None) -> None:
        """Let every litre hold `by` times as much, its curve `curve` times (as much without)."""
        for name in PER_LITRE:
            setattr(self, name, getattr(self, name) * by)
        self.chem = self.chem._replace(
            **{name: getattr(self.chem, name) * by for name in CHEMISTRY_PER_LITRE}
        )
        self.grain_base = self._times(self.grain_base, by)
        self.sulfur_acid = self._times(self.sulfur_acid, by)
        self.silicates = [(meq_l * by, day) for meq_l, day in self.silicates]
        self.strong = [(day, acid * by) for day, acid in self.strong]
        self.weak = [(day, name, mmol * by) for day, name, mmol in self.weak]
        for cohort in (*self.cohorts, *self.clocks):
            cohort.share = cohort.share * by
        self.released = self._released()
        self.base = self.base * (by if curve is None else curve)
        self._new_curve()

    def shrink(self, left: float, rotted: float) -> None:
        """Let the soil come down to a share of its volume; half of what rotted buffers no more.

        What it holds stays in it. Base that sat on rotted matter is released with it, so that
        the pH stays where it is.
        """
        ph = self.ph
        kept = (1 - 0.5 * rotted) / left
        self.scale(1 / left, curve=kept)
        self._hold(ph)

    def dress(self, put_in: Heap, *, pace: float = 1.0, settles: bool = True) -> None:
        """Put in doses, per litre of this soil; `pace` slows what rots on top."""
        for item in put_in.nitrogen:
            self._rot_in(item, pace)
        self.nitrate = self.nitrate + sum(n.nitrate_mg_l for n in put_in.nitrogen)
        self.nitrogen = self.nitrogen + sum(n.base_at_once_meq_l for n in put_in.nitrogen)
        ammonium = self.chem.ammonium + sum(n.ammonium_mg_l for n in put_in.nitrogen)
        self.chem = self.chem._replace(ammonium=ammonium)
        self._lay(
            self._grains_of(put_in),
            [(s, s.acid_meq_l + 0.0 * self.draws.lime, 0.0) for s in put_in.sulfurs],
            self.day,
        )
        if put_in.apatites:
            clock = self._cohort((), 1.0, pace, 0.0)
            self.clocks.append(clock)
            self.apatites += [(piece, clock) for piece in put_in.apatites]
        self.silicates.append((put_in.silicate_meq_l, self.day))
        self.strong += [(self.day, acid) for _, acid in put_in.strong]
        self.weak += [(self.day, name, mmol) for _, name, mmol in put_in.weak]
        self.inhibited_until = max(self.inhibited_until, self.day + put_in.inhibited_days)
        if settles:
            self._settle()

    def pour(
        self,
        nitrate_mg_l: float,
        ammonium_mg_l: float,
        base_meq_l: float,
        water: Water,
        drained_l_l: float,
    ) -> None:
        """Pour a feed or plain water on at once: a litre of soil gets `water.l_per_l_day` of it."""
        self.nitrate = self.nitrate + nitrate_mg_l
        self.nitrogen = self.nitrogen + base_meq_l
        self.chem = self.chem._replace(ammonium=self.chem.ammonium + ammonium_mg_l)
        self.nitrate, ammonium = self._drain(water, 1.0, drained_l_l, self.chem.ammonium)
        given, alkalinity = water.l_per_l_day, water.alkalinity_meq_l * self.draws.alkalinity
        x = self.x
        held = x.most(1 - 10.0 ** (self.ph - 8.0) * WATER_REST, 0.0)
        base = max(given - drained_l_l, 0.0) * alkalinity
        self.chem = self.chem._replace(
            ammonium=ammonium,
            watered=self.chem.watered + base * held,
            precipitated=self.chem.precipitated + base * (1 - held),
        )
        self._settle()

    def return_base(self, base_meq_l: Lane) -> None:
        """Give base to the soil, or take it."""
        self.nitrogen = self.nitrogen + base_meq_l
        self._settle()

    def join(self, other: SoilStepper, mine: float, theirs: float) -> None:
        """Mix another soil in: a litre of the new one holds `mine` of this and `theirs` of it."""
        self.scale(mine)
        other.scale(theirs)
        left = mine / (mine + theirs)
        for name in PER_LITRE:
            setattr(self, name, getattr(self, name) + getattr(other, name))
        self.chem = self.chem._replace(
            **{
                name: getattr(self.chem, name) + getattr(other.chem, name)
                for name in CHEMISTRY_PER_LITRE
            },
            nitrifiers=self._mean(self.chem.nitrifiers, other.chem.nitrifiers, left),
        )
        self.decomposers = self._mean(self.decomposers, other.decomposers, left)
        self.bacteria = self._mean(self.bacteria, other.bacteria, left)
        self.warmth = self._mean(self.warmth, other.warmth, left)
        kept = {}
        for cohort in (*other.cohorts, *other.clocks):
            own = cohort.clocks(other.tau, other.tau_hot)
            kept[id(cohort)] = Cohort(
                cohort.curves,
                cohort.share,
                self.tau,
                self.tau_hot,
                cohort.pace,
                own,
                cohort.organic_mg,
            )
        self.cohorts += [kept[id(cohort)] for cohort in other.cohorts]
        self.clocks += [kept[id(cohort)] for cohort in other.clocks]
        self.apatites += [(piece, kept[id(cohort)]) for piece, cohort in other.apatites]
        age = self.day - other.day
        self._lay(other.laid_grains(), other.laid_sulfurs(), age)
        self.silicates += [(meq_l, day + age) for meq_l, day in other.silicates]
        self.strong += [(self.day, sum(acid for day, acid in other.strong if day <= other.day))]
        self.weak += other.weak_left(self.day)
        self.base = self.base + other.base
        self._new_curve()
        self._settle()

    def hold(self, litres: float, capacity: float, porosity: float) -> None:
        """Say how much of it lies together, and what water it holds. [L], [L/L]."""
        self.skin = skin_of(litres) * self.draws.heat
        self.capacity = max(capacity, LEAST_CAPACITY)
        self.porosity, self.litres = porosity, litres

    def laid_grains(self) -> list[Grains]:
        """Return the limes and carbonates as they lie, worn as they are."""
        rows = zip(self.solids, self.grain_base, self.grain_rest, self.chem.worn, strict=True)
        return [Grains(*row) for row in rows]

    def laid_sulfurs(self) -> list[tuple[Any, Lane, Lane]]:
        """Return the sulfurs as they lie, eaten as they are."""
        return list(zip(self.sulfur_grains, self.sulfur_acid, self.chem.eaten, strict=True))

    def weak_left(self, day: float) -> list[tuple[float, str, Any]]:
        """Return what is left of the fading acids, as if they were given on a day."""
        left = []
        for given, name, mmol in self.weak:
            if given <= self.day + 1e-9:
                mark = self.fade_marks.get(given, self.fading)
                rate = FADES_PER_DAY[name] / 2**0.3
                left.append((day, name, mmol * self.x.exp(-rate * (self.fading - mark))))
        return left

    def reacted_shares(self) -> list[Lane]:
        """Return the share of each lime and carbonate that has dissolved, as they lie. [-]."""
        return self._shares(self.grains, self.chem.worn, len(self.solids))

    def eaten_shares(self) -> list[Lane]:
        """Return the share of each sulfur that has turned to acid. [-]."""
        return self._shares(self.sulfurs, self.chem.eaten, len(self.sulfur_grains))

    def _shares(self, stack: Any, worn: Any, count: int) -> list[Lane]:
        return list(self._reacted(stack, worn, self._rows([1.0] * count))) if count else []

    def nitrogen_held(self) -> Lane:
        """Return all nitrogen of a litre: mineral, and what has not rotted yet. [mg/L]."""
        organic = sum(cohort.share * cohort.organic_mg for cohort in self.cohorts)
        held: Lane = self.chem.ammonium + self.nitrate + organic + self.never_rots
        return held - self.released[0] - self.released[1] - self.unmet_n

    def _rot_in(self, item: OrganicN, pace: float) -> None:
        """Take organic matter in; what is there of the same kind goes on together with it.

        A pool that rots by its own law forgets when it came: of several dressings one amount
        is left. Each pool is kept apart, so that a hundred feeds cost what two do.
        """
        release, organic = item.release, item.organic_mg_l
        if release is None or organic <= 0 or release.linear_days:
            self.cohorts.append(self._cohort((item,), 1.0, pace, organic))
            return
        made_of = (item.carbon_mg_l / organic, item.base_to_come_meq_l / organic)
        key = (release, pace, item.is_bulk, *(round(x, 9) for x in made_of))
        if key not in self.pools:
            one = replace(
                item,
                organic_mg_l=1.0,
                carbon_mg_l=made_of[0],
                ammonium_mg_l=0.0,
                nitrate_mg_l=0.0,
                base_meq_l=made_of[1],
            )
            fast, slow = (
                replace(one, release=replace(release, slow=0.0)),
                replace(one, release=replace(release, fast=0.0)),
            )
            self.pools[key] = [
                (self._cohort((fast,), 0.0, pace, release.fast), release.k_fast, release.hot),
                (self._cohort((slow,), 0.0, pace, release.slow), release.k_slow, False),
            ]
            self.cohorts += [cohort for cohort, _, _ in self.pools[key]]
        for cohort, rate, is_hot in self.pools[key]:
            clock = cohort.clocks(self.tau, self.tau_hot)[1 if is_hot else 0]
            given = self._released_of(cohort)
            left = cohort.share * self.x.exp(-rate * clock)
            # What rotted and was not set free stays, in what rots no further.
            bound = (cohort.share - left) * cohort.organic_mg - given[0] - given[1]
            self.never_rots = self.never_rots + bound
            cohort.share = left + organic
            cohort.mark, cohort.hot_mark = self.tau, self.tau_hot
            cohort.own_tau, cohort.own_hot = self._nil_clocks()
        self.never_rots = self.never_rots + organic * (1 - release.fast - release.slow)

    def _cohort(
        self, items: tuple[OrganicN, ...], share: Lane, pace: float, organic_mg: float
    ) -> Cohort:
        curves = release_curves(items)
        nil = self._nil_clocks()
        return Cohort(curves, share, self.tau, self.tau_hot, pace, nil, organic_mg)

    def _nil_clocks(self) -> tuple[Lane, Lane]:
        return 0.0 * self.tau, 0.0 * self.tau_hot

    def _mean(self, one: Lane, other: Lane, share: float) -> Lane:
        mean: Lane = share * one + (1 - share) * other
        return mean

    def _times(self, rows: Any, by: float) -> Any:
        return [row * by for row in rows] if self.x is ONE else rows * by

    def _lay(
        self, grains: Sequence[Grains], sulfurs: Sequence[tuple[Any, Lane, Lane]], later: float
    ) -> None:
        """Lay more grains beside those that lie there; their days count from `later` on."""
        more = [g._replace(solid=replace(g.solid, day=g.solid.day + later)) for g in grains]
        if more:
            self._lay_grains([*self.laid_grains(), *more])
            self.chem = self.chem._replace(worn=self.worn_start)
        if sulfurs:
            fresh = [(replace(s, day=s.day + later), acid, eaten) for s, acid, eaten in sulfurs]
            self._lay_sulfurs([*self.laid_sulfurs(), *fresh])
            self.chem = self.chem._replace(eaten=self.eaten_start)

    def _new_curve(self) -> None:
        self.ph_of = inverse_of(self.base, self.nodes)

    def _settle(self) -> None:
        """Find where everything stands at this instant."""
        base = self._reacted(self.grains, self.chem.worn, self.grain_base) if self.solids else []
        x = self.x
        self.chem = self.chem._replace(
            lime=x.total(base[: self.limes]) if self.limes else 0.0,
            carbonate=x.total(base[self.limes :]) if len(self.solids) > self.limes else 0.0,
            sulfur=x.total(self._reacted(self.sulfurs, self.chem.eaten, self.sulfur_acid))
            if self.sulfur_grains
            else 0.0,
        )
        self.released = self._released()
        for _ in range(SETTLING_TURNS if self.weak else 1):
            self.chem = self.chem._replace(acids=self._acids(self.ph))
            at = self.ph_of(self._net_base(self.chem))
            self.ph = 0.5 * (self.ph + at) if self.weak else at

    def _hold(self, ph: Lane) -> None:
        """Move the base on the exchanger so that the pH stays where it was."""
        there = self._net_base(self.chem)
        wanted = self._base_at(ph)
        self.start_base = self.start_base + (wanted - there)
        self.ph = ph

    def _base_at(self, ph: Lane) -> Lane:
        if self.base.ndim == 1:
            return float(np.interp(float(ph), PH_GRID, self.base))
        grid = np.linspace(PH_GRID[0], PH_GRID[-1], self.base.shape[1])
        rows: Any = np.array(
            [np.interp(p, grid, row) for p, row in zip(np.asarray(ph), self.base, strict=True)]
        )
        return rows
