"""Materials taken in from a file: all of them, or none."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from typing import Any

from django.db import transaction
from django.urls import reverse

from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.materials.material import Provenance, Range, as_stored
from pelk.log.models import Station
from pelk.log.services.record import record
from pelk.shelf.models.materials import Analysis, Material, ShelfItem
from pelk.shelf.services.materials import Said, identity_of, own_copy, say_values, settle
from pelk.yards.models import User, Yard


@dataclass(frozen=True, slots=True)
class Intake:
    """One material of a file beside what is known.

    Attributes
    ----------
    existing : Material or None
        The yard's own or the shared one of that name; None for a new one.
    values : mapping of str to (Range, Ground)
        Facts that differ, with the file's provenance for each.
    words : mapping of str to value
        Other keys that differ.
    """

    core: CoreMaterial
    existing: Material | None
    values: Mapping[str, tuple[Range, Provenance]] = field(default_factory=dict)
    words: Mapping[str, Any] = field(default_factory=dict)


@transaction.atomic
def take_in(*, yard: Yard, by: User | None, items: Sequence[Intake]) -> int:
    """Take in the materials of a file; return how many are new or changed.

    Raises
    ------
    PelkError
        When one of them cannot be; nothing is taken then.
    """
    new = [item for item in items if item.existing is None]
    _add(yard, new)
    changed = 0
    for item in items:
        if item.existing is not None and (item.values or item.words):
            _change(yard, by, item, item.existing)
            changed += 1
    count = len(new) + changed
    if count:
        names = f"{len(new)} new, {changed} changed"
        record(
            yard=yard,
            by=by,
            station=Station.SHELF,
            url=f"{reverse('shelf:list')}?show=own",
            text=f"Materials taken in from a file: {names}",
        )
    return count


def _add(yard: Yard, new: Sequence[Intake]) -> None:
    rows = Material.objects.bulk_create(
        Material(
            yard=yard, slug=item.core.slug, base=as_stored(item.core), **identity_of(item.core)
        )
        for item in new
    )
    made = Analysis.objects.bulk_create(
        Analysis(material=row, origin=Analysis.Origin.OWN, facts=as_stored(item.core))
        for row, item in zip(rows, new, strict=True)
    )
    for row, analysis in zip(rows, made, strict=True):
        row.current = analysis
    Material.objects.bulk_update(rows, ["current"], batch_size=500)
    ShelfItem.objects.bulk_create(ShelfItem(yard=yard, material=row) for row in rows)


def _change(yard: Yard, by: User | None, item: Intake, existing: Material) -> None:
    own = own_copy(yard=yard, material=existing)
    if item.words:
        own.base = {**(own.base or {}), **item.words}
        own.save(update_fields=["base"])
        settle(own)
    by_provenance: dict[Provenance, dict[str, Range]] = {}
    for key, (value, provenance) in item.values.items():
        by_provenance.setdefault(provenance, {})[key] = value
    for provenance, values in by_provenance.items():
        usable = [key for key in values if key in item.core.usable]
        say_values(
            yard=yard, by=by, material=own, values=values, usable=usable, said=Said.of(provenance)
        )
