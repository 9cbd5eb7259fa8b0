"""A material's page: everything known of it, ready for the template."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from pelk.core.base.figures import Figure
from pelk.core.base.sources import Source
from pelk.core.evaluation.cautions import Caution, Line, fired
from pelk.core.lab.substitutes import NAMES, Job, Substitute, job_of, substitutes
from pelk.core.materials.bags import NITROGEN_AT_LEAST_PCT
from pelk.core.materials.facts import Fact
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.release.nitrogen_curves import nitrogen_released
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.materials import Material, ShelfItem, cores_of
from pelk.shelf.pages.figures import SEASON_DAYS, figures_of, season_start, season_temperatures
from pelk.shelf.pages.listing import refused_by, unit_price
from pelk.shelf.pages.tables import MAIN, Row, analysis_rows, physical_rows, unknown_facts
from pelk.sources.selectors import works_named_in
from pelk.ui.release_chart import ReleaseChart, month_ticks, release_chart
from pelk.ui.small_releases import SmallReleases, small_releases
from pelk.yards.extensions import Place, places_of_material
from pelk.yards.models import Yard

STEADY_C = 20.0
MOST_SUBSTITUTES, MOST_BAGS, MOST_NEAR, MOST_SAID = 6, 8, 120, 3
MOST_TOLD = 24
FAMILIES_OF = {"lime": ("lime", "ash"), "acid": ("acidifier",)}


@dataclass(frozen=True, slots=True)
class Choice:
    """A substitute with its price and whether it is on the shelf."""

    what: Substitute
    material: Material
    is_mine: bool
    price: str
    says: str
    bag: int | None
    each: float | None


@dataclass(frozen=True, slots=True, kw_only=True)
class MaterialPage:
    """Everything the page shows of one material."""

    core: CoreMaterial
    analysis: list[Row]
    folded: list[Row]
    physical: list[Row]
    unknown: list[Fact]
    figures: dict[str, Figure]
    chart: ReleaseChart | None
    by_month: SmallReleases | None
    month: int
    cautions: list[Caution]
    bags: list[Bag]
    item: ShelfItem | None
    left: str
    job: Job
    choices: list[Choice]
    value: str
    beside: list[int]
    places: list[Place]
    works: list[Source]


def material_page(
    material: Material,
    yard: Yard,
    *,
    oxide: bool = False,
    month: int | None = None,
    with_places: bool = True,
) -> MaterialPage:
    """Make a material ready for its page; under a drawer its places are left out."""
    core = material.core
    begins = season_start(yard.normals_c) if month is None else month
    bags = list(Bag.objects.of(yard).live().filter(material=material)[:MOST_BAGS])
    rows = analysis_rows(core, oxide=oxide)
    choices, item = choices_for(material, yard)
    priced = next((bag for bag in bags if bag.price is not None), None)
    return MaterialPage(
        core=core,
        analysis=[row for row in rows if row.fact in MAIN],
        folded=[row for row in rows if row.fact not in MAIN],
        physical=physical_rows(core),
        unknown=unknown_facts(core),
        figures=figures_of(core, yard, begins, priced),
        chart=_chart(core, yard, begins),
        by_month=_by_month(core, yard, begins) if with_places else None,
        month=begins,
        cautions=handling_cautions([core]),
        bags=bags,
        item=item,
        left=_left(item, material, yard),
        job=job_of(core),
        choices=choices,
        value=_value(material, item, choices, yard),
        beside=[b for b in (priced.pk if priced else None, *(c.bag for c in choices)) if b][:4],
        places=places_of_material.ask(yard, material.slug) if with_places else [],
        works=works_named_in(core.provenance),
    )


def _chart(core: CoreMaterial, yard: Yard, month: int) -> ReleaseChart | None:
    own = nitrogen_released(core, season_temperatures(yard, month))
    steady = nitrogen_released(core, [STEADY_C] * SEASON_DAYS)
    if own is None or steady is None or core.composition["N"].typ < NITROGEN_AT_LEAST_PCT:
        return None
    return release_chart(
        [("yard", "here", own), ("steady", yard.measures.warmth(STEADY_C), steady)],
        month_ticks(month, SEASON_DAYS),
    )


def _by_month(core: CoreMaterial, yard: Yard, month: int) -> SmallReleases | None:
    """Return how its nitrogen comes free by the month it is given in; None where it has little."""
    nitrogen = core.composition.get("N")
    if nitrogen is None or nitrogen.typ < NITROGEN_AT_LEAST_PCT:
        return None
    curves = [nitrogen_released(core, season_temperatures(yard, m)) for m in range(12)]
    known = [curve for curve in curves if curve is not None]
    return small_releases(known, month) if len(known) == len(curves) else None


def handling_cautions(cores: Sequence[CoreMaterial], *, in_store: bool = False) -> list[Caution]:
    """Return what the published list says of weighing and mixing some materials dry.

    `in_store` is for what is kept where animals come by.
    """
    dry = frozenset(["dry"])
    lines = [
        Line(core.name, {"tag": frozenset(core.tags), "state": dry}, core.dose_typ_g_l or 0.0)
        for core in cores
    ]
    stages = ["weigh", "mix", "store"] if in_store else ["weigh", "mix"]
    context = {
        "stage": frozenset(stages),
        "where": frozenset(["outdoors"]),
        "who": frozenset(["pet"] if in_store else []),
    }
    return fired(lines, context)


def _left(item: ShelfItem | None, material: Material, yard: Yard) -> str:
    if item is None:
        return ""
    measures = yard.measures
    litres = "" if item.left_l is None else measures.volume(item.left_l)
    kilos = "" if item.left_kg is None else measures.mass(1000 * item.left_kg)
    said = [litres, kilos] if material.is_part else [kilos, litres]
    return ", ".join(part for part in said if part)


def choices_for(material: Material, yard: Yard) -> tuple[list[Choice], ShelfItem | None]:
    """Return what does the same job and fits the school, the shelf's own first.

    And the material's own place on the shelf, which comes in the same question.
    """
    key = job_of(material.core).key
    shut = set(refused_by(yard.style))
    same_role: dict[str, Any] = {"role": material.role}
    if material.role != "bulk" and key not in NAMES:
        same_role["family__in"] = FAMILIES_OF.get(key, (material.family,))
    parts = [
        Material.objects.filter(yard=yard, deleted_at=None),
        Material.objects.of_the_library(yard),
    ]
    own, shared = (p.filter(**same_role).with_analysis().order_by() for p in parts)
    near = own.union(shared, all=True).order_by("place", "family", "name", "id")
    rows = [m for m in near[:MOST_NEAR] if m.slug not in shut]
    cores = cores_of(rows)
    items = {
        item.material_id: item
        for item in ShelfItem.objects.of(yard).filter(material__in=[*rows, material])
    }
    # What is on the shelf goes first; changes are told of a few only.
    same = [(m, core) for m, core in zip(rows, cores, strict=True) if job_of(core).key == key]
    same.sort(key=lambda pair: pair[0].pk not in items)
    by_slug = {m.slug: m for m, _ in same[:MOST_TOLD]}
    choices = []
    for one in substitutes(material.core, [core for _, core in same[:MOST_TOLD]]):
        row = by_slug[one.material.slug]
        item = items.get(row.pk)
        choices.append(
            Choice(
                one,
                row,
                item is not None,
                _price(item, material.is_part, yard),
                _says(one),
                item.priced_id if item else None,
                _for_the_job(item, one.material),
            )
        )
    kept = sorted(choices, key=lambda c: not c.is_mine)[:MOST_SUBSTITUTES]
    return kept, items.get(material.pk)


def _says(one: Substitute) -> str:
    """Say what changes: properties first, then what more and less comes along."""
    said = [f"{c.name} {c.now}, not {c.was}" for c in one.changes if not c.by_g][:MOST_SAID]
    for word, sign in (("more", 1), ("less", -1)):
        names = [c.name for c in one.changes if c.by_g * sign > 0]
        if names:
            said.append(f"{word} {', '.join(names)}")
    return "; ".join(said) or "little else changes"


def _for_the_job(item: ShelfItem | None, core: CoreMaterial) -> float | None:
    """Return the price of one unit of what a material is bought for."""
    job = job_of(core)
    if item is None:
        return None
    if job.per_kg is None:
        return item.price_l
    return item.price_kg / job.per_kg if item.price_kg is not None else None


def _value(
    material: Material, item: ShelfItem | None, choices: Sequence[Choice], yard: Yard
) -> str:
    """Say which of what does the same job is the best value; empty without two prices."""
    job = job_of(material.core)
    priced = [(c.each, c.material.short_name) for c in choices if c.each is not None]
    own = _for_the_job(item, material.core)
    if own is None or not priced:
        return ""
    cheapest, name = min(priced)
    write = yard.money.each_float
    if own <= cheapest:
        return (
            f"Best value of what you have: {write(own)} for each {job.unit}; next "
            f"{name.lower()}, {write(cheapest)}."
        )
    return f"{name} is better value: {write(cheapest)} for each {job.unit}, not {write(own)}."


def _price(item: ShelfItem | None, is_part: bool, yard: Yard) -> str:
    each = None if item is None else item.price_l if is_part else item.price_kg
    if each is None:
        return ""
    return unit_price(each, yard, by_volume=is_part)
