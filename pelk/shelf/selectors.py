"""What is read of the shelf."""

from __future__ import annotations

from collections.abc import Iterable
from contextlib import suppress
from dataclasses import dataclass, replace

from django.utils import timezone

from pelk.core.base.errors import PelkError, UnknownError
from pelk.core.lab.lab_reports import Mapped, lime_readings, mapped
from pelk.core.lab.lime_requirement import BUFFERS, LimeNeed, lime_needs
from pelk.core.lab.report_lines import read_report
from pelk.core.materials.cost import Package
from pelk.core.materials.facts import FACTS, value_of
from pelk.core.materials.library import library
from pelk.core.materials.material import Range, short_name
from pelk.core.materials.words import Name, Vocabulary
from pelk.shelf.models.bags import Bag, package_holding
from pelk.shelf.models.evidence import Evidence, lessons_of
from pelk.shelf.models.lab import LabReport
from pelk.shelf.models.materials import Material, ShelfItem, cores_of
from pelk.shelf.models.words import PackSize, Word
from pelk.yards.models import Yard

LEAVE, KEEP = "leave", "keep"
# Before the buffer that an unnamed buffer pH was read in.
AS = "as:"


def shelf_slugs(yard: Yard) -> frozenset[str]:
    """Return the slugs of what a yard has at hand."""
    return frozenset(ShelfItem.objects.of(yard).values_list("material__slug", flat=True))


def known_materials(yard: Yard, slugs: Iterable[str]) -> dict[str, Material]:
    """Return the named materials with their analyses and what the yard's heaps taught of them.

    The yard's own go before the shared.
    """
    candidates = Material.objects.visible_to(yard).filter(slug__in=set(slugs)).with_analysis()
    candidates = candidates.order_by()
    own_last = sorted(candidates, key=lambda m: m.yard_id is not None)
    cores_of(own_last)
    known = {m.slug: m for m in own_last}
    evidence = Evidence.objects.of(yard).by_material(known)
    lots = Bag.objects.of(yard).lots_on(evidence, timezone.localdate()) if evidence else {}
    for slug, rows in evidence.items():
        core = known[slug].core
        lessons = lessons_of(core, rows, lots.get(slug, ""))
        taught = {x.factor.value: x.taught for x in lessons if x.taught is not None}
        known[slug].core = replace(core, taught=taught)
    return known


def packages_of(yard: Yard, slugs: Iterable[str]) -> dict[str, Package]:
    """Return how each of some materials was bought last, where a price was written."""
    bags = Bag.objects.of(yard).live().filter(material__slug__in=set(slugs), price__isnull=False)
    newest_last = bags.in_use_order().values_list("material__slug", "measure", "holds", "price")
    return {slug: package_holding(*held) for slug, *held in newest_last}


@dataclass(frozen=True, slots=True)
class ReportRow:
    """One row of a report with what the grower decided on it."""

    mapped: Mapped
    decision: str
    was: Range | None

    @property
    def counts(self) -> bool:
        """Whether it will stand on the material."""
        return (
            bool(self.mapped.fact)
            and self.decision != LEAVE
            and (self.mapped.state == "good" or self.decision == KEEP)
            and self.mapped.state not in ("impossible", "unknown", "aside")
        )

    @property
    def waits(self) -> bool:
        """Whether the grower must say something before the report is taken."""
        return self.mapped.state in ("impossible", "unlikely", "unknown") and (
            self.decision not in (LEAVE, KEEP)
            or (self.decision == KEEP and self.mapped.state != "unlikely")
        )


def rows_of_report(report: LabReport) -> list[ReportRow]:
    """Return a report's rows in the material's own terms, odd ones as they were mended."""
    core = report.material.core
    rows = read_report(report.text)
    decisions = report.decisions
    facts = mapped(rows, core, report.method, basis=report.basis, ec_method=report.ec_method)
    return [_decided(m, decisions.get(str(m.row.line), ""), report) for m in facts]


def lime_of_report(report: LabReport) -> list[LimeNeed]:
    """Return the lime a soil wants by what its report reads of its acidity."""
    named = {
        int(line): said[len(AS) :] for line, said in report.decisions.items() if said.startswith(AS)
    }
    ph, buffers, capacity = lime_readings(read_report(report.text), named)
    if ph is None or not (buffers or capacity):
        return []
    return lime_needs(report.material.core, ph, buffers, capacity)


def _decided(fact: Mapped, decision: str, report: LabReport) -> ReportRow:
    core = report.material.core
    if decision.startswith("="):
        value = float(decision[1:])
        state, why = "good", ""
        try:
            FACTS[fact.fact].quantity.check(value, "")
        except (PelkError, KeyError) as error:
            state, why = "impossible", str(error)
        fact = replace(fact, value=value, state=state, why=why, how="mended by hand")
    if decision.startswith(AS) and decision[len(AS) :] in fact.buffers:
        how = f"read in the {BUFFERS[decision[len(AS) :]]} buffer"
        fact = replace(fact, state="aside", how=how)
    was = value_of(core, fact.fact) if fact.fact in FACTS else None
    return ReportRow(fact, decision, was)


def limes_of(yard: Yard) -> list[Material]:
    """Return every lime a yard knows: sulfur is too slow for jars."""
    rows = Material.objects.listed_for(yard).with_analysis()
    return [row for row in rows.filter(family="lime") if row.core.lime_grade]


def ready_bag_of(yard: Yard) -> Package | None:
    """Return the ready-made mix that was bought last with a price, by volume; None without."""
    bags = Bag.objects.of(yard).live().filter(material__family="old-mix", price__isnull=False)
    held = bags.filter(measure=Bag.Measure.LITRES).order_by("-bought_on", "-pk")
    newest = held.values_list("measure", "holds", "price").first()
    return package_holding(*newest) if newest else None


def vocabulary_of(yard: Yard) -> Vocabulary:
    """Return what may be named in a yard, and how it speaks."""
    shared = library()
    rows = Material.objects.listed_for(yard).order_by()
    named = {
        slug: Name(
            slug, name, short_name(name), shared[slug].other_names if slug in shared else (), role
        )
        for slug, name, role in rows.values_list("slug", "name", "role")
    }
    taught = Word.objects.of(yard).live().filter(material__deleted_at=None)
    return Vocabulary(
        materials=named,
        owned=shelf_slugs(yard),
        taught=dict(taught.values_list("text", "material__slug")),
        region=yard.region or ("US" if yard.measures.is_us else ""),
    )


# How a pack is called, and the kinds of bags on the shelf that are one.
PACKS = {"bag": ("bag", "sack"), "bale": ("bale", "bale-loose"), "brick": ("brick",)}


def pack_litres(yard: Yard, material: Material, pack: str) -> float | None:
    """Return the loose litres of one pack: of the newest bag, or as was said; None if neither."""
    bags = Bag.objects.of(yard).live().filter(material__slug=material.slug, kind__in=PACKS[pack])
    newest = bags.order_by("-bought_on", "-pk").first()
    if newest is not None:
        package = package_holding(newest.measure, newest.holds, None)
        with suppress(UnknownError):
            return package.loose_litres(material.core)
    said = PackSize.objects.of(yard).live().filter(material__slug=material.slug, pack=pack)
    return said.values_list("litres", flat=True).first()


def packs_of(yard: Yard, slugs: Iterable[str]) -> dict[str, frozenset[str]]:
    """Return which packs of each material have a size in a yard."""
    asked = set(slugs)
    called = {kind: pack for pack, kinds in PACKS.items() for kind in kinds}
    bags = Bag.objects.of(yard).live().filter(material__slug__in=asked, kind__in=called)
    said = PackSize.objects.of(yard).live().filter(material__slug__in=asked)
    known: dict[str, set[str]] = {}
    for slug, kind in bags.values_list("material__slug", "kind").distinct():
        known.setdefault(slug, set()).add(called[kind])
    for slug, pack in said.values_list("material__slug", "pack"):
        known.setdefault(slug, set()).add(pack)
    return {slug: frozenset(packs) for slug, packs in known.items()}
