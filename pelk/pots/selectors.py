"""What is read of pots and of the heaps that may fill them."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from types import SimpleNamespace

from django.db.models import Sum

from pelk.barrow.domain.schedule_cache import ready_date
from pelk.barrow.models import Batch
from pelk.core.advice.judgement import AT_ONCE
from pelk.core.vessels.planting import own_correction
from pelk.pots.models import OldSoil, PotFill, PotGroup
from pelk.ui.numbers import read_count
from pelk.ui.pot_picture import PotLayer
from pelk.ui.textures import texture_of
from pelk.yards.models import Yard

CHOICES, LATEST = 40, 10
STICKS = 0.1
OLD_SOIL = "oldsoil"


@dataclass(frozen=True, slots=True)
class HeapLeft:
    """A heap that may be planted from: what is left of it, and whether it is ready."""

    batch: Batch
    left_l: float
    ready_on: date | None
    is_ready: bool
    waits: str = ""

    @property
    def waits_for(self) -> str:
        """What it waits for, to follow the date."""
        return f": {self.waits}" if self.waits else ""


def heaps_left(yard: Yard, today: date) -> list[HeapLeft]:
    """Return the mixed heaps with what the fillings have left of them."""
    rows = list(Batch.objects.of(yard).live().in_cure().defer("document", "analyses")[:CHOICES])
    used = dict(
        PotFill.objects.of(yard)
        .live()
        .filter(batch__in=rows)
        .order_by()
        .values_list("batch")
        .annotate(Sum("taken_l"))
    )
    return [_left(row, used.get(row.pk) or 0.0, today) for row in rows]


def _left(row: Batch, used_l: float, today: date) -> HeapLeft:
    on = ready_date(row)
    made_l = float(row.shown["volume"]["litres"])
    held = row.schedule_cache or {}
    ready = on is not None and (on <= today or held["ready"] <= AT_ONCE)
    return HeapLeft(row, max(made_l - used_l, 0.0), on, ready, held.get("waits", ""))


def is_used_up(batch: Batch) -> bool:
    """Whether fillings have taken all of a heap, but for what sticks to the barrow."""
    fills = PotFill.objects.of(batch.yard).live().filter(batch=batch)
    used = fills.aggregate(whole=Sum("taken_l"))["whole"] or 0.0
    return used >= (1 - STICKS) * float(batch.shown["volume"]["litres"])


def seasons_in(batch: Batch | None) -> int:
    """Return how many seasons the old soil in a heap has seen; 0 for new mix."""
    if batch is None or batch.recipe_id is None:
        return 0
    old = OldSoil.objects.filter(yard=batch.yard, recipe=batch.recipe).first()
    said = old.answers.get("seasons") if old else None
    return read_count(said or "") or 0


def family_in(batch: Batch) -> str:
    """Return the family that grew last in the old soil of a heap; empty for new mix."""
    if batch.recipe_id is None:
        return ""
    old = OldSoil.objects.filter(yard=batch.yard, recipe=batch.recipe).first()
    return old.last_family if old else ""


def layers_of(fills: list[PotFill]) -> list[PotLayer]:
    """Return what fills some pots as layers from below: since they were last filled anew."""
    anew = (PotFill.How.FILLED, PotFill.How.POTTED)
    first = next((i for i, f in enumerate(fills) if f.how in anew), None)
    held = fills if first is None else fills[: first + 1]
    return [PotLayer(f"{f.what}, {f.on:%-d %b %Y}", _texture(f), f.taken_l) for f in reversed(held)]


def _texture(fill: PotFill) -> str:
    """Return the texture of what a filling holds most of."""
    return OLD_SOIL if fill.batch is None else texture_of_batch(fill.batch)


def texture_of_batch(batch: Batch) -> str:
    """Return the texture of what a heap holds most of."""
    most = max(batch.shown["bulk"], key=lambda row: row["litres"], default=None)
    known = {m["slug"]: m for m in batch.analyses}
    held = known.get(most["material"]) if most else None
    return (
        texture_of(SimpleNamespace(slug=held["slug"], family=held["family"])) if held else OLD_SOIL
    )


def correction_of(yard: Yard) -> tuple[float, int]:
    """Return what this yard's pots take over what is reckoned, and how many fillings say so."""
    rows = PotFill.objects.of(yard).live().filter(reckoned_l__gt=0)[:LATEST]
    ratios = [r.ratio for r in rows if r.ratio]
    return own_correction(ratios), len(ratios)


def seasons_of(group: PotGroup, fills: list[PotFill], today: date) -> int | None:
    """Return how many seasons the oldest soil in some pots has seen; None where they are empty."""
    if not fills:
        return None
    return max(f.seasons + (today - f.on).days // 365 for f in fills)
