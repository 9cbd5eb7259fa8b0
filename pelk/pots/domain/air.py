"""Air and water of some pots: reckoned, and the aggregate that would give more."""

from __future__ import annotations

from dataclasses import replace

import msgspec

from pelk.bench.formats.documents import MixDocument, PartDocument
from pelk.core.base.errors import PelkError
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.core.materials.library import library
from pelk.core.materials.material import Material
from pelk.core.vessels.drainage import aggregate_for
from pelk.pots.models import PotFill, PotGroup
from pelk.shelf.selectors import known_materials

AGGREGATE = "perlite"
CLOSE = 0.02


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


def perlite_of(group: PotGroup) -> str:
    """Return what perlite is called in this yard."""
    return known_materials(group.yard, [AGGREGATE])[AGGREGATE].short_name
