"""The rows of a material's page, written for a reader."""

from dataclasses import dataclass

from pelk.core.elements import LABEL_OXIDE, element_in_oxide
from pelk.core.materials import Material, Range
from pelk.ui.numbers import sig

NAMES = {
    "N": "Nitrogen, total", "P": "Phosphorus", "K": "Potassium", "Ca": "Calcium",
    "Mg": "Magnesium", "S": "Sulfur", "S elemental": "of it elemental", "C": "Carbon",
    "Fe": "Iron", "Na": "Sodium", "Cl": "Chloride", "Mn": "Manganese", "Zn": "Zinc",
    "Cu": "Copper", "B": "Boron",
}  # fmt: skip
# Below this share a content reads better in mg/kg.
TRACE_PCT = 0.05


@dataclass(frozen=True, slots=True)
class Row:
    """One fact: name, typical value, span, and on what ground it stands."""

    name: str
    value: str
    span: str
    mark: str


def analysis_rows(material: Material, *, oxide: bool = False) -> list[Row]:
    """Return what a material holds, as elements or as label oxides."""
    rows = []
    for element, name in NAMES.items():
        content = material.composition.get(element)
        if content is None:
            continue
        mark = material.mark_of(element)
        if oxide and element in LABEL_OXIDE:
            label = LABEL_OXIDE[element]
            name, content = (
                f"{name} as {label}",
                _scaled(content, 1 / element_in_oxide(label)),
            )
        rows.append(_content_row(name, content, mark))
    if ratio := _carbon_to_nitrogen(material):
        rows.append(Row("Carbon to nitrogen", f"{ratio:.0f} : 1", "", "derived"))
    return rows


def physical_rows(material: Material) -> list[Row]:
    """Return how a material weighs, buffers and salts."""
    rows = []
    unit = {
        "density": ("Weight of a litre", "kg/L"), "ph": ("pH", ""),
        "buffer": ("Buffer capacity", "meq/L per pH"),
        "cce": ("Lime value (CaCO3 equivalent)", "%"), "ec": ("Salts, SME", "dS/m"),
    }  # fmt: skip
    for fact, (name, suffix) in unit.items():
        value: Range | None = getattr(material, fact)
        if value is not None:
            rows.append(_row(name, value, suffix, material.mark_of(fact)))
    if material.moisture_pct is not None:
        rows.append(Row("Moisture", f"{sig(material.moisture_pct)} %", "", "book"))
    if material.loose_l_per_kg:
        loosened = f"{sig(material.loose_l_per_kg)} L per kg"
        rows.append(Row("Loosens to", loosened, "", "practice"))
    if material.acid_base:
        base = f"{material.acid_base:+.3g} kg CaCO3 per 100 kg"
        rows.append(Row("Acid − or base +", base, "", material.mark_of("acid_base")))
    return rows


def _carbon_to_nitrogen(material: Material) -> float | None:
    carbon, nitrogen = material.composition.get("C"), material.composition.get("N")
    return carbon.typ / nitrogen.typ if carbon and nitrogen and nitrogen.typ else None


def _scaled(content: Range, factor: float) -> Range:
    return Range(content.low * factor, content.typ * factor, content.high * factor)


def _content_row(name: str, content: Range, mark: str) -> Row:
    if 0 < content.typ < TRACE_PCT:
        return _row(name, _scaled(content, 1e4), "mg/kg", mark)
    return _row(name, content, "%", mark)


def _row(name: str, value: Range, unit: str, mark: str) -> Row:
    span = "" if value.low == value.high else f"{sig(value.low, 2)}–{sig(value.high, 2)}"
    return Row(name, f"{sig(value.typ)} {unit}".strip(), span, mark)
