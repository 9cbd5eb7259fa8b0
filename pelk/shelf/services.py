"""What is done on the shelf."""

from collections.abc import Sequence
from datetime import datetime

import msgspec
from django.db import transaction

from pelk.core.materials import Material as CoreMaterial
from pelk.core.materials import library
from pelk.log.models import Station
from pelk.log.services import record
from pelk.shelf.families import place_of
from pelk.shelf.models import Analysis, Material, ShelfItem
from pelk.yards.models import User, Yard


@transaction.atomic
def load_library() -> int:
    """Bring the shared library to what the core ships; return how many changed."""
    held = {
        m.slug: m for m in Material.objects.filter(yard=None).prefetch_related("analyses")
    }
    changed = 0
    for core in library().values():
        facts = msgspec.json.decode(msgspec.json.encode(core))
        row = held.get(core.slug)
        if row is not None and next(iter(row.analyses.all())).facts == facts:
            continue
        changed += 1
        row, _ = Material.objects.update_or_create(
            yard=None, slug=core.slug, defaults=_identity(core)
        )
        Analysis.objects.create(material=row, facts=facts)
    return changed


def _identity(core: CoreMaterial) -> dict[str, str | int]:
    words = [core.slug, core.name, core.family, *core.other_names]
    return {
        "name": core.name,
        "family": core.family,
        "role": core.role,
        "search": " ".join(words).lower(),
        "place": place_of(core.family),
    }


@transaction.atomic
def keep_on_shelf(
    *, yard: Yard, by: User | None, materials: Sequence[Material], on: bool,
    at: datetime | None = None,
) -> None:  # fmt: skip
    """Put materials on a yard's shelf, or take them off: one deed."""
    held = ShelfItem.objects.of(yard)
    there = set(held.values_list("material_id", flat=True))
    changed = [m for m in materials if (m.pk in there) is not on]
    if on:
        ShelfItem.objects.bulk_create(ShelfItem(yard=yard, material=m) for m in changed)
    else:
        held.filter(material__in=changed).delete()
    if changed:
        verb = "put on the shelf" if on else "taken off the shelf"
        one = len(changed) == 1
        name = changed[0].name if one else f"{len(changed)} materials"
        record(
            yard=yard, by=by, station=Station.SHELF, text=f"{name} {verb}", at=at,
            url=f"/shelf/{changed[0].slug}/" if one else "/shelf/?show=mine",
        )  # fmt: skip
