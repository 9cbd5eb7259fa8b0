"""What is known of a material, value by value, and a grower's own values over it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from math import isfinite
from typing import Any

from pelk.core.base.elements import element_in_oxide
from pelk.core.base.errors import OutOfRangeError, PelkError
from pelk.core.base.guards import answers
from pelk.core.base.quantities import (
    ACID_BASE,
    BUFFER,
    CCE,
    CONTENT,
    DENSITY,
    LOOSENING,
    MOISTURE,
    OWN_PH,
    SALTS,
    SHARE,
    Quantity,
)
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material, Provenance, Range, checked

PROVENANCES = ("label", "lab", "yours", "guess")
# How far off a lone value may be, as factors, by its ground.
SPREAD = {"lab": (0.9, 1.1), "label": (0.85, 1.15), "yours": (0.9, 1.1), "guess": (0.5, 2.0)}
PH_SPREAD = {"lab": 0.2, "label": 0.5, "yours": 0.3, "guess": 1.0}
# Weight of all that is in a hundred of a material.
WHOLE_PCT = 100.0
# Between these a bulk material holds less free carbonate than its kind.
NO_CARBONATE_PH, ALL_CARBONATE_PH = 6.2, 7.0


@dataclass(frozen=True, slots=True)
class Fact:
    """One thing that can be known of a material.

    Attributes
    ----------
    has_span : bool
        Kept as low, typical and high; else one number.
    """

    key: str
    name: str
    quantity: Quantity
    has_span: bool = True

    @property
    def is_content(self) -> bool:
        """Whether it is a share of the weight."""
        return self.quantity is CONTENT

    @property
    def unit(self) -> str:
        """The unit it is kept in; empty for pH and factors."""
        return "" if self.quantity.unit == "-" else self.quantity.unit


CONTENTS = {
    "N": "Nitrogen, total",
    "P": "Phosphorus",
    "K": "Potassium",
    "Ca": "Calcium",
    "Mg": "Magnesium",
    "S": "Sulfur",
    "S elemental": "of it elemental",
    "C": "Carbon",
    "Fe": "Iron",
    "Na": "Sodium",
    "Cl": "Chloride",
    "Mn": "Manganese",
    "Zn": "Zinc",
    "Cu": "Copper",
    "B": "Boron",
}
FACTS: dict[str, Fact] = {
    **{key: Fact(key, name, CONTENT) for key, name in CONTENTS.items()},
    "density": Fact("density", "Weight by volume", DENSITY),
    "ph": Fact("ph", "pH", OWN_PH),
    "buffer": Fact("buffer", "Buffer capacity", BUFFER),
    "cce": Fact("cce", "Lime value (CaCO3 equivalent)", CCE),
    "ec": Fact("ec", "Salts, saturated extract", SALTS),
    "moisture_pct": Fact("moisture_pct", "Moisture", MOISTURE, has_span=False),
    "loose_l_per_kg": Fact("loose_l_per_kg", "Loosens to", LOOSENING, has_span=False),
    "acid_base": Fact("acid_base", "Acid − or base +", ACID_BASE, has_span=False),
    "mineral_n": Fact("mineral_n", "Nitrogen free at once", SHARE, has_span=False),
}


def fact(key: str) -> Fact:
    """Return a fact by its key.

    Raises
    ------
    PelkError
        When nothing of that name can be known of a material.
    """
    if key not in FACTS:
        raise PelkError(f"found {key!r}, allowed: {', '.join(FACTS)}", key)
    return FACTS[key]


def value_of(material: Material, key: str) -> Range | None:
    """Return what is known of a fact, a lone number as a range without a span."""
    if fact(key).is_content:
        return material.composition.get(key)
    value: Range | float | None = getattr(material, key)
    if value is None or isinstance(value, Range):
        return value
    return Range(value, value, value)


@cites("pelk", "spread by ground: lab 10 %, label 15 %, a guess a factor of two")
def spread_of(key: str, typical: float, mark: str) -> Range:
    """Return a lone value with the span its ground leaves.

    Parameters
    ----------
    key : str
        Of `FACTS`.
    typical : float
        In the fact's unit.
    mark : str
        One of `PROVENANCES`.

    Returns
    -------
    Range
        In the same unit, held within what can be.
    """
    if mark not in PROVENANCES:
        raise PelkError(f"found {mark!r}, allowed: {', '.join(PROVENANCES)}", "ground")
    quantity = fact(key).quantity
    if key == "ph":
        low, high = typical - PH_SPREAD[mark], typical + PH_SPREAD[mark]
    else:
        low, high = (typical * factor for factor in SPREAD[mark])
    return Range(max(low, quantity.low), typical, min(high, quantity.high))


def with_values(
    material: Material,
    values: Mapping[str, tuple[Range, Provenance]],
    *,
    usable: Sequence[str] | None = None,
) -> Material:
    """Return a material with a grower's own values in place of the library's.

    Parameters
    ----------
    material : Material
        What the values are laid over.
    values : mapping of str to (Range, Ground)
        By fact, in the fact's unit.
    usable : sequence of str, optional
        Of ``P`` and ``K``, what was typed as available; None leaves it.

    Returns
    -------
    Material
        Checked; a weighed litre replaces loosening by weight.

    Raises
    ------
    OutOfRangeError
        Naming the fact that cannot be true.
    """
    contents: dict[str, Range] = dict(material.composition)
    fields: dict[str, Any] = {}
    for key, (value, _) in values.items():
        held = fact(key)
        for each in (value.low, value.typ, value.high):
            held.quantity.check(each, key)
        if held.is_content:
            contents[key] = value
        else:
            fields[key] = value if held.has_span else value.typ
    if "density" in fields and "loose_l_per_kg" not in fields:
        fields["loose_l_per_kg"] = None
    provenances = {
        **material.provenances,
        **{key: provenance for key, (_, provenance) in values.items()},
    }
    if "ph" in values and not {"cce"} & {*values, *material.provenances}:
        left = carbonate_left(values["ph"][0].typ)
        if material.acidity_role == "bulk" and material.cce is not None and left < 1:
            inherited = material.cce
            fields["cce"] = Range(inherited.low * left, inherited.typ * left, inherited.high * left)
            provenances["cce"] = Provenance(
                "derived",
                note=f"Lowered from {inherited.typ:g} %: at the pH you wrote, free carbonate does "
                "not last.",
            )
    changed = replace(
        material,
        composition=contents,
        provenances=provenances,
        usable=material.usable if usable is None else tuple(usable),
        **fields,
    )
    refuse_the_impossible(checked(changed, ""))
    return changed


@cites("pelk", "free carbonate is whole from pH 7.0 up, none is left at 6.2")
@answers
def carbonate_left(ph: float) -> float:
    """Return what share of its usual free carbonate a material of some pH can hold.

    Parameters
    ----------
    ph : float
        Of the material, in water. [pH]

    Returns
    -------
    float
        1 near neutral and above, 0 far below. [-]
    """
    return min(max((ph - NO_CARBONATE_PH) / (ALL_CARBONATE_PH - NO_CARBONATE_PH), 0.0), 1.0)


def refuse_the_impossible(material: Material) -> None:
    """Raise when a material's values cannot stand together.

    Raises
    ------
    OutOfRangeError
        When contents add up to more than the whole, or a part is more than its whole.
    """
    contents = {k: v.typ for k, v in material.composition.items()}
    elemental = contents.pop("S elemental", 0.0)
    total = sum(contents.values())
    if total > WHOLE_PCT:
        most = max(contents, key=lambda k: contents[k])
        raise OutOfRangeError(
            f"all contents together come to {sig(total, 4)} %, allowed: 100", most
        )
    if elemental > contents.get("S", elemental) * 1.0001:
        raise OutOfRangeError(
            f"found {sig(elemental, 4)} % elemental of {sig(contents['S'], 4)} % sulfur",
            "S elemental",
        )
    if material.mineral_n is not None and not 0 <= material.mineral_n <= 1:
        raise OutOfRangeError("more nitrogen is free at once than there is in total", "mineral_n")


@cites("iupac2021", "oxides of a label into elements")
def elements_of_label(
    nitrogen_pct: float, phosphate_pct: float, potash_pct: float
) -> dict[str, float]:
    """Return nitrogen, phosphorus and potassium of a label that prints oxides.

    Parameters
    ----------
    nitrogen_pct, phosphate_pct, potash_pct : float
        N, P2O5 and K2O as printed. [%]

    Returns
    -------
    dict of str to float
        ``N``, ``P``, ``K``. [%]

    Raises
    ------
    OutOfRangeError
        When the three come to more than the whole.
    """
    printed = {"N": nitrogen_pct, "P2O5": phosphate_pct, "K2O": potash_pct}
    for name, value in printed.items():
        if not isfinite(value) or not 0 <= value <= WHOLE_PCT:
            raise OutOfRangeError(f"found {value:g} %, allowed: from 0 to 100", name)
    total = sum(printed.values())
    if total > WHOLE_PCT:
        raise OutOfRangeError(
            f"N, P2O5 and K2O come to {sig(total, 4)} % together, allowed: 100", "N"
        )
    return {
        "N": nitrogen_pct,
        "P": phosphate_pct * element_in_oxide("P2O5"),
        "K": potash_pct * element_in_oxide("K2O"),
    }
