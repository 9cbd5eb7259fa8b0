"""Schools of practice as settings: defaults, filters and advice, never a nag."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from pelk.core.base.errors import PelkError
from pelk.core.materials.library import Material

ANIMAL_TAGS = frozenset(
    ["bone", "blood", "fish", "feather", "guano", "manure-raw", "manure-composted", "manure-hot"]
)
SYNTHETIC_TAGS = frozenset(["controlled-release", "not-allowed"])
# Question, answers, and the default.
CHOICES: dict[str, tuple[str, ...]] = {
    "feeding": ("charge and top-dress", "charge once", "feed as you go", "living soil"),
    "inputs": ("any organic", "plant and mineral only", "with a coated safety net"),
    "water_holder": ("whatever is there", "peat", "coir", "neither"),
    "aggregate": ("any", "perlite", "pumice", "rice hulls", "sand or bark"),
    "minerals": ("sufficiency", "balance"),
    "ph": ("sulfur ahead of time", "acid ingredients", "acid water"),
    "old_soil": ("inspect", "refresh", "discard", "filler"),
    "measuring": ("both", "weight", "kitchen", "eye"),
    "drainage_layer": ("none", "coarse"),
}
HOLDERS = {"peat": "peat", "coir": "coir"}
AGGREGATES = {
    "perlite": ("perlite",),
    "pumice": ("pumice", "scoria"),
    "rice hulls": ("rice-hulls",),
    "sand or bark": ("coarse-sand", "horticultural-grit", "pine-bark-nuggets"),
}
ADVICE = {
    ("feeding", "charge once"): "One charge is bounded by salt: over 300 mg N a litre part "
    "of it must come from slow food, a dressing or a liquid.",
    ("feeding", "feed as you go"): "Start lean: 50 to 80 mg N a litre, salts under 1.5, "
    "then follow the plan of liquids.",
    ("feeding", "living soil"): "Never dumped: renewed by layers, mulched, moist. Works best "
    "over 40 litres.",
    ("inputs", "plant and mineral only"): "Nitrogen from seed meals and alfalfa; phosphorus "
    "will be low. Ask whether castings count.",
    ("inputs", "with a coated safety net"): "Coated feed at most a quarter to 30 % of the "
    "nitrogen. The label is not organic.",
    ("water_holder", "coir"): "Coir starts near pH 6 and brings potassium and, unwashed, "
    "salt: no heavy lime.",
    ("water_holder", "neither"): "Bark, leaf mould and soil hold less water: water more often.",
    ("minerals", "balance"): "Ratios of Ca, Mg and K are shown as a second reading; evidence "
    "for yield is weak.",
    ("ph", "acid water"): "Citric and vinegar fade in the pot and do not lower its lime load; "
    "mineral acids do.",
    ("measuring", "eye"): "By eye, two people differ three-fold: results are shown as ranges.",
    ("drainage_layer", "coarse"): "A coarse layer lifts the wet zone in a pot; allowed under "
    "tall breathable beds.",
}
Band = tuple[float | None, float | None]


@dataclass(frozen=True, slots=True)
class Defaults:
    """What a school starts from; whatever a grower says goes before it.

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


BANDS: dict[str, dict[str, Band]] = {
    "charge once": {"N": (None, 300.0)},
    "feed as you go": {"N": (50.0, 80.0), "salts": (None, 1.5)},
    "living soil": {"salts": (None, 2.5)},
}


@dataclass(frozen=True, slots=True)
class School:
    """How a grower works: one answer for each question of `CHOICES`."""

    feeding: str = "charge and top-dress"
    inputs: str = "any organic"
    water_holder: str = "whatever is there"
    aggregate: str = "any"
    minerals: str = "sufficiency"
    ph: str = "sulfur ahead of time"
    old_soil: str = "inspect"
    measuring: str = "both"
    drainage_layer: str = "none"

    def __post_init__(self) -> None:
        """Refuse an answer that no school gives."""
        for question, answers in CHOICES.items():
            answer = getattr(self, question)
            if answer not in answers:
                raise PelkError(f"found {answer!r}, allowed: {', '.join(answers)}", question)

    @property
    def advice(self) -> list[str]:
        """What its answers bring with them, in a sentence each."""
        answers = [(q, getattr(self, q)) for q in CHOICES]
        return [ADVICE[a] for a in answers if a in ADVICE]

    @property
    def defaults(self) -> Defaults:
        """What its answers start from."""
        living = self.feeding == "living soil"
        return Defaults(
            bands=BANDS.get(self.feeding, {}),
            inoculum="rich" if living else None,
            leaching_fraction=0.10 if self.feeding == "feed as you go" else None,
            by_eye=(0.6, 1.6) if self.measuring == "eye" else (1.0, 1.0),
            keeps_old_soil=living,
        )

    def allows(self, material: Material) -> bool:
        """Return whether a material fits this school; nothing is ever hidden for good."""
        tags = {*material.tags}
        if self.inputs != "with a coated safety net" and tags & SYNTHETIC_TAGS:
            return False
        if self.inputs == "plant and mineral only" and not is_plant_or_mineral(material):
            return False
        holder = material.family in HOLDERS.values()
        if holder and self.water_holder in (*HOLDERS, "neither"):
            return material.family == HOLDERS.get(self.water_holder)
        if material.family == "mineral-aggregate" and self.aggregate in AGGREGATES:
            return material.slug in AGGREGATES[self.aggregate]
        return True

    def filtered(self, materials: Sequence[Material]) -> list[Material]:
        """Return the materials that fit this school."""
        return [m for m in materials if self.allows(m)]


def is_plant_or_mineral(material: Material) -> bool:
    """Return whether nothing of an animal is in a material; worms are asked about."""
    return not ANIMAL_TAGS & {*material.tags} and material.vegan != "no"
