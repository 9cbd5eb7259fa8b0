"""The card of a batch: its loads, and the steps of each in mixing order."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.barrow.models import Batch, Tick
from pelk.bench.reading import KEYS
from pelk.core.cautions import Caution
from pelk.core.doses import DoseLine
from pelk.core.evaluate import Evaluation
from pelk.core.headlines import BulkLine
from pelk.core.loads import barrow_loads
from pelk.core.materials import Material as CoreMaterial
from pelk.ui.textures import texture_of
from pelk.ui.units import Measures

HOLDERS = frozenset(["peat", "coir"])
TURNS = 3
CARE, DAMP, BLEND, LAYER, TURN, WET = "care", "damp", "blend", "layer", "turn", "wet"
# Weight of a litre when a mix's own is not known: heavy, so that loads stay small.
HEAVY_KG_L = 1.0


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
        mixed,
        wet / mixed if wet else HEAVY_KG_L,
        yard["barrow_l"],
        yard["barrow_limit_kg"],
    )
    ticks = {(tick.load, tick.step): tick for tick in batch.ticks.all()}
    draft = _Draft(evaluation, measures, yard["bucket_l"], loads.count)
    return Card(
        loads=[
            Load(number, draft.steps(number, ticks))
            for number in range(1, loads.count + 1)
        ],
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


class _Draft:
    """Write the steps of a load."""

    def __init__(
        self, evaluation: Evaluation, measures: Measures, bucket_l: float, loads: int
    ) -> None:
        self.evaluation = evaluation
        self.measures = measures
        self.bucket_l = bucket_l
        self.loads = loads
        self.cautions = [
            c for c in evaluation.cautions if c.severity in ("caution", "stop", "hard")
        ]

    def steps(self, load: int, ticks: dict[tuple[int, str], Tick]) -> list[Step]:
        """Return the steps of one load in mixing order; cautions come first."""
        drafts = [self._care()] if load == 1 else []
        drafts += [self._damp(), self._blend(), self._layer(), self._turn(), self._wet()]
        return [
            Step(key, title, note, [_ticked(p, ticks.get((load, p.key))) for p in picks])
            for key, title, note, picks in drafts
            if picks
        ]

    def _care(self) -> tuple[str, str, str, list[Pick]]:
        picks = [
            Pick(f"{CARE}:{c.id}", c.text, exact="; ".join(c.materials))
            for c in self.cautions
        ]
        return CARE, "Take care first", "", picks

    def _damp(self) -> tuple[str, str, str, list[Pick]]:
        holders = [b for b in self.evaluation.bulk if b.material.family in HOLDERS]
        water = self._water_l() / 2
        amount = self.measures.volume(water, 2) if water > 0.05 else "a little water"
        note = f"Sprinkle {amount} over it and wait ten minutes: dry peat sheds water."
        picks = [self._part(DAMP, b) for b in holders]
        return DAMP, "Damp what holds the water", note, picks

    def _blend(self) -> tuple[str, str, str, list[Pick]]:
        note = "Stir the dry doses together with a scoop of a dry part, then scatter."
        picks = [self._dose(d, i) for i, d in enumerate(self.evaluation.doses)]
        return BLEND, "Blend the dry doses", note, picks

    def _layer(self) -> tuple[str, str, str, list[Pick]]:
        rest = [b for b in self.evaluation.bulk if b.material.family not in HOLDERS]
        note = "Layer the parts and scatter the blend between them."
        return LAYER, "Layer it up", note, [self._part(LAYER, b) for b in rest]

    def _turn(self) -> tuple[str, str, str, list[Pick]]:
        note = "From the bottom, edges and corners into the middle. Pick out plastic."
        pick = Pick(TURN, f"Turn {TURNS} times", f"{TURNS} turns")
        return TURN, "Turn it over", note, [pick]

    def _wet(self) -> tuple[str, str, str, list[Pick]]:
        water = self._water_l() / 2
        amount = self.measures.volume(water, 2) if water > 0.05 else "none, it is wet"
        note = "Squeeze a handful: it holds, and one or two drops come."
        return (
            WET,
            "Wet to a wrung-out sponge",
            note,
            [Pick(WET, "Water", f"about {amount}")],
        )

    def _water_l(self) -> float:
        per_litre = self.evaluation.water_l_per_l or 0.0
        return max(per_litre, 0.0) * self.evaluation.volumes.mixed_l / self.loads

    def _part(self, step: str, line: BulkLine) -> Pick:
        litres = line.loose_l / self.loads
        return Pick(
            key=f"{step}:{line.material.slug}",
            name=line.material.short_name,
            measure=self.measures.buckets(litres, self.bucket_l),
            exact=self.measures.volume(litres),
            texture=texture_of(line.material),
        )

    def _dose(self, line: DoseLine, index: int) -> Pick:
        grams = line.grams.typ / self.loads
        millilitres = line.millilitres / self.loads if line.millilitres else None
        return Pick(
            key=f"{BLEND}:{index}:{line.material.slug}",
            name=line.material.short_name,
            measure=self.measures.kitchen(millilitres) or "weigh it",
            exact=self.measures.mass(grams),
            texture=texture_of(line.material),
            letter=KEYS[index % len(KEYS)],
        )


def _ticked(pick: Pick, tick: Tick | None) -> Pick:
    return Pick(
        pick.key, pick.name, pick.measure, pick.exact, pick.texture, pick.letter, tick
    )
