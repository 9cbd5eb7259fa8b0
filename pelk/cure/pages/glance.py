"""The heaps at a glance, before one is opened: drawn, with their last reading and ready date."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from django.db.models import OuterRef, Subquery
from django.utils.safestring import SafeString

from pelk.barrow.domain.schedule_cache import ready_date
from pelk.barrow.models import Batch
from pelk.barrow.pages.batch_rows import layers_of
from pelk.cure.models import Reading
from pelk.ui.heap_picture import heap_svg

SHOWN = 6


@dataclass(frozen=True, slots=True)
class HeapAtAGlance:
    """One heap: what it is mixed of, what was read last, when it may be ready."""

    batch: Batch
    picture: SafeString
    litres: str
    last: Reading | None
    ready_on: date | None
    is_ready: bool


def heaps_at_a_glance(batches: Sequence[Batch], today: date) -> list[HeapAtAGlance]:
    """Return heaps made ready to be looked at."""
    shown = list(batches)
    read = Reading.objects.live().filter(ph__isnull=False, imported__isnull=True)
    newest = read.filter(batch=OuterRef("pk")).order_by("-taken_at").values("pk")[:1]
    of_each = Batch.objects.filter(pk__in=[b.pk for b in shown]).annotate(last=Subquery(newest))
    last = {r.batch_id: r for r in read.filter(pk__in=of_each.values_list("last", flat=True))}
    return [_glance(batch, last.get(batch.pk), today) for batch in shown]


def _glance(batch: Batch, last: Reading | None, today: date) -> HeapAtAGlance:
    on = ready_date(batch)
    litres = batch.measures.volume(float(batch.shown["volume"]["litres"]))
    return HeapAtAGlance(
        batch, drawn(batch), litres, last, on, is_ready=on is not None and on <= today
    )


def drawn(batch: Batch) -> SafeString:
    """Draw a heap by what went into it, the most at the bottom."""
    layers = sorted(layers_of(batch), key=lambda layer: layer[1])
    return heap_svg(f"b{batch.pk}", layers)
