"""A season looked back on, in words."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.core.advice.judged_supply import ELEMENT_NAMES
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig
from pelk.core.base.sentences import capital
from pelk.pots.domain.looked_back import LookedBack
from pelk.shelf.selectors import known_materials
from pelk.yards.models import Yard


@dataclass(frozen=True, slots=True)
class SeasonPage:
    """What the page says."""

    picked: str
    stars: int
    short: list[str]
    ph: str
    told: list[tuple[str, ...]]
    told_says: str
    changes: list[tuple[str, str]]


def page_of(back: LookedBack, yard: Yard) -> SeasonPage:
    """Return a season made ready for its page."""
    names = known_materials(yard, [c.slug for c in back.changes])
    changes = []
    for change in back.changes:
        name = names[change.slug].short_name if change.slug in names else change.slug
        if change.times:
            side = "more" if change.times > 1 else "less"
            what = f"{name}, {abs(change.times - 1):.0%} {side}"
        else:
            what = f"{name}, {sig(change.g_per_l, 2)} g/L, new"
        changes.append((what, capital(change.reason)))
    short = [
        f"{ELEMENT_NAMES[x.element].capitalize()}: {sig(x.short_mg_l, 2)} of "
        f"{sig(x.wanted_mg_l, 2)} mg/L lacked."
        for x in back.lacking
    ]
    return SeasonPage(
        yard.measures.mass(1000 * back.kg) if back.kg else "",
        round(back.stars) if back.stars else 0,
        short,
        written_ph(float(back.forecast.ph[1][-1])) if back.forecast else "",
        [
            (
                f"{row.on:%-d %b}",
                f"{row.read:.1f}",
                *(_or_dash(x) for x in (row.at_mixing, row.at_planting, row.now)),
            )
            for row in back.told
        ],
        _told_says(back),
        changes,
    )


def _or_dash(ph: float | None) -> str:
    return "\u2013" if ph is None else f"{ph:.1f}"


def _told_says(back: LookedBack) -> str:
    """Say how far off each forecast was, on the mean."""
    said = []
    for name, of in (
        ("the forecast of mixing day", [r.at_mixing for r in back.told]),
        ("that of planting day", [r.at_planting for r in back.told]),
        ("today\u2019s sums", [r.now for r in back.told]),
    ):
        off = [abs(r.read - x) for r, x in zip(back.told, of, strict=True) if x is not None]
        if off:
            said.append(f"{name} {sum(off) / len(off):.1f}")
    return f"Off by, on the mean: {', '.join(said)} pH." if said else ""
