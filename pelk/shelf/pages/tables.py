"""The rows of a material's page, written for a reader."""

from dataclasses import dataclass
from datetime import date

from pelk.core.base.elements import LABEL_OXIDE, element_in_oxide
from pelk.core.base.rounding import sig
from pelk.core.materials.facts import CONTENTS, FACTS, Fact, value_of
from pelk.core.materials.material import Material, Provenance, Range

# Below this share a content reads better in mg/kg.
TRACE_PCT = 0.05
LONG_UNIT = 6
# Kept as shares, read as percent.
SHARES = frozenset(["mineral_n"])
# What the page shows first; the rest is folded.
MAIN = frozenset(["N", "P", "K", "Ca", "Mg", "S", ""])
PHYSICAL = tuple(key for key in FACTS if key not in CONTENTS)


@dataclass(frozen=True, slots=True)
class Row:
    """One fact: name, typical value, span, and where it comes from."""

    fact: str
    name: str
    value: str
    span: str
    mark: str
    note: str = ""


def analysis_rows(material: Material, *, oxide: bool = False) -> list[Row]:
    """Return what a material holds, as elements or as label oxides."""
    rows = []
    for element in CONTENTS:
        content = material.composition.get(element)
        if content is None:
            continue
        name = CONTENTS[element]
        if oxide and element in LABEL_OXIDE:
            label = LABEL_OXIDE[element]
            name = f"{name} as {label}"
            content = _scaled(content, 1 / element_in_oxide(label))
        rows.append(_content_row(material, FACTS[element], content, name))
    if ratio := _carbon_to_nitrogen(material):
        rows.append(Row("", "Carbon to nitrogen", f"{ratio:.0f} : 1", "", "derived"))
    return rows


def physical_rows(material: Material) -> list[Row]:
    """Return how a material weighs, buffers and salts."""
    values = [(FACTS[key], value_of(material, key)) for key in PHYSICAL]
    return [
        _row(material, held, _scaled(value, 100) if held.key in SHARES else value, *_named(held))
        for held, value in values
        if value is not None
    ]


def _named(held: Fact) -> tuple[str, str]:
    """Return a fact's name and unit; a long unit goes with the name."""
    if held.key in SHARES:
        return held.name, "%"
    if len(held.unit) > LONG_UNIT:
        return f"{held.name}, {held.unit}", ""
    return held.name, held.unit


def unknown_facts(material: Material) -> list[Fact]:
    """Return what nobody has said of a material yet."""
    return [held for key, held in FACTS.items() if value_of(material, key) is None]


def _carbon_to_nitrogen(material: Material) -> float | None:
    carbon, nitrogen = material.composition.get("C"), material.composition.get("N")
    return carbon.typ / nitrogen.typ if carbon and nitrogen and nitrogen.typ else None


def _scaled(content: Range, factor: float) -> Range:
    return Range(content.low * factor, content.typ * factor, content.high * factor)


def _content_row(material: Material, held: Fact, content: Range, name: str) -> Row:
    if 0 < content.typ < TRACE_PCT:
        return _row(material, held, _scaled(content, 1e4), name, "mg/kg")
    return _row(material, held, content, name, "%")


def _row(material: Material, held: Fact, value: Range, name: str, unit: str) -> Row:
    span = "" if value.low == value.high else f"{sig(value.low, 2)}–{sig(value.high, 2)} {unit}"
    provenance = material.provenances.get(held.key)
    if held.key in material.usable:
        name = f"{name}, printed as available"
    return Row(
        held.key,
        name,
        f"{sig(value.typ)} {unit}".strip(),
        span,
        material.mark_of(held.key),
        _whence(provenance) if provenance else "",
    )


def _whence(provenance: Provenance) -> str:
    """Say when a value was had; from whom, stands in its drawer."""
    return (
        f"{date.fromisoformat(provenance.dated):%-d %b %Y}" if provenance.dated else provenance.note
    )
