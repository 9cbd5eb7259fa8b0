"""Bags side by side: what was paid, what is in them, what it comes to."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from decimal import Decimal

import numpy as np

from pelk.core.base.errors import UnknownError
from pelk.core.base.rounding import sig
from pelk.core.lab.substitutes import Job, changes, job_of
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.release.nitrogen_curves import nitrogen_released
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.materials import cores_of
from pelk.ui.scales import Scale
from pelk.ui.templatetags.pelk import npk
from pelk.yards.models import Yard

MOST_BESIDE = 4
LETTERS = "abcd"
TEN = Decimal(10)
ELEMENTS = {"N": "Nitrogen", "P": "Phosphorus", "K": "Potassium"}
PICTURE_W, PICTURE_H, BAR_W = 96.0, 150.0, 330.0


@dataclass(frozen=True, slots=True)
class Picture:
    """A bag drawn to its volume, with a dark band for the nitrogen in it."""

    top: float
    outline: str
    seal: str
    band_y: float
    band: float


@dataclass(frozen=True, slots=True)
class Column:
    """One bag."""

    letter: str
    bag: Bag
    picture: Picture
    holds: str


@dataclass(frozen=True, slots=True)
class Line:
    """One property of all of them; `best` is the place of the best one, or -1."""

    name: str
    cells: list[str]
    best: int = -1


@dataclass(frozen=True, slots=True)
class Bar:
    """What ten of the money buys of an element."""

    letter: str
    width: float
    text: str


@dataclass(frozen=True, slots=True)
class Says:
    """A sentence about one of them."""

    letter: str
    mark: str
    text: str


@dataclass(frozen=True, slots=True)
class Table:
    """Bags side by side."""

    title: str
    columns: list[Column]
    lines: list[Line]
    bars: list[tuple[str, list[Bar]]]
    says: list[Says]
    ten: str


def side_by_side(bags: Sequence[Bag], yard: Yard) -> Table:
    """Return some bags side by side."""
    cores_of([bag.material for bag in bags])  # read at once, and kept
    cores = [bag.core for bag in bags]
    jobs = {job_of(core).key: job_of(core) for core in cores}
    title = f"{len(bags)} bags side by side"
    if len(jobs) == 1 and len(bags) > 1:
        title = f"{len(bags)} bags, one job: {next(iter(jobs.values())).name}"
    return Table(
        title,
        _columns(bags, cores, yard),
        _lines(bags, cores, yard),
        _bars(bags, cores),
        _says(bags, cores, yard),
        yard.money.write(TEN),
    )


def _litres(bag: Bag, core: CoreMaterial) -> float | None:
    try:
        return bag.package(Decimal(0)).loose_litres(core)
    except UnknownError:
        return None


def _kilograms(bag: Bag, core: CoreMaterial) -> float | None:
    try:
        return bag.package(Decimal(0)).kilograms(core)
    except UnknownError:
        return None


def _columns(bags: Sequence[Bag], cores: Sequence[CoreMaterial], yard: Yard) -> list[Column]:
    volumes = [_litres(b, c) or 0.0 for b, c in zip(bags, cores, strict=True)]
    tallest = max([*volumes, 1e-9])
    columns = []
    for letter, bag, core, litres in zip(LETTERS, bags, cores, volumes, strict=False):
        # Drawn area grows with the volume: a bag twice the size looks it.
        height = max(PICTURE_H * (litres / tallest) ** 0.5, 26.0)
        width = max(PICTURE_W * (litres / tallest) ** 0.25, 44.0)
        nitrogen = core.composition.get("N")
        band = height * min((nitrogen.typ if nitrogen else 0.0) / 100, 1.0)
        mass = _kilograms(bag, core)
        said = [yard.measures.volume(litres)] if litres else []
        said += [yard.measures.mass(1000 * mass)] if mass else []
        picture = _picture(width, height, band)
        columns.append(Column(letter, bag, picture, ", ".join(said)))
    return columns


def _picture(width: float, height: float, band: float) -> Picture:
    """Draw a bag that bulges, its seal on top."""
    middle = height / 2
    outline = (
        f"M7 9Q-2 {middle:.1f} 5 {height:.1f}H{width - 5:.1f}"
        f"Q{width + 2:.1f} {middle:.1f} {width - 7:.1f} 9Z"
    )
    return Picture(
        round(PICTURE_H - height + 6, 1),
        outline,
        f"M5 1H{width - 5:.1f}V9H5Z",
        round(height - band, 1),
        round(band, 1),
    )


def _lines(bags: Sequence[Bag], cores: Sequence[CoreMaterial], yard: Yard) -> list[Line]:
    money, prices = yard.money, [bag.prices() for bag in bags]
    known_by = [c.provenances["N"].mark if "N" in c.provenances else c.mark_of("N") for c in cores]
    words = {
        "label": "bag label",
        "lab": "lab",
        "yours": "measured",
        "guess": "guess",
        "book": "book",
        "practice": "practice",
        "derived": "arithmetic",
    }
    return [
        Line("price each", [money.write(bag.price) for bag in bags]),
        _cheapest("a litre, loosened", [p.per_litre for p in prices], money.each),
        _cheapest("a kilogram", [p.per_kg for p in prices], money.each),
        Line("N-P-K of a label", [npk(core) or "–" for core in cores]),
        Line("nitrogen", [_content(core, "N") for core in cores]),
        Line("nitrogen known by", [words.get(mark, mark) for mark in known_by]),
        _cheapest("a gram of nitrogen", [p.per_g_nitrogen for p in prices], money.each),
        Line("half its nitrogen free after, at 20 °C", [_half_free(core) for core in cores]),
        Line("pH", [(core.ph and f"{core.ph.typ:.1f}") or "–" for core in cores]),
        Line("acid or base", [_acid_or_base(core) for core in cores]),
        Line("organic", [core.organic.split(":")[0] or "–" for core in cores]),
        Line("from", [core.origin or "–" for core in cores]),
        Line("left", [yard.measures.held(bag.left, bag.measure) for bag in bags]),
    ]


def _cheapest(
    name: str, each: Sequence[Decimal | None], write: Callable[[Decimal | None], str]
) -> Line:
    known = [(price, i) for i, price in enumerate(each) if price is not None]
    best = min(known)[1] if len(known) > 1 else -1
    return Line(name, [write(price) for price in each], best)


def _content(core: CoreMaterial, element: str) -> str:
    content = core.composition.get(element)
    return f"{sig(content.typ)} %" if content else "–"


def _half_free(core: CoreMaterial) -> str:
    share = nitrogen_released(core, [20.0] * 365)
    if share is None or core.composition["N"].typ < 0.1:
        return "–"
    reached = np.flatnonzero(share >= 0.5)
    if not len(reached):
        return "not in a year"
    weeks = int(reached[0]) / 7
    return "at once" if weeks < 0.5 else f"{weeks:.0f} weeks"


def _acid_or_base(core: CoreMaterial) -> str:
    if core.acid_base is None:
        return "–"
    if abs(core.acid_base) < 5:
        return "neither"
    return "base" if core.acid_base > 0 else "acid"


def _bars(bags: Sequence[Bag], cores: Sequence[CoreMaterial]) -> list[tuple[str, list[Bar]]]:
    groups = []
    for element, name in ELEMENTS.items():
        grams = [_bought(b, c, element) for b, c in zip(bags, cores, strict=True)]
        most = max((g for g in grams if g is not None), default=0.0)
        if most < 1:
            continue
        scale = Scale(0, most, 0, BAR_W)
        groups.append(
            (
                name,
                [
                    Bar(
                        letter,
                        0.0 if g is None else scale(g),
                        "no price" if g is None else f"{sig(g)} g",
                    )
                    for letter, g in zip(LETTERS, grams, strict=False)
                ],
            )
        )
    return groups


def _bought(bag: Bag, core: CoreMaterial, element: str) -> float | None:
    content, mass = core.composition.get(element), _kilograms(bag, core)
    if not bag.price or mass is None:
        return None
    return float(TEN / bag.price) * mass * 10 * (content.typ if content else 0.0)


def _says(bags: Sequence[Bag], cores: Sequence[CoreMaterial], yard: Yard) -> list[Says]:
    """Return a sentence about each: what it costs for the first one's job, what differs."""
    job, money = job_of(cores[0]), yard.money
    costs = [_for_the_job(b, c, job) for b, c in zip(bags, cores, strict=True)]
    known = [cost for cost in costs if cost is not None]
    cheapest = min(known, default=None)
    sayings = []
    for letter, bag, core, cost in zip(LETTERS, bags, cores, costs, strict=False):
        if bag.price is None:
            text, mark = "No price recorded.", "none"
        elif cost is None:
            text, mark = f"Not ranked: it does a different job ({job_of(core).name}).", "none"
        else:
            best = cost == cheapest and len(known) > 1
            word = "Best value: " if best else "Dearer: " if len(known) > 1 else ""
            text = f"{word}{money.each(cost)} for each {job.unit}."
            mark = "good" if best else "short" if len(known) > 1 else "none"
        if core is not cores[0] and job_of(core).key == job.key:
            text += _beside_the_first(cores[0], core)
        sayings.append(Says(letter, mark, text))
    return sayings


def _beside_the_first(first: CoreMaterial, core: CoreMaterial) -> str:
    job, own = job_of(first), job_of(core)
    times = job.per_kg / own.per_kg if job.per_kg and own.per_kg else 1.0
    differ = [c for c in changes(first, core, times) if not c.by_g][:2]
    said = "; ".join(f"{c.name} {c.now}, not {c.was}" for c in differ)
    return f" Compared with a: {said}." if said else ""


def _for_the_job(bag: Bag, core: CoreMaterial, job: Job) -> Decimal | None:
    """Return the price of one unit of a job; None for what does not do it."""
    prices, own = bag.prices(), job_of(core)
    if job.key in core.composition and job.per_kg is not None:
        per_kg: float | None = core.composition[job.key].typ * 10
    else:
        per_kg = own.per_kg if own.key == job.key else None
    if job.per_kg is None:
        return prices.per_litre if own.key == job.key else None
    return prices.per_kg / Decimal(repr(per_kg)) if prices.per_kg and per_kg else None
