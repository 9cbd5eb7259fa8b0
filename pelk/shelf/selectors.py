"""What is read of the shelf."""

from collections.abc import Iterable

from pelk.shelf.models import Material, ShelfItem, cores_of
from pelk.yards.models import Yard


def shelf_slugs(yard: Yard) -> frozenset[str]:
    """Return the slugs of what a yard has at hand."""
    return frozenset(ShelfItem.objects.of(yard).values_list("material__slug", flat=True))


def known_materials(yard: Yard, slugs: Iterable[str]) -> dict[str, Material]:
    """Return the named materials with their analyses, the yard's own before the shared."""
    found = Material.objects.visible_to(yard).filter(slug__in=set(slugs)).with_analysis()
    rows = sorted(found, key=lambda m: m.yard_id is not None)
    cores_of(rows)
    return {m.slug: m for m in rows}
