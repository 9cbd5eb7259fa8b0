"""The rows of the Bench form as they are typed, beside what each comes to."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Sequence
from typing import Any

from django.utils.text import slugify

from pelk.bench.forms.edits import Row
from pelk.bench.forms.mix import VOLUME_WAYS, BenchForm
from pelk.bench.pages import options
from pelk.bench.pages.bench_page import KEYS, BenchPage
from pelk.shelf.models.materials import Material
from pelk.ui.textures import texture_of


def named(slug: str, materials: dict[str, Material]) -> str:
    """Return what a material is called on the page, or its slug where it is not known."""
    return materials[slug].short_name if slug in materials else slug


def _texture(slug: str, materials: dict[str, Material]) -> str:
    return texture_of(materials[slug]) if slug in materials else ""


def _keyed(kind: str, rows: Sequence[Row]) -> Iterator[tuple[str, Row]]:
    """Yield the rows, each with a name that it keeps while others come and go."""
    seen: Counter[str] = Counter()
    for row in rows:
        seen[row.material] += 1
        yield f"row-{kind}-{slugify(row.material)}-{seen[row.material]}", row


def part_rows(
    form: BenchForm,
    materials: dict[str, Material],
    shown: BenchPage | None,
    packs: dict[str, frozenset[str]],
) -> list[dict[str, Any]]:
    """Return the rows of the parts with what each comes to and the units it may have."""
    are_volumes = form.way in VOLUME_WAYS
    return [
        {
            "i": i,
            "id": key,
            "row": row,
            "is_known": row.material in materials,
            "texture": _texture(row.material, materials),
            "name": named(row.material, materials),
            "out": shown.parts[i] if shown else None,
            "one": form.litres_of_one(row) if are_volumes else "",
            "each": form.measures.volume(row.one_l) if are_volumes and row.one_l else "",
            "units": options.counted_options(
                form.way, packs.get(row.material, frozenset()), row.unit
            )
            if are_volumes
            else "",
        }
        for i, (key, row) in enumerate(_keyed("part", form.parts))
    ]


def dose_rows(
    form: BenchForm,
    materials: dict[str, Material],
    shown: BenchPage | None,
    names: tuple[tuple[str, str], ...],
) -> list[dict[str, Any]]:
    """Return the rows of the doses, each with its key in the picture."""
    return [
        {
            "i": i,
            "id": key,
            "key": KEYS[i % 26],
            "row": row,
            "is_known": row.material in materials,
            "name": named(row.material, materials),
            "out": shown.doses[i] if shown else None,
            "units": options.unit_options(row.unit),
            "of": options.part_options(names, row.per),
        }
        for i, (key, row) in enumerate(_keyed("dose", form.doses))
    ]
