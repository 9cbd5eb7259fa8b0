"""The buying list: what planned batches need, less what is there, in whole packages."""

from __future__ import annotations

import csv
from dataclasses import dataclass
from decimal import Decimal
from io import BytesIO, StringIO

from pelk.core.materials.cost import cost
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.materials import Material, ShelfItem
from pelk.shelf.selectors import known_materials
from pelk.ui.cells import plain_cell
from pelk.yards.extensions import Need, needs_of_batches
from pelk.yards.models import Yard

HEADS = (
    "material",
    "needed_L",
    "needed_kg",
    "on_shelf_L",
    "on_shelf_kg",
    "packages",
    "package",
    "price_of_one",
    "cost",
    "left_over_L",
    "left_over_kg",
    "currency",
)


@dataclass(frozen=True, slots=True)
class BuyLine:
    """One material to buy, or that is there already."""

    material: Material
    litres: float
    kg: float
    there_l: float
    there_kg: float
    packages: int
    package: str
    price: Decimal | None
    outlay: Decimal | None
    left_l: float
    left_kg: float
    needed: str
    there: str
    left: str
    is_known: bool

    @property
    def is_short(self) -> bool:
        """Whether something must be bought."""
        return self.packages > 0 or (not self.is_known and self.kg > self.there_kg * 1.0001)


@dataclass(frozen=True, slots=True)
class BuyingList:
    """All of it."""

    needs: list[Need]
    lines: list[BuyLine]
    total: Decimal
    total_text: str
    unpriced: list[str]
    currency: str

    @property
    def to_buy(self) -> list[BuyLine]:
        """What must be bought."""
        return [line for line in self.lines if line.is_short]

    @property
    def enough(self) -> list[BuyLine]:
        """What is there already."""
        return [line for line in self.lines if not line.is_short]


def buying_list(yard: Yard) -> BuyingList:
    """Return what to buy for everything a yard has planned."""
    needs = needs_of_batches.ask(yard)
    wanted: dict[str, tuple[float, float]] = {}
    for use in (use for need in needs for use in need.uses):
        litres, kg = wanted.get(use.slug, (0.0, 0.0))
        wanted[use.slug] = (litres + use.litres, kg + use.kg)
    held = known_materials(yard, wanted)
    bags = _newest_bags(yard, wanted)
    items = {
        i.material.slug: i
        for i in ShelfItem.objects.of(yard)
        .select_related("material")
        .filter(material__slug__in=wanted)
    }
    lines = [
        _line(held[slug], litres, kg, bags.get(slug), items.get(slug), yard)
        for slug, (litres, kg) in wanted.items()
        if slug in held
    ]
    lines.sort(key=lambda line: (line.material.place, line.material.name))
    total = sum((line.outlay or Decimal(0) for line in lines), Decimal(0))
    unpriced = [line.material.short_name for line in lines if line.is_short and line.outlay is None]
    return BuyingList(needs, lines, total, yard.money.write(total), unpriced, yard.currency)


def _newest_bags(yard: Yard, slugs: dict[str, tuple[float, float]]) -> dict[str, Bag]:
    rows = Bag.objects.of(yard).filter(material__slug__in=slugs).in_use_order()
    return {bag.material.slug: bag for bag in rows.select_related("material")}


def _line(
    row: Material, litres: float, kg: float, bag: Bag | None, item: ShelfItem | None, yard: Yard
) -> BuyLine:
    core = row.core
    there_l = (item.left_l if item else None) or 0.0
    there_kg = (item.left_kg if item else None) or 0.0
    measures = yard.measures
    count, outlay, left_l, left_kg = (0, None, max(there_l - litres, 0), max(there_kg - kg, 0))
    if bag is not None:
        package = bag.package(bag.price or Decimal(0))
        one = cost([(core, kg)], {row.slug: package}, 1.0, stock_kg={row.slug: there_kg}).lines[0]
        count, left_l, left_kg = one.packages, one.left_l, one.left_kg
        outlay = one.outlay if bag.price is not None else None

    def write(by_l: float, by_kg: float) -> str:
        return measures.volume(by_l) if row.is_part else measures.mass(1000 * by_kg)

    return BuyLine(
        row,
        litres,
        kg,
        there_l,
        there_kg,
        count,
        f"{bag.get_kind_display()}, {bag.size:g} {bag.unit}" if bag else "",
        bag.price if bag else None,
        outlay,
        left_l,
        left_kg,
        write(litres, kg),
        write(there_l, there_kg),
        write(left_l, left_kg),
        bag is not None,
    )


def table(lines: BuyingList) -> list[tuple[object, ...]]:
    """Return the list as rows of plain values, in the order of `HEADS`."""
    return [
        (
            line.material.name,
            round(line.litres, 3),
            round(line.kg, 4),
            round(line.there_l, 3),
            round(line.there_kg, 4),
            line.packages,
            line.package,
            line.price,
            line.outlay,
            round(line.left_l, 3),
            round(line.left_kg, 4),
            lines.currency,
        )
        for line in [*lines.to_buy, *lines.enough]
    ]


def as_csv(lines: BuyingList) -> str:
    """Return the list as CSV, units in the header."""
    out = StringIO()
    writer = csv.writer(out)
    writer.writerow(HEADS)
    writer.writerows([plain_cell(cell) for cell in row] for row in table(lines))
    return out.getvalue()


def as_xlsx(lines: BuyingList) -> bytes:
    """Return the list as a spreadsheet with its sum."""
    from openpyxl import Workbook  # noqa: PLC0415  (a second to load: only when asked)
    from openpyxl.styles import Font  # noqa: PLC0415

    book = Workbook()
    book.remove(book.worksheets[0])
    sheet = book.create_sheet("Buying list")
    sheet.append(list(HEADS))
    rows = table(lines)
    for row in rows:
        sheet.append([plain_cell(cell) if isinstance(cell, str) else cell for cell in row])
    sheet.append([])
    sheet.append(["total", *[None] * 7, f"=SUM(I2:I{len(rows) + 1})", None, None, lines.currency])
    for cell in sheet[1]:
        cell.font = Font(bold=True)
    sheet.column_dimensions["A"].width = 34
    sheet.column_dimensions["G"].width = 30
    out = BytesIO()
    book.save(out)
    return out.getvalue()
