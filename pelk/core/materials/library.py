"""The library of starter materials: rows of their own, and those built on their kin.

Label oxides are converted on loading; elements inside.
"""

import csv
from functools import cache

from pelk.core.base.elements import element_in_oxide
from pelk.core.base.tables import number, read
from pelk.core.materials.kin import kin_materials
from pelk.core.materials.material import (
    LOT_SPREAD,
    MEAL_SPREAD,
    SINGLE_COLUMNS,
    TRACE_COLUMNS,
    WIDE_FAMILIES,
    Material,
    Range,
)


@cache
def library() -> dict[str, Material]:
    """Return the starter materials by slug."""
    known = studied()
    return {**known, **kin_materials(known)}


@cache
def studied() -> dict[str, Material]:
    """Return the materials with a row of figures of their own, by slug."""
    acidity = _by_slug("acidity_classes.csv")
    nutrient = _by_slug("nutrient_classes.csv")
    return {
        slug: _material(row, acidity[slug], nutrient[slug])
        for slug, row in _by_slug("materials.csv").items()
    }


def _by_slug(name: str) -> dict[str, dict[str, str]]:
    return {row["slug"]: row for row in csv.DictReader(read(name).splitlines())}


def _split(text: str) -> tuple[str, ...]:
    return tuple(part.strip() for part in text.split(";") if part.strip())


def _range(row: dict[str, str], name: str, factor: float = 1.0) -> Range | None:
    typ = number(row[f"{name}_typ"])
    if typ is None:
        return None
    low, high = number(row[f"{name}_low"]), number(row[f"{name}_high"])
    return Range(
        (typ if low is None else low) * factor,
        typ * factor,
        (typ if high is None else high) * factor,
    )


def _composition(row: dict[str, str]) -> dict[str, Range]:
    contents = {
        "N": _range(row, "n"),
        "P": _range(row, "p2o5", element_in_oxide("P2O5")),
        "K": _range(row, "k2o", element_in_oxide("K2O")),
    }
    low, high = LOT_SPREAD if row["family"] in WIDE_FAMILIES else MEAL_SPREAD
    for scale, columns in ((1.0, SINGLE_COLUMNS), (1e-4, TRACE_COLUMNS)):
        for element, column in columns.items():
            typ = number(row[column])
            contents[element] = (
                typ
                if typ is None
                else Range(typ * scale * low, typ * scale, min(typ * scale * high, 100.0))
            )
    return {element: value for element, value in contents.items() if value is not None}


def _material(row: dict[str, str], acidity: dict[str, str], nutrient: dict[str, str]) -> Material:
    return Material(
        slug=row["slug"],
        name=row["name"],
        family=row["family"],
        role=row["role"],
        form=row["form"],
        other_names=_split(row["other_names"]),
        origin=row["origin"],
        vegan=row["vegan"],
        organic=f"{row['organic_program']}: {row['organic_note']}",
        density=_range(row, "bulk_density"),
        loose_l_per_kg=number(row["loose_L_per_kg"]),
        loosens=number(row["loose_volume_factor"]),
        moisture_pct=number(row["moisture_pct"]),
        composition=_composition(row),
        ph=_range(row, "ph"),
        buffer=_range(row, "buffer"),
        cce=_range(row, "cce"),
        acid_base=number(row["acid_base_kg_caco3_100kg"]),
        ec=_range(row, "ec"),
        acidity_role=acidity["acidity_role"],
        buffer_shape=acidity["buffer_shape"],
        carbonate_grain_mm=number(acidity["carbonate_grain_mm"]),
        carbonate_share=float(acidity["carbonate_share"] or 1),
        ammonium_share=number(row["ammonium_share"]),
        lime_grade=acidity["lime_psd_key"],
        lime_rate=number(acidity["lime_r"]),
        sulfur_grade=acidity["sulfur_psd_key"],
        sulfur_microbes=float(acidity["inoculum_a0"] or 0),
        release_class=nutrient["release_class"],
        phosphorus_class=nutrient["p_class"],
        availability_class=nutrient["k_ca_mg_class"],
        inoculum=float(nutrient["inoculum"] or 0),
        mineral_n=number(row["n_mineral_frac"]),
        sulfur_form=row["s_form"],
        season_n=number(row["n_season_frac"]),
        season_k=number(row["k_avail_frac"]),
        season_ca_mg=number(row["ca_mg_avail_frac"]),
        season_trace=number(row["micro_avail_frac"]),
        metals_watched=_split(nutrient["heavy_metal_watch"]),
        shrink_class=nutrient["shrink_class"],
        retention_set=nutrient["retention_set"],
        tags=_split(nutrient["caution_tags"]),
        dose_typ_g_l=number(row["dose_typ_g_L"]),
        dose_max_g_l=number(row["dose_max_g_L"]),
        dose_text=row["dose_label_text"],
        share_typ_pct=number(row["share_typ_pct"]),
        share_max_pct=number(row["share_max_pct"]),
        confidence=row["confidence"],
        provenance_class=row["provenance_class"],
        provenance=row["provenance"],
        unsure=_split(row["unsure_fields"]),
        derived=_split(row["derived_fields"]),
        notes=row["notes"],
    )
