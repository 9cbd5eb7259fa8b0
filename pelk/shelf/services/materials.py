"""Materials: the shared library, a yard's own, and the values a grower gives them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime
from typing import Any

from django.db import transaction
from django.urls import reverse
from django.utils import timezone
from django.utils.text import slugify

from pelk.core.base.rounding import sig
from pelk.core.materials.facts import FACTS, with_values
from pelk.core.materials.library import library
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.materials.material import Provenance, Range, as_stored, from_stored
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.shelf.domain.families import place_of
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.lab import LabReport, Sample
from pelk.shelf.models.materials import Analysis, Material, ShelfItem, Value
from pelk.shelf.services.tallies import tally
from pelk.yards.models import User, Yard

# Addresses of the shelf that no material may take.
RESERVED = frozenset(
    ["add", "label", "bags", "measures", "lab", "buying", "values", "words", "packs"]
)
NAME_LENGTH, NOTE_LENGTH = 120, 120


@transaction.atomic
def load_library() -> int:
    """Bring the shared library to what the core ships; return how many changed."""
    held = {m.slug: m for m in Material.objects.filter(yard=None).prefetch_related("analyses")}
    changed = []
    for core in library().values():
        facts = as_stored(core)
        row = held.get(core.slug)
        if row is not None and next(iter(row.analyses.all())).facts == facts:
            continue
        row, _ = Material.objects.update_or_create(
            yard=None, slug=core.slug, defaults=identity_of(core)
        )
        Analysis.objects.create(material=row, facts=facts)
        changed.append(row)
    for own in Material.objects.filter(like__in=changed):
        settle(own)
    return len(changed)


def identity_of(core: CoreMaterial) -> dict[str, Any]:
    """Return what of a material stands on its row, for lists."""
    words = [core.slug, core.name, core.family, *core.other_names]
    nitrogen = core.composition.get("N")
    return {
        "name": core.name,
        "family": core.family,
        "role": core.role,
        "search": " ".join(words).lower(),
        "place": place_of(core.family),
        "origin": core.origin,
        "n_pct": nitrogen.typ if nitrogen else None,
    }


@dataclass(frozen=True, slots=True)
class Said:
    """Where some values come from."""

    mark: str
    dated: date | None = None
    note: str = ""
    bag: Bag | None = None
    report: LabReport | None = None

    @classmethod
    def of(cls, provenance: Provenance) -> "Said":
        """Return it of a ground as a file gives it."""
        mark = provenance.mark if provenance.mark in Value.Mark.values else "guess"
        dated = date.fromisoformat(provenance.dated) if provenance.dated else None
        return cls(mark, dated, provenance.note)


def base_of(own: Material) -> CoreMaterial:
    """Return what a yard's own material is before its own values."""
    start = _like(own)
    if not own.base:
        return start
    return from_stored({**as_stored(start), **own.base, "slug": own.slug})


def _like(own: Material) -> CoreMaterial:
    if own.like is None:
        return CoreMaterial(
            slug=own.slug, name=own.name, family=own.family, role=own.role, unsure=("all",)
        )
    like = library().get(own.like.slug) or own.like.core
    if own.like.slug == own.slug:
        return replace(like, name=own.name)
    return replace(
        like,
        slug=own.slug,
        name=own.name,
        family=own.family,
        role=own.role,
        other_names=(),
        unsure=("all",),
        confidence="low",
        dose_text="",
        provenance=f"As {like.name.lower()} of the library, until you say otherwise.",
    )


def settle(own: Material) -> None:
    """Write the analysis of a yard's own material anew: its base and what was said."""
    own.lock()
    said = own.values.that_count()
    core = with_values(
        base_of(own),
        {key: (v.range, v.provenance) for key, v in said.items()},
        usable=[key for key, v in said.items() if v.usable],
    )
    Analysis.objects.create(material=own, origin=Analysis.Origin.OWN, facts=as_stored(core))
    for name, value in identity_of(core).items():
        setattr(own, name, value)
    own.save()
    own.__dict__.pop("core", None)
    own.__dict__.pop("analysis_pk", None)
    tally(own)


@transaction.atomic
def add_own(
    *,
    yard: Yard,
    by: User | None,
    name: str,
    family: str,
    role: str,
    like: Material | None = None,
    at: datetime | None = None,
) -> Material:
    """Add a material of the yard's own; without a `like` nothing of it is known yet."""
    yard.lock()  # names are given out one after the other
    own = Material.objects.create(
        yard=yard,
        slug=_free_slug(yard, name),
        name=name[:NAME_LENGTH],
        family=family,
        role=role,
        like=like,
        search=name.lower(),
    )
    settle(own)
    ShelfItem.objects.create(yard=yard, material=own)
    record(
        yard=yard,
        by=by,
        station=Station.SHELF,
        text=f"{own.name} added to the shelf",
        url=own.get_absolute_url(),
        at=at,
    )
    return own


def _free_slug(yard: Yard, name: str) -> str:
    base = slugify(name)[:70] or "material"
    taken = (
        set(
            Material.objects.visible_to(yard)
            .filter(slug__startswith=base)
            .values_list("slug", flat=True)
        )
        | RESERVED
    )
    number = 2
    slug = base
    while slug in taken:
        slug, number = f"{base}-{number}", number + 1
    return slug


def own_copy(*, yard: Yard, material: Material) -> Material:
    """Return the yard's own row of a material, made when it is first needed.

    Its bags, place on the shelf, reports and samples move over with it.
    """
    if material.yard_id == yard.pk:
        return material
    own, made = Material.objects.get_or_create(
        yard=yard,
        slug=material.slug,
        defaults={
            "name": material.name,
            "family": material.family,
            "role": material.role,
            "search": material.search,
            "place": material.place,
            "like": material,
        },
    )
    if made:
        for kept in (Bag, ShelfItem, LabReport, Sample):
            rows = kept._default_manager.filter(yard=yard, material=material)
            rows.update(material=own)
        settle(own)
    return own


@transaction.atomic
def say_values(
    *,
    yard: Yard,
    by: User | None,
    material: Material,
    said: Said,
    values: Mapping[str, Range],
    usable: Sequence[str] = (),
    at: datetime | None = None,
) -> Material:
    """Give a material values of the grower's own; older ones stand behind them.

    Raises
    ------
    PelkError
        Naming the fact that cannot be true; nothing is kept then.
    """
    own = own_copy(yard=yard, material=material)
    now = at or timezone.now()
    Value.objects.bulk_create(
        Value(
            yard=yard,
            material=own,
            fact=key,
            low=v.low,
            typ=v.typ,
            high=v.high,
            usable=key in usable,
            mark=said.mark,
            dated=said.dated,
            note=said.note[:NOTE_LENGTH],
            bag=said.bag,
            report=said.report,
            by=by,
            created_at=now,
        )
        for key, v in values.items()
    )
    settle(own)
    names = ", ".join(FACTS[key].name.lower() for key in values)
    word = Value.Mark(said.mark).label
    _note(own, by, f"{own.short_name}: {names} {word}", at)
    return own


@transaction.atomic
def forget_values(*, material: Material, fact: str, by: User | None) -> None:
    """Withdraw all own values of a fact: the library's value is had back."""
    said = list(material.values.live().filter(fact=fact))
    for value in said:
        value.put_away()
    if said:
        settle(material)
        _note(material, by, f"{_of(said[0])} back to the library’s")


def _of(value: Value) -> str:
    return f"{value.material.short_name}: {FACTS[value.fact].name.lower()} {sig(value.typ, 3)}"


def _note(material: Material, by: User | None, text: str, at: datetime | None = None) -> None:
    yard = material.yard
    if yard is not None:
        record(
            yard=yard,
            by=by,
            station=Station.SHELF,
            text=text,
            at=at,
            url=material.get_absolute_url(),
        )


@transaction.atomic
def keep_on_shelf(
    *,
    yard: Yard,
    by: User | None,
    materials: Sequence[Material],
    on: bool,
    at: datetime | None = None,
) -> None:
    """Put materials on a yard's shelf, or take them off: one deed."""
    yard.lock()
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
            yard=yard,
            by=by,
            station=Station.SHELF,
            text=f"{name} {verb}",
            at=at,
            url=changed[0].get_absolute_url() if one else f"{reverse('shelf:list')}?show=mine",
        )


def _place(own: Material) -> None:
    """Take a material off the shelf, or give it its place back."""
    if own.deleted_at is not None:
        ShelfItem.objects.filter(material=own).delete()
    else:
        ShelfItem.objects.get_or_create(yard=own.yard, material=own)
        tally(own)


VALUES = Shelving(
    model=Value,
    station=Station.SHELF,
    says=lambda row, word: f"{_of(row)} {word}",
    away="taken back",
    back="counts again",
    locks=lambda row: row.material,
    then=lambda row: settle(row.material),
    address=lambda row: row.material.get_absolute_url(),
    away_address=lambda row: row.material.get_absolute_url(),
)
# Recipes that name a material that was put away still know it.
MATERIALS = Shelving(
    model=Material,
    station=Station.SHELF,
    says=lambda row, word: f"{row.name} {word}",
    may_go=lambda row: row.like is None or row.like.slug != row.slug,
    then=_place,
    address=Material.get_absolute_url,
    away_address=Material.get_absolute_url,
)
