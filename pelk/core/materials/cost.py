"""What a batch costs: packages opened, leftovers, and a ready-made bag beside it."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from decimal import ROUND_HALF_UP, Decimal
from math import ceil

from pelk.core.base.errors import PelkError, UnknownError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material

PENNY = Decimal("0.01")


@dataclass(frozen=True, slots=True, kw_only=True)
class Package:
    """How a material is bought.

    Attributes
    ----------
    price : Decimal
        Of one.
    kg, litres : float or None
        What it holds, by weight or by volume; one of them. [kg], [L]
    loosens : float
        Loose litres from a litre as packed: bales 1.9, stacked bags 1.25. [-]
    """

    price: Decimal
    kg: float | None = None
    litres: float | None = None
    loosens: float = 1.0

    def loose_litres(self, material: Material) -> float:
        """Return the loose litres it gives. [L]."""
        if self.litres is not None:
            return self.litres * self.loosens
        if self.kg is None:
            raise PelkError(f"say what a package of {material.name} holds", "kg")
        return self.kg / material.loose_density().typ

    def kilograms(self, material: Material) -> float:
        """Return what it weighs. [kg]."""
        if self.kg is not None:
            return self.kg
        return self.loose_litres(material) * material.loose_density().typ


@dataclass(frozen=True, slots=True)
class CostLine:
    """What one material costs.

    Attributes
    ----------
    used : Decimal or None
        The share of packages that goes in; None without a price.
    packages : int
        To open, beyond what is in stock.
    outlay : Decimal or None
        For those packages.
    left_kg, left_l : float
        Over afterwards. [kg], [L]
    """

    slug: str
    used: Decimal | None
    packages: int
    outlay: Decimal | None
    left_kg: float
    left_l: float


@dataclass(frozen=True, slots=True)
class Cost:
    """What a batch costs.

    Attributes
    ----------
    total, per_litre : Decimal or None
        Of what goes in; None while a price is missing.
    outlay : Decimal or None
        Money to spend on whole packages.
    missing : tuple of str
        Slugs without a price.
    """

    total: Decimal | None
    per_litre: Decimal | None
    outlay: Decimal | None
    lines: tuple[CostLine, ...]
    missing: tuple[str, ...]
    currency: str | None = None


@cites("arithmetic", "whole packages, stock first; what is over is not lost")
def cost(
    amounts_kg: Sequence[tuple[Material, float]],
    packages: Mapping[str, Package],
    mixed_l: float,
    *,
    stock_kg: Mapping[str, float] | None = None,
    currency: str | None = None,
) -> Cost:
    """Return what a batch costs.

    Parameters
    ----------
    amounts_kg : sequence of (Material, float)
        All that goes in. [kg]
    packages : mapping of str to Package
        How each is bought, by slug.
    mixed_l : float
        Mixed soil. [L]
    stock_kg : mapping of str to float, optional
        What is owned, by slug. [kg]
    currency : str, optional
        Its code.

    Returns
    -------
    Cost
        Total for what goes in, outlay for what must be bought.
    """
    stock = stock_kg or {}
    lines = tuple(_line(m, kg, packages.get(m.slug), stock) for m, kg in amounts_kg)
    missing = tuple(line.slug for line in lines if line.used is None)
    if missing:
        return Cost(None, None, None, lines, missing, currency)
    total = sum((line.used for line in lines if line.used is not None), Decimal(0))
    outlay = sum((line.outlay for line in lines if line.outlay is not None), Decimal(0))
    per_litre = total / Decimal(repr(mixed_l))
    return Cost(
        total.quantize(PENNY, ROUND_HALF_UP),
        per_litre,
        outlay.quantize(PENNY, ROUND_HALF_UP),
        lines,
        (),
        currency,
    )


def _line(
    material: Material, kg: float, package: Package | None, stock: Mapping[str, float]
) -> CostLine:
    to_buy = max(kg - stock.get(material.slug, 0.0), 0.0)
    if package is None:
        return CostLine(material.slug, None, 0, None, 0.0, 0.0)
    size = package.kilograms(material)
    count = whole_packages(to_buy, size)
    left = stock.get(material.slug, 0.0) + count * size - kg
    try:
        litres = left / material.loose_density().typ
    except UnknownError:
        litres = 0.0
    return CostLine(
        material.slug,
        package.price * Decimal(repr(kg / size)),
        count,
        package.price * count,
        left,
        litres,
    )


# What is exactly enough buys nothing more: amounts are weighed and typed to a tenth of a percent.
ENOUGH = 1e-3


@cites("arithmetic", "whole packages; what is short by less than a scale tells is enough")
@answers
def whole_packages(wanted: float, size: float) -> int:
    """Return how many packages hold some amount.

    Parameters
    ----------
    wanted, size : float
        In one measure. [kg or L]

    Returns
    -------
    int
        Whole ones.
    """
    return max(ceil(wanted / size - ENOUGH), 0)


@dataclass(frozen=True, slots=True)
class BesideBag:
    """A mix against one ready-made bag of the same use.

    Attributes
    ----------
    mix_per_l, bag_per_l : Decimal
        Money a loose litre.
    bags : int
        Whole bags for all of it.
    mix_whole, bags_whole : Decimal
        Money for all of it.
    left_l : float
        In the last bag. [L]
    pots : float
        That the leftovers fill; 0 where there are no pots. [-]
    """

    mix_per_l: Decimal
    bag_per_l: Decimal
    bags: int
    mix_whole: Decimal
    bags_whole: Decimal
    left_l: float
    pots: float


@cites("arithmetic", "price over litres, whole bags for the whole")
def beside_bag(total: Decimal, mixed_l: float, bag: Package, pot_l: float | None) -> BesideBag:
    """Return a mix against a ready-made bag.

    Parameters
    ----------
    total : Decimal
        Of the mix.
    mixed_l : float
        It makes. [L]
    bag : Package
        With its loose litres.
    pot_l : float or None
        One pot takes. [L]

    Raises
    ------
    PelkError
        For a bag without litres.
    """
    if not bag.litres:
        raise PelkError("say how many litres the bag holds", "litres")
    holds = bag.litres * bag.loosens
    bags = whole_packages(mixed_l, holds)
    left = bags * holds - mixed_l
    return BesideBag(
        total / Decimal(repr(mixed_l)),
        bag.price / Decimal(repr(holds)),
        bags,
        total,
        bag.price * bags,
        max(left, 0.0),
        max(left, 0.0) / pot_l if pot_l else 0.0,
    )


@cites("arithmetic", "the part that runs out first limits the batch")
def how_much_can_be_made(
    shares: Mapping[str, float], stock_l: Mapping[str, float], loss: float, settling: float = 0.0
) -> tuple[float, str]:
    """Return the soil that the stock makes, and which part limits it.

    Parameters
    ----------
    shares : mapping of str to float
        Of the loose volume, by slug. [-]
    stock_l : mapping of str to float
        Loose litres owned, by slug. [L]
    loss, settling : float
        Lost on blending and on settling. [-]

    Returns
    -------
    tuple
        Settled litres, and the slug that runs out first. [L]
    """
    loose, slug = min((stock_l.get(s, 0.0) / x, s) for s, x in shares.items() if x > 0)
    return loose * (1 - loss) * (1 - settling), slug
