"""What is read of the shelf."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, replace

from django.db.models import Q

from pelk.core.base.errors import PelkError
from pelk.core.lab.lab_reports import Mapped, mapped
from pelk.core.lab.report_lines import read_report
from pelk.core.materials.cost import Package
from pelk.core.materials.facts import FACTS, value_of
from pelk.core.materials.library import Range
from pelk.shelf.models.bags import Bag, package_holding
from pelk.shelf.models.lab import LabReport
from pelk.shelf.models.materials import Material, ShelfItem, cores_of
from pelk.yards.models import Yard

LEAVE, KEEP = "leave", "keep"


def shelf_slugs(yard: Yard) -> frozenset[str]:
    """Return the slugs of what a yard has at hand."""
    return frozenset(ShelfItem.objects.of(yard).values_list("material__slug", flat=True))


def known_materials(yard: Yard, slugs: Iterable[str]) -> dict[str, Material]:
    """Return the named materials with their analyses, the yard's own before the shared."""
    candidates = Material.objects.visible_to(yard).filter(slug__in=set(slugs)).with_analysis()
    candidates = candidates.order_by()
    rows = sorted(candidates, key=lambda m: m.yard_id is not None)
    cores_of(rows)
    return {m.slug: m for m in rows}


def slug_named(yard: Yard, text: str) -> str:
    """Return the slug of a material as someone typed its name; else the text itself."""
    name = text.strip()
    rows = Material.objects.listed_for(yard)
    exact = Q(slug=name) | Q(name__iexact=name) | Q(name__istartswith=f"{name} (")
    begins = Q(name__istartswith=name)
    for rows_named in (rows.filter(exact), rows.filter(begins), rows.matching(name)):
        slug = rows_named.order_by("-yard_id", "name").values_list("slug", flat=True).first()
        if slug:
            return slug
    return name


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
    was = value_of(core, fact.fact) if fact.fact in FACTS else None
    return ReportRow(fact, decision, was)


def limes_of(yard: Yard) -> list[Material]:
    """Return every lime a yard knows: sulfur is too slow for jars."""
    rows = Material.objects.listed_for(yard).with_analysis()
    return [row for row in rows.filter(family="lime") if row.core.lime_grade]
