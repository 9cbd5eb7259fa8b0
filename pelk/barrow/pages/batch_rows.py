"""The batches of a yard, each drawn by what went into it, with how far it is."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from types import SimpleNamespace

from django.utils.safestring import SafeString

from pelk.barrow.models import Batch
from pelk.ui.slab import slab_svg
from pelk.ui.textures import texture_of


@dataclass(frozen=True, slots=True)
class BatchRow:
    """One batch: its slab, how much it makes, what it weighs watered; what was ticked of it."""

    batch: Batch
    slab: SafeString
    litres: str
    weight: str
    ticked: int


def batch_rows(batches: Iterable[Batch]) -> list[BatchRow]:
    """Return batches made ready to be looked at; they come with their ticks."""
    return [
        BatchRow(
            batch,
            slab_svg(f"b{batch.pk}", layers_of(batch)),
            batch.measures.volume(float(batch.shown["volume"]["litres"])),
            _weight(batch),
            0 if batch.finished_at else len(batch.ticks.all()),
        )
        for batch in batches
    ]


def layers_of(batch: Batch) -> list[tuple[str, float]]:
    """Return texture and volume of what a batch is mixed of, as it was frozen. [-, L]."""
    known = {m["slug"]: m for m in batch.analyses}
    return [
        (texture_of(SimpleNamespace(slug=m["slug"], family=m["family"])), float(row["litres"]))
        for row in batch.shown["bulk"]
        if (m := known.get(row["material"]))
    ]


def _weight(batch: Batch) -> str:
    wet = batch.shown["volume"].get("kg_wet")
    return batch.measures.mass(1000 * float(wet), 2) if wet else ""
