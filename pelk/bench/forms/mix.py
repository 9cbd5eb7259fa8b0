"""The Bench's form: rows of text as typed, and the document they make.

Hand-written rows, because the editing grid is the hot path and everything typed must
come back as it was, readable or not.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from typing import Any, Literal, cast

from django.http import QueryDict
from msgspec import UNSET

from pelk.bench.formats.documents import (
    BatchDocument,
    ConditionsDocument,
    DoseDocument,
    KeptDocument,
    MixDocument,
    PartDocument,
    VesselsDocument,
    kept_of,
    read_kept,
)
from pelk.bench.forms.mix_rows import DoseRow, PartRow
from pelk.bench.forms.part_units import Fillings
from pelk.bench.forms.rows import DOSES, PARTS, DoseRows, PartRows, cleaned
from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.plans.plan import INOCULUM
from pelk.core.salts.water_ions import WaterAnalysis
from pelk.ui.days import not_a_day, read_day
from pelk.ui.numbers import read_number
from pelk.ui.refusals import sentence
from pelk.ui.units import FILLED, Measures, sizes

KEPT_MAX = 200_000
SHOWN_IONS = ("Ca", "Mg", "Na", "K", "Cl", "S", "NO3-N", "P", "B")
SHOWN_ION_MG_L = 0.5
FULL_PERCENT, PERCENT_SLACK = 100.0, 0.5
NOT_A_NUMBER = "Enter one number, such as 0.9, and choose the unit beside it."
TEXTS = (
    "name",
    "crop",
    "how",
    "count",
    "kind",
    "litres",
    "volume",
    "volume_unit",
    "part",
    "part_unit",
    "way",
    "way_was",
    "spare",
    "temperature",
    "months",
    "start",
    "ready_by",
    "feeding",
    "inoculum",
    "moisture",
    "alkalinity",
    "tap",
    "weekly",
    "aim_ph",
    "aim_day",
    "version_note",
    "bag_l",
    "bag_price",
    "charge_unit",
    "charge_as",
)
START = "conditions.start"
MOISTURES = {"dry": "dry", "moist": "moist", "wet": "wet"}
HOW = {
    "pots": "pots",
    "litres": "a volume",
    "part": "the size of one part",
    "sum": "whatever the volumes make",
}
VOLUME_WAYS = ("L", "gal", "ft3")
WAYS = {
    "parts": "parts",
    "percent": "percent",
    "L": "litres",
    "gal": "gallons",
    "ft3": "cubic feet",
}


@dataclass(slots=True)
class BenchForm:
    """Everything typed on the Bench.

    Attributes
    ----------
    errors : dict of str to str
        By path of the format; those of rows also stand on the rows.
    """

    name: str = "New mix"
    crop: str = "fruiting"
    how: str = "pots"
    count: str = "10"
    kind: str = "round-pot"
    litres: str = "5"
    volume: str = "50"
    volume_unit: str = "L"
    part: str = "10"
    part_unit: str = "L"
    way: str = "parts"
    way_was: str = ""
    spare: str = "5"
    temperature: str = "20"
    months: str = ""
    start: str = ""
    ready_by: str = ""
    feeding: str = ""
    inoculum: str = ""
    moisture: str = "moist"
    alkalinity: str = "0"
    # Key of `WATERS`: what it is watered with.
    tap: str = ""
    weekly: str = "0"
    aim_ph: str = ""
    aim_day: str = "60"
    version_note: str = ""
    # A ready-made bag to set the mix beside.
    bag_l: str = ""
    bag_price: str = ""
    charge_unit: str = "mg/L"
    charge_as: str = "element"
    # What of the recipe is not edited here, carried along as it was.
    kept: str = ""
    parts: list[PartRow] = field(default_factory=list)
    doses: list[DoseRow] = field(default_factory=list)
    errors: dict[str, str] = field(default_factory=dict)
    errors_kept: dict[str, str] = field(default_factory=dict)
    # The yard's own months, for mixes that lie out of doors.
    normals_c: list[float] | None = None
    # How it reads its amounts.
    measures: Measures = field(default_factory=lambda: Measures("metric"))
    # And fills its bags, buckets and barrows.
    fillings: Fillings | None = None
    # And its water.
    yard_water: WaterAnalysis = field(default_factory=WaterAnalysis)

    @classmethod
    def from_post(cls, post: QueryDict) -> BenchForm:
        """Return what was typed, as it was typed."""
        parts = [
            PartRow(
                row["material"],
                row["parts"],
                bool(row["lock"]),
                row["there"],
                unit=row["unit"],
                held=row["held"],
            )
            for row in PartRows(post, prefix=PARTS).typed()
        ]
        doses = [
            DoseRow(row["material"], row["amount"], row["unit"], row["per"])
            for row in DoseRows(post, prefix=DOSES).typed()
        ]
        form = cls(parts=parts, doses=doses, kept=post.get("kept", "")[:KEPT_MAX])
        for name in TEXTS:
            setattr(form, name, cleaned(post.get(name, getattr(form, name))))
        return form

    @classmethod
    def from_document(cls, document: MixDocument) -> BenchForm:
        """Return a kept recipe as the Bench shows it."""
        form = cls(name=document.name, crop=document.crop, kept=kept_of(document))
        batch = document.batch
        if batch is not None:
            form.spare = _text(batch.spare * 100)
            if batch.vessels:
                vessel = batch.vessels[0]
                form.how, form.kind = "pots", vessel.kind
                form.count, form.litres = str(vessel.count), _text(vessel.litres)
            elif batch.part is not None:
                form.how, form.part, form.part_unit = ("part", _text(batch.part), batch.unit)
            else:
                form.how, form.volume = "litres", _text(batch.volume)
                form.volume_unit = batch.unit
        if document.conditions is not UNSET:
            held = document.conditions
            form.temperature, form.moisture = _text(held.temperature_c), held.moisture
            form.months = "1" if held.monthly_c else ""
            form.start, form.inoculum = held.start or "", held.inoculum or ""
            form.alkalinity = _text(held.water_alkalinity_mg_l)
            form.weekly = _text(held.water_l_per_l_week)
            form.tap = "recipe" if held.water_ions_mg_l else ""
        if document.bulk and document.bulk[0].percent is not None:
            form.way = "percent"
        elif document.bulk and document.bulk[0].amount is not None:
            form.way = next((r.unit for r in document.bulk if r.unit in VOLUME_WAYS), "L") or "L"
        if batch is None:
            form.how = "sum"
        form.ready_by = document.ready_by or ""
        form.feeding = document.feeding or ""
        form.parts = [
            PartRow(
                r.material,
                _text(r.parts or r.percent or r.amount),
                unit="" if r.unit == form.way else r.unit or "",
                held=f"{r.unit} {_text(r.unit_l)}" if r.unit_l else "",
            )
            for r in document.bulk
        ]
        form.doses = [
            DoseRow(r.material, _text(r.amount), r.unit, r.per or "") for r in document.doses
        ]
        return form

    def as_document(self) -> MixDocument:
        """Return the document of what was typed; unreadable numbers are noted.

        Numbers that cannot be read stand as 1 in it, so that the rest is judged too;
        look at `errors` before using it.
        """
        self.errors = {}
        if not self.name.strip():
            self.errors["name"] = "Give the mix a name."
        bulk = [self._part(row, f"bulk[{i}]") for i, row in enumerate(self.parts)]
        doses = [
            DoseDocument(
                row.material,
                self._number(row.amount, f"doses[{i}].amount"),
                row.unit,
                row.per or None,
            )
            for i, row in enumerate(self.doses)
        ]
        kept = self._kept()
        return MixDocument(
            name=self.name.strip(),
            crop=self.crop,
            batch=self._batch(kept),
            bulk=bulk,
            doses=doses,
            materials=kept.materials,
            conditions=self._conditions(kept),
            days=kept.days,
            pot_height_cm=kept.pot_height_cm,
            ready_by=self._day(self.ready_by, "ready_by"),
            feeding=self.feeding or None,
        )

    def _kept(self) -> KeptDocument:
        try:
            return read_kept(self.kept)
        except PelkError as error:
            self.errors[error.path] = sentence(error)
            return KeptDocument()

    def _part(self, row: PartRow, path: str) -> PartDocument:
        size = self._number(row.parts, f"{path}.parts")
        if self.way == "percent" and self.percent_open is None:
            return PartDocument(row.material, percent=size)
        if self.way in VOLUME_WAYS:
            return self._counted(row, size, path)
        return PartDocument(row.material, parts=size)

    def _counted(self, row: PartRow, size: float, path: str) -> PartDocument:
        unit = row.unit or self.way
        if unit not in FILLED:
            return PartDocument(row.material, amount=size, unit=unit)
        if row.one_l is None:
            self.errors[f"{path}.unit"] = (
                f"How many litres does one {unit} of it hold, loose? Write “1 {unit}” and its "
                "name in the box below: it asks."
            )
            return PartDocument(row.material, amount=size, unit=self.way)
        return PartDocument(row.material, amount=size, unit=unit, unit_l=row.one_l)

    @property
    def percent_open(self) -> float | None:
        """What is missing of a hundred (over it: negative); None where nothing is. [%].

        While something is, the percents count as parts.
        """
        if self.way != "percent" or not self.parts:
            return None
        known = [read_number(row.parts) for row in self.parts]
        missing = FULL_PERCENT - sum(n for n in known if n is not None)
        return missing if abs(missing) > PERCENT_SLACK else None

    def _conditions(self, kept: KeptDocument) -> ConditionsDocument:
        moisture = self.moisture if self.moisture in MOISTURES else "moist"
        return ConditionsDocument(
            temperature_c=self._degrees(),
            moisture=cast(Literal["dry", "moist", "wet"], moisture),
            inoculum=cast(Any, self.inoculum if self.inoculum in INOCULUM else None),
            monthly_c=self.normals_c if self.months == "1" else None,
            start=self._day(self.start, START),
            water_alkalinity_mg_l=self._alkalinity(kept),
            water_l_per_l_week=self._number(self.weekly, "conditions.water_l_per_l_week"),
            leaching_fraction=kept.leaching_fraction,
            water_ions_mg_l=self._ions(kept),
            water_ions_as_given={
                "yard": self.yard_water.as_given,
                "recipe": kept.water_ions_as_given,
            }.get(self.tap, False),
        )

    def _day(self, typed: str, path: str) -> str | None:
        """Return a day as a document keeps it; note what is none."""
        read = read_day(typed)
        if typed and read is None:
            self.errors[path] = not_a_day()
        return read.isoformat() if read else None

    def _degrees(self) -> float:
        path = "conditions.temperature_c"
        value = self._number(self.temperature, path)
        return 20.0 if path in self.errors else self.measures.celsius(value)

    def read_in(self, measures: Measures, *, is_typed: bool) -> None:
        """Know how the yard reads its amounts; a kept warmth is shown in its degrees."""
        self.measures = measures
        if not is_typed and (warm_c := read_number(self.temperature)) is not None:
            self.temperature = sig(measures.degrees(warm_c), 4)

    def _alkalinity(self, kept: KeptDocument) -> float:
        if self.tap == "yard":
            return self.yard_water.alkalinity_mg_l
        if self.tap == "recipe":
            return kept.water_alkalinity_mg_l
        return self._number(self.alkalinity, "conditions.water_alkalinity_mg_l")

    def _ions(self, kept: KeptDocument) -> dict[str, float]:
        if self.tap == "yard":
            return self.yard_water.ions_mg_l
        return kept.water_ions_mg_l if self.tap == "recipe" else {}

    def fill(self, fillings: Fillings) -> None:
        """Know how the yard fills its packs and measures."""
        self.fillings = fillings
        for row in self.parts:
            row.held = fillings.held(row.material, row.unit, row.held)

    def litres_of_one(self, row: PartRow) -> float | None:
        """Return what one unit of a part comes to; of parts and percents one. [L]."""
        if self.way not in VOLUME_WAYS:
            return 1.0
        if row.one_l is not None:
            return row.one_l
        unit = row.unit or self.way
        if self.fillings is None:
            return sizes().get(unit) if unit in VOLUME_WAYS else None
        return self.fillings.litres_of_one(row.material, unit)

    def pour(self, water: WaterAnalysis) -> None:
        """Know the yard's water; a recipe that was made with it, or is new, is watered with it."""
        self.yard_water = water
        if water.known == "unknown":
            self.tap = "" if self.tap == "yard" else self.tap
        elif self.tap == "recipe" and self._kept().water_ions_mg_l == water.ions_mg_l:
            self.tap = "yard"

    @property
    def waters(self) -> tuple[tuple[str, str], ...]:
        """What it can be watered with, by key of `tap`."""
        offered = {"": "water of"}
        if self.yard_water.known != "unknown":
            offered["yard"] = "this yard’s water"
        ions = self._kept().water_ions_mg_l
        if ions and (self.tap == "recipe" or ions != self.yard_water.ions_mg_l):
            offered["recipe"] = "the water of this recipe"
        return tuple(offered.items())

    @property
    def water_shown(self) -> str:
        """The water that was chosen, in a few figures."""
        kept = self._kept()
        ions = {e: c for e, c in self._ions(kept).items() if c >= SHOWN_ION_MG_L}
        # In one order, whatever order a database keeps its keys in.
        order = {e: i for i, e in enumerate(SHOWN_IONS)}
        shown = sorted(ions.items(), key=lambda ion: (order.get(ion[0], len(order)), ion[0]))
        listed = ", ".join(f"{e} {sig(c, 2)}" for e, c in shown)
        alkalinity = f"alkalinity {sig(self._alkalinity(kept), 3)} mg/L"
        return f"{alkalinity}; {listed} mg/L" if listed else alkalinity

    def note(self, problems: list[PelkError]) -> None:
        """Put each problem beside its field; what was noted first stays."""
        for problem in problems:
            self.errors.setdefault(problem.path, sentence(problem))
        tables: list[tuple[str, Sequence[PartRow | DoseRow]]] = [
            ("bulk", self.parts),
            ("doses", self.doses),
        ]
        for name, rows in tables:
            for i, row in enumerate(rows):
                noted = [
                    text for path, text in self.errors.items() if path.startswith(f"{name}[{i}].")
                ]
                row.error = sentence(noted[0]) if noted else ""

    @property
    def batch_error(self) -> str:
        """What is wrong with how much to make."""
        texts = [t for p, t in self.errors.items() if p.startswith(("batch", "crop", "kept"))]
        return sentence(texts[0]) if texts else ""

    @property
    def where_error(self) -> str:
        """What is wrong with where it lies."""
        elsewhere = [
            p for p in self.errors if p.startswith(("conditions", "feeding")) and p != START
        ]
        return sentence(self.errors[elsewhere[0]]) if elsewhere else ""

    @property
    def start_error(self) -> str:
        """What is wrong with the day it is mixed on."""
        return self.errors.get(START, "")

    @property
    def form_error(self) -> str:
        """What is wrong with the parts as a whole."""
        return sentence(self.errors["bulk"]) if "bulk" in self.errors else ""

    def _batch(self, kept: KeptDocument) -> BatchDocument | None:
        if self.how == "sum" and self.way in VOLUME_WAYS:
            return None
        spare = self._number(self.spare, "batch.spare") / 100
        if self.how == "litres":
            volume = self._number(self.volume, "batch.volume")
            return BatchDocument(volume=volume, unit=self.volume_unit, spare=spare)
        if self.how == "part":
            part = self._number(self.part, "batch.part")
            return BatchDocument(part=part, unit=self.part_unit, spare=spare)
        count = self._number(self.count, "batch.vessels[0].count")
        if count != int(count):
            self.errors["batch.vessels[0].count"] = "Enter a whole number of pots."
        trade = self.kind.startswith("trade-")
        litres = None if trade else self._number(self.litres, "batch.vessels[0].litres")
        pots = VesselsDocument(kind=self.kind, count=int(count), litres=litres)
        return BatchDocument(vessels=[pots, *kept.vessels], spare=spare)

    def _number(self, text: str, path: str) -> float:
        value = read_number(text)
        if value is None:
            self.errors[path] = NOT_A_NUMBER
            return 1.0
        return value


def _text(value: float | None) -> str:
    return "" if value is None else sig(value, 12)
