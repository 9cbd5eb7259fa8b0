"""What is done on the shelf."""

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
        m.slug: m
        for m in Material.objects.filter(yard=None).prefetch_related("analyses")
    }
    changed = 0
    for core in library().values():
        facts = msgspec.to_builtins(core)
        row = held.get(core.slug)
        if row is not None and list(row.analyses.all())[0].facts == facts:
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
def keep_on_shelf(*, yard: Yard, by: User | None, material: Material, on: bool) -> None:
    """Put a material on a yard's shelf, or take it off."""
    if on:
        _, changed = ShelfItem.objects.get_or_create(yard=yard, material=material)
    else:
        gone, _ = ShelfItem.objects.of(yard).filter(material=material).delete()
        changed = bool(gone)
    if changed:
        verb = "put on the shelf" if on else "taken off the shelf"
        record(
            yard=yard, by=by, station=Station.SHELF, text=f"{material.name} {verb}",
            url=f"/shelf/{material.slug}/",
        )  # fmt: skip
