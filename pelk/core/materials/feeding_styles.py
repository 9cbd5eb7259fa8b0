"""Feeding styles as settings: defaults, filters and advice, never a nag."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum

from pelk.core.base.errors import PelkError
from pelk.core.materials.material import Material

ANIMAL_TAGS = frozenset(
    ["bone", "blood", "fish", "feather", "guano", "manure-raw", "manure-composted", "manure-hot"]
)
SYNTHETIC_TAGS = frozenset(["controlled-release", "not-allowed"])


class Answer(StrEnum):
    """One answer to a question of a feeding style; its value is a key, never a sentence."""

    @classmethod
    def _missing_(cls, value: object) -> "Answer | None":
        """Take a key that was written with spaces, as older files do."""
        key = str(value).replace(" ", "-")
        return cls._value2member_map_.get(key)  # type: ignore[return-value]


class FeedingWay(Answer):
    """When a soil is fed."""

    CHARGE_AND_TOP_DRESS = "charge-and-top-dress"
    CHARGE_ONCE = "charge-once"
    FEED_AS_YOU_GO = "feed-as-you-go"
    LIVING_SOIL = "living-soil"


class Inputs(Answer):
    """What may go in."""

    ANY_ORGANIC = "any-organic"
    PLANT_AND_MINERAL_ONLY = "plant-and-mineral-only"
    WITH_A_COATED_SAFETY_NET = "with-a-coated-safety-net"


class WaterHolder(Answer):
    """What holds the water."""

    WHATEVER_IS_THERE = "whatever-is-there"
    PEAT = "peat"
    COIR = "coir"
    NEITHER = "neither"


class Aggregate(Answer):
    """What holds the air."""

    ANY = "any"
    PERLITE = "perlite"
    PUMICE = "pumice"
    RICE_HULLS = "rice-hulls"
    SAND_OR_BARK = "sand-or-bark"


class Minerals(Answer):
    """How calcium, magnesium and potassium are judged."""

    SUFFICIENCY = "sufficiency"
    BALANCE = "balance"


class PhHabit(Answer):
    """What lowers a pH."""

    SULFUR_AHEAD_OF_TIME = "sulfur-ahead-of-time"
    ACID_INGREDIENTS = "acid-ingredients"
    ACID_WATER = "acid-water"


class OldSoilHabit(Answer):
    """What becomes of last year's soil."""

    INSPECT = "inspect"
    REFRESH = "refresh"
    DISCARD = "discard"
    FILLER = "filler"


class Measuring(Answer):
    """How doses are measured."""

    BOTH = "both"
    WEIGHT = "weight"
    KITCHEN = "kitchen"
    EYE = "eye"


class DrainageLayer(Answer):
    """What lies at the bottom of a pot."""

    NONE = "none"
    COARSE = "coarse"


# Question, and who answers it; the first answer is the default.
CHOICES: dict[str, type[Answer]] = {
    "feeding": FeedingWay,
    "inputs": Inputs,
    "water_holder": WaterHolder,
    "aggregate": Aggregate,
    "minerals": Minerals,
    "ph": PhHabit,
    "old_soil": OldSoilHabit,
    "measuring": Measuring,
    "drainage_layer": DrainageLayer,
}
HOLDERS: dict[Answer, str] = {WaterHolder.PEAT: "peat", WaterHolder.COIR: "coir"}
AGGREGATES: dict[Answer, tuple[str, ...]] = {
    Aggregate.PERLITE: ("perlite",),
    Aggregate.PUMICE: ("pumice", "scoria"),
    Aggregate.RICE_HULLS: ("rice-hulls",),
    Aggregate.SAND_OR_BARK: ("coarse-sand", "horticultural-grit", "pine-bark-nuggets"),
}
ADVICE: dict[Answer, str] = {
    FeedingWay.CHARGE_ONCE: "One charge is bounded by salt: over 300 mg N a litre part "
    "of it must come from slow food, a dressing or a liquid.",
    FeedingWay.FEED_AS_YOU_GO: "Start lean: 50 to 80 mg N a litre, salts under 1.5, "
    "then follow the plan of liquids.",
    FeedingWay.LIVING_SOIL: "Never dumped: renewed by layers, mulched, moist. Works best "
    "over 40 litres.",
    Inputs.PLANT_AND_MINERAL_ONLY: "Nitrogen from seed meals and alfalfa; phosphorus "
    "will be low. Ask whether castings count.",
    Inputs.WITH_A_COATED_SAFETY_NET: "Coated feed at most a quarter to 30 % of the "
    "nitrogen. The label is not organic.",
    WaterHolder.COIR: "Coir starts near pH 6 and brings potassium and, unwashed, "
    "salt: no heavy lime.",
    WaterHolder.NEITHER: "Bark, leaf mould and soil hold less water: water more often.",
    Minerals.BALANCE: "Ratios of Ca, Mg and K are shown as a second reading; evidence "
    "for yield is weak.",
    PhHabit.ACID_WATER: "Citric and vinegar fade in the pot and do not lower its lime load; "
    "mineral acids do.",
    Measuring.EYE: "By eye, two people differ three-fold: results are shown as ranges.",
    DrainageLayer.COARSE: "A coarse layer lifts the wet zone in a pot; allowed under "
    "tall breathable beds.",
}
Band = tuple[float | None, float | None]


@dataclass(frozen=True, slots=True)
class Defaults:
    """What a feeding style starts from; whatever a grower says goes before it.

    Attributes
    ----------
    bands : mapping of str to (float or None, float or None)
        Wishes of a proposal that replace the crop's: elements [mg/L], salts [dS/m].
    inoculum : str or None
        ``rich`` where soil is kept alive.
    leaching_fraction : float or None
        Share of the water that is let drain. [-]
    by_eye : tuple of float
        Spread of every measured dose, as factors. [-]
    keeps_old_soil : bool
        Never dumped out.
    """

    bands: Mapping[str, Band]
    inoculum: str | None = None
    leaching_fraction: float | None = None
    by_eye: tuple[float, float] = (1.0, 1.0)
    keeps_old_soil: bool = False


BANDS: dict[FeedingWay, dict[str, Band]] = {
    FeedingWay.CHARGE_ONCE: {"N": (None, 300.0)},
    FeedingWay.FEED_AS_YOU_GO: {"N": (50.0, 80.0), "salts": (None, 1.5)},
    FeedingWay.LIVING_SOIL: {"salts": (None, 2.5)},
}


@dataclass(frozen=True, slots=True)
class FeedingStyle:
    """How a grower works: one answer for each question of `CHOICES`."""

    feeding: FeedingWay = FeedingWay.CHARGE_AND_TOP_DRESS
    inputs: Inputs = Inputs.ANY_ORGANIC
    water_holder: WaterHolder = WaterHolder.WHATEVER_IS_THERE
    aggregate: Aggregate = Aggregate.ANY
    minerals: Minerals = Minerals.SUFFICIENCY
    ph: PhHabit = PhHabit.SULFUR_AHEAD_OF_TIME
    old_soil: OldSoilHabit = OldSoilHabit.INSPECT
    measuring: Measuring = Measuring.BOTH
    drainage_layer: DrainageLayer = DrainageLayer.NONE

    @classmethod
    def of(cls, answers: Mapping[str, str]) -> "FeedingStyle":
        """Return the style of some answers, as keys; the rest stand at their default.

        Raises
        ------
        PelkError
            Naming the question that has no such answer.
        """
        return cls(**{q: answer_of(q, key) for q, key in answers.items()})  # type: ignore[arg-type]

    @property
    def advice(self) -> list[str]:
        """What its answers bring with them, in a sentence each."""
        answers: list[Answer] = [getattr(self, question) for question in CHOICES]
        return [ADVICE[answer] for answer in answers if answer in ADVICE]

    @property
    def defaults(self) -> Defaults:
        """What its answers start from."""
        living = self.feeding == FeedingWay.LIVING_SOIL
        return Defaults(
            bands=BANDS.get(self.feeding, {}),
            inoculum="rich" if living else None,
            leaching_fraction=0.10 if self.feeding == FeedingWay.FEED_AS_YOU_GO else None,
            by_eye=(0.6, 1.6) if self.measuring == Measuring.EYE else (1.0, 1.0),
            keeps_old_soil=living,
        )

    def allows(self, material: Material) -> bool:
        """Return whether a material fits this style; nothing is ever hidden for good."""
        tags = {*material.tags}
        if self.inputs != Inputs.WITH_A_COATED_SAFETY_NET and tags & SYNTHETIC_TAGS:
            return False
        if self.inputs == Inputs.PLANT_AND_MINERAL_ONLY and not is_plant_or_mineral(material):
            return False
        holder = material.family in HOLDERS.values()
        if holder and self.water_holder != WaterHolder.WHATEVER_IS_THERE:
            return material.family == HOLDERS.get(self.water_holder)
        if material.family == "mineral-aggregate" and self.aggregate in AGGREGATES:
            return material.slug in AGGREGATES[self.aggregate]
        return True

    def filtered(self, materials: Sequence[Material]) -> list[Material]:
        """Return the materials that fit this style."""
        return [m for m in materials if self.allows(m)]


def answer_of(question: str, key: str) -> Answer:
    """Return an answer by its key.

    Raises
    ------
    PelkError
        Naming the question that has no such answer.
    """
    answers = CHOICES[question]
    try:
        return answers(key)
    except ValueError as error:
        raise PelkError(f"found {key!r}, allowed: {', '.join(answers)}", question) from error


def is_plant_or_mineral(material: Material) -> bool:
    """Return whether a material is known to have nothing of an animal in it."""
    return not ANIMAL_TAGS & {*material.tags} and material.vegan == "yes"
