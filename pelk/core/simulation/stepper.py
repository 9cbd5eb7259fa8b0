"""One course under way: its state, and the step that everything goes through.

What does not ask for the pH (rotting, washing out, uptake, warmth) is done first;
then the pH of the step's end is the root of ``q - Q^-1(net_base(q))``, in which lime,
sulfur, nitrifiers, water and acids all see the pH on the way there.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.acids import FADES_PER_DAY, equivalents_of_weak_acid
from pelk.core.acid_base.buffering import CALCITE_PH, OWN_PH_FLOOR
from pelk.core.acid_base.water import Water
from pelk.core.base.arithmetic import ONE, Arithmetic, Lane, Stack
from pelk.core.base.elements import ATOMIC_MASS
from pelk.core.release.grains import FIRST_MM, WEAR_STEP, reacted_curve
from pelk.core.release.microbes import decomposer_start, nitrifier_start, sulfur_start
from pelk.core.release.organic_nitrogen import RESPIRED, release_curves
from pelk.core.release.processes import (
    AMMONIUM_HELD,
    NITRIFIER_GROWTH_D,
    NITRIFY_MG_L_D,
    denitrified,
    gain,
    leached,
    nitrify,
    skin_of,
    take_up,
    warm_up,
)
from pelk.core.release.rate_factors import (
    DECOMPOSER_GROWTH_D,
    REFERENCE_PH,
    by_ph,
    by_temperature,
    grow,
)
from pelk.core.salts.water_ions import mean_stay
from pelk.core.simulation.cohorts import USUAL_ROOTS, Cohort, Grains, Roots
from pelk.core.simulation.heap import Heap, Solid, SulfurGrains
from pelk.core.simulation.initial_state import INHIBITED, SILICATE_PER_YEAR

Floats = NDArray[np.float64]

# Retreat of calcite at pH 5 and 25 °C; oxidation of sulfur on its surface.
CALCITE_UM_D = 2.0
SULFUR_UG_CM2_D, SULFUR_G_CM3, SULFUR_GROWTH_D = 30.0, 2.07, 0.15
# Grains this slow are dolomite, and slow further as acid gives out.
DOLOMITE_RATE = 0.6
# Peat and bark rot more slowly in acid.
ACID_SLOWS_PH, ACID_SLOWS = 5.5, 0.7
# Carbonate that fell out of the water is fine.
PRECIPITATE_MM = 0.02
# Rates of a step are taken this far along it.
AHEAD = 0.6
MOST_TRIES = 30
LN_10 = 2.302585092994046
LEAST_CAPACITY = 0.05
# Water is refused at the rest pH of carbonate: what `by_ph` counts beside its reference.
WATER_REST = 10.0 ** (REFERENCE_PH - CALCITE_PH)


@dataclass(frozen=True, slots=True)
class Forcing:
    """What each step brings from outside: lists over steps, of floats or of arrays.

    Attributes
    ----------
    edges, lengths : array, list
        Days at which steps begin and end; how long each is. [d]
    air_c : list
        Air. [°C]
    rot_wet, nitrify_wet, lime_wet, sulfur_wet, drowned : list
        Factors of moisture. [-]
    demand_mg_l : list
        Nitrogen that crops want in the step. [mg/L]
    waters, watered : list
        What it is watered with in the step, and for how much of it. [-], [d]
    roots : list of Roots
        Of what grows in the step; empty where it is the usual.
    """

    edges: Floats
    lengths: list[float]
    air_c: list[Lane]
    rot_wet: list[Lane]
    nitrify_wet: list[Lane]
    lime_wet: list[Lane]
    sulfur_wet: list[Lane]
    drowned: list[Lane]
    demand_mg_l: list[float]
    waters: list[Water]
    watered: list[float]
    roots: list[Roots] = field(default_factory=list)


class Chemistry(NamedTuple):
    """The part of the state that sees the pH within a step."""

    ammonium: Lane
    nitrifiers: Lane
    nitrified: Lane
    lost: Lane
    free_ammonia: Lane
    worn: Any
    lime: Lane
    carbonate: Lane
    eaten: Any
    sulfur: Lane
    watered: Lane
    precipitated: Lane
    apatite: Lane
    acids: Lane


class Stepper:
    """A heap going through time.

    Parameters
    ----------
    heap : Heap
        What lies there.
    forcing : Forcing
        What comes from outside.
    draws : Draws
        Factors on what is not known.
    x : Arithmetic
        Floats or arrays.
    ph_of : callable
        The pH at which the curve of the blend holds a net base.
    close : float
        How close the pH of a step is found. [pH]
    """

    def __init__(
        self,
        heap: Heap,
        forcing: Forcing,
        draws: Any,
        x: Arithmetic,
        ph_of: Callable[[Lane], Lane],
        close: float,
    ) -> None:
        self.heap, self.forcing, self.draws, self.x = heap, forcing, draws, x
        self.ph_of, self.close = ph_of, close
        organic = sum(n.organic_mg_l for n in heap.nitrogen)
        self.cohorts = [Cohort(release_curves(heap.nitrogen), organic_mg=organic)]
        self.strong, self.weak = list(heap.strong), list(heap.weak)
        self.silicates = [(heap.silicate_meq_l, 0.0)]
        self.start_base, self.inhibited_until = heap.start_base_meq_l, heap.inhibited_days
        self.apatites = [(piece, self.cohorts[0]) for piece in heap.apatites]
        self._lay_grains(self._grains_of(heap))
        self._lay_sulfurs([(s, s.acid_meq_l + 0.0 * draws.lime, 0.0) for s in heap.sulfurs])
        self.skin = skin_of(heap.litres) * draws.heat
        self.capacity = max(heap.capacity, LEAST_CAPACITY)
        self.is_drowned = [x.largest(d) > 0 for d in forcing.drowned]
        self._begin()

    def _grains_of(self, heap: Heap) -> list[Grains]:
        """Return limes and free carbonates with what draws make of them."""
        draws = self.draws
        return [
            Grains(
                s,
                s.base_meq_l * (draws.cce if s.is_lime else draws.carbonate),
                # 10 ^ (8 - rest): times 10 ^ (pH - 8) it says how near rest is.
                10.0 ** (REFERENCE_PH - self._rest_of(s)),
                0.0,
            )
            for s in heap.solids
        ]

    def _lay_grains(self, grains: Sequence[Grains]) -> None:
        """Stack limes, then free carbonates: grains that wear, each at its own pace."""
        laid = sorted(grains, key=lambda g: not g.solid.is_lime)
        self.solids = solids = [g.solid for g in laid]
        self.limes = sum(s.is_lime for s in solids)
        self.grains = Stack(
            [reacted_curve(s.sieves, s.rate * s.contact) for s in solids], WEAR_STEP
        )
        self.grain_days = [s.day for s in solids]
        self.grain_base = self._rows([g.base_meq_l for g in laid])
        self.grain_rest = self._rows([g.rest for g in laid])
        self.grain_slows = self._rows([float(s.rate <= DOLOMITE_RATE) for s in solids])
        self.worn_start = self._rows([g.worn for g in laid])

    def _lay_sulfurs(self, laid: Sequence[tuple[SulfurGrains, Lane, Lane]]) -> None:
        """Stack sulfurs: what each is, its acid, and what it has lost."""
        self.sulfur_grains = [s for s, _, _ in laid]
        self.sulfurs = Stack([reacted_curve(s.sieves) for s in self.sulfur_grains], WEAR_STEP)
        self.sulfur_acid = self._rows([acid for _, acid, _ in laid])
        self.eaten_start = self._rows([eaten for _, _, eaten in laid])

    def _rest_of(self, solid: Solid) -> Lane:
        shift = self.draws.ph
        if solid.part is None or shift is None:
            return solid.saturation_ph
        own = self.heap.components[solid.part].ph + shift[:, solid.part]
        return np.minimum(CALCITE_PH, np.maximum(own, OWN_PH_FLOOR))

    def _rows(self, values: Sequence[Lane]) -> Any:
        """Return a list for floats, an array with a row for each value for draws."""
        if self.x is ONE:
            return list(values)
        size = np.shape(self.draws.buffer)[0]
        rows = [np.broadcast_to(np.asarray(v), size) for v in values]
        return np.array(rows) if rows else np.zeros((0, size))

    def _begin(self) -> None:
        heap, draws, x = self.heap, self.draws, self.x
        self.day = 0.0
        self.warmth = self.forcing.air_c[0] + draws.warmer_c
        self.over_air: Lane = 0.0
        self.decomposers: Lane = decomposer_start(heap.inoculum)
        self.bacteria: Lane = sulfur_start(heap.sulfur_microbes)
        self.nitrate: Lane = sum(n.nitrate_mg_l for n in heap.nitrogen)
        # Net base of nitrogen and meals.
        self.nitrogen: Lane = sum(n.base_at_once_meq_l for n in heap.nitrogen)
        nil = self._rows([0.0])[0]
        self.tau: Lane = nil
        self.tau_hot: Lane = nil
        self.fading: Lane = nil
        self.unmet_n: Lane = 0.0
        self.leached: Lane = 0.0
        self.brought = 0.0
        self.denitrified: Lane = 0.0
        self.breathed_mg_l_d: Lane = 0.0
        self.taken_up: Lane = 0.0
        self.fixed: Lane = 0.0
        self.released = self._released()
        self.fade_marks: dict[float, Lane] = {0.0: 0.0}
        self.silicate = 0.0
        self.trend: Lane = 0.0
        start = nitrifier_start(heap.inoculum) * draws.nitrifiers
        self.chem = Chemistry(
            ammonium=sum(n.ammonium_mg_l for n in heap.nitrogen),
            nitrifiers=x.least(x.most(start, 1e-4), 1.0),
            nitrified=0.0,
            lost=0.0,
            free_ammonia=0.0,
            worn=self.worn_start,
            lime=0.0,
            carbonate=0.0,
            eaten=self.eaten_start,
            sulfur=0.0,
            watered=0.0,
            precipitated=0.0,
            apatite=0.0,
            acids=self._acids(7.0),
        )
        self.ph = self.ph_of(self._net_base(self.chem) + 0.0 * draws.lime)
        for _ in range(40 if self.weak else 0):
            self.chem = self.chem._replace(acids=self._acids(self.ph))
            self.ph = 0.5 * (self.ph + self.ph_of(self._net_base(self.chem)))

    # One step ------------------------------------------------------------------------

    def step(self, i: int) -> None:
        """Go on by one step."""
        x, forcing = self.x, self.forcing
        days = forcing.lengths[i]
        self.day = float(forcing.edges[i + 1])
        warm = x.rows(by_temperature(), self.warmth)
        self.fading = self.fading + warm[0] * forcing.rot_wet[i] * days
        tau_before = self.tau
        self._rot(i, days, warm)
        if self.is_drowned[i]:
            self._denitrify(i, days)
        self._wash_and_feed(i, days)
        self.silicate = sum(
            meq_l * -float(np.expm1(-SILICATE_PER_YEAR * (self.day - day) / 365))
            for meq_l, day in self.silicates
        )
        self._solve(self._paces(i, days, warm), self._apatite_steps(tau_before))

    def _rot(self, i: int, days: float, warm: Any) -> None:
        """Release and tie up nitrogen, and warm the heap with what is breathed out."""
        x, before = self.x, self.released
        growth = DECOMPOSER_GROWTH_D * warm[0] * days
        self.decomposers, area = grow(x, self.decomposers, growth)
        live = self.forcing.rot_wet[i] * self.draws.decay * area / (growth + 1e-12) * days
        if self.heap.is_woody:
            sweet = x.most(x.least((self.ph - ACID_SLOWS_PH) * 5 + 0.5, 1.0), 0.0)
            live = live * (ACID_SLOWS + (1 - ACID_SLOWS) * sweet)
        self.tau = self.tau + warm[0] * live
        self.tau_hot = self.tau_hot + warm[1] * live
        self.released = now = self._released()
        ammonium, self.nitrate, self.unmet_n, base_meq = gain(
            x,
            self.chem.ammonium,
            self.nitrate,
            self.unmet_n,
            now[0] + now[1] - before[0] - before[1],
        )
        self.chem = self.chem._replace(ammonium=ammonium)
        self.nitrogen = self.nitrogen + base_meq + now[3] - before[3]
        air = self.forcing.air_c[i] + self.draws.warmer_c
        breathed_mg_l = RESPIRED * (now[2] - before[2])
        self.breathed_mg_l_d = breathed_mg_l / days
        self.warmth = warm_up(
            x,
            self.warmth,
            air,
            breathed_g_l=breathed_mg_l / 1000,
            days=days,
            litres=self.heap.litres,
            skin_w_k=self.skin,
        )
        self.over_air = self.warmth - air

    def _released(self) -> list[Lane]:
        """Return what has come free so far: the columns of `ReleaseCurves`."""
        first, *later = [self._released_of(cohort) for cohort in self.cohorts]
        for more in later:
            first = [a + b for a, b in zip(first, more, strict=True)]
        return first

    def _released_of(self, cohort: Cohort) -> list[Lane]:
        """Return what has come free of one cohort."""
        x = self.x
        tau, tau_hot = cohort.clocks(self.tau, self.tau_hot)
        cold = x.rows(cohort.curves.cold, x.log1p(tau))
        if not cohort.has_hot:
            return [cohort.share * a for a in cold]
        hot = x.rows(cohort.curves.hot, x.log1p(tau_hot))
        return [cohort.share * (a + b) for a, b in zip(cold, hot, strict=True)]

    def _denitrify(self, i: int, days: float) -> None:
        """Let drowned nitrate go off as gas; it takes acid with it."""
        gone = denitrified(
            self.x,
            self.nitrate,
            days=days,
            warmth_c=self.warmth,
            drowned=self.forcing.drowned[i],
            breathed_mg_l_d=self.breathed_mg_l_d,
        )
        self.nitrate = self.nitrate - gone
        self.denitrified = self.denitrified + gone
        self.nitrogen = self.nitrogen + gone / ATOMIC_MASS["N"]

    def _wash_and_feed(self, i: int, days: float) -> None:
        """Let water carry off and the crop take up, in this order."""
        x, ammonium = self.x, self.chem.ammonium
        water, watered = self.forcing.waters[i], self.forcing.watered[i]
        drained = water.drained_l_per_l_day * watered
        wanted = self.forcing.demand_mg_l[i]
        brought = water.brings("NO3-N", "NH4-N") * watered
        if not drained and not wanted and not brought:
            return
        if drained or brought:
            drained = drained * self.draws.drains
            nitrate, ammonium = self._drain(water, watered, drained, ammonium)
            self.nitrate = nitrate
        if wanted:
            roots = self.forcing.roots[i] if self.forcing.roots else USUAL_ROOTS
            of_it, nitrate, base_meq = take_up(
                x,
                ammonium,
                self.nitrate,
                wanted * self.draws.uptake,
                roots.kappa + self.draws.kappa,
                roots.ammonium_first,
            )
            self.nitrate, ammonium = self.nitrate - nitrate, ammonium - of_it
            self.taken_up = self.taken_up + nitrate + of_it
            self.nitrogen = self.nitrogen + base_meq
            if roots.fixed:
                fixed = roots.fixed * (nitrate + of_it)
                self.fixed = self.fixed + fixed
                self.nitrogen = self.nitrogen - roots.kappa * fixed / ATOMIC_MASS["N"]
        self.chem = self.chem._replace(ammonium=ammonium)

    def _drain(self, water: Water, days: float, drained: Lane, ammonium: Lane) -> tuple[Lane, Lane]:
        """Return nitrate and ammonium once the step's water has come and gone."""
        x = self.x
        left = []
        for amount, ion, held_back in (
            (self.nitrate, "NO3-N", 1.0),
            (ammonium, "NH4-N", AMMONIUM_HELD),
        ):
            held_l_l = self.capacity * held_back
            brought = water.brings(ion) * days
            kept = brought * self._mean_stay(drained / held_l_l)
            lost = leached(x, amount, drained, held_l_l) + brought - kept
            left.append(amount - lost + brought)
            self.leached = self.leached + lost
            self.brought = self.brought + brought
        return left[0], left[1]

    def _mean_stay(self, pores: Lane) -> Lane:
        """Return the share that stays of what comes evenly while water drains."""
        if self.x is ONE:
            return mean_stay(float(pores))
        some = self.x.most(pores, 1e-12)
        return -self.x.expm1(-some) / some

    def _paces(self, i: int, days: float, warm: Any) -> dict[str, Any]:
        """Return how far each process would go in the step at its reference pH."""
        forcing, draws = self.forcing, self.draws
        growth = SULFUR_GROWTH_D * warm[4] * forcing.sulfur_wet[i] * days
        self.bacteria, active = grow(self.x, self.bacteria, growth)
        eaten = 2e-5 * SULFUR_UG_CM2_D / SULFUR_G_CM3 / SULFUR_GROWTH_D
        inhibited = forcing.edges[i] < self.inhibited_until
        most = NITRIFY_MG_L_D * (INHIBITED if inhibited else 1.0)
        return {
            "days": days,
            "watered": forcing.watered[i],
            "water": forcing.waters[i],
            "grains_on": self._begun(self.grain_days, i),
            "sulfur_on": self._begun(
                [s.day for s in self.sulfur_grains], i, [s.pace for s in self.sulfur_grains]
            ),
            "lime": 2e-3 * CALCITE_UM_D * draws.lime * warm[3] * forcing.lime_wet[i] * days,
            "sulfur": eaten * draws.sulfur * active,
            "nitrify": warm[2] * forcing.nitrify_wet[i] * days,
            "most": most * draws.nitrify,
            "growth": NITRIFIER_GROWTH_D * draws.growth,
            "ammonia": warm[5],
        }

    def _begun(self, days: Sequence[float], i: int, paces: Sequence[float] = ()) -> Any:
        """Return the pace of what lies in the mix when step `i` begins, 0 of what comes later."""
        now = float(self.forcing.edges[i]) + 1e-9
        on = [1.0 if day <= now else 0.0 for day in days]
        if paces:
            on = [begun * pace for begun, pace in zip(on, paces, strict=True)]
        return on if self.x is ONE else np.array(on)[:, None]

    def _apatite_steps(self, tau_before: Lane) -> list[tuple[Lane, float, float]]:
        """Return base that each apatite would give in the step, were it not for pH."""
        x, steps = self.x, []
        for piece, cohort in self.apatites:
            form = piece.release
            before = cohort.clocks(tau_before, self.tau_hot)[0]
            now = cohort.clocks(self.tau, self.tau_hot)[0]
            gone = x.exp(-form.base_k * before) - x.exp(-form.base_k * now)
            mmol = piece.phosphorus_mg_l * cohort.share * form.most * gone / ATOMIC_MASS["P"]
            steps.append((form.base_meq_per_mmol * mmol, form.slope, form.ph_mid))
        return steps

    def _solve(self, pace: dict[str, Any], apatite: Sequence[tuple[Lane, float, float]]) -> None:
        """Find the pH of the step's end, bracketed."""
        x, p, start, base_meq = self.x, self.ph, self.chem, self.nitrogen

        def at(q: Lane) -> tuple[Lane, Chemistry]:
            chem = self._chemistry(p + AHEAD * (q - p), q, start, pace, apatite)
            return q - self.ph_of(self._net_base(chem)), chem

        # Where the last step was heading; the root lies between any q and Q^-1(net_base(q)).
        a = p + self.trend * pace["days"]
        miss_a, chem = at(a)
        c, miss_c = a, miss_a
        if x.largest(miss_a) >= self.close:
            c = b = a - miss_a
            miss_b, chem = at(b)
            miss_c = miss_b
            for _ in range(MOST_TRIES):
                if x.largest(miss_c) < self.close:
                    break
                slope = miss_b - miss_a
                flat = abs(slope) < 1e-14
                c = x.where(flat, b, b - miss_b * (b - a) / x.where(flat, 1.0, slope))
                miss_c, chem = at(c)
                # Illinois: the end that stays counts half the next time.
                crossed = miss_c * miss_b < 0
                a = x.where(crossed, b, a)
                miss_a = x.where(crossed, miss_b, miss_a * 0.5)
                b, miss_b = c, miss_c
        self.ph, self.chem = c - miss_c, chem
        self.trend = (self.ph - p) / pace["days"]
        turned, gone = chem.nitrified - start.nitrified, chem.lost - start.lost
        self.nitrate = self.nitrate + turned
        self.nitrogen = base_meq - (2 * turned + gone) / ATOMIC_MASS["N"]

    def _chemistry(
        self,
        ph: Lane,
        end_ph: Lane,
        start: Chemistry,
        pace: dict[str, Any],
        apatite: Sequence[tuple[Lane, float, float]],
    ) -> Chemistry:
        """Return where the step leads if the pH on the way is `ph`."""
        x = self.x
        by = x.rows(by_ph(), ph)
        left, nitrifiers, turned, lost, free = nitrify(
            x,
            start.ammonium,
            start.nitrifiers,
            days=float(pace["days"]),
            speed=pace["nitrify"] * by[2],
            most=pace["most"],
            growth=pace["growth"],
            ammonia=1 / (1 + pace["ammonia"] / by[4]),
            solution_l_l=self.capacity * AMMONIUM_HELD,
        )
        worn, lime, carbonate = self._dissolve(start.worn, pace, by)
        eaten, sulfur = start.eaten, start.sulfur
        if self.sulfur_grains:
            eaten, sulfur = self._oxidise(start.eaten, pace["sulfur_on"], pace["sulfur"] * by[1])
        watered, fallen = start.watered, start.precipitated
        if pace["watered"] and pace["water"].l_per_l_day and pace["water"].alkalinity_meq_l:
            watered, fallen = self._water(start, pace, by)
        base = start.apatite
        for most, slope, middle in apatite:
            base = base + most / (1 + x.exp(LN_10 * slope * (ph - middle)))
        return Chemistry(
            left,
            nitrifiers,
            start.nitrified + turned,
            start.lost + lost,
            free,
            worn,
            lime,
            carbonate,
            eaten,
            sulfur,
            watered,
            fallen,
            base,
            self._acids(end_ph),
        )

    def _dissolve(self, worn: Any, pace: dict[str, Any], by: Any) -> tuple[Any, Lane, Lane]:
        """Return the diameters lost, and the base of limes and of carbonates so far."""
        x, retreat, near, slowed = self.x, pace["lime"] * by[0], by[4], by[5] - 1
        if not self.solids:
            return worn, 0.0, 0.0
        worn = x.each(
            lambda lost, rest, on, slows: (
                lost + on * retreat * (1 + slows * slowed) * x.most(1 - near * rest, 0.0)
            ),
            worn,
            self.grain_rest,
            pace["grains_on"],
            self.grain_slows,
        )
        base = self._reacted(self.grains, worn, self.grain_base)
        return worn, x.total(base[: self.limes]), x.total(base[self.limes :])

    def _oxidise(self, eaten: Any, started: Any, more: Lane) -> tuple[Any, Lane]:
        """Return the diameters eaten, and the acid of all sulfur so far."""
        eaten = self.x.each(lambda lost, on: lost + on * more, eaten, started)
        acid = self._reacted(self.sulfurs, eaten, self.sulfur_acid)
        return eaten, self.x.total(acid)

    def _reacted(self, stack: Stack, worn: Any, meq_l: Any) -> Any:
        """Return what grains that have lost a diameter have given. [meq/L]."""
        x = self.x
        place = x.each(lambda lost: x.log1p(lost / FIRST_MM), worn)
        return x.each(lambda share, all_of_it: share * all_of_it, x.read(stack, place), meq_l)

    def _water(self, start: Chemistry, pace: dict[str, Any], by: Any) -> tuple[Lane, Lane]:
        """Add the alkalinity of the water; what the pH refuses falls out as carbonate."""
        x, water = self.x, pace["water"]
        alkalinity = water.alkalinity_meq_l * self.draws.alkalinity
        given = water.l_per_l_day * pace["watered"]
        leaves = x.least(water.leaching_fraction * self.draws.drains, 1.0)
        drained = leaves * x.least(alkalinity, by[3])
        base = given * (alkalinity - drained)
        taken = x.most(1 - by[4] * WATER_REST, 0.0)
        lost = 3 * pace["lime"] * by[0] * taken / PRECIPITATE_MM
        again = start.precipitated * -x.expm1(-lost)
        return (
            start.watered + base * taken + again,
            start.precipitated + base * (1 - taken) - again,
        )

    def _acids(self, ph: Lane) -> Lane:
        """Return the acid of mineral acids and of what is left of the fading ones."""
        total: Lane = sum(acid for day, acid in self.strong if day <= self.day + 1e-9)
        for day, name, amount in self.weak:
            if day <= self.day + 1e-9:
                mark = self.fade_marks.setdefault(day, self.fading)
                # Known at 25 °C; rate-days count from 22.
                rate = FADES_PER_DAY[name] / 2**0.3
                left = amount * self.x.exp(-rate * (self.fading - mark))
                total = total + left * equivalents_of_weak_acid(name, ph, self.x)
        return total

    def _net_base(self, chem: Chemistry) -> Lane:
        """Return the net base of the mix. [meq/L]."""
        turned = chem.nitrified - self.chem.nitrified if self.day else 0.0
        lost = chem.lost - self.chem.lost if self.day else 0.0
        return (
            self.start_base
            + chem.lime
            + chem.carbonate
            + self.nitrogen
            - (2 * turned + lost) / ATOMIC_MASS["N"]
            + chem.watered
            + chem.apatite
            + self.silicate
            - chem.sulfur
            - chem.acids
        )

    def kept(self) -> dict[str, Lane]:
        """Return the state, by the names that a trace keeps."""
        chem, released = self.chem, self.released
        return {
            "ph": self.ph,
            "temperature_c": self.warmth,
            "over_air_c": self.over_air,
            "ammonium_mg_l": chem.ammonium,
            "nitrate_mg_l": self.nitrate,
            "free_ammonia_mg_l": chem.free_ammonia,
            "nitrified_mg_l": chem.nitrified,
            "lost_to_air_mg_l": chem.lost,
            "leached_mg_l": self.leached,
            "brought_by_water_mg_l": self.brought,
            "denitrified_mg_l": self.denitrified,
            "taken_up_mg_l": self.taken_up,
            "hungry_mg_l": self.unmet_n,
            "fixed_mg_l": self.fixed,
            "given_by_doses_mg_l": released[0],
            "given_by_parts_mg_l": released[1],
            "fast_left_mg_l": released[4],
            "rate_days": self.tau,
            "rate_days_hot": self.tau_hot,
            "lime_meq_l": chem.lime,
            "carbonate_meq_l": chem.carbonate,
            "sulfur_meq_l": chem.sulfur,
            "nitrogen_meq_l": self.nitrogen,
            "water_meq_l": chem.watered,
            "precipitated_meq_l": chem.precipitated,
            "rock_meq_l": chem.apatite + self.silicate,
            "acids_meq_l": chem.acids,
            "nitrifiers": chem.nitrifiers,
        }
