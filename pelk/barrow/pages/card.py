"""The card of a batch: its loads, and the steps of each in mixing order."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pelk.barrow.models import Batch, Tick
from pelk.bench.pages.bench_page import KEYS
from pelk.core.advice.judgement import judge
from pelk.core.evaluation.cautions import Caution
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.evaluation.worked import OURS, TRADE
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.vessels.dose_amounts import DoseLine
from pelk.core.vessels.loads import barrow_loads
from pelk.core.vessels.order_of_work import (
    BLEND,
    DAMP,
    FEEL,
    SWELL,
    TURN,
    TURNS,
    WET,
    Correction,
    MixStep,
    corrections,
    mixing_order,
)
from pelk.ui.numbers import fraction
from pelk.ui.textures import texture_of
from pelk.ui.units import Measures

CARE, CARE_SHOWN = "care", 3
DRY, IN_WATER, AT_PLANTING = "dry", "in water", "planting"
KEPT_BACK = "Keep it back: it goes on the roots, not into the heap."
# Weight of a litre when a mix's own is not known: heavy, so that loads stay small.
HEAVY_KG_L = 1.0
LEAST_WATER_L = 0.05
# So many of one's own scoops or shovels are counted; else it is buckets, spoons, the scale.
SCOOPS = (0.5, 24.0)


@dataclass(frozen=True, slots=True)
class Pick:
    """One thing to tick: a caution, a dose, a part, a turn."""

    key: str
    name: str
    measure: str = ""
    exact: str = ""
    texture: str = ""
    letter: str = ""
    at: Tick | None = None


@dataclass(frozen=True, slots=True)
class Step:
    """A step of a load with what to tick in it."""

    key: str
    title: str
    note: str
    picks: list[Pick]
    why: str = ""

    @property
    def is_done(self) -> bool:
        """Whether all of it is ticked."""
        return all(pick.at for pick in self.picks)


@dataclass(frozen=True, slots=True)
class Load:
    """One barrow load."""

    number: int
    steps: list[Step]

    @property
    def next(self) -> Pick | None:
        """The first thing not ticked yet."""
        return next((p for s in self.steps for p in s.picks if not p.at), None)

    @property
    def next_step(self) -> str:
        """The key of the step at hand."""
        return next((s.key for s in self.steps if not s.is_done), "")


@dataclass(frozen=True, slots=True)
class Card:
    """A batch at the barrow."""

    loads: list[Load]
    litres: str
    kilos: str
    total: str
    evaluation: Evaluation
    cautions: list[Caution]
    weight_known: bool
    whole: list[tuple[CoreMaterial, str]]

    @property
    def current(self) -> Load:
        """The first load that is not done, or the last."""
        return next((load for load in self.loads if load.next), self.loads[-1])

    @property
    def is_done(self) -> bool:
        """Whether every load is ticked through."""
        return all(load.next is None for load in self.loads)

    def allowed(self, load: int, step: str) -> bool:
        """Whether the card has such a thing to tick."""
        return any(
            pick.key == step
            for each in self.loads
            if each.number == load
            for s in each.steps
            for pick in s.picks
        )


def card_of(batch: Batch) -> Card:
    """Return the card of a batch, computed from its frozen copies and its ticks."""
    evaluation = batch.evaluation()
    yard = batch.yard_measures
    measures = Measures(yard["system"])
    mixed, wet = evaluation.volumes.mixed_l, evaluation.wet_mass.value
    loads = barrow_loads(
        mixed, wet / mixed if wet else HEAVY_KG_L, yard["barrow_l"], yard["barrow_limit_kg"]
    )
    ticks = {(tick.load, tick.step): tick for tick in batch.ticks.all()}
    draft = _Draft(evaluation, yard, loads.count)
    return Card(
        loads=[Load(number, draft.steps(number, ticks)) for number in range(1, loads.count + 1)],
        litres=measures.volume(loads.litres),
        kilos=measures.mass(loads.kg * 1000, 2),
        total=measures.volume(mixed),
        evaluation=evaluation,
        cautions=draft.cautions,
        weight_known=wet is not None,
        whole=[
            *((b.material, measures.volume(b.loose_l)) for b in evaluation.bulk),
            *((d.material, measures.mass(d.grams.typ)) for d in evaluation.doses),
        ],
    )


# Key, title, what is done, why, and what to tick.
Draft = tuple[str, str, str, str, list[Pick]]


def _of_this_mix(caution: Caution) -> tuple[bool, bool, int]:
    """Return where a caution stands: what stops, what hurts people, what names one material."""
    is_practice = caution.source in (TRADE, OURS)
    return not caution.stops, is_practice, len(caution.materials) or len(KEYS)


def _when(material: CoreMaterial) -> str:
    """Return when a dose goes in: dry, stirred into the water, or on the roots at planting."""
    if material.role == "inoculant":
        return AT_PLANTING
    return IN_WATER if material.form == "liquid" else DRY


class _Draft:
    """Write the steps of a load."""

    def __init__(self, evaluation: Evaluation, yard: Mapping[str, Any], loads: int) -> None:
        self.evaluation = evaluation
        self.measures = Measures(yard["system"])
        self.bucket_l: float = yard["bucket_l"]
        self.hands: dict[str, list[float]] = yard.get("hands", {})
        self.there: dict[str, float] = dict(yard.get("there", {}))
        self.loads = loads
        minded = [c for c in evaluation.cautions if c.severity in ("caution", "stop", "hard")]
        self.cautions = sorted(minded, key=_of_this_mix)
        self.harms = judge(evaluation).harms
        self.parts = [(b.material, b.loose_l / loads) for b in evaluation.bulk]

    def steps(self, load: int, ticks: dict[tuple[int, str], Tick]) -> list[Step]:
        """Return the steps of one load in mixing order; cautions come first."""
        drafts = [self._care()] if load == 1 else []
        water = max(self.evaluation.water_l_per_l or 0.0, 0.0)
        water *= self.evaluation.volumes.mixed_l / self.loads
        litres = [d.millilitres or d.grams.typ for d in self.evaluation.doses]
        doses_l = sum(litres) / 1000 / self.loads
        drafts += [self._draft(step, load) for step in mixing_order(self.parts, doses_l, water)]
        drafts.append((AT_PLANTING, "At planting", KEPT_BACK, "", self._doses(AT_PLANTING)))
        return [
            Step(key, title, done, [_ticked(p, ticks.get((load, p.key))) for p in picks], why)
            for key, title, done, why, picks in drafts
            if picks
        ]

    def _care(self) -> Draft:
        """Return what to mind before the first spade: three at most that are about this mix."""
        harms = [Pick(f"{CARE}:{f.kind}", f"Will harm: {f.text}") for f in self.harms]
        people = [
            Pick(f"{CARE}:{c.id}", c.text, exact="; ".join(c.materials)) for c in self.cautions
        ]
        # What stops is never folded away.
        shown = max(CARE_SHOWN, len(harms) + sum(c.stops for c in self.cautions))
        picks = [*harms, *people]
        more = " ".join(pick.name for pick in picks[shown:])
        return CARE, "Read the cautions first", "", more, picks[:shown]

    def _draft(self, step: MixStep, load: int) -> Draft:
        picks = [self._part(step.key, m, litres, load) for m, litres in step.parts]
        if step.key == BLEND:
            picks = self._doses(DRY)
        elif step.key == TURN:
            picks = [Pick(TURN, f"Turn {TURNS} times", f"{TURNS} turns")]
        elif step.key == WET:
            amount = self.measures.volume(step.water_l, 2)
            some = step.water_l > LEAST_WATER_L
            water = Pick(WET, "Water", f"about {amount}" if some else "none: wet enough")
            picks = [*self._doses(IN_WATER), water]
        elif step.key == FEEL:
            picks = [Pick(FEEL, "Feels right", "or corrected")]
        return step.key, step.title, self._done(step), step.why, picks

    def _doses(self, when: str) -> list[Pick]:
        """Return the doses that go in dry, with the water, or on the roots."""
        return [
            self._dose(d, i)
            for i, d in enumerate(self.evaluation.doses)
            if _when(d.material) == when
        ]

    def _done(self, step: MixStep) -> str:
        """Return what is done at a step, beside what is ticked."""
        done = ""
        if step.key in (SWELL, DAMP) and step.water_l > LEAST_WATER_L:
            water = self.measures.volume(step.water_l, 2)
            done = f"Give it {water} of water and wait {step.minutes} minutes. "
        elif step.carrier is not None:
            material, litres = step.carrier
            done = (
                f"Stir them into {self.measures.volume(litres, 2)} of "
                f"{material.spoken_name} from this load, then scatter. "
            )
        elif step.key == FEEL:
            mixed = self.evaluation.volumes.mixed_l / self.loads
            done = "".join(map(self._mend, corrections(self.parts, mixed)))
        return done.strip()

    def _mend(self, correction: Correction) -> str:
        litres = self.measures.volume(correction.litres, 2)
        usual = {"heavy": "bark or perlite", "thin": "compost"}[correction.feels]
        name = correction.material.spoken_name if correction.material else usual
        return f"If it is {correction.feels}, add {litres} of {name}. "

    def _part(self, step: str, material: CoreMaterial, litres: float, load: int) -> Pick:
        left = self.there.get(material.slug, 0.0) - (load - 1) * litres
        there = min(max(left, 0.0), litres)
        add = litres - there
        weight = material.loose_density().typ * 1000 * add
        exact = f"{self.measures.volume(add)}, {self.measures.mass(weight)}"
        if there:
            exact = f"{exact}, {self.measures.volume(there)} is there"
        return Pick(
            key=f"{step}:{material.slug}",
            name=material.short_name,
            measure=self._scooped("shovel", "shovelful", add)
            or (self.measures.buckets(add, self.bucket_l) if add else "none"),
            exact=exact,
            texture=texture_of(material),
        )

    def _dose(self, line: DoseLine, index: int) -> Pick:
        grams = line.grams.typ / self.loads
        millilitres = line.millilitres / self.loads if line.millilitres else None
        scooped = self._scooped("scoop", "scoop", (millilitres or 0.0) / 1000)
        return Pick(
            key=f"{BLEND}:{index}:{line.material.slug}",
            name=line.material.short_name,
            measure=scooped or self.measures.kitchen(millilitres) or "weigh it",
            exact=self.measures.mass(grams),
            texture=texture_of(line.material),
            letter=KEYS[index % len(KEYS)],
        )

    def _scooped(self, kind: str, word: str, litres: float) -> str:
        """Write an amount in this grower's own measure; empty where none was weighed or fits."""
        held = self.hands.get(kind)
        count = round(litres * 1000 / held[1] * 2) / 2 if held else 0.0
        if not SCOOPS[0] <= count <= SCOOPS[1]:
            return ""
        return f"{fraction(count)}\u00a0{word}{'s' if count > 1 else ''}"


def _ticked(pick: Pick, tick: Tick | None) -> Pick:
    return Pick(pick.key, pick.name, pick.measure, pick.exact, pick.texture, pick.letter, tick)
