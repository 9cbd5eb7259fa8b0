"""Two seasons, or two beds of a trial, side by side: the difference and its doubt in words."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass

from pelk.core.advice.apart import Apart, apart_in_time, apart_in_yield
from pelk.core.advice.judged_supply import ELEMENT_NAMES
from pelk.core.base.errors import UnknownError
from pelk.core.base.rounding import sig
from pelk.core.simulation.telling import ph_sd
from pelk.pots.domain.looked_back import LookedBack
from pelk.pots.models import PotGroup


@dataclass(frozen=True, slots=True)
class Bed:
    """One side: some pots in a year."""

    key: str
    group: PotGroup
    year: int
    back: LookedBack

    @property
    def name(self) -> str:
        """What it is called beside the other."""
        return f"{self.group.name} {self.year}"


@dataclass(frozen=True, slots=True)
class Row:
    """One thing of both."""

    what: str
    first: str
    second: str


def said_of(first: Bed, second: Bed) -> list[str]:
    """Say what sets the second apart from the first, each with its doubt."""
    says = []
    with suppress(UnknownError):
        apart = apart_in_yield(first.back.kg, first.group.count, second.back.kg, second.group.count)
        says.append(_of_yield(first, second, apart))
    with suppress(UnknownError):
        apart = apart_in_time(_read(first), _read(second), ph_sd("checked pen"))
        says.append(_of_ph(first, second, apart))
    return says


def rows_of(first: Bed, second: Bed, mass: Callable[[float], str]) -> list[Row]:
    """Return what is known of both, thing by thing."""

    def both(what: str, of: Callable[[Bed], str]) -> Row:
        return Row(what, of(first) or "\u2013", of(second) or "\u2013")

    return [
        both("Mix", lambda b: ", ".join(f.what for f in b.back.fills) or _batch(b)),
        both("Pots", lambda b: f"{b.group.count}"),
        both("Picked in all", lambda b: mass(1000 * b.back.kg) if b.back.kg else ""),
        both(
            "Picked of each", lambda b: mass(1000 * b.back.kg / b.group.count) if b.back.kg else ""
        ),
        both("Stars", lambda b: f"{b.back.stars:g} of 5" if b.back.stars else ""),
        both("Fed", lambda b: f"{len(b.back.fed)} times" if b.back.fed else ""),
        both("Ran short", _lacked),
        both("pH read", lambda b: ", ".join(f"{t.read:g}" for t in b.back.told)),
    ]


def _batch(bed: Bed) -> str:
    return f"{bed.back.batch.code} {bed.back.batch.name}" if bed.back.batch else ""


def _lacked(bed: Bed) -> str:
    return ", ".join(
        f"{ELEMENT_NAMES[x.element].lower()} by {sig(x.short_mg_l, 2)} mg/L"
        for x in bed.back.lacking
    )


def _read(bed: Bed) -> list[tuple[float, float]]:
    """Return the pH that was read by day of the year: seasons are laid on each other."""
    return [(float(t.on.timetuple().tm_yday), t.read) for t in bed.back.told]


def _of_yield(first: Bed, second: Bed, apart: Apart) -> str:
    size, low, high = (f"{abs(x):.0%}" for x in (apart.middle, apart.low, apart.high))
    more = "more" if apart.middle > 0 else "less"
    if not apart.is_told:
        return (
            f"A plant of {second.name} gave {size} {more} than one of {first.name}; beds that had "
            "the same differ as much by chance, so nothing is told by it."
        )
    low, high = sorted((low, high), key=lambda s: int(s.rstrip("%")))
    return f"A plant of {second.name} gave {size} {more} than one of {first.name}, {low} to {high}."


def _of_ph(first: Bed, second: Bed, apart: Apart) -> str:
    low, high = sorted((abs(apart.low), abs(apart.high)))
    if not apart.is_told:
        return "Their pH is the same, as far as the readings tell."
    side = "over" if apart.middle > 0 else "under"
    return (
        f"The pH of {second.name} stood {abs(apart.middle):.1f} {side} that of {first.name}, "
        f"{low:.1f} to {high:.1f}."
    )
