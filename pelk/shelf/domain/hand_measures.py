"""The measures of hand and yard: their names, what they hold, what a new one changes."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.core.base.errors import UnknownError
from pelk.core.base.rounding import sig
from pelk.core.materials.material import Range
from pelk.core.materials.measures import yard_measures
from pelk.core.materials.weighing import Weighed
from pelk.shelf.models.materials import Material, ShelfItem, cores_of
from pelk.shelf.models.measures import HandMeasure
from pelk.ui.scales import Scale, Tick, round_step, steps
from pelk.yards.models import Yard

MOST_CHANGES = 4
# Their sizes stand in the yard's settings until they are measured.
OF_YARD = frozenset(["bucket", "barrow"])
RULER_W, RULER_H = 340.0, 64.0


@dataclass(frozen=True, slots=True)
class Kind:
    """A measure that can be calibrated."""

    key: str
    name: str


KINDS = {
    kind.key: kind
    for kind in (
        Kind("handful", "handful"),
        Kind("handful-heaped", "heaped handful"),
        Kind("double-handful", "double handful"),
        Kind("pinch", "pinch"),
        Kind("scoop", "scoop"),
        Kind("trowel", "trowelful"),
        Kind("shovel", "shovelful"),
        Kind("spade", "spadeful"),
        Kind("bucket", "bucket"),
        Kind("barrow", "barrow"),
    )
}


@dataclass(frozen=True, slots=True)
class HandRow:
    """One measure with what it is taken for."""

    kind: Kind
    holds: str
    span: str
    own: HandMeasure | None
    is_of_yard: bool
    earlier: int


def hand_rows(yard: Yard) -> list[HandRow]:
    """Return every measure with what it holds here."""
    own: dict[str, list[HandMeasure]] = {}
    for row in HandMeasure.objects.of(yard).live().select_related("by")[:400]:
        own.setdefault(row.kind, []).append(row)
    return [_hand_row(kind, own.get(key, []), yard) for key, kind in KINDS.items()]


def _hand_row(kind: Kind, own: list[HandMeasure], yard: Yard) -> HandRow:
    held = own[0].range if own else usual(yard, kind.key)
    write = yard.measures.volume
    span = f"{write(held.low / 1000, 2)} to {write(held.high / 1000, 2)}"
    return HandRow(
        kind,
        write(held.typ / 1000),
        span if held.high > held.low else "",
        own[0] if own else None,
        kind.key in OF_YARD,
        max(len(own) - 1, 0),
    )


def usual(yard: Yard, key: str) -> Range:
    """Return what a measure is taken for until it is calibrated. [mL]."""
    if key not in OF_YARD:
        return yard_measures()[key]
    litres = yard.barrow_l if key == "barrow" else yard.bucket_l
    return Range(litres * 1000, litres * 1000, litres * 1000)


@dataclass(frozen=True, slots=True)
class Changed:
    """What one of a measure weighs of something, before and with the new one."""

    name: str
    now: str
    was: str


def what_changes(yard: Yard, key: str, one_ml: Range) -> list[Changed]:
    """Return what a new measure makes of the doses on the shelf."""
    before = yard.hand_measures.get(key) or usual(yard, key)
    items = ShelfItem.objects.of(yard).values("material")
    of_kind = Material.objects.filter(pk__in=items).exclude(role="liquid")
    wanted = "dose" if key in ("handful", "pinch", "scoop") else "bulk"
    rows = list(of_kind.filter(role=wanted).with_analysis()[:MOST_CHANGES])
    changes, mass = [], yard.measures.mass
    for row, core in zip(rows, cores_of(rows), strict=True):
        try:
            density = core.loose_density().typ
        except UnknownError:
            continue
        changes.append(
            Changed(row.short_name, mass(one_ml.typ * density), mass(before.typ * density))
        )
    return changes


@dataclass(frozen=True, slots=True)
class Ruler:
    """Weighings as points on a ruler, the spread as shade, the mean as a line."""

    width: float
    height: float
    ticks: list[Tick]
    points: list[float]
    mean: float
    shade: float
    shade_width: float
    label: str


def ruler(values: list[float], weighing: Weighed, unit: str) -> Ruler:
    """Lay out some weighings."""
    low = min(*values, weighing.one.low)
    high = max(*values, weighing.one.high)
    step = round_step((high - low) * 1.3, 4)
    ends = (step * int(low / step), step * (int(high / step) + 1))
    scale = Scale(*ends, 8, RULER_W - 40)
    ticks = [Tick(scale(v), sig(v)) for v in steps(*ends, step)]
    said = ", ".join(sig(v) for v in values)
    return Ruler(
        RULER_W,
        RULER_H,
        ticks,
        scale.many(values),
        scale(weighing.one.typ),
        scale(weighing.one.low),
        round(scale(weighing.one.high) - scale(weighing.one.low), 1),
        f"Weighed {said} {unit}; mean {sig(weighing.one.typ)}, the next one most likely "
        f"from {sig(weighing.one.low)} to {sig(weighing.one.high)}",
    )
