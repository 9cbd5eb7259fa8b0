"""Bags on the shelf: what they hold, what one costs by the litre, what is taken."""

import contextlib
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from pelk.core.base.errors import PelkError, UnknownError
from pelk.core.base.sources import cites
from pelk.core.materials.cost import Package
from pelk.core.materials.material import Material

# A bag runs low with less than this share of a package left.
LOW_SHARE = 0.2
# Loose litres from a compressed litre where a material does not say.
BALE_LOOSENS = 1.9
# Under this nobody buys it for its nitrogen.
NITROGEN_AT_LEAST_PCT = 0.5


@dataclass(frozen=True, slots=True)
class PackageKind:
    """A way something is sold.

    Attributes
    ----------
    by : str
        ``volume`` or ``mass``: how its size is printed.
    compressed : bool
        The printed volume is pressed and must be loosened.
    """

    key: str
    name: str
    by: str
    compressed: bool = False


KINDS = {
    kind.key: kind
    for kind in (
        PackageKind("bag", "bag by volume", "volume"),
        PackageKind("bale", "bale, label says the pressed volume", "volume", True),
        PackageKind("bale-loose", "bale, label says the loosened volume", "volume"),
        PackageKind("brick", "brick or block by weight", "mass"),
        PackageKind("sack", "sack, tub or box by weight", "mass"),
        PackageKind("heap", "loose heap", "volume"),
    )
}


def package_of(
    kind: str,
    material: Material,
    price: Decimal,
    *,
    litres: float | None = None,
    kg: float | None = None,
) -> Package:
    """Return a package as the arithmetic of cost knows it.

    Parameters
    ----------
    kind : str
        A key of `KINDS`.
    material : Material
        What is in it; it knows how far it loosens.
    price : Decimal
        Of one.
    litres, kg : float, optional
        What is printed on it: volume or weight, as the kind has it. [L], [kg]

    Raises
    ------
    PelkError
        For a kind nobody sells, or without its size.
    """
    if kind not in KINDS:
        raise PelkError(f"found {kind!r}, allowed: {', '.join(KINDS)}", "kind")
    held = KINDS[kind]
    size = litres if held.by == "volume" else kg
    if size is None or not size > 0:
        raise PelkError("say how much one holds", "size")
    if held.by == "mass":
        return Package(price=price, kg=size)
    loosens = (material.loosens or BALE_LOOSENS) if held.compressed else 1.0
    return Package(price=price, litres=size, loosens=loosens)


@dataclass(frozen=True, slots=True)
class UnitPrices:
    """What a package comes to; None where it cannot be told."""

    per_litre: Decimal | None
    per_kg: Decimal | None
    per_g_nitrogen: Decimal | None


@cites("arithmetic", "price over loosened litres, kilograms, grams of nitrogen")
def unit_prices(package: Package, material: Material) -> UnitPrices:
    """Return the price of a loosened litre, a kilogram, and a gram of nitrogen."""
    litres = kg = None
    with contextlib.suppress(UnknownError):
        litres = package.loose_litres(material)
    with contextlib.suppress(UnknownError):
        kg = package.kilograms(material)
    nitrogen = material.composition.get("N")
    grams = kg * nitrogen.typ * 10 if kg and nitrogen else 0.0
    enough = nitrogen is not None and nitrogen.typ >= NITROGEN_AT_LEAST_PCT
    return UnitPrices(
        _each(package.price, litres),
        _each(package.price, kg),
        _each(package.price, grams if enough else None),
    )


def _each(price: Decimal, amount: float | None) -> Decimal | None:
    return price / Decimal(repr(amount)) if amount else None


@cites("arithmetic", "the oldest bag first, until there is enough")
def taken_in_turn(left: Sequence[float], wanted: float) -> list[float]:
    """Return what to take from each of some bags.

    Parameters
    ----------
    left : sequence of float
        In each, in the order they are used. [as wanted]
    wanted : float
        To take; what the bags do not have is not taken. [kg or L]

    Returns
    -------
    list of float
        Of each bag.
    """
    taken, open_need = [], max(wanted, 0.0)
    for each in left:
        some = min(max(each, 0.0), open_need)
        taken.append(some)
        open_need -= some
    return taken


@cites("pelk", "less than a fifth of a package")
def runs_low(left: float, package: float) -> bool:
    """Return whether what is left is under a fifth of one package.

    Parameters
    ----------
    left, package : float
        In the same measure. [kg or L]
    """
    return left < LOW_SHARE * package
