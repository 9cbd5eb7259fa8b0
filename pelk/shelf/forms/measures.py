"""Weighings typed: three or more of one measure, or of a level cup."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from django import forms

from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.materials.material import Range
from pelk.core.materials.measures import CUP_ML, density_at_moisture
from pelk.core.materials.weighing import Weighed, density_of, moisture_by_drying, volume_of, weighed
from pelk.shelf.domain.hand_measures import Kind, Ruler, ruler
from pelk.shelf.models.materials import Material, ShelfItem, cores_of
from pelk.shelf.models.measures import HandMeasure
from pelk.ui.forms import MarkedForm, NumberField, offer
from pelk.ui.refusals import sentence
from pelk.ui.units import sizes
from pelk.yards.models import Yard

ROUNDS, ASKED = 5, 3
WEIGHTS = {"g": "grams", "oz": "ounces", "kg": "kilograms", "lb": "pounds"}
VOLUMES = {"mL": "millilitres", "L": "litres", "cup": "cups (236.6 mL)", "gal": "US gallons"}
STATES = HandMeasure.State.choices


class WeighingsForm(MarkedForm):
    """Up to five weighings; three are asked for."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for i in range(1, ROUNDS + 1):
            field = NumberField(label=f"{self.word} {i}", required=False, high=1e6)
            field.widget.attrs["autocomplete"] = "off"
            self.fields[f"w{i}"] = field

    word = "weighing"

    @property
    def rounds(self) -> list[forms.BoundField]:
        """The fields for the weighings."""
        return [self[f"w{i}"] for i in range(1, ROUNDS + 1)]

    folded: tuple[str, ...] = ()

    @property
    def others(self) -> list[forms.BoundField]:
        """The other fields that are always asked."""
        rounds = {r.name for r in self.rounds}
        return [f for f in self if f.name not in rounds and f.name not in self.folded]

    @property
    def seldom(self) -> list[forms.BoundField]:
        """The fields that are folded away."""
        return [self[name] for name in self.folded]

    @property
    def is_open(self) -> bool:
        """Whether something stands in a folded field."""
        return any(f.errors or f.value() not in (None, "", "as used") for f in self.seldom)

    def values(self) -> list[float]:
        """Return the weighings that were typed and can be read."""
        self.is_valid()
        data = getattr(self, "cleaned_data", {})
        typed = [data.get(f"w{i}") for i in range(1, ROUNDS + 1)]
        return [v for v in typed if v]

    def clean(self) -> dict[str, Any]:
        """Ask for three before it is kept."""
        data = super().clean() or {}
        given = [data.get(f"w{i}") for i in range(1, ROUNDS + 1)]
        if self.data.get("action") == "keep" and sum(bool(v) for v in given) < ASKED:
            first = next((i for i, v in enumerate(given, 1) if not v), 1)
            if f"w{first}" not in self.errors:
                self.add_error(f"w{first}", "Weigh it three times; one weighing alone says little.")
        return data


@dataclass(frozen=True, slots=True)
class TriedHand:
    """What the weighings come to so far."""

    values: list[float]
    weighing: Weighed
    one_ml: Range
    unit: str
    of: str
    picture: Ruler
    doubt: str
    says: str
    odd: list[str]


class HandForm(WeighingsForm):
    """How much one handful, scoop or shovel is."""

    folded = ("state", "moisture")

    of = forms.ChoiceField(label="What you measure", required=False)
    unit = forms.ChoiceField(
        label="In", choices=[("weight", [*WEIGHTS.items()]), ("volume", [*VOLUMES.items()])]
    )
    state = forms.ChoiceField(label="It is", choices=STATES, initial="as used")
    moisture = NumberField(
        label="Water in it, %, if you know",
        required=False,
        high=99,
        help_text="When it is drier or wetter than usual: it then weighs something else.",
    )

    def __init__(self, *args: Any, kind: Kind, yard: Yard, **kwargs: Any) -> None:
        self.kind, self.word, self.yard = kind, kind.name, yard
        super().__init__(*args, **kwargs)
        items = ShelfItem.objects.of(yard).values("material")
        self.known = {
            m.slug: m
            for m in Material.objects.filter(
                pk__in=items, role__in=("bulk", "dose")
            ).with_analysis()[:200]
        }
        by_volume = ("", "by volume, in a jug")
        of = offer(self, "of", [by_volume, *((s, m.name) for s, m in self.known.items())])
        large = kind.key in ("shovel", "spade", "bucket", "barrow")
        first = next((m.slug for m in self.known.values() if m.role == "dose"), "")
        self.fields["unit"].initial = "L" if large else "g" if first else "mL"
        of.initial = "" if large else first

    def clean(self) -> dict[str, Any]:
        """Ask of what, where it is weighed."""
        data = super().clean()
        if data.get("unit") in WEIGHTS and not data.get("of"):
            self.add_error("of", "Say what you weigh, or measure it in a jug instead.")
        if (
            data.get("unit") in WEIGHTS
            and data.get("state", "as used") != "as used"
            and data.get("moisture") is None
            and "moisture" not in self.errors
        ):
            self.add_error("moisture", "Enter roughly how much water is in it.")
        return data

    def tried(self) -> TriedHand | None:
        """Return what the weighings come to, or None while they say nothing."""
        values = self.values()
        data = getattr(self, "cleaned_data", {})
        unit, slug = data.get("unit", ""), data.get("of", "")
        if not values or not unit or "of" in self.errors or "moisture" in self.errors:
            return None
        try:
            weighing = weighed([v * sizes()[unit] for v in values])
            one_ml, of = self._volume(weighing, unit, slug, data)
        except PelkError as error:
            self.add_error(None, sentence(error))
            return None
        in_unit = weighed(values)
        holds = self.yard.measures.volume(one_ml.typ / 1000)
        return TriedHand(
            values,
            in_unit,
            one_ml,
            unit,
            of,
            ruler(values, in_unit, unit),
            f"{sig(in_unit.doubt, 2)} {unit}",
            f"A {self.kind.name} is {sig(in_unit.one.typ)} {unit}, {holds}",
            _odd(in_unit),
        )

    def _volume(
        self, weighing: Weighed, unit: str, slug: str, data: dict[str, Any]
    ) -> tuple[Range, str]:
        if unit in VOLUMES:
            one = weighing.one
            return Range(one.low * 1000, one.typ * 1000, one.high * 1000), "in a jug"
        material = self.known[slug]
        core = cores_of([material])[0]
        density = core.loose_density()
        if data.get("moisture") is not None and core.moisture_pct is not None:
            density = Range(
                *(
                    density_at_moisture(d, core.moisture_pct, data["moisture"])
                    for d in (density.low, density.typ, density.high)
                )
            )
        return volume_of(weighing, density), material.short_name


def _odd(weighing: Weighed) -> list[str]:
    return [f"weighing {i + 1}" for i in weighing.odd]


@dataclass(frozen=True, slots=True)
class TriedCup:
    """What weighing a cup comes to so far."""

    values: list[float]
    weighing: Weighed
    density: Range
    moisture_pct: float | None
    picture: Ruler
    was: str
    note: str
    odd: list[str]


class CupForm(WeighingsForm):
    """What a level cup of a material weighs, in grams."""

    word, folded = "cup", ("state", "fresh_g", "dried_g")
    cup_ml = NumberField(label="The cup holds, mL", low=20, high=20_000)
    state = forms.ChoiceField(label="It is", choices=STATES, initial="as used")
    fresh_g = NumberField(label="Before drying, g", required=False, high=1e5)
    dried_g = NumberField(
        label="The same, dried, g",
        required=False,
        high=1e5,
        help_text="Dry it on a tray in a warm oven until it stops losing weight. This gives its "
        "moisture.",
    )

    field_order = ["cup_ml", "state", "fresh_g", "dried_g"]

    def __init__(self, *args: Any, yard: Yard, material: Material, **kwargs: Any) -> None:
        self.material = material
        kwargs.setdefault(
            "initial", {"cup_ml": f"{sig(CUP_ML[yard.system], 4)}", "state": "as used"}
        )
        super().__init__(*args, **kwargs)

    def clean(self) -> dict[str, Any]:
        """Ask for the moisture of a cup that is drier or wetter than usual."""
        data = super().clean()
        fresh, dried = data.get("fresh_g"), data.get("dried_g")
        if (fresh is None) is not (dried is None):
            self.add_error(
                "dried_g" if dried is None else "fresh_g",
                "Enter both weights, or leave both blank.",
            )
        if data.get("state", "as used") != "as used" and fresh is None:
            self.add_error(
                "fresh_g", "Dry a sample as well, so that Pelk can allow for the moisture."
            )
        return data

    def tried(self) -> TriedCup | None:
        """Return what the weighings come to, or None while they say nothing."""
        values = self.values()
        data = getattr(self, "cleaned_data", {})
        if not values or not data.get("cup_ml"):
            return None
        core = self.material.core
        try:
            weighing = weighed(values)
            density = density_of(weighing, data["cup_ml"])
            moisture = None
            if data.get("fresh_g") and data.get("dried_g"):
                moisture = moisture_by_drying(data["fresh_g"], data["dried_g"])
            note = f"mean of {len(values)}"
            if (
                data.get("state") not in (None, "as used")
                and moisture is not None
                and core.moisture_pct
            ):
                # Weighed at another moisture: brought back to how it is used.
                density = Range(
                    *(
                        density_at_moisture(d, moisture, core.moisture_pct)
                        for d in (density.low, density.typ, density.high)
                    )
                )
                note += f", {dict(STATES)[data['state']]}"
                moisture = None
        except PelkError as error:
            self.add_error(None, sentence(error))
            return None
        held = core.density
        was = f"{sig(held.typ)} kg/L, {sig(held.low, 2)}–{sig(held.high, 2)}" if held else ""
        return TriedCup(
            values,
            weighing,
            density,
            moisture,
            ruler(values, weighing, "g"),
            was,
            note,
            _odd(weighing),
        )
