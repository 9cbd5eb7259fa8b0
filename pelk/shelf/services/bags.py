"""Bags: bought, used up by batches, counted again, put away."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal

from django.db import transaction
from django.utils import timezone

from pelk.core.materials.bags import taken_in_turn
from pelk.core.materials.material import Range
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.shelf.models.bags import Bag, StockMove, package_as_printed
from pelk.shelf.models.materials import Material
from pelk.shelf.services.materials import Said, say_values, settle
from pelk.shelf.services.tallies import tally
from pelk.yards.extensions import Use
from pelk.yards.models import User, Yard


@dataclass(frozen=True, slots=True)
class Printed:
    """What a package says: its kind and size, in the unit it is printed in.

    Attributes
    ----------
    size_l, size_kg : float or None
        The same in base units. [L], [kg]
    """

    kind: str
    size: float
    unit: str
    size_l: float | None = None
    size_kg: float | None = None


@transaction.atomic
def buy(
    *,
    yard: Yard,
    by: User | None,
    material: Material,
    printed: Printed,
    count: int = 1,
    price: Decimal | None = None,
    bought_on: date | None = None,
    lot: str = "",
    note: str = "",
    analysis: tuple[dict[str, Range], list[str]] | None = None,
    at: datetime | None = None,
) -> Bag:
    """Put bought packages on the shelf; `analysis` is what their own label says.

    Raises
    ------
    PelkError
        When the package or its label cannot be.
    """
    core = material.core
    holds, measure = package_as_printed(printed.kind, core, printed.size_l, printed.size_kg)
    bag: Bag = Bag.objects.create(
        yard=yard,
        material=material,
        kind=printed.kind,
        size=printed.size,
        unit=printed.unit,
        count=count,
        price=price,
        lot=lot,
        note=note,
        measure=measure,
        bought_on=bought_on or timezone.localdate(at),
        holds=holds,
        left=holds * count,
        created_at=at or timezone.now(),
    )
    _move(bag, by, bag.left, StockMove.Why.BOUGHT, at=at)
    text = f"{material.short_name}: {count} × {printed.size:g} {printed.unit} bought"
    record(yard=yard, by=by, station=Station.SHELF, text=text, url=bag.get_absolute_url(), at=at)
    if analysis is not None and analysis[0]:
        values, usable = analysis
        said = Said("label", bag.bought_on, f"bag of {bag.bought_on:%d %b %Y}", bag)
        say_values(
            yard=yard, by=by, material=material, said=said, values=values, usable=usable, at=at
        )
        bag.refresh_from_db()
    tally(bag.material, yard)
    return bag


@transaction.atomic
def count_again(*, bag: Bag, by: User | None, left: float, text: str = "") -> None:
    """Say what is really left in a bag."""
    held = Bag.objects.select_for_update().get(pk=bag.pk)
    _move(held, by, left - held.left, StockMove.Why.COUNTED, text)
    held.left = left
    held.save(update_fields=["left"])
    tally(held.material, held.yard)
    is_left = held.yard.measures.held(left, held.measure)
    record(
        yard=held.yard,
        by=by,
        station=Station.SHELF,
        url=held.get_absolute_url(),
        text=f"{held.material.short_name}: {is_left} left, counted",
    )


@transaction.atomic
def take_for_batch(
    *,
    yard: Yard,
    by: User | None,
    uses: Sequence[Use],
    text: str,
    url: str,
    at: datetime | None = None,
) -> None:
    """Count down the bags by what went into a batch, the oldest first.

    What the bags do not hold is not taken: the shelf never goes below nothing.
    """
    slugs = [use.slug for use in uses]
    bags = (
        Bag.objects.of(yard)
        .live()
        .not_empty()
        .in_use_order()
        .select_for_update()
        .filter(material__slug__in=slugs)
        .select_related("material")
    )
    of_slug: dict[str, list[Bag]] = {}
    for bag in bags:
        of_slug.setdefault(bag.material.slug, []).append(bag)
    for use in uses:
        held = of_slug.get(use.slug, [])
        need = [use.litres if b.measure == Bag.Measure.LITRES else use.kg for b in held]
        # Bags of one material may count in litres or in kilograms: take shares.
        shares = [b.left / n if n > 0 else 0.0 for b, n in zip(held, need, strict=True)]
        taken = taken_in_turn(shares, 1.0)
        for bag, share, amount in zip(held, taken, need, strict=True):
            if share > 0:
                _move(bag, by, -share * amount, StockMove.Why.BATCH, text, url, at)
                bag.left = max(bag.left - share * amount, 0.0)
                bag.save(update_fields=["left"])
        if held:
            tally(held[0].material, yard)


@transaction.atomic
def take_anew_for_batch(
    *, yard: Yard, by: User | None, uses: Sequence[Use], text: str, url: str
) -> None:
    """Count down the bags by what really went into a batch, in place of what was taken for it.

    A material whose bag was counted again since keeps its count: that is the truth.
    """
    moves = StockMove.objects.filter(bag__yard=yard, url=url, why=StockMove.Why.BATCH)
    taken: dict[int, tuple[float, datetime]] = {}
    for move in moves.order_by("at", "pk"):
        amount, first = taken.get(move.bag_id, (0.0, move.at))
        taken[move.bag_id] = (amount + move.amount, first)
    counted = set()
    bags = Bag.objects.select_for_update().filter(pk__in=taken).select_related("material")
    for bag in bags:
        amount, first = taken[bag.pk]
        if bag.moves.filter(why=StockMove.Why.COUNTED, at__gte=first).exists():
            counted.add(bag.material.slug)
    for bag in bags:
        if bag.material.slug not in counted and taken[bag.pk][0]:
            _move(bag, by, -taken[bag.pk][0], StockMove.Why.BATCH, f"{text}, corrected", url)
            bag.left -= taken[bag.pk][0]
            bag.save(update_fields=["left"])
            tally(bag.material, yard)
    left = [use for use in uses if use.slug not in counted]
    take_for_batch(yard=yard, by=by, uses=left, text=text, url=url)


@transaction.atomic
def turn_back(*, yard: Yard, by: User | None, text: str, url: str) -> None:
    """Undo the last that was taken for something, or take it again where that was undone.

    A bag that was counted since keeps its count: that is the truth.
    """
    moves = StockMove.objects.filter(bag__yard=yard, url=url, why=StockMove.Why.BATCH)
    last: dict[int, StockMove] = {move.bag_id: move for move in moves.order_by("at", "pk")}
    bags = Bag.objects.select_for_update().filter(pk__in=last).select_related("material")
    for bag in bags:
        move = last[bag.pk]
        if bag.moves.filter(why=StockMove.Why.COUNTED, at__gte=move.at).exists():
            continue
        amount = max(-move.amount, -bag.left)
        _move(bag, by, amount, StockMove.Why.BATCH, text, url)
        bag.left += amount
        bag.save(update_fields=["left"])
        tally(bag.material, yard)


def _move(
    bag: Bag,
    by: User | None,
    amount: float,
    why: str,
    text: str = "",
    url: str = "",
    at: datetime | None = None,
) -> None:
    StockMove.objects.create(
        bag=bag, by=by, amount=amount, why=why, text=text, url=url, at=at or timezone.now()
    )


def _with_what_was_said(bag: Bag) -> None:
    """Take what was said of a bag's contents along; own values settle first."""
    values = list(bag.values.all())
    for value in values:
        if bag.deleted_at is not None:
            value.put_away()
        else:
            value.bring_back()
    if values:
        settle(bag.material)
    else:
        tally(bag.material, bag.yard)


BAGS = Shelving(
    model=Bag,
    station=Station.SHELF,
    says=lambda row, word: f"{row.material.short_name}: bag of {row.bought_on:%d %b %Y} {word}",
    then=_with_what_was_said,
    address=Bag.get_absolute_url,
    away_address=Bag.get_absolute_url,
)
