"""What a material is and holds.

Figures are as bought or used (wet basis), elements inside. Blank is unknown and stays
unknown: it is never zero.
"""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import msgspec

from pelk.core.base.errors import OutOfRangeError, UnknownError
from pelk.core.base.quantities import (
    BUFFER,
    CCE,
    CONTENT,
    DENSITY,
    LOOSENING,
    MOISTURE,
    OWN_PH,
    SALTS,
    Quantity,
)

IN_BRACKETS = re.compile(r"\s?\([^()]{0,200}\)")
# Columns of one number in the library carry an unstated spread.
MEAL_SPREAD = (0.7, 1.3)
LOT_SPREAD = (0.5, 2.0)
WIDE_FAMILIES = frozenset(
    ["compost", "manure", "castings", "soil", "rock-dust", "old-mix", "feedstock", "mulch"]
)
# Families whose loose volume counts as mineral soil for a crop's pH band.
MINERAL_SOIL = frozenset(["soil"])

SINGLE_COLUMNS = {
    "Ca": "ca_pct",
    "Mg": "mg_pct",
    "S": "s_pct",
    "S elemental": "s_elemental_pct",
    "Fe": "fe_pct",
    "Na": "na_pct",
    "Cl": "cl_pct",
    "C": "c_pct",
}
TRACE_COLUMNS = {"Mn": "mn_mg_kg", "Zn": "zn_mg_kg", "Cu": "cu_mg_kg", "B": "b_mg_kg"}
# Which column of the library a fact comes from, to find its mark.
COLUMN_OF = {
    "N": "n_typ",
    "P": "p2o5_typ",
    "K": "k2o_typ",
    **SINGLE_COLUMNS,
    **TRACE_COLUMNS,
    "density": "bulk_density_typ",
    "ph": "ph_typ",
    "buffer": "buffer_typ",
    "cce": "cce_typ",
    "ec": "ec_typ",
    "acid_base": "acid_base_kg_caco3_100kg",
}


def short_name(name: str) -> str:
    """Return a name without what stands in brackets."""
    return IN_BRACKETS.sub("", name)


@dataclass(frozen=True, slots=True)
class Range:
    """A typical value and the span most lots fall in."""

    low: float
    typ: float
    high: float


@dataclass(frozen=True, slots=True)
class Provenance:
    """Where a grower's own value comes from.

    Attributes
    ----------
    mark : str
        ``label``, ``lab``, ``yours`` (measured), or ``guess``.
    dated : str
        ISO date of the label, the report or the weighing.
    note : str
        Whose report, which bag.
    """

    mark: str
    dated: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True)
class Taught:
    """What a yard's readings taught of a factor of a material: off the book, and how sure.

    Attributes
    ----------
    mean, sd : float
        Of pH as they are, else of the logarithm.
    soils : int
        How many taught it.
    """

    mean: float
    sd: float
    soils: int = 1


@dataclass(frozen=True, slots=True, kw_only=True)
class Material:
    """One material as the core knows it.

    Attributes
    ----------
    role : str
        ``bulk``, ``dose``, ``liquid``, ``inoculant`` or ``mulch``.
    density : Range or None
        Weight of a litre as bought or used. [kg/L]
    loose_l_per_kg : float or None
        Loosened litres from a kilogram of a compressed material. [L/kg]
    loosens : float or None
        Loosened litres from a litre as packed. [L/L]
    moisture_pct : float or None
        Water, wet basis. [%]
    composition : dict of str to Range
        Total of each element, as is; also ``S elemental`` and ``C``. [%]
    ph : Range or None
        Own pH on the 1:1 water scale.
    buffer : Range or None
        Buffer capacity of the loose litre, without carbonate. [meq/L/pH]
    cce : Range or None
        Calcium carbonate equivalent; in bulks the free carbonate. [%]
    acid_base : float or None
        Lasting effect, base +. [kg CaCO3/100 kg]
    acidity_role : str
        ``bulk lime sulfur strong_acid weak_acid organic_n none``.
    carbonate_grain_mm : float or None
        Grain of free carbonate; fine grains aged inside are at rest. [mm]
    carbonate_share : float
        Share of the free carbonate that meets the mix; the rest is shut in, or is base that
        the charge curve holds already. [-]
    ammonium_share : float or None
        Of its mineral nitrogen, where the row knows better than its class. [-]
    lime_rate : float or None
        Speed of dissolving relative to calcite. [-]
    sieves : dict of str to float
        Share passing by mesh in mm, from the label of a lime. [%]
    inoculum, sulfur_microbes : float
        Live decomposers and sulfur bacteria it brings, live compost is 1. [-]
    mineral_n : float or None
        Ammonium, nitrate and urea as a share of total N at mixing. [-]
    season_n, season_k, season_ca_mg, season_trace : float or None
        One-pool season shares of the library: a second opinion for tests, and the
        weights of the excess base. [-]
    label_max_g_l : float or None
        Most that a label allows; it comes before practice. [g/L]
    usable : tuple of str
        Of ``P`` and ``K``: typed as "available" or "soluble", as labels and soil tests
        print them; all of it counts within the season.
    provenances : dict of str to Ground
        Where the grower's own values come from, by fact.
    dose_max_g_l : float or None
        Most that common practice mixes in. [g/L]
    share_max_pct : float or None
        Most of the loose volume; 0 is not for use in a mix as it is. [%]
    taught : dict of str to Taught
        What this yard's readings taught, by `pelk.core.materials.taught.Factor`.
    """

    slug: str
    name: str
    family: str
    role: str
    form: str = ""
    other_names: tuple[str, ...] = ()
    origin: str = ""
    vegan: str = ""
    organic: str = ""
    density: Range | None = None
    loose_l_per_kg: float | None = None
    loosens: float | None = None
    moisture_pct: float | None = None
    composition: dict[str, Range] = field(default_factory=dict)
    ph: Range | None = None
    buffer: Range | None = None
    cce: Range | None = None
    acid_base: float | None = None
    ec: Range | None = None
    acidity_role: str = "none"
    buffer_shape: str = "inert"
    carbonate_grain_mm: float | None = None
    carbonate_share: float = 1.0
    ammonium_share: float | None = None
    lime_grade: str = ""
    lime_rate: float | None = None
    sieves: dict[str, float] = field(default_factory=dict)
    sulfur_grade: str = ""
    sulfur_microbes: float = 0.0
    release_class: str = ""
    phosphorus_class: str = ""
    availability_class: str = ""
    inoculum: float = 0.0
    mineral_n: float | None = None
    sulfur_form: str = ""
    season_n: float | None = None
    season_k: float | None = None
    season_ca_mg: float | None = None
    season_trace: float | None = None
    metals_watched: tuple[str, ...] = ()
    label_max_g_l: float | None = None
    shrink_class: str = ""
    retention_set: str = ""
    tags: tuple[str, ...] = ()
    dose_typ_g_l: float | None = None
    dose_max_g_l: float | None = None
    dose_text: str = ""
    share_typ_pct: float | None = None
    share_max_pct: float | None = None
    confidence: str = ""
    provenance_class: str = ""
    provenance: str = ""
    unsure: tuple[str, ...] = ()
    derived: tuple[str, ...] = ()
    notes: str = ""
    usable: tuple[str, ...] = ()
    provenances: dict[str, Provenance] = field(default_factory=dict)
    taught: dict[str, Taught] = field(default_factory=dict)

    @property
    def short_name(self) -> str:
        """The name without what stands in brackets."""
        return short_name(self.name)

    @property
    def spoken_name(self) -> str:
        """The name as a sentence says it: up to its first comma, in small letters."""
        return self.short_name.split(",")[0].lower()

    @property
    def is_weighed(self) -> bool:
        """Whether it is known what a loose litre of it weighs."""
        return bool(self.loose_l_per_kg or self.density)

    def loose_density(self, path: str = "") -> Range:
        """Return the weight of a loose litre as bought or used. [kg/L].

        Parameters
        ----------
        path : str
            Where in the plan it is asked for.

        Raises
        ------
        UnknownError
            When nobody has weighed it.
        """
        if self.loose_l_per_kg:
            typ = 1 / self.loose_l_per_kg
            return Range(typ * 0.84, typ, typ * 1.23)
        if self.density is None:
            raise UnknownError(f"nobody has weighed a litre of {self.name} yet", path)
        return self.density

    def mark_of(self, fact: str) -> str:
        """Return where a fact comes from: the grower's own mark, or the library's."""
        if fact in self.provenances:
            return self.provenances[fact].mark
        column = COLUMN_OF.get(fact, fact)
        if column in self.unsure or "all" in self.unsure:
            return "guess"
        if column in self.derived or self.provenance_class == "derived-from-formula":
            return "derived"
        if self.provenance_class.startswith("common-practice"):
            return "practice"
        return "guess" if self.provenance_class == "unsure" else "book"


def as_stored(material: Material) -> dict[str, Any]:
    """Return a material as plain JSON values, by the keys of ``pelk.material/1``."""
    data: dict[str, Any] = msgspec.json.decode(msgspec.json.encode(material))
    data["grounds"] = data.pop("provenances")
    return data


def from_stored(data: Mapping[str, Any]) -> Material:
    """Return the material that plain values hold.

    Raises
    ------
    msgspec.ValidationError
        Where a value has another type.
    """
    return msgspec.convert({**data, "provenances": data.get("grounds", {})}, Material)


def checked(material: Material, path: str) -> Material:
    """Return a material as it is, or raise if a value of it cannot be true.

    Parameters
    ----------
    material : Material
        As someone typed it.
    path : str
        Where, for the message.

    Returns
    -------
    Material
        The same material.

    Raises
    ------
    OutOfRangeError
        Naming the value that cannot be true.
    """
    spans = {"density": DENSITY, "ph": OWN_PH, "buffer": BUFFER, "cce": CCE, "ec": SALTS}
    for name, quantity in spans.items():
        span: Range | None = getattr(material, name)
        if span is not None:
            _check_span(quantity, span, f"{path}.{name}")
    for element, content in material.composition.items():
        _check_span(CONTENT, content, f"{path}.composition.{element}")
    if material.moisture_pct is not None:
        MOISTURE.check(material.moisture_pct, f"{path}.moisture_pct")
    if material.loose_l_per_kg is not None:
        LOOSENING.check(material.loose_l_per_kg, f"{path}.loose_l_per_kg")
    return material


def _check_span(quantity: Quantity, span: Range, path: str) -> None:
    for value in (span.low, span.typ, span.high):
        quantity.check(value, path)
    if not span.low <= span.typ <= span.high:
        raise OutOfRangeError("found a typical value outside its span", path)
