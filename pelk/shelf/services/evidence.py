"""Keeping what heaps taught of a yard's materials, and forgetting it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date

from django.db import transaction
from django.urls import reverse

from pelk import VERSION
from pelk.core.simulation.evidence import Evidence as Seen
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.shelf.models.evidence import Evidence
from pelk.yards.models import Yard


@transaction.atomic
def keep_evidence(
    *,
    yard: Yard,
    seen: Sequence[Seen],
    source: str,
    said_of: str,
    url: str,
    on: date,
    lots: dict[str, str],
) -> None:
    """Write down what a heap says, in place of what it said before; what was forgotten stays so."""
    kept = []
    for row in seen:
        held, _ = Evidence.objects.update_or_create(
            yard=yard,
            source=source,
            material=row.slug,
            factor=row.factor.value,
            defaults={
                "value": row.value,
                "error": row.error,
                "against": row.against,
                "said_of": said_of[:80],
                "url": url,
                "lot": lots.get(row.slug, ""),
                "on": on,
                "core": VERSION,
            },
        )
        kept.append(held.pk)
    Evidence.objects.filter(yard=yard, source=source).exclude(pk__in=kept).delete()


EVIDENCE = Shelving(
    model=Evidence,
    station=Station.SHELF,
    says=lambda row, word: f"What {row.said_of} taught of {row.material} {word}",
    away="forgotten",
    back="known again",
    locks=lambda row: row.yard,
    address=lambda row: reverse("shelf:material", args=[row.material]),
    away_address=lambda row: reverse("shelf:material", args=[row.material]),
)
