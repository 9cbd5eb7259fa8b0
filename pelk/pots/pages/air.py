"""Air, water and weight of some pots, as their page says them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

from pelk.core.crops.named import crops_named
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.material import Range
from pelk.core.vessels.drainage import AIR_OF_GROUP, pot_advice, wanted_air
from pelk.core.vessels.watering import PotWeight, days_between, pot_weight, water_taken
from pelk.pots.domain.air import CLOSE, main_fill, reckoned, share_for
from pelk.pots.domain.watering import pace_of
from pelk.pots.models import POT_WORDS, PotDeed, PotGroup
from pelk.ui.units import Measures

MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]


@dataclass(frozen=True, slots=True)
class AirPage:
    """What the page shows."""

    wanted: float
    reckoned: float | None
    tested: float | None
    state: str
    word: str
    say: str
    advice: str
    share: float | None
    weight: PotWeight | None
    is_weighed: bool
    months: list[tuple[str, str]]
    recipe_id: int | None

    def weights(self, measures: Measures) -> list[tuple[str, str]]:
        """Return what one pot weighs, as the yard reads weights."""
        if self.weight is None:
            return []
        return [
            ("watered", measures.mass(1000 * self.weight.watered_kg, 2)),
            ("thirsty", measures.mass(1000 * self.weight.thirsty_kg, 2)),
            ("water between", measures.volume(self.weight.between_l, 2)),
        ]

    @property
    def reckoned_says(self) -> str:
        """The air by the sums, as it is read."""
        return "nothing" if self.reckoned is None else f"{self.reckoned:.0%}"


def air_of(group: PotGroup, deeds: list[PotDeed], today: date) -> AirPage:
    """Return the air, water and weight of a group's pots."""
    fill = main_fill(group)
    reading = reckoned(group, fill)
    height = group.soil_height_cm
    pot = POT_WORDS.get(group.made_of, group.made_of)
    wanted = wanted_air(AIR_OF_GROUP[group.crop], pot, group.habit, height)
    by_sums = (
        reading.air.value / 100
        if reading and reading.air and reading.air.value is not None
        else None
    )
    drained = next((d for d in deeds if d.kind == PotDeed.Kind.DRAINED), None)
    tested = drained.figures.get("air") if drained else None
    share = share_for(reading, wanted, by_sums, tested) if reading else None
    state, word, say = _judged(wanted, tested if tested is not None else by_sums)
    weight, is_weighed = _weight(group, reading, drained, deeds)
    return AirPage(
        wanted,
        by_sums,
        tested,
        state,
        word,
        say,
        pot_advice(pot, group.habit),
        share,
        weight,
        is_weighed,
        _months(group, weight, deeds, today),
        fill.batch.recipe_id if fill and fill.batch else None,
    )


def _judged(wanted: float, air: float | None) -> tuple[str, str, str]:
    if air is None:
        return (
            "none",
            "Not known",
            "The soil did not come from one of your heaps. Do a drain test on one pot.",
        )
    if air < wanted - CLOSE:
        return (
            "short",
            "Tight",
            f"Air after draining is {air:.0%}; this pot needs about {wanted:.0%}.",
        )
    if air > wanted + 0.08:
        return (
            "plenty",
            "Airy",
            f"Air is {air:.0%}, more than the {wanted:.0%} needed, so the pot dries sooner.",
        )
    return "good", "Good", f"Air {air:.0%} after draining, near the {wanted:.0%} wanted."


def _weight(
    group: PotGroup, reading: Evaluation | None, drained: PotDeed | None, deeds: list[PotDeed]
) -> tuple[PotWeight | None, bool]:
    lifted = next((d for d in deeds if d.kind == PotDeed.Kind.LIFTED), None)
    if lifted is not None:
        wet, dry = lifted.figures["wet_kg"], lifted.figures["dry_kg"]
        return PotWeight(wet, dry, wet - dry), True
    if drained is not None and "water" in drained.figures:
        held, dry_kg_l = drained.figures["water"], drained.figures["dry_kg_l"]
        return pot_weight(group.pot_l, dry_kg_l, held, group.habit), False
    if reading is None or reading.water_held is None or reading.wet_mass.value is None:
        return None, False
    held = (reading.water_held.value or 0.0) / 100
    settled = reading.volumes.mixed_l * (1 - reading.volumes.settling)
    dry_kg_l = max(reading.wet_mass.value / settled - held, 0.02)
    return pot_weight(group.pot_l, dry_kg_l, held, group.habit), False


def _months(
    group: PotGroup, weight: PotWeight | None, deeds: list[PotDeed], today: date
) -> list[tuple[str, str]]:
    if weight is None:
        return []
    normals = group.yard.normals_c
    surface = group.surface_cm2
    leaves = [crop.canopy_m2 for crop in crops_named(group.plant)]
    canopy_m2 = group.plants * sum(leaves) / len(leaves) if leaves else 0.0

    def reckon(month: int, measured: float = 1.0) -> Range:
        taken = water_taken(normals, month)
        return days_between(weight.between_l, surface, taken, group.made_of, measured, canopy_m2)

    pace = pace_of(deeds, today)
    measured = pace.days / reckon(pace.on.month).typ if pace else 1.0
    order = [(today.month - 1 + i) % 12 for i in range(12)]
    return [(MONTHS[m], _span(reckon(m + 1, measured))) for m in order]


def _span(span: Range) -> str:
    low, high = max(round(span.low), 1), max(round(span.high), 1)
    return f"{low}" if low == high else f"{low} to {high}"
