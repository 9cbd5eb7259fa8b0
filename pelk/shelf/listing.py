"""The list of the shelf: searched, narrowed, put in order, one page of it."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import groupby
from urllib.parse import urlencode

from django.core.paginator import Page, Paginator
from django.db.models import F, FilteredRelation, Q
from django.http import QueryDict

from pelk.core.materials import library
from pelk.core.schools import School
from pelk.shelf.families import FAMILIES
from pelk.shelf.models import Material, MaterialQuerySet, ShelfItem, cores_of
from pelk.ui.templatetags.pelk import npk
from pelk.yards.models import Yard

PER_PAGE = 60
SHOWS = {
    "": "all", "mine": "on my shelf", "low": "runs low", "parts": "parts",
    "doses": "doses", "own": "my own",
}  # fmt: skip
SORTS = {
    "": "by family", "price": "cheapest litre", "nitrogen": "most nitrogen",
    "left": "most left",
}  # fmt: skip
ORIGINS = ("plant", "animal", "mineral", "marine", "microbial", "synthetic")


@dataclass(frozen=True, slots=True)
class Asked:
    """What a list was asked for."""

    words: str = ""
    show: str = ""
    family: str = ""
    origin: str = ""
    sort: str = ""
    school: bool = False

    @classmethod
    def of(cls, query: QueryDict) -> Asked:
        """Read it from an address; what is not known is left out."""

        def known(name: str, allowed: object) -> str:
            value = query.get(name, "")
            return value if value in allowed else ""  # type: ignore[operator]

        return cls(
            query.get("q", "")[:80], known("show", SHOWS), known("family", FAMILIES),
            known("origin", ORIGINS), known("sort", SORTS), query.get("school") == "1",
        )  # fmt: skip

    @property
    def is_narrow(self) -> bool:
        """Whether anything of the folded filters is set."""
        return bool(self.family or self.origin or self.sort or self.school)

    def query(self, **changes: str) -> str:
        """Return it as the query of an address, with some of it changed."""
        held = {
            "q": self.words, "show": self.show, "family": self.family,
            "origin": self.origin, "sort": self.sort, "school": "1" if self.school else "",
            **changes,
        }  # fmt: skip
        return urlencode({key: value for key, value in held.items() if value})


@dataclass(frozen=True, slots=True)
class Row:
    """A material of the list with what is left of it and what it costs."""

    material: Material
    npk: str
    left: str
    is_low: bool
    is_mine: bool
    price: str


@dataclass(frozen=True, slots=True)
class Listing:
    """One page of the list, by family or in another order."""

    asked: Asked
    groups: list[tuple[str, list[Row]]]
    page: Page[Material]
    mine: int
    low: int
    tabs: list[tuple[str, str, str, bool]]

    @property
    def list_query(self) -> str:
        """What was asked for, to stand before the number of a page."""
        query = self.asked.query()
        return f"{query}&" if query else ""


def listing(yard: Yard, asked: Asked, page: str | None) -> Listing:
    """Return one page of what was asked for."""
    found = _found(yard, asked)
    shown = Paginator(found.with_analysis(), PER_PAGE).get_page(page)
    cores_of(shown.object_list)
    items = {
        item.material_id: item
        for item in ShelfItem.objects.of(yard).filter(material__in=list(shown))
    }
    rows = [_row(m, items.get(m.pk), yard) for m in shown]
    if asked.sort:
        groups = [(SORTS[asked.sort].capitalize(), rows)] if rows else []
    else:
        groups = [
            (FAMILIES.get(family, family), list(members))
            for family, members in groupby(rows, key=lambda r: r.material.family)
        ]
    mine, low = _counts(yard)
    tabs = [
        (key, _counted(name, key, mine, low), asked.query(show=key), key == asked.show)
        for key, name in SHOWS.items()
    ]
    return Listing(asked, groups, shown, mine, low, tabs)


def _counted(name: str, key: str, mine: int, low: int) -> str:
    number = {"mine": mine, "low": low}.get(key)
    return f"{name} {number}" if number else name


def _counts(yard: Yard) -> tuple[int, int]:
    flags = list(
        ShelfItem.objects.of(yard)
        .filter(material__deleted_at=None)
        .values_list("is_low", flat=True)
    )
    return len(flags), sum(flags)


def _found(yard: Yard, asked: Asked) -> MaterialQuerySet:
    found = Material.objects.listed_for(yard).matching(asked.words)
    if asked.show == "parts":
        found = found.filter(role="bulk")
    elif asked.show == "doses":
        found = found.exclude(role="bulk")
    elif asked.show == "own":
        found = found.filter(yard=yard)
    if asked.show in ("mine", "low") or asked.sort in ("price", "left"):
        item = FilteredRelation("items", condition=Q(items__yard=yard))
        found = found.annotate(item=item).filter(item__isnull=False)
        if asked.show == "low":
            found = found.filter(item__is_low=True)  # type: ignore[misc]
    if asked.family:
        found = found.filter(family=asked.family)
    if asked.origin:
        found = found.filter(origin=asked.origin)
    if asked.school:
        shut = refused_by(yard.schooling)
        found = found.exclude(slug__in=shut).exclude(like__slug__in=shut)
    if asked.sort == "price":
        return found.filter(item__price_l__isnull=False).order_by("item__price_l", "pk")  # type: ignore[misc]
    if asked.sort == "left":
        return found.filter(item__left_l__isnull=False).order_by("-item__left_l", "pk")  # type: ignore[misc]
    if asked.sort == "nitrogen":
        return found.order_by(F("n_pct").desc(nulls_last=True), "name", "pk")
    return found


def refused_by(school: School) -> list[str]:
    """Return the library's materials that do not fit a school."""
    return [slug for slug, core in library().items() if not school.allows(core)]


def _row(material: Material, item: ShelfItem | None, yard: Yard) -> Row:
    left = price = ""
    if item is not None:
        money, part = yard.money, material.is_part
        amount = item.left_l if part else item.left_kg
        if amount is not None:
            write = yard.measures.volume if part else yard.measures.mass
            left = write(amount if part else 1000 * amount)
        each = item.price_l if part else item.price_kg
        if each is not None:
            price = f"{money.each_float(each)}/{'L' if part else 'kg'}"
    return Row(
        material, npk(material.core), left, bool(item and item.is_low), item is not None,
        price,
    )  # fmt: skip
