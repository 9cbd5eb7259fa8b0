"""``pelk.goal/1``: a mix with a wish, and what comes back."""

from collections.abc import Mapping
from decimal import Decimal, InvalidOperation
from typing import Any, Literal

import msgspec
from msgspec import Struct

from pelk.bench.formats.documents import (
    DocumentError,
    DoseDocument,
    MixDocument,
    PartDocument,
    read,
    shape_problem,
    write,
)
from pelk.core.advice.goal import Goal
from pelk.core.advice.proposals import Proposal
from pelk.core.base.errors import PelkError
from pelk.core.materials.cost import Package
from pelk.core.materials.feeding_styles import FeedingStyle
from pelk.core.materials.material import Material
from pelk.core.materials.measures import grams_in
from pelk.ui.units import read_dose_unit

FORMAT = "pelk.goal/1"


class PriceDocument(Struct, forbid_unknown_fields=True):
    """How a material is bought."""

    price: float
    kg: float | None = None
    litres: float | None = None
    loosens: float = 1.0


class StockDocument(Struct, forbid_unknown_fields=True):
    """What is owned, in a weight or a measure."""

    amount: float
    unit: str


class WishDocument(Struct, forbid_unknown_fields=True):
    """The ``goal`` of a file."""

    targets: dict[str, tuple[float | None, float | None]] = {}
    allow: list[str] = []
    exclude: list[str] = []
    stock: dict[str, float | StockDocument] = {}
    only_owned: bool = False
    fixed: list[DoseDocument] = []
    minimise: Literal["cost", "ingredients", "mass"] = "cost"
    most_used: int | None = None
    parts: bool = False
    school: dict[str, str] = {}
    prices: dict[str, PriceDocument] = {}


def read_goal(data: Any) -> tuple[MixDocument, WishDocument]:
    """Return the mix and the wish of a decoded goal file.

    Raises
    ------
    DocumentError
        Naming the first key that does not fit.
    """
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        stated = data.get("format") if isinstance(data, dict) else data
        raise DocumentError([PelkError(f"found {stated!r}, allowed: {FORMAT!r}", "format")])
    given = {k: v for k, v in data.items() if k != "goal"}
    document = read({**given, "format": "pelk.mix/1"})
    try:
        wish = msgspec.convert(data.get("goal", {}), WishDocument)
    except msgspec.ValidationError as error:
        problem = shape_problem(str(error), data.get("goal"))
        path = f"goal.{problem.path}" if problem.path else "goal"
        raise DocumentError([PelkError(problem.message, path)]) from error
    document.doses = [*document.doses, *wish.fixed]
    return document, wish


def as_goal(wish: WishDocument, shelf: Mapping[str, Material]) -> Goal:
    """Return a wish as the core knows it.

    Raises
    ------
    PelkError
        Naming the question of a feeding style that has no such answer.
    """
    unknown = set(wish.school) - set(FeedingStyle.__dataclass_fields__)
    if unknown:
        raise PelkError(
            f"found {min(unknown)!r}, allowed: {', '.join(FeedingStyle.__dataclass_fields__)}",
            "goal.school",
        )
    return Goal(
        targets=wish.targets,
        allow=frozenset(wish.allow),
        exclude=frozenset(wish.exclude),
        stock_g={slug: _grams(slug, held, shelf) for slug, held in wish.stock.items()},
        only_owned=wish.only_owned,
        minimise=wish.minimise,
        most_used=wish.most_used,
        may_change_parts=wish.parts,
        style=FeedingStyle.of(wish.school),
    )


def _grams(slug: str, held: float | StockDocument, shelf: Mapping[str, Material]) -> float:
    """Return a stock in grams: plain numbers are grams, others say their unit."""
    path = f"goal.stock.{slug}"
    if slug not in shelf:
        raise PelkError(f"found {slug!r}, which is no material here", path)
    amount = held.amount if isinstance(held, StockDocument) else held
    if amount < 0:
        raise PelkError(f"found {amount:g}, allowed: 0 or more", path)
    if not isinstance(held, StockDocument):
        return amount
    unit = read_dose_unit(held.unit, f"{path}.unit")
    if unit.is_rate:
        raise PelkError(f"found {held.unit!r}, allowed: a weight or a measure", f"{path}.unit")
    if unit.kind == "mass":
        return amount * unit.size
    return grams_in(amount * unit.size, shelf[slug].loose_density(path).typ)


def as_packages(prices: Mapping[str, PriceDocument]) -> dict[str, Package]:
    """Return the prices of a wish as packages."""
    packages = {}
    for slug, row in prices.items():
        try:
            price = Decimal(repr(row.price))
        except InvalidOperation as error:
            raise PelkError(f"found {row.price}", f"goal.prices.{slug}") from error
        if row.price < 0 or not (row.kg or row.litres):
            raise PelkError("a price needs kg or litres above zero", f"goal.prices.{slug}")
        packages[slug] = Package(price=price, kg=row.kg, litres=row.litres, loosens=row.loosens)
    return packages


def answer(document: MixDocument, fixed: int, proposal: Proposal) -> dict[str, Any]:
    """Return a proposal as ``pelk.mix/1`` with its explanation."""
    kept = document.doses[:fixed]
    proposed = [
        DoseDocument(d.material, float(f"{d.amount:.5g}"), "g/L")
        for d in proposal.plan.doses[fixed:]
    ]
    changed = msgspec.structs.replace(document, doses=[*kept, *proposed])
    if len(proposal.plan.parts) != len(document.bulk) or any(
        p.material != b.material or p.parts != b.parts
        for p, b in zip(proposal.plan.parts, document.bulk, strict=False)
    ):
        changed.bulk = [
            PartDocument(p.material, parts=float(f"{p.parts:.4g}")) for p in proposal.plan.parts
        ]
    ahead = proposal.evaluation.forecast
    return {
        **write(changed),
        "explanation": {
            "is_met": proposal.is_met,
            "binds": list(proposal.binds),
            "conflicts": list(proposal.conflicts),
            "misses": {k: float(f"{v:.4g}") for k, v in proposal.misses.items()},
            "gap": round(proposal.gap, 5),
            "ph_at_end": None if ahead is None else round(float(ahead.ph[1][-1]), 2),
            "notes": list(proposal.notes),
        },
    }
