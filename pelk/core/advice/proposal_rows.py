"""The rows and columns of a proposal: what is wanted, and what a gram of each thing brings.

Everything is linear; where the judge finds a fault, the sides of the rows are drawn in.
"""

from collections.abc import Mapping, Sequence
from dataclasses import replace

import numpy as np

from pelk.core.acid_base.contributions import ions_meq, lasting_meq_per_g
from pelk.core.advice.goal import Goal
from pelk.core.advice.grades import Finding, Grade, Kind
from pelk.core.advice.judged_supply import needs_of, reaches_of
from pelk.core.advice.judgement import Judgement
from pelk.core.advice.vetoes import not_as_remedy
from pelk.core.base.errors import UnknownError
from pelk.core.base.integer_programme import Row, Variable
from pelk.core.crops.demand import supply_to_plan
from pelk.core.crops.groups import Crop
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.cost import Package
from pelk.core.materials.material import Material
from pelk.core.materials.totals import MixIngredient
from pelk.core.plans.plan import Plan
from pelk.core.salts.salts import MEQ_PER_DS, PASTE_L_L
from pelk.core.simulation.availability import ELEMENTS, IONS, Times, available
from pelk.core.simulation.forecast import Forecast

# Share of a season's uptake that the mix itself must bring, by intensity; the rest is fed.
IN_THE_MIX = {0: 0.0, 1: 0.7, 2: 0.5, 3: 0.4}
EC_DAY = 30
LEAST_G_L, LEAST_G = 0.1, 5.0
# A season longer than a year is fed anew.
LONGEST_SEASON_DAYS = 365
SLACK_PH, SLACK_EC = 0.03, 0.02
# Of what a season needs, where the judge found an element short.
AIMED_SHARE, MOST_STEP = 0.97, 0.5
# A pH is aimed at inside its band, so that it is there soon and most lots are. [pH]
INSIDE_PH = 0.2
PH_KINDS = (Kind.PH_LOW, Kind.PH_HIGH, Kind.PH_KEEPS_FALLING, Kind.PH_KEEPS_RISING)
DOSED_ROLES = frozenset(["dose"])
# Counted in full where the wanted pH dissolves them.
SOLID_DRIVERS = frozenset(["lime", "carbonate in the parts"])
# Never proposed unless asked for by name: restricted, poisonous or weighed to a tenth.
ASKED_FOR = frozenset(["not-allowed", "borax", "nitrate-salt", "castor", "lime-hydrated"])
UNKNOWN_PRICE_G = 1e-3


class Desk:
    """Rows and columns of one proposal."""

    def __init__(
        self,
        plan: Plan,
        base: Evaluation,
        ahead: Forecast,
        goal: Goal,
        packages: Mapping[str, Package],
        shelf: Mapping[str, Material],
    ) -> None:
        self.shelf = shelf
        self.plan, self.base, self.ahead, self.goal = plan, base, ahead, goal
        self.packages, self.crop = packages, base.crop
        self.day = int(min(self.crop.season_days, ahead.line.days, LONGEST_SEASON_DAYS))
        self.volume = base.volumes.mixed_l
        self.notes: list[str] = []

    def band(self, name: str) -> tuple[float, float]:
        """Return the sides of a wish: the goal's, the school's, or else the crop's."""
        low, high = crop_band(self.crop, name, self.base.ph_band)
        style = self.goal.style.defaults.bands.get(name)
        if style is not None:
            # A school moves the sides it names and leaves the other to the crop.
            high = high if style[1] is None else min(high, style[1])
            low = min(low, high) if style[0] is None else style[0]
        given = self.goal.targets.get(name)
        if given is not None:
            low = -np.inf if given[0] is None else given[0]
            high = np.inf if given[1] is None else given[1]
        return low, high

    def rows(self) -> list[Row]:
        """Return what is wanted, with what the parts and fixed doses bring."""
        limits = []
        for element in ELEMENTS:
            low, high = self.band(element)
            limits.append(
                Row(
                    name=element,
                    low=low,
                    high=high,
                    base=self.ahead.free_at(element, self.day),
                    scale=self.crop.uptake_mg_l[element],
                )
            )
        acidity = self.base.acidity
        if acidity is None:
            raise UnknownError(self.base.acidity_problem, "bulk")
        low, high = self.band("pH")
        if np.isfinite(low) and np.isfinite(high):
            inside = min(INSIDE_PH, (high - low) / 3)
            low, high = low + inside, high - inside
        curve = acidity.curve
        limits.append(
            Row(
                name="pH",
                low=curve.base_at(low) if np.isfinite(low) else -np.inf,
                high=curve.base_at(high) if np.isfinite(high) else np.inf,
                base=self._base_to_be(high),
                scale=curve.capacity_at(low if np.isfinite(low) else 5.5),
            )
        )
        most = self.band("salts")[1]
        now = float(self.ahead.ec[EC_DAY])
        limits += [
            Row(name=name, high=most, base=now, scale=1.0) for name in ("salts", "salts (cations)")
        ]
        return limits

    def _base_to_be(self, ph: float) -> float:
        """Return the net base of parts and fixed doses once solids below a pH are gone."""
        end = min(self.ahead.days, self.ahead.line.days)
        moved = sum(d.at(end) for d in self.ahead.drivers if d.name not in SOLID_DRIVERS)
        solids = [s for s in self.ahead.heap.solids if s.saturation_ph > ph]
        return moved + sum(s.base_meq_l for s in solids)

    def candidates(self, shelf: Mapping[str, Material]) -> list[Variable]:
        """Return what may be dosed, with what a gram a litre of it brings."""
        taken = {d.material for d in self.plan.doses} | {p.material for p in self.plan.parts}
        variables = []
        for slug, material in shelf.items():
            if slug in taken or not self.may_use(material):
                continue
            most = self._most(material)
            least = max(LEAST_G_L, LEAST_G / self.volume)
            if most < least:
                continue
            variables.append(
                Variable(
                    name=slug,
                    cost=self._price(material),
                    most=most,
                    least=least,
                    per_unit=self._brings(material),
                )
            )
        return variables

    def may_use(self, material: Material) -> bool:
        """Return whether a material may be dosed at all."""
        goal, words = self.goal, {material.slug, material.family, *material.tags}
        if material.role not in DOSED_ROLES or not material.dose_max_g_l:
            return False
        if "animal" in goal.exclude and material.vegan != "yes":
            return False
        if words & goal.exclude or (goal.allow and not words & goal.allow):
            return False
        if goal.only_owned and not goal.stock_g.get(material.slug):
            return False
        if material.acidity_role == "weak_acid" or (words & ASKED_FOR - goal.allow):
            return False
        if not_as_remedy(material, self.crop):
            return False
        return goal.style.allows(material)

    def _most(self, material: Material) -> float:
        most = min(material.label_max_g_l or np.inf, material.dose_max_g_l or np.inf, 10.0)
        stock = self.goal.stock_g.get(material.slug)
        if stock is not None and self.goal.only_owned:
            most = min(most, stock / self.volume)
        return float(most)

    def _price(self, material: Material) -> float:
        """Return the cost of a gram a litre for the whole batch."""
        if self.goal.minimise == "mass" or not self.packages:
            return self.volume * UNKNOWN_PRICE_G
        package = self.packages.get(material.slug)
        if package is None:
            dearest = (
                max(float(p.price) / (p.kg * 1000) for p in self.packages.values() if p.kg)
                if any(p.kg for p in self.packages.values())
                else UNKNOWN_PRICE_G
            )
            return self.volume * dearest
        return self.volume * float(package.price) / (package.kilograms(material) * 1000)

    def _brings(self, material: Material) -> dict[str, float]:
        ingredient = MixIngredient(material, 1.0, False)
        times = self.ahead.times
        free = {e: available(e, ingredient, times) for e in IONS}
        at = self._at(times, self.day, free)
        soon = self._at(times, EC_DAY, free)
        cations, anions = ions_meq(material, soon)
        per_ds = PASTE_L_L * MEQ_PER_DS
        return {
            **{e: at[e] for e in ELEMENTS},
            "pH": lasting_meq_per_g(material, at["N"]),
            "salts": anions / per_ds,
            "salts (cations)": cations / per_ds,
        }

    def _at(self, times: Times, day: float, free: Mapping[str, np.ndarray]) -> dict[str, float]:
        edges = self.ahead.line.edges
        return {e: float(np.interp(day, edges, v)) for e, v in free.items()}

    def against(self, judgement: Judgement) -> list[Finding]:
        """Return the findings that stand against calling it met."""
        asked = {*self.goal.targets, *self.goal.style.defaults.bands}
        own = {Kind.SALTS: "salts", **dict.fromkeys(PH_KINDS, "pH")}
        return [
            f
            for f in judgement.findings
            if f.grade >= Grade.DRIFTS
            and not (f.kind is Kind.SHORT and f.of in asked)
            and own.get(f.kind) not in asked
        ]

    def tightened(
        self, rows: Sequence[Row], result: Evaluation, judgement: Judgement
    ) -> list[Row] | None:
        """Return rows drawn in by what the judge says, or None when it is content."""
        against = self.against(judgement)
        narrowed, changed = [], False
        for row in rows:
            off = self._off(row.name, result, against)
            more = self._more(row.name, result, against)
            changed = changed or bool(off) or bool(more)
            # What is systematically off for pH moves its whole window; salts have one side.
            low = row.low - off if row.name == "pH" else row.low + more
            high = max(row.high - off, low * 1.1) if more else row.high - off
            narrowed.append(replace(row, low=low, high=high))
        return narrowed if changed else None

    def _more(self, name: str, result: Evaluation, against: Sequence[Finding]) -> float:
        """Return how much more of an element must come free. [mg/L]."""
        if result.supply is None or not any(f.of == name for f in against if f.kind is Kind.SHORT):
            return 0.0
        row = result.supply.elements[name]
        share = reaches_of(row) / max(row.season_free, 1.0)
        more = (AIMED_SHARE * needs_of(row) - reaches_of(row)) / min(max(share, 0.3), 1.0)
        return min(more, MOST_STEP * needs_of(row))

    def _off(self, name: str, result: Evaluation, against: Sequence[Finding]) -> float:
        """Return by how much a row must be drawn in: over +, under -, in its own unit."""
        if result.forecast is None or result.acidity is None:
            return 0.0
        if name == "pH":
            ph = float(result.forecast.ph[1][-1])
            low, high = self.band("pH")
            miss = max(ph - high - SLACK_PH, 0.0) + min(ph - low + SLACK_PH, 0.0)
            judged = [
                f.value - f.limit
                for f in against
                if f.kind in PH_KINDS and f.value is not None and f.limit is not None
            ]
            miss = miss or max(judged, key=abs, default=0.0)
            return miss * result.acidity.curve.capacity_at(ph)
        if name == "salts":
            return max(float(result.forecast.ec[EC_DAY]) - self.band("salts")[1] - SLACK_EC, 0.0)
        return 0.0


def crop_band(crop: Crop, name: str, ph_band: tuple[float, float]) -> tuple[float, float]:
    """Return what a crop wants of the mix itself, where the goal says nothing."""
    if name == "pH":
        return ph_band
    if name == "salts":
        return -np.inf, crop.ec_max
    uptake, share = crop.uptake_mg_l[name], IN_THE_MIX[crop.intensity]
    if name == "N":
        return share * uptake, 1.3 * supply_to_plan(uptake)
    return share * uptake, np.inf
