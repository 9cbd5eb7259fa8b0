"""Materials that are known by their nearest kin: its behaviour, with figures of their own."""

from collections.abc import Mapping
from dataclasses import replace

from pelk.core.base.elements import element_in_oxide
from pelk.core.base.tables import number, rows
from pelk.core.materials.material import LOT_SPREAD, MEAL_SPREAD, WIDE_FAMILIES, Material, Range

# Own pH, density and base of a typical lot, around its middle: wide, as nothing was measured.
PH_SPREAD, DENSITY_SPREAD, BASE_SPREAD = 0.5, 0.3, 0.4
CARBONATE_FREE_FAMILIES = frozenset(["mineral-aggregate"])
# In these the traces are what they are bought for, never those of their kin.
OF_THEIR_OWN = frozenset(
    ["mineral-salt", "lime", "acidifier", "mineral-aggregate", "pest-deterrent", "inoculant"]
)
MAJOR = {"N": "n_typ", "P": "p2o5_typ", "K": "k2o_typ", "Ca": "ca_pct", "Mg": "mg_pct"}
OXIDE = {"P": "P2O5", "K": "K2O"}


def kin_materials(known: Mapping[str, Material]) -> dict[str, Material]:
    """Return the materials of ``materials_more.csv`` by slug, each built on its kin."""
    return {row["slug"]: _built(row, known) for row in rows("materials_more.csv")}


def _built(row: dict[str, str], known: Mapping[str, Material]) -> Material:
    like = known[row["like"]]
    density = float(row["bulk_density_typ"])
    ph, cce = number(row["ph_typ"]), _cce(row, like)
    buffer = like.buffer
    if buffer is not None and like.density is not None:
        # What holds acidity is the dry matter of the litre.
        dry = density * (100 - float(row["moisture_pct"] or 0))
        share = dry / (like.density.typ * (100 - (like.moisture_pct or 0)))
        buffer = Range(buffer.low * share, buffer.typ * share, buffer.high * share)
    return replace(
        _with_acidity(row, like, known),
        slug=row["slug"],
        name=row["name"],
        family=row["family"],
        role=row["role"],
        form=row["form"],
        other_names=tuple(n.strip() for n in row["other_names"].split(";") if n.strip()),
        origin=row["origin"],
        vegan=row["vegan"],
        tags=_stated(row["tags"]),
        metals_watched=_stated(row["metals"]),
        organic=f"{row['organic_program']}: ask your certifier",
        density=_spread(density, 1 - DENSITY_SPREAD, 1 + DENSITY_SPREAD),
        loose_l_per_kg=None,
        moisture_pct=number(row["moisture_pct"]),
        composition=_composition(row, like),
        ph=None if ph is None else Range(ph - PH_SPREAD, ph, min(ph + PH_SPREAD, 14.0)),
        buffer=buffer,
        cce=cce,
        # A soil's salts are those of its own figures, not of another soil.
        ec=None if row["family"] == "soil" else like.ec,
        label_max_g_l=None,
        dose_typ_g_l=None,
        dose_text="",
        share_typ_pct=None,
        confidence="low",
        provenance_class="from-memory-source",
        provenance=f"Typical figures as bought, from memory; it behaves as {like.short_name}.",
        unsure=("all",),
        derived=(),
        notes=row["notes"],
    )


def _with_acidity(row: dict[str, str], like: Material, known: Mapping[str, Material]) -> Material:
    """Return the kin with the acidity of another where the row says so."""
    own = number(row["acid_base"])
    if row["acid_like"] == "none":
        return replace(like, acidity_role="none", acid_base=None, lime_grade="", sulfur_grade="")
    if row["acid_like"]:
        acid = known[row["acid_like"]]
        like = replace(
            like,
            acidity_role=acid.acidity_role,
            acid_base=acid.acid_base,
            lime_grade=acid.lime_grade,
            lime_rate=acid.lime_rate,
            carbonate_grain_mm=acid.carbonate_grain_mm,
            carbonate_share=acid.carbonate_share,
        )
    return like if own is None else replace(like, acid_base=own)


def _cce(row: dict[str, str], like: Material) -> Range | None:
    typ = number(row["cce_typ"])
    is_glass = row["family"] in CARBONATE_FREE_FAMILIES and like.carbonate_grain_mm is None
    if typ is None or is_glass:
        return like.cce if is_glass else None
    return _spread(typ, 1 - BASE_SPREAD, 1 + BASE_SPREAD)


def _composition(row: dict[str, str], like: Material) -> dict[str, Range]:
    low, high = LOT_SPREAD if row["family"] in WIDE_FAMILIES else MEAL_SPREAD
    contents = {}
    if row["family"] not in OF_THEIR_OWN:
        major = {*MAJOR, "S", "C", "S elemental"}
        contents = {e: held for e, held in like.composition.items() if e not in major}
    typical = {e: number(row[column]) for e, column in MAJOR.items()}
    typical["S"] = number(row["s_pct"])
    typical |= {e: (typical[e] or 0.0) * element_in_oxide(oxide) for e, oxide in OXIDE.items()}
    nitrogen, cn = typical["N"], number(row["cn_ratio"])
    if nitrogen and cn:
        typical["C"] = min(nitrogen * cn, 55.0)
    for text in filter(None, row["traces"].split(";")):
        element, _, percent = text.partition("=")
        typical[element] = float(percent)
    contents |= {e: _spread(typ, low, high) for e, typ in typical.items() if typ is not None}
    return contents


def _spread(typ: float, low: float, high: float) -> Range:
    return Range(typ * low, typ, min(typ * high, max(typ, 100.0)))


def _stated(text: str) -> tuple[str, ...]:
    """Return what a row says of its own hazards: never its kin's; ``none`` is said too."""
    if not text:
        raise ValueError("a hazard is stated, or none: never left out")
    return () if text == "none" else tuple(text.split(";"))
