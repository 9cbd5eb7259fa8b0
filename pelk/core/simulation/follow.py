"""A soil followed through its life, on the one stepper: two seasons or ten, by dated events.

The course goes first (pH, nitrogen, salts of nitrogen); the minerals follow it over the same
steps, since nothing of theirs moves the pH. Amounts are per litre of soil as it is on the day;
sums are kept for a whole pot, so that shrinking and cutting move no milligram.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from datetime import timedelta
from typing import Any, cast

import numpy as np

from pelk.core.acid_base.water import Water
from pelk.core.base.arithmetic import MANY, ONE, Lane
from pelk.core.base.errors import UnknownError
from pelk.core.crops.living import (
    LEGUME_C_TO_N,
    ROOTS_C_TO_N,
    ROOTS_LEFT,
    ROOTS_OUT,
    YEAR_DAYS,
    livings,
)
from pelk.core.materials.material import Material
from pelk.core.materials.totals import MixIngredient, concentration_mg_l
from pelk.core.release.organic_nitrogen import SURFACE, OrganicN, organic_n, release_classes
from pelk.core.release.rate_factors import (
    decay_by_moisture,
    drowned_share,
    lime_by_water,
    nitrifiers_by_moisture,
    sulfur_by_water,
)
from pelk.core.simulation.ensemble import draws_of
from pelk.core.simulation.followed_soil import Comes, FollowedSoil, Posting, Totals, sieved_key
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import with_doses
from pelk.core.simulation.life import (
    CONTACT,
    PACE_ON_TOP,
    Cleared,
    Dressed,
    Event,
    Harvested,
    Life,
    MixedSoil,
    Placed,
    Planted,
    PottedOn,
    Poured,
    Read,
    Rested,
    Rinsed,
    Topped,
    Watered,
)
from pelk.core.simulation.minerals import MineralBook
from pelk.core.simulation.run import CENTRAL, DRIEST, Draws, Pace, base_curve, step_edges
from pelk.core.simulation.salts_of_a_course import pore_salts
from pelk.core.simulation.soil_days import Growing, Regime, SoilDays, Stretch
from pelk.core.simulation.soil_stepper import SoilStepper, Solver
from pelk.core.simulation.stepper import Forcing
from pelk.core.vessels.shrinkage import Aged, aged, rate_of
from pelk.core.vessels.structure import Structure, structure_of

# Nitrogen in a kilogram of what is picked, from memory of food tables. [g/kg]
PICKED_N = {
    "leafy": 3.0,
    "fruiting": 1.8,
    "roots": 2.5,
    "legumes": 6.0,
    "alliums": 2.5,
    "med-herbs": 4.0,
    "ericaceous": 8.0,
    "citrus": 1.6,
}
USUAL_PICKED_N = 3.0
# Lime, sulfur or acid over this share of the buffer is followed as finely as a mixing day.
STRONG_DOSE = 0.1
ON_TOP_LOSES = 1 - SURFACE
UNKNOWN_AIR, UNKNOWN_PORES = 0.2, 0.85
MG = 1000.0


class Follower:
    """One run of a life: the central line, or many draws at once."""

    def __init__(self, life: Life, pace: Pace, draws: Draws = CENTRAL) -> None:
        self.life, self.pace, self.draws = life, pace, draws
        self.happens = life.by_day
        soil = life.soil
        fresh = [s.day for s in soil.heap.solids] + [s.day for s in soil.heap.sulfurs]
        fresh += [d for d, events in self.happens.items() if self._is_strong(events)]
        # Years of the soil in its pot, and of what lives over winter in it.
        potted = min((e.day for e in life.events if not isinstance(e, Read)), default=life.days)
        self.ages = set(range(potted + YEAR_DAYS, life.days, YEAR_DAYS))
        self.turns = set(self.ages)
        for event in life.events:
            if isinstance(event, Planted) and livings()[event.crop.slug].is_perennial:
                self.turns |= set(range(event.day + YEAR_DAYS, life.days, YEAR_DAYS))
        self.edges = step_edges(life.days, fresh, pace, [*self.happens, *self.turns])
        self.many, self.size = draws.buffer is not None, 1
        if draws.buffer is not None:
            self.size = len(draws.buffer)
        count = len(self.edges) - 1
        none: list[Any] = [0.0] * count
        self.forcing = Forcing(
            edges=self.edges,
            lengths=np.diff(self.edges).tolist(),
            air_c=[*none],
            rot_wet=[*none],
            nitrify_wet=[*none],
            lime_wet=[*none],
            sulfur_wet=[*none],
            drowned=[*none],
            demand_mg_l=[*none],
            waters=[Water()] * count,
            watered=np.diff(self.edges).tolist(),
            roots=[],
        )
        self.forcing.roots.extend([cast(Any, ())] * count)
        self.days = SoilDays(life)
        self.growing: list[Growing] = []
        self.regime, self.pot = Regime(), life.pot
        self.litres = life.pot.litres
        self.is_potted, self.aged_years = False, 0.0
        self.parts = [(rate_of(m), x) for m, x in soil.parts]
        self.mixed_parts = list(soil.parts)
        self.totals = Totals()
        self.followed = FollowedSoil(self.edges, {}, {}, [], [])

    def _is_strong(self, events: Sequence[Event]) -> bool:
        """Whether the pace starts anew: soil comes in, or lime, sulfur, acid by the tenth."""
        held = sum(c.litres * c.buffer for c in self.life.soil.heap.components)
        dosed = 0.0
        for event in events:
            if isinstance(event, PottedOn | Topped):
                return True
            if isinstance(event, Dressed):
                put_in = _put_in(event.material, event.grams / self.life.pot.litres, event.placed)
                dosed += put_in.limed_meq_l + put_in.dosed_acid_meq_l
                dosed += sum(acid for _, acid in put_in.strong)
        return dosed > STRONG_DOSE * held

    # The run -------------------------------------------------------------------------

    def run(self) -> FollowedSoil:
        """Follow the soil to its last day."""
        heap = self.life.soil.heap
        base = base_curve(heap, self.draws)
        self._plan_stretch(0, heap)
        self.stepper = SoilStepper(
            heap,
            self.forcing,
            self.draws,
            MANY if self.many else ONE,
            Solver(base, self.pace.nodes, self.pace.close),
        )
        self.stepper.hold(heap.litres, heap.capacity, heap.porosity)
        self._brought(self.life.soil, 0, 1.0)
        kept: dict[str, list[Any]] = {}
        for i in range(len(self.edges)):
            day = self.edges[i]
            if i:
                self._step(i - 1)
            if self._is_marked(day):
                self._do(int(day), i)
            for name, value in self._values().items():
                kept.setdefault(name, []).append(value)
            self._mark_grains()
        self.followed.values = {
            name: np.array(
                [np.broadcast_to(v, self.size) for v in line] if self.many else line, dtype=float
            )
            for name, line in kept.items()
        }
        return self.followed

    def _do(self, day: int, i: int) -> None:
        """Let a day's events act, then plan the steps to the next."""
        events = self.happens.get(day, [])
        if events:
            self.followed.before[day] = {"ph": self.stepper.ph, **self._values()}
        if day in self.ages:
            self._age(i)
        self._fall_of_leaves(day, i)
        for event in events:
            DEEDS[type(event)](self, event, i)
        if i < len(self.edges) - 1:
            self._plan_stretch(i, self.stepper.heap)

    def _plan_stretch(self, i: int, heap: Heap) -> None:
        """Fill in what the steps bring until something happens again."""
        end = i + 1
        while end < len(self.edges) - 1 and not self._is_marked(self.edges[end]):
            end += 1
        stretch = self.days.stretch(
            self.edges[i : end + 1], self.litres, self.pot, self.growing, self.regime
        )
        self._fill(slice(i, end), stretch, heap)
        self.followed.thirsty_days += stretch.thirsty_days
        self.ratios = stretch.ratios

    def _is_marked(self, day: float) -> bool:
        return day in self.happens or day in self.turns

    def _fill(self, at: slice, stretch: Stretch, heap: Heap) -> None:
        forcing = self.forcing
        capacity = self.stepper.capacity if self.is_potted else heap.capacity
        pores_all = self.stepper.porosity if self.is_potted else heap.porosity
        moist = np.clip(np.add.outer(stretch.moisture, np.asarray(self.draws.wetter)), DRIEST, 1.0)
        pores = moist * capacity / pores_all
        factors = (
            decay_by_moisture(moist),
            nitrifiers_by_moisture(moist),
            lime_by_water(pores),
            sulfur_by_water(pores),
            drowned_share(pores),
        )
        lists = [list(f) if moist.ndim > 1 else f.tolist() for f in factors]
        forcing.air_c[at] = stretch.air_c
        forcing.rot_wet[at], forcing.nitrify_wet[at] = lists[0], lists[1]
        forcing.lime_wet[at], forcing.sulfur_wet[at], forcing.drowned[at] = lists[2:]
        forcing.demand_mg_l[at] = stretch.wanted_mg_l
        forcing.waters[at] = stretch.waters
        forcing.roots[at] = [stretch.roots] * len(stretch.waters)
        if hasattr(self, "stepper"):
            biggest = self.stepper.x.largest
            self.stepper.is_drowned[at] = [biggest(d) > 0 for d in lists[4]]

    def _step(self, i: int) -> None:
        """Go on by one step, and keep the sums of the pot."""
        s, t = self.stepper, self.totals
        names = ("leached", "brought", "denitrified", "taken_up", "fixed")
        before = {name: getattr(s, name) for name in names}
        lost = s.chem.lost
        s.step(i)
        gone = {name: (getattr(s, name) - before[name]) * self.litres for name in names}
        wanted = self.forcing.demand_mg_l[i] * self.draws.uptake
        t.given = t.given + gone["brought"] + gone["fixed"]
        t.leached = t.leached + gone["leached"]
        t.lost = t.lost + gone["denitrified"] + (s.chem.lost - lost) * self.litres
        t.taken = t.taken + gone["taken_up"] + gone["fixed"]
        t.from_soil = t.from_soil + gone["taken_up"]
        t.standing = t.standing + gone["taken_up"] + gone["fixed"]
        t.wanted = t.wanted + wanted * self.litres
        if not self.many:
            self._post_step(i, float(gone["taken_up"]) / self.litres, float(wanted))

    def _post_step(self, i: int, taken: float, wanted: float) -> None:
        water, days = self.forcing.waters[i], self.forcing.lengths[i]
        brought = {e: water.brings(e) * days for e in water.ions_mg_l if "-N" not in e}
        drained = water.drained_l_per_l_day * days * float(np.mean(np.asarray(self.draws.drains)))
        alkaline = water.l_per_l_day * water.alkalinity_meq_l * days
        ratios = self.ratios

        def post(book: MineralBook, edge: int) -> None:
            book.release(edge)
            book.wash(brought, drained, alkaline)
            if wanted:
                book.take(ratios, taken, wanted, days)

        self.followed.postings.append((i, post, True))

    def _values(self) -> dict[str, Lane]:
        s, t = self.stepper, self.totals
        if self.many:
            return {
                "ph": s.ph,
                "ammonium_mg_l": s.chem.ammonium,
                "nitrate_mg_l": s.nitrate,
                "n_taken": t.taken,
            }
        return {
            **s.kept(),
            "litres": self.litres,
            "n_given": t.given,
            "n_taken": t.taken,
            "n_taken_from_soil": t.from_soil,
            "n_wanted": t.wanted,
            "n_leached": t.leached,
            "n_lost": t.lost,
            "n_held": self.stepper.nitrogen_held() * self.litres,
        }

    def _mark_grains(self) -> None:
        if self.many:
            return
        s = self.stepper
        self.followed.lime_shares.append(
            {
                sieved_key(g.day, g.sieves): float(x)
                for g, x in zip(s.solids, s.reacted_shares(), strict=True)
            }
        )
        self.followed.sulfur_shares.append(
            {
                sieved_key(g.day, g.sieves): float(x)
                for g, x in zip(s.sulfur_grains, s.eaten_shares(), strict=True)
            }
        )

    # What is done to it --------------------------------------------------------------

    def _post(self, i: int, posting: Posting) -> None:
        if not self.many:
            self.followed.postings.append((i, posting, False))

    def _brought(self, soil: MixedSoil, i: int, share: float, lay: Follower | None = None) -> None:
        """Count in a mix: its nitrogen, and its materials for the minerals."""
        whole = sum(n.total_mg_l for n in soil.heap.nitrogen)
        self.totals.given = self.totals.given + whole * share * self.litres
        if self.many:
            return
        got = (
            (float(lay.life.days), float(lay.stepper.tau), float(lay.stepper.tau_hot))
            if lay
            else (0.0, 0.0, 0.0)
        )
        for ingredient in soil.ingredients:
            self._supply(Comes(i, ingredient, share, 1.0, 1.0, *got))

    def _supply(self, comes: Comes) -> None:
        self.followed.supplies.append(comes)
        place = len(self.followed.supplies) - 1
        self._post(comes.at, lambda book, edge: book.bring(book.waiting[place], edge))

    def _into_pot(self, i: int) -> None:
        """Let a heap go into its pots, where it was not in them yet."""
        if not self.is_potted:
            self.is_potted = True
            self.potted_tau = self.stepper.tau
            self._hold(i)

    def _hold(self, i: int) -> None:
        """Reckon what water and air the soil holds in its pot."""
        structure = self._structure()
        s = self.stepper
        if structure is None:
            s.hold(self.litres, s.capacity, s.heap.porosity)
        else:
            s.hold(self.litres, structure.container_capacity, structure.total_porosity)
        capacity = s.capacity
        self._post(i, lambda book, _: book.hold(capacity))

    def _structure(self) -> Structure | None:
        try:
            whole = sum(x for _, x in self.mixed_parts)
            parts = [(m, x / whole) for m, x in self.mixed_parts]
            return structure_of(parts, self.life.soil.loss, self.pot.height_cm)
        except UnknownError:
            return None

    def _age(self, i: int) -> None:
        """Let what rotted in a year come down, and what it held stay."""
        years = float(np.mean(np.asarray(self.stepper.tau - self.potted_tau))) / YEAR_DAYS
        before = self._aged_by(self.aged_years)
        now = self._aged_by(years)
        self.aged_years = years
        left, rotted = now.volume / before.volume, 1 - (1 - now.rotted) / (1 - before.rotted)
        if left < 1 - 1e-9:
            self.stepper.shrink(left, rotted)
            self.litres *= left
            self._post(i, lambda book, _: book.shrink(left))

    def _aged_by(self, years: float) -> Aged:
        return aged(self.parts, years, air=UNKNOWN_AIR, porosity=UNKNOWN_PORES)

    def _planted(self, event: Planted, i: int) -> None:
        self._into_pot(i)
        self.growing.append(
            Growing.planted(event.crop, event.plants, event.vigour, event.day, self.days.weather)
        )
        if self.regime.where is not None or not self.regime.is_watered:
            self.regime = Regime(
                is_watered=True, litres_week=self.regime.litres_week, leaching=self.regime.leaching
            )

    def _watered(self, event: Watered, i: int) -> None:
        self._into_pot(i)
        self.regime = Regime(
            is_watered=True, litres_week=event.litres_week, leaching=event.leaching
        )

    def _rested(self, event: Rested, i: int) -> None:
        self._into_pot(i)
        self.regime = Regime(is_watered=True, where=event.where)

    def _dressed(self, event: Dressed, i: int) -> None:
        self._into_pot(i)
        rate = event.grams / self.litres
        if rate <= 0:
            return
        on_top = event.placed is Placed.ON_TOP
        put_in = _put_in(event.material, rate, event.placed)
        self.stepper.dress(put_in, pace=PACE_ON_TOP if on_top else 1.0)
        whole = organic_n(event.material, rate, is_bulk=False)
        if whole is not None:
            kept = sum(n.organic_mg_l for n in put_in.nitrogen)
            self.totals.given = self.totals.given + whole.total_mg_l * self.litres
            self.totals.lost = self.totals.lost + (whole.organic_mg_l - kept) * self.litres
        if not self.many:
            ingredient = MixIngredient(event.material, rate, False)
            self._supply(Comes(i, ingredient, 1.0, PACE_ON_TOP if on_top else 1.0))

    def _poured(self, event: Poured, i: int) -> None:
        self._into_pot(i)
        rate = event.g_per_l * event.litres / self.litres
        nitrogen = organic_n(event.material, rate, is_bulk=False) if rate > 0 else None
        given, drained = event.litres / self.litres, event.through * event.litres / self.litres
        nitrate = nitrogen.nitrate_mg_l if nitrogen else 0.0
        ammonium = nitrogen.ammonium_mg_l if nitrogen else 0.0
        base = nitrogen.base_at_once_meq_l if nitrogen else 0.0
        if nitrogen is not None and nitrogen.organic_mg_l > 0:
            organic = replace(nitrogen, ammonium_mg_l=0.0, nitrate_mg_l=0.0)
            put_in = replace(Heap(components=()), nitrogen=(organic,))
            self.stepper.dress(put_in, settles=False)
        self._through(given, drained, nitrate, ammonium, base)
        if nitrogen is not None:
            self.totals.given = self.totals.given + nitrogen.total_mg_l * self.litres
        minerals = {
            e: concentration_mg_l(rate, c.typ)
            for e, c in event.material.composition.items()
            if e in ("P", "K", "Ca", "Mg", "S", "Na", "Cl")
        }
        self._post(i, lambda book, _: book.add(minerals))
        self._post_water(i, given, drained)

    def _rinsed(self, event: Rinsed, i: int) -> None:
        self._into_pot(i)
        given = event.litres / self.litres
        self._through(given, given, 0.0, 0.0, 0.0)
        self._post_water(i, given, given)

    def _through(
        self, given: float, drained: float, nitrate: float, ammonium: float, base: float
    ) -> None:
        s = self.stepper
        leached, brought = s.leached, s.brought
        water = replace(self.life.water, l_per_l_day=given, leaching_fraction=1.0)
        s.pour(nitrate, ammonium, base, water, drained)
        self.totals.leached = self.totals.leached + (s.leached - leached) * self.litres
        self.totals.given = self.totals.given + (s.brought - brought) * self.litres

    def _post_water(self, i: int, given: float, drained: float) -> None:
        water = self.life.water
        brought = {e: given * c for e, c in water.ions_mg_l.items() if "-N" not in e}
        alkaline = max(given - drained, 0.0) * water.alkalinity_meq_l
        self._post(i, lambda book, _: book.wash(brought, drained, alkaline))

    def _harvested(self, event: Harvested, i: int) -> None:
        standing = self.totals.standing
        share: Lane = event.share if event.share is not None else 1.0
        if event.kg is not None:
            slug = event.crop.slug if event.crop else ""
            picked = event.kg * PICKED_N.get(slug, USUAL_PICKED_N) * MG
            there = self.stepper.x.most(standing, 1e-9)
            share = self.stepper.x.least(picked / there, 1.0)
        self.totals.standing = standing * (1 - share)
        if not self.many:
            off = float(share)
            self._post(i, lambda book, _: book.carry_off(off))

    def _cleared(self, event: Cleared, i: int) -> None:
        share = ROOTS_LEFT if event.roots_in else ROOTS_OUT
        legume = any(g.living.fixed for g in self.growing)
        kind = "green_meal"
        ratio = LEGUME_C_TO_N if legume else ROOTS_C_TO_N
        self._give_back(i, share, kind, ratio, dict.fromkeys(("P", "K", "Ca", "Mg", "S"), share))
        self.totals.standing = 0.0 * self.totals.standing
        self._post(i, lambda book, _: book.carry_off(1.0))
        self.growing = []
        if self.regime.where is None:
            self.regime = Regime(
                is_watered=self.regime.is_watered and not self.life.place.roof, litres_week=0.0
            )

    def _fall_of_leaves(self, day: int, i: int) -> None:
        """Let a perennial's leaves of the year come back, once a year has passed."""
        for g in self.growing:
            past = day - g.since
            if g.living.is_perennial and past > 0 and past % YEAR_DAYS == 0:
                half = 0.5 * g.living.fallen
                self._give_back(i, g.living.fallen, "leaf", LEAF_C_TO_N, {"K": half, "Ca": half})

    def _give_back(
        self, i: int, share: float, kind: str, ratio: float, minerals: dict[str, float]
    ) -> None:
        """Let a share of what stands come back: nitrogen to rot, minerals as they are."""
        back = share * self.totals.standing
        mean = float(np.mean(np.asarray(back))) / self.litres
        if mean <= 0:
            return
        kappa = sum(g.living.kappa for g in self.growing) / max(len(self.growing), 1)
        litter = OrganicN(
            kind, mean, mean * ratio, 0.0, 0.0, release_classes()[kind], kappa * mean / 14.007
        )
        self.stepper.dress(replace(Heap(components=()), nitrogen=(litter,)))
        # Of many draws each gives back the mean: the litter is one.
        self.totals.standing = self.totals.standing - back
        self.totals.taken = self.totals.taken - mean * self.litres
        self._post(i, lambda book, _: book.give_back(minerals))

    def _topped(self, event: Topped, i: int) -> None:
        self._into_pot(i)
        self._join(event.soil, event.litres, event.mixed_days, i)

    def _potted_on(self, event: PottedOn, i: int) -> None:
        self._into_pot(i)
        kept = min(event.kept_l, self.litres)
        cut = self.litres - kept
        self.totals.lost = self.totals.lost + cut * self.stepper.nitrogen_held()
        self._post(i, lambda book, edge: book.cut(cut, edge))
        self.litres, self.pot = kept, event.pot
        self._join(event.soil, max(event.pot.litres - kept, 0.0), event.mixed_days, i)

    def _join(self, soil: MixedSoil, litres: float, days: int, i: int) -> None:
        """Mix another soil into what is there, per litre by their litres; it lay for some days."""
        if litres <= 0:
            self._hold(i)
            return
        whole = self.litres + litres
        mine, theirs = self.litres / whole, litres / whole
        draws = self._draws_for(soil)
        lay = self._as_it_lay(soil, days, draws) if days else None
        if lay is not None:
            other = lay.stepper
        else:
            other = SoilStepper(
                soil.heap,
                self.forcing,
                draws,
                self.stepper.x,
                Solver(base_curve(soil.heap, draws), self.pace.nodes, self.pace.close),
            )
            other.warmth = self.stepper.warmth
        self.stepper.join(other, mine, theirs)
        self.litres = whole
        self.parts = [(k, x * mine) for k, x in self.parts]
        self.parts += [(rate_of(m), x * theirs) for m, x in soil.parts]
        self.mixed_parts = [(m, x * mine) for m, x in self.mixed_parts]
        self.mixed_parts += [(m, x * theirs) for m, x in soil.parts]
        salts = pore_salts(soil.heap, soil.parts, soil.loss)

        def post(book: MineralBook, _: int) -> None:
            book.scale(mine)
            book.litres = whole
            book.join(salts, theirs, soil.mineral)

        self._post(i, post)
        self._brought(soil, i, theirs, lay)
        if lay is not None:
            self.totals.lost = self.totals.lost + lay.totals.lost * litres / lay.litres
        self._hold(i)

    def _as_it_lay(self, soil: MixedSoil, days: int, draws: Draws) -> Follower:
        """Follow the other soil in its heap until it is joined."""
        day = int(self.stepper.day)
        heap = Life(
            soil=soil,
            mixed_on=self.life.mixed_on + timedelta(days=day - days),
            days=days,
            pot=replace(self.life.pot, litres=soil.heap.litres),
            place=self.life.place,
        )
        lay = Follower(heap, self.pace, draws)
        lay.run()
        return lay

    def _draws_for(self, soil: MixedSoil) -> Draws:
        if not self.many:
            return self.draws
        # New material is drawn anew by its place; the old keeps its row.
        fresh = draws_of(soil.heap, self.size)
        return replace(self.draws, buffer=fresh.buffer, ph=fresh.ph)

    def _read(self, event: Read, i: int) -> None:
        """Leave the soil as it is: a reading moves only what is believed."""


def _put_in(material: Material, g_per_l: float, placed: Placed) -> Heap:
    """Return what a dressing is, by itself: also of compost and castings their food."""
    on_top = placed is Placed.ON_TOP
    if material.acidity_role == "bulk":
        nitrogen = organic_n(material, g_per_l, is_bulk=True, on_top=on_top)
        return replace(Heap(components=()), nitrogen=(nitrogen,) if nitrogen else ())
    return with_doses(
        Heap(components=()), [(material, g_per_l)], contact=CONTACT[placed], on_top=on_top
    )


DEEDS: dict[type[Event], Callable[[Follower, Any, int], None]] = {
    Read: Follower._read,
    Harvested: Follower._harvested,
    Cleared: Follower._cleared,
    PottedOn: Follower._potted_on,
    Topped: Follower._topped,
    Dressed: Follower._dressed,
    Rinsed: Follower._rinsed,
    Poured: Follower._poured,
    Rested: Follower._rested,
    Watered: Follower._watered,
    Planted: Follower._planted,
}
LEAF_C_TO_N = 45.0
