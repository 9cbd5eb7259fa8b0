"""Air, water and weight of some pots: reckoned, tested by draining and lifting, what follows."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date
from typing import Any

import msgspec
from django import forms

from pelk.bench.formats.documents import MixDocument, PartDocument
from pelk.core.base.errors import PelkError
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.core.materials.library import Material, Range, library
from pelk.core.vessels.drainage import (
    AIR_OF_GROUP,
    aggregate_for,
    drain_test,
    pot_advice,
    wanted_air,
)
from pelk.core.vessels.watering import PotWeight, days_between, pot_weight, water_taken
from pelk.pots.models import POT_WORDS, PotDeed, PotFill, PotGroup
from pelk.shelf.selectors import known_materials
from pelk.ui.forms import NumberField, mark_errors
from pelk.ui.units import Measures, sizes
from pelk.yards.models import Yard

AGGREGATE = "perlite"
CLOSE, PERCENT = 0.02, 100.0
MONTHS = ["Jan", "Feb", "Mar", "Apr", "May", "Jun", "Jul", "Aug", "Sep", "Oct", "Nov", "Dec"]


class DrainForm(forms.Form):
    """A drain test of one filled pot."""

    volume = NumberField(label="the pot holds to the line, mL", low=50, high=2e5)
    drained = NumberField(label="ran out in an hour, mL", low=0, high=2e5)
    wet = NumberField(label="the soil drained, g", required=False, low=1, high=5e5)
    dry = NumberField(label="the same dried, g", required=False, low=1, high=5e5)

    def clean(self) -> dict[str, Any]:
        """Read the test; what cannot be is said beside its field."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        if not self.errors:
            try:
                wet, dry = data.get("wet") or 2.0, data.get("dry") or 1.0
                test = drain_test(data["volume"], data["drained"], wet, dry)
            except PelkError as error:
                field = {"drained_ml": "drained", "dry_g": "dry"}.get(error.path, "drained")
                self.add_error(field, f"{error.message[0].upper()}{error.message[1:]}.")
            else:
                self.figures = {"air": test.air_filled}
                if data.get("wet") and data.get("dry"):
                    self.figures |= {
                        "water": test.container_capacity,
                        "dry_kg_l": test.dry_density_kg_l,
                    }
        mark_errors(self)
        return data


class LiftForm(forms.Form):
    """A lift test: one pot weighed watered and thirsty, in the yard's weights."""

    wet = NumberField(low=0.05, high=1000)
    dry = NumberField(low=0.05, high=1000)
    days = NumberField(label="days between the two", required=False, low=0.2, high=120)

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.unit = "lb" if yard.system == yard.System.US else "kg"
        self.fields["wet"].label = f"watered and drained, {self.unit}"
        self.fields["dry"].label = f"when it wants water, {self.unit}"

    def clean(self) -> dict[str, Any]:
        """Refuse a pot that got heavier by drying."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        if not self.errors and data["dry"] >= data["wet"]:
            self.add_error("dry", "A thirsty pot is lighter than a watered one.")
        mark_errors(self)
        return data

    @property
    def figures(self) -> dict[str, float]:
        """What was weighed, for the service."""
        data = self.cleaned_data
        size = sizes()[self.unit] / 1000
        weights = {"wet_kg": data["wet"] * size, "dry_kg": data["dry"] * size}
        return weights | ({"days": data["days"]} if data["days"] else {})


@dataclass(frozen=True, slots=True)
class AirReading:
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


def main_fill(group: PotGroup) -> PotFill | None:
    """Return the filling that most of a group is of, where it is one of the yard's heaps."""
    fills = group.fills.filter(deleted_at=None, batch__isnull=False).select_related("batch")
    return max(fills, key=lambda f: f.taken_l, default=None)


def reckoned(group: PotGroup, fill: PotFill | None) -> Evaluation | None:
    """Return what fills a group as it stands in these pots."""
    if fill is None or fill.batch is None:
        return None
    plan, shelf = fill.batch.plan_as_mixed()
    plan = replace(plan, crop=group.crop, pot_height_cm=group.soil_height_cm)
    try:
        return evaluate(plan, shelf, samples=0)
    except PelkError:
        return None


def air_of(group: PotGroup, deeds: list[PotDeed], today: date) -> AirReading:
    """Return the air, water and weight of a group's pots."""
    fill = main_fill(group)
    reading = reckoned(group, fill)
    height = group.soil_height_cm
    pot = POT_WORDS.get(group.made_of, group.made_of)
    wanted = wanted_air(AIR_OF_GROUP[group.crop], pot, group.habit, height)
    by_sums = (
        reading.air.value / PERCENT
        if reading and reading.air and reading.air.value is not None
        else None
    )
    drained = next((d for d in deeds if d.kind == PotDeed.Kind.DRAINED), None)
    tested = drained.figures.get("air") if drained else None
    share = share_for(reading, wanted, by_sums, tested) if reading else None
    state, word, say = _judged(wanted, tested if tested is not None else by_sums)
    weight, is_weighed = _weight(group, reading, drained, deeds)
    return AirReading(
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


def share_for(
    reading: Evaluation, wanted: float, by_sums: float | None, tested: float | None
) -> float | None:
    """Return the share of perlite in the whole that gives the air wanted; None when none does.

    A test shifts what is aimed at by as much as it stood off the sums.
    """
    aim = wanted if tested is None or by_sums is None else wanted + by_sums - tested
    base = [(b.material, b.share) for b in reading.bulk if b.material.slug != AGGREGATE]
    aggregate = known_aggregate(reading)
    if not base or reading.pot is None:
        return None
    try:
        return aggregate_for(base, aggregate, reading.pot.height_cm, min(max(aim, 0.02), 0.6))
    except PelkError:
        return None


def known_aggregate(reading: Evaluation) -> Material:
    """Return perlite as this batch knows it, or as the library does."""
    own = next((b.material for b in reading.bulk if b.material.slug == AGGREGATE), None)
    return own or library()[AGGREGATE]


def with_aggregate(document: MixDocument, share: float) -> MixDocument:
    """Return a recipe with perlite at a share of its loose volume; others keep proportion."""
    rows = [row for row in document.bulk if row.material != AGGREGATE]
    first = rows[0]
    unit = first.unit
    whole = sum((r.parts or r.percent or r.amount or 0.0) for r in rows)
    if first.percent is not None:
        scale = 100 * (1 - share) / whole
        rows = [
            msgspec.structs.replace(r, percent=round((r.percent or 0) * scale, 2)) for r in rows
        ]
        rest = round(100 - sum(r.percent or 0 for r in rows), 2)
        new = PartDocument(AGGREGATE, percent=rest)
    else:
        more = round(whole * share / (1 - share), 2)
        new = (
            PartDocument(AGGREGATE, parts=more)
            if first.parts is not None
            else PartDocument(AGGREGATE, amount=more, unit=unit)
        )
    return msgspec.structs.replace(document, bulk=[*rows, new] if share > 0 else rows)


def _judged(wanted: float, air: float | None) -> tuple[str, str, str]:
    if air is None:
        return "none", "Not known", "What fills them is none of your heaps: test one pot."
    if air < wanted - CLOSE:
        return (
            "short",
            "Tight",
            f"Air {air:.0%} after draining; near {wanted:.0%} is wanted here.",
        )
    if air > wanted + 0.08:
        return (
            "plenty",
            "Airy",
            f"Air {air:.0%}, more than the {wanted:.0%} wanted: it dries sooner.",
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
    held = (reading.water_held.value or 0.0) / PERCENT
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

    def reckon(month: int, measured: float = 1.0) -> Range:
        taken = water_taken(normals, month)
        return days_between(weight.between_l, surface, taken, group.made_of, measured)

    timed = next((d for d in deeds if d.kind == PotDeed.Kind.LIFTED and "days" in d.figures), None)
    measured = timed.figures["days"] / reckon(timed.on.month).typ if timed else 1.0
    order = [(today.month - 1 + i) % 12 for i in range(12)]
    return [(MONTHS[m], _span(reckon(m + 1, measured))) for m in order]


def _span(span: Range) -> str:
    low, high = max(round(span.low), 1), max(round(span.high), 1)
    return f"{low}" if low == high else f"{low} to {high}"


def perlite_of(group: PotGroup) -> str:
    """Return what perlite is called in this yard."""
    return known_materials(group.yard, [AGGREGATE])[AGGREGATE].short_name
