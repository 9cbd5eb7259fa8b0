"""The list of the shelf: searched, narrowed, put in order, one page of it."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import groupby
from urllib.parse import urlencode

from django.core.paginator import Page
from django.db.models import Exists, FilteredRelation, OuterRef, Q
from django.http import QueryDict

from pelk.core.materials.feeding_styles import FeedingStyle
from pelk.core.materials.library import library
from pelk.shelf.domain.families import FAMILIES
from pelk.shelf.models.materials import Material, MaterialQuerySet, ShelfItem, cores_of
from pelk.ui.pages import page_without_total
from pelk.ui.templatetags.pelk import npk
from pelk.ui.units import sizes
from pelk.yards.models import Yard

PER_PAGE = 60
SHOWS = {
    "": "all",
    "mine": "On your shelf",
    "low": "Running low",
    "parts": "parts",
    "doses": "doses",
    "own": "Yours",
}
SORTS = {
    "": "by family",
    "price": "cheapest litre",
    "nitrogen": "most nitrogen",
    "left": "most left",
}
ORDERS = {
    "": ("place", "family", "name", "pk"),
    "price": ("item__price_l", "pk"),
    "nitrogen": ("-n_pct", "name", "pk"),
    "left": ("-item__left_l", "pk"),
}
ROLES = {
    "bulk": "parts",
    "dose": "doses",
    "liquid": "liquid feeds",
    "inoculant": "inoculants",
    "mulch": "mulches",
}
ORIGINS = ("plant", "animal", "mineral", "marine", "microbial", "synthetic")


@dataclass(frozen=True, slots=True)
class Asked:
    """What a list was asked for."""

    words: str = ""
    show: str = ""
    family: str = ""
    origin: str = ""
    role: str = ""
    sort: str = ""
    style: bool = False

    @classmethod
    def of(cls, query: QueryDict) -> Asked:
        """Read it from an address; what is not known is left out."""

        def known(name: str, allowed: object) -> str:
            value = query.get(name, "")
            return value if value in allowed else ""  # type: ignore[operator]

        return cls(
            query.get("q", "")[:80],
            known("show", SHOWS),
            known("family", FAMILIES),
            known("origin", ORIGINS),
            known("role", ROLES),
            known("sort", SORTS),
            query.get("school") == "1",
        )

    @property
    def is_narrow(self) -> bool:
        """Whether anything of the folded filters is set."""
        return bool(self.family or self.origin or self.role or self.sort or self.style)

    def query(self, **changes: str) -> str:
        """Return it as the query of an address, with some of it changed."""
        held = {
            "q": self.words,
            "show": self.show,
            "family": self.family,
            "origin": self.origin,
            "role": self.role,
            "sort": self.sort,
            "school": "1" if self.style else "",
            **changes,
        }
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

    @property
    def is_bare(self) -> bool:
        """Whether nothing is known beside its name, which then has the room."""
        return not (self.npk or self.left or self.is_low or self.is_mine or self.price)


@dataclass(frozen=True, slots=True)
class Listing:
    """One page of the list, by family or in another order."""

    asked: Asked
    groups: list[tuple[str, list[Row]]]
    page: Page[Material]
    tabs: list[tuple[str, str, str, bool]]

    @property
    def heard(self) -> str:
        """What is read out when the list changes."""
        count = sum(len(rows) for _, rows in self.groups)
        more = " or more" if self.page.has_next() else ""
        return f"{count}{more} material{'' if count == 1 else 's'}"

    @property
    def list_query(self) -> str:
        """What was asked for, to stand before the number of a page."""
        query = self.asked.query()
        return f"{query}&" if query else ""

    @property
    def here(self) -> str:
        """What was asked for and the page, as the tail of an address; empty where nothing was."""
        asked, number = self.asked.query(), self.page.number
        if number > 1:
            return f"?{asked}&page={number}"
        return f"?{asked}" if asked else ""


def listing(yard: Yard, asked: Asked, page: str | None) -> Listing:
    """Return one page of what was asked for."""
    materials = _matching(yard, asked)
    shown = page_without_total(materials, page or "", PER_PAGE)
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
    tabs = [(key, name, asked.query(show=key), key == asked.show) for key, name in SHOWS.items()]
    return Listing(asked, groups, shown, tabs)


def _matching(yard: Yard, asked: Asked) -> MaterialQuerySet:
    """Return what was asked for, in order.

    By price and by what is left, the shelf's own index is walked. Else the yard's own
    and the library's are two walks along one index each, merged, so that a page of a
    long list costs what a page of a short one does.
    """
    order = ORDERS[asked.sort]
    if asked.sort in ("price", "left"):
        return _on_shelf(yard, asked).with_analysis().order_by(*order)
    parts = [Material.objects.filter(yard=yard, deleted_at=None)]
    if asked.show != "own":
        parts.append(Material.objects.of_the_library(yard))
    if asked.show in ("mine", "low"):
        items = ShelfItem.objects.of(yard).filter(material=OuterRef("pk"))
        items = items.filter(is_low=True) if asked.show == "low" else items
        parts = [part.filter(Exists(items)) for part in parts]
    ready = [_narrowed(part, asked, yard).with_analysis().order_by() for part in parts]
    if len(ready) == 1:
        return ready[0].order_by(*order)
    merged = ready[0].union(ready[1], all=True)
    return merged.order_by(*(name.replace("pk", "id") for name in order))


def _on_shelf(yard: Yard, asked: Asked) -> MaterialQuerySet:
    item = FilteredRelation("items", condition=Q(items__yard=yard))
    amount = "item__price_l" if asked.sort == "price" else "item__left_l"
    kept: dict[str, bool] = {f"{amount}__isnull": False}
    if asked.show == "low":
        kept["item__is_low"] = True
    rows = Material.objects.annotate(item=item).filter(**kept, deleted_at=None)
    if asked.show == "own":
        rows = rows.filter(yard=yard)
    return _narrowed(rows, asked, yard)


def _narrowed(rows: MaterialQuerySet, asked: Asked, yard: Yard) -> MaterialQuerySet:
    rows = rows.matching(asked.words)
    if asked.show == "parts":
        rows = rows.filter(role="bulk")
    elif asked.show == "doses":
        rows = rows.exclude(role="bulk")
    if asked.family:
        rows = rows.filter(family=asked.family)
    if asked.origin:
        rows = rows.filter(origin=asked.origin)
    if asked.role:
        rows = rows.filter(role=asked.role)
    if asked.style:
        shut = refused_by(yard.style)
        alike = Material.objects.filter(yard=None, slug__in=shut).values("pk")
        rows = rows.exclude(slug__in=shut).exclude(like__in=alike)
    if asked.sort == "nitrogen":
        rows = rows.filter(n_pct__isnull=False)
    return rows


def refused_by(style: FeedingStyle) -> list[str]:
    """Return the library's materials that do not fit a school."""
    return [slug for slug, core in library().items() if not style.allows(core)]


def _row(material: Material, item: ShelfItem | None, yard: Yard) -> Row:
    left = price = ""
    if item is not None:
        part = material.is_part
        amount = item.left_l if part else item.left_kg
        if amount is not None:
            write = yard.measures.volume if part else yard.measures.mass
            left = write(amount if part else 1000 * amount)
        each = item.price_l if part else item.price_kg
        if each is not None:
            price = unit_price(each, yard, by_volume=part)
    return Row(
        material, npk(material.core), left, bool(item and item.is_low), item is not None, price
    )


def unit_price(each: float, yard: Yard, *, by_volume: bool) -> str:
    """Write the price of a litre or a kilogram in the yard's own unit."""
    measures, write = yard.measures, yard.money.each_float
    if not measures.is_us:
        return f"{write(each)}/{'L' if by_volume else 'kg'}"
    if by_volume:
        return f"{write(each * sizes()['gal'])}/gal"
    return f"{write(each * sizes()['lb'] / 1000)}/lb"
