"""Phosphorus, potassium and the other ions along a soil's life: free, washed, taken, given back.

They go over the same steps as the course, after it: nothing of theirs moves the pH that the
charge of uptake (`kappa`) does not hold already.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from math import exp

import numpy as np
from numpy.typing import NDArray

from pelk.core.base.sources import cites
from pelk.core.crops.demand import held_back_of
from pelk.core.materials.totals import MixIngredient, concentration_mg_l
from pelk.core.release.rate_factors import bicarbonate
from pelk.core.salts.pore_water import PoreSalts, mix_ec
from pelk.core.salts.salts import MG_PER_MEQ, RETARDATION
from pelk.core.salts.solution import CHARGE, GYPSUM_MMOL_L
from pelk.core.salts.water_ions import mean_stay
from pelk.core.simulation.availability import Times, available
from pelk.core.simulation.salts_of_a_course import ELEMENT_OF, FOLLOWED, SALT_CLASSES

Floats = NDArray[np.float64]

MINERALS = ("P", "K", "Ca", "Mg", "S", "Na", "Cl")
WANTED = ("P", "K", "Ca", "Mg", "S")
# Roots reach this much of what is there in a day.
REACH_A_DAY = 0.5
# Of a plant's minerals, what comes back with it at once.
ION_OF_ELEMENT = {element: ion for ion, element in ELEMENT_OF.items()}
NOT_SALTS = frozenset(["P"])


def zeros() -> dict[str, float]:
    """Return nothing of each mineral. [mg/L]."""
    return dict.fromkeys(MINERALS, 0.0)


@dataclass(slots=True)
class Supply:
    """What one material brings: all of it, and what of it is free by each edge.

    Attributes
    ----------
    total_mg_l, free_mg_l : dict
        All of it, and set free from `start` on, by element. [mg/L]
    start : int
        The edge at which it came in.
    share : float
        What a litre of now holds of it. [-]
    is_salt, is_dose, gypsum_meq_l : bool, bool, float
        Which of its ions count as dissolved besides the parts' own salts.
    """

    total_mg_l: dict[str, float]
    free_mg_l: dict[str, list[float]]
    start: int
    is_dose: bool
    is_salt: bool
    gypsum_meq_l: float
    share: float = 1.0

    def gained(self, element: str, edge: int) -> float:
        """Return what came free between an edge and the next. [mg/L]."""
        line, at = self.free_mg_l[element], edge - self.start
        return self.share * (line[at + 1] - line[at])

    def free_at(self, element: str, edge: int) -> float:
        """Return what is free of it by an edge. [mg/L]."""
        line = self.free_mg_l.get(element)
        return self.share * line[edge - self.start] if line else 0.0


def supply_of(ingredient: MixIngredient, times: Times, start: int, kept: float = 1.0) -> Supply:
    """Return a material along its own clock, from the edge it came in at.

    Parameters
    ----------
    ingredient : MixIngredient
        With its grams in a litre of soil. [g/L]
    times : Times
        Where it stands at each edge from `start` on.
    start : int
        Of the edges.
    kept : float
        Of what rots, what the soil keeps; on top some is lost. [-]
    """
    material = ingredient.material
    contents = material.composition

    def total(element: str) -> float:
        held = contents.get(element)
        return concentration_mg_l(ingredient.g_per_l, held.typ) if held else 0.0

    is_gypsum = material.availability_class == "gypsum"
    return Supply(
        total_mg_l={e: total(e) for e in MINERALS},
        free_mg_l={
            e: (kept * available(e, ingredient, times)).tolist()
            for e in MINERALS
            if total(e) or (e == "S" and total("S elemental"))
        },
        start=start,
        is_dose=not ingredient.is_bulk,
        is_salt=material.availability_class in SALT_CLASSES,
        gypsum_meq_l=total("Ca") / MG_PER_MEQ["Ca"]
        if is_gypsum and not ingredient.is_bulk
        else 0.0,
    )


@dataclass(slots=True)
class MineralBook:
    """The minerals of a soil, kept through its life: per litre, and in sum for a pot.

    Attributes
    ----------
    free : dict
        In solution and on quick exchange.
    litres : float
        Of the soil in a pot. [L]
    given, taken, wanted, short, leached, lost, standing : dict
        In sum since mixing day, in a pot; `standing` is in the plants. [mg]
    own, brought : dict
        Dissolved salts of parts and doses, and of the water. [meq/L]
    capacity, mineral : float
        Water it holds; share of mineral soil. [L/L], [-]
    supplies, waiting : list of Supply
        What is in it; all that will ever come in, by number.
    """

    capacity: float
    mineral: float
    salts: PoreSalts
    litres: float
    free: dict[str, float] = field(default_factory=zeros)
    given: dict[str, float] = field(default_factory=zeros)
    taken: dict[str, float] = field(default_factory=zeros)
    wanted: dict[str, float] = field(default_factory=zeros)
    short: dict[str, float] = field(default_factory=zeros)
    leached: dict[str, float] = field(default_factory=zeros)
    lost: dict[str, float] = field(default_factory=zeros)
    standing: dict[str, float] = field(default_factory=zeros)
    own: dict[str, float] = field(default_factory=dict)
    brought: dict[str, float] = field(default_factory=dict)
    bicarbonate: float = 0.0
    gypsum: float = 0.0
    supplies: list[Supply] = field(default_factory=list)
    waiting: list[Supply] = field(default_factory=list)

    def begin(self) -> None:
        """Start with the parts' own salts."""
        self.own = {ion: self.salts.ions_meq_l.get(ion, 0.0) for ion in (*FOLLOWED, "NO3", "HCO3")}
        self.brought = dict.fromkeys(FOLLOWED, 0.0)

    def held_back(self, element: str) -> float:
        """Return how much slower than nitrate an element washes out. [-]."""
        if element == "P":
            return held_back_of("P", self.mineral)
        return RETARDATION.get(element, 1.0)

    def bring(self, supply: Supply, edge: int) -> None:
        """Take a material in; what is free of it at once is there."""
        self.supplies.append(supply)
        for element in MINERALS:
            self.given[element] += supply.share * supply.total_mg_l[element] * self.litres
            self._free(element, supply, supply.free_at(element, edge))
        self.gypsum += supply.share * supply.gypsum_meq_l

    def add(self, minerals: Mapping[str, float], *, is_given: bool = True) -> None:
        """Add dissolved minerals: a feed that is poured, what a plant gives back. [mg/L]."""
        for element, amount in minerals.items():
            if element not in self.free:
                continue
            self.free[element] += amount
            if is_given:
                self.given[element] += amount * self.litres
            ion = ION_OF_ELEMENT.get(element, element)
            if ion in self.own:
                self.own[ion] += amount / MG_PER_MEQ[ion]

    def _free(self, element: str, supply: Supply, amount: float) -> None:
        self.free[element] += amount
        ion = ION_OF_ELEMENT.get(element, element)
        if not supply.is_dose or ion not in self.own:
            return
        if element in ("Ca", "Mg") and not supply.is_salt:
            return
        if element == "S" and supply.gypsum_meq_l:
            return
        self.own[ion] += amount / MG_PER_MEQ[ion]

    def release(self, edge: int) -> None:
        """Let what materials set free in a step come in."""
        for supply in self.supplies:
            for element in supply.free_mg_l:
                amount = supply.gained(element, edge)
                if amount:
                    self._free(element, supply, amount)

    @cites("arithmetic", "dM/dt = w C - d M / (theta R), exactly over a step")
    def wash(self, brought_mg_l: Mapping[str, float], drained_l_l: float, alkaline: float) -> None:
        """Let water come and go.

        Parameters
        ----------
        brought_mg_l : mapping of str to float
            By the water, in a litre of soil. [mg/L]
        drained_l_l : float
            Out below. [L/L]
        alkaline : float
            Base that the water brings. [meq/L]
        """
        if not drained_l_l and not brought_mg_l and not alkaline:
            return
        for element in MINERALS:
            pores = drained_l_l / (self.capacity * self.held_back(element))
            stays, comes = exp(-pores), brought_mg_l.get(element, 0.0)
            after = self.free[element] * stays + comes * mean_stay(pores)
            self.leached[element] += (self.free[element] + comes - after) * self.litres
            self.given[element] += comes * self.litres
            self.free[element] = after
        for ion in FOLLOWED:
            element = ELEMENT_OF.get(ion, ion)
            pores = drained_l_l / (self.capacity * RETARDATION[element])
            comes = brought_mg_l.get(element, 0.0) / MG_PER_MEQ[ion]
            self.own[ion] *= exp(-pores)
            self.brought[ion] = self.brought[ion] * exp(-pores) + comes * mean_stay(pores)
        pores = drained_l_l / self.capacity
        for ion in ("NO3", "HCO3"):
            self.own[ion] *= exp(-pores)
        self.bicarbonate = self.bicarbonate * exp(-pores) + alkaline * mean_stay(pores)
        full = CHARGE["Ca"] * GYPSUM_MMOL_L
        self.gypsum -= min(self.gypsum / self.capacity, full) * min(drained_l_l, self.capacity)
        self.gypsum = max(self.gypsum, 0.0)

    @cites("pelk", "in proportion to the nitrogen really taken; half of what is there in a day")
    def take(
        self, ratios: Mapping[str, float], nitrogen: float, wanted: float, days: float
    ) -> None:
        """Let crops take up.

        Parameters
        ----------
        ratios : mapping of str to float
            Of each element to nitrogen. [-]
        nitrogen, wanted : float
            Taken, and wanted. [mg/L]
        days : float
            Of the step. [d]
        """
        reach = 1 - (1 - REACH_A_DAY) ** days
        for element in WANTED:
            ratio = ratios.get(element, 0.0)
            want = ratio * wanted
            there = max(self.free[element], 0.0)
            took = min(ratio * nitrogen, reach * there)
            self.wanted[element] += want * self.litres
            # What lacks for want of nitrogen is nitrogen's lack, not its own.
            self.short[element] += (ratio * nitrogen - took) * self.litres
            if not took:
                continue
            self.free[element] -= took
            self.taken[element] += took * self.litres
            self.standing[element] += took * self.litres
            ion = ION_OF_ELEMENT.get(element, element)
            if ion in self.own:
                self.own[ion] *= 1 - took / there
                self.brought[ion] *= 1 - took / there

    def give_back(self, share: Mapping[str, float]) -> None:
        """Let a share of what stands come back as ions."""
        back = {e: share.get(e, 0.0) * self.standing[e] for e in WANTED}
        self.add({e: mg / self.litres for e, mg in back.items()}, is_given=False)
        for element, amount in back.items():
            self.standing[element] -= amount
            self.taken[element] -= amount

    def carry_off(self, share: float) -> None:
        """Take a share of what stands away: it stays among what was taken."""
        for element in WANTED:
            self.standing[element] *= 1 - share

    def scale(self, by: float) -> None:
        """Let every litre hold `by` times as much."""
        for amounts in (self.free, self.own, self.brought):
            for key in amounts:
                amounts[key] *= by
        self.bicarbonate *= by
        self.gypsum *= by
        for supply in self.supplies:
            supply.share *= by

    def hold(self, capacity: float) -> None:
        """Say what water it holds from now on. [L/L]."""
        self.capacity = capacity

    def shrink(self, left: float) -> None:
        """Let it come down to a share of its volume; what it holds stays."""
        self.scale(1 / left)
        self.litres *= left

    def cut(self, litres: float, edge: int) -> None:
        """Take litres of soil away with all they hold. [L]."""
        for element in MINERALS:
            self.lost[element] += litres * (self.free[element] + self.bound(element, edge))
        self.litres -= litres

    def join(self, salts: PoreSalts, theirs: float, mineral: float) -> None:
        """Mix fresh soil in, after `scale`: its own salts and its paste."""
        mine = 1 - theirs
        for ion in self.own:
            self.own[ion] += theirs * salts.ions_meq_l.get(ion, 0.0)
        self.mineral = mine * self.mineral + theirs * mineral
        self.salts = PoreSalts(
            {},
            mine * self.salts.paste_l_l + theirs * salts.paste_l_l,
            self.salts.exchanges or salts.exchanges,
        )

    def bound(self, element: str, edge: int) -> float:
        """Return what materials hold that is not free. [mg/L]."""
        return sum(
            s.share * s.total_mg_l[element] - s.free_at(element, edge) for s in self.supplies
        )

    def dissolved_meq_l(self, ph: float) -> dict[str, float]:
        """Return the ions besides nitrogen as `mix_ec` takes them. [meq/L]."""
        ions = {
            ion: self.own[ion] + self.brought[ion] / RETARDATION[ELEMENT_OF.get(ion, ion)]
            for ion in FOLLOWED
        }
        refused = self.capacity * float(bicarbonate(np.asarray(ph)))
        ions["HCO3"] = self.own["HCO3"] + min(self.bicarbonate, refused)
        ions["NO3"] = self.own["NO3"]
        ions["gypsum"] = self.gypsum
        return ions


def conductivity_along(
    dissolved: Sequence[Mapping[str, float]],
    salts: Sequence[PoreSalts],
    ammonium_mg_l: Floats,
    nitrate_mg_l: Floats,
) -> Floats:
    """Return the salts of a soil at each edge; of draws where its nitrogen is drawn.

    Parameters
    ----------
    dissolved : sequence of mapping
        Of each edge, as of `MineralBook.dissolved_meq_l`. [meq/L]
    salts : sequence of PoreSalts
        Of each edge: its paste, and whether it exchanges.
    ammonium_mg_l, nitrate_mg_l : array, shape (n_edges,) or (n_edges, n_draws)
        Of the course. [mg/L]

    Returns
    -------
    array, shape like the nitrogen
        Conductivity of the saturated extract. [dS/m]
    """
    lines = []
    stretches: list[tuple[int, int]] = []
    for i, held in enumerate(salts):
        if stretches and salts[stretches[-1][0]] is held:
            stretches[-1] = (stretches[-1][0], i + 1)
        else:
            stretches.append((i, i + 1))
    for start, end in stretches:
        held = salts[start]
        ions = {
            ion: np.array([row[ion] for row in dissolved[start:end]]) for ion in dissolved[start]
        }
        if nitrate_mg_l.ndim > 1:
            ions = {ion: line[:, None] for ion, line in ions.items()}
        bare = PoreSalts({}, held.paste_l_l, held.exchanges)
        lines.append(mix_ec(bare, ions, ammonium_mg_l[start:end], nitrate_mg_l[start:end]))
    return np.concatenate(lines)
