"""Do it again, better: what a season that is over asks of the next mix, each with its reason."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from pelk.core.advice.feeding_needs import COMES_FREE, GIVES, MOST_AT_ONCE_G_L, Lack
from pelk.core.advice.judged_supply import ELEMENT_NAMES
from pelk.core.base.elements import base_meq_per_g
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material

# A season teaches one step, never all of it: no dose moves by more than this at once.
MOST_MORE, MOST_LESS = 1.5, 0.5
# A tenth of what was wanted; a tenth of a pH past the band: less is no lesson.
LEAST_SHORT, LEAST_PH = 0.10, 0.10
USUAL_SEASON_N = 0.5
# What holds less of an element is not dosed for it. [%]
LEAST_N_PCT, LEAST_PCT = 1.0, 3.0
NEW_LIME = "lime-dolomitic-ground"


@dataclass(frozen=True, slots=True)
class Change:
    """A dose changed for the next mix.

    Attributes
    ----------
    slug : str
        Of the material.
    times : float
        On the dose that is there; 0 for a new one. [-]
    g_per_l : float
        Of a new dose. [g/L]
    reason : str
        Why, in a sentence.
    """

    slug: str
    times: float
    g_per_l: float
    reason: str


@dataclass(frozen=True, slots=True)
class Season:
    """How a season went.

    Attributes
    ----------
    lacking : sequence of Lack
        What ran short, nitrogen among it.
    ph, band : float, tuple of float
        Where it ended, and what was wanted. [pH]
    buffer_meq_l : float
        Of the mix. [meq/L/pH]
    """

    lacking: Sequence[Lack]
    ph: float
    band: tuple[float, float] | None
    buffer_meq_l: float


@cites("pelk", "what lacked over what the dose gives; the pH missed times the buffer; one step")
def better(
    season: Season, doses: Sequence[tuple[Material, float]], shelf: Mapping[str, Material]
) -> list[Change]:
    """Return what to change of a mix after a season with it.

    Parameters
    ----------
    season : Season
        How it went.
    doses : sequence of (Material, float)
        As they were mixed. [g/L]
    shelf : mapping of str to Material
        What may be added.

    Returns
    -------
    list of Change
        One for each material at most; empty where nothing was wrong.
    """
    changes: dict[str, Change] = {}
    for change in (*_fed(season, doses, shelf), *_limed(season, doses, shelf)):
        changes.setdefault(change.slug, change)
    return list(changes.values())


def _fed(
    season: Season, doses: Sequence[tuple[Material, float]], shelf: Mapping[str, Material]
) -> Iterator[Change]:
    for lack in season.lacking:
        if lack.short_mg_l <= LEAST_SHORT * lack.wanted_mg_l:
            continue
        name = ELEMENT_NAMES.get(lack.element, lack.element)
        said = (
            f"{name} ran short by {sig(lack.short_mg_l, 2)} of {sig(lack.wanted_mg_l, 2)} mg/L "
            "in the season"
        )
        least = LEAST_N_PCT if lack.element == "N" else LEAST_PCT
        held = [(m, g, _gives(m, lack.element)) for m, g in doses if _holds(m, lack, least)]
        held = [(m, g, per) for m, g, per in held if per > 0]
        if held:
            material, grams, per = max(held, key=lambda row: row[1] * row[2])
            times = min(1 + lack.short_mg_l / (grams * per), MOST_MORE)
            yield Change(material.slug, times, 0.0, f"{said}: {times - 1:.0%} more of it.")
        elif slug := next((s for s in GIVES.get(lack.element, ()) if s in shelf), ""):
            per = _gives(shelf[slug], lack.element)
            g_l = min(lack.short_mg_l / per, MOST_AT_ONCE_G_L[lack.element])
            yield Change(slug, 0.0, g_l, f"{said}, and nothing in the mix gives it.")


def _holds(material: Material, lack: Lack, least_pct: float) -> bool:
    """Return whether a material is a giver of an element, not one that holds a trace of it."""
    held = material.composition.get(lack.element)
    return held is not None and held.typ >= least_pct


def _gives(material: Material, element: str) -> float:
    """Return what a gram in a litre gives of an element in a season. [mg/L per g/L]."""
    held = material.composition.get(element)
    if held is None or material.acidity_role in ("bulk", "lime", "sulfur"):
        return 0.0
    share = COMES_FREE.get(element, 1.0)
    if element == "N":
        share = material.season_n or USUAL_SEASON_N
    return 10 * held.typ * share


def _limed(
    season: Season, doses: Sequence[tuple[Material, float]], shelf: Mapping[str, Material]
) -> Iterator[Change]:
    if season.band is None:
        return
    low, high = season.band
    limes = [(m, g) for m, g in doses if m.lime_grade and m.cce]
    base = sum(g * base_meq_per_g(m.cce.typ / 100) for m, g in limes if m.cce)
    if season.ph > high + LEAST_PH and base > 0:
        times = max(1 - (season.ph - high) * season.buffer_meq_l / base, MOST_LESS)
        reason = f"the pH ended at {season.ph:.1f}, over {high:g}: {1 - times:.0%} less of it."
        yield from (Change(m.slug, times, 0.0, reason) for m, _ in limes)
    elif season.ph < low - LEAST_PH:
        lacks = (low - season.ph) * season.buffer_meq_l
        reason = f"the pH ended at {season.ph:.1f}, under {low:g}"
        if base > 0:
            times = min(1 + lacks / base, MOST_MORE)
            more = f"{reason}: {times - 1:.0%} more of it."
            yield from (Change(m.slug, times, 0.0, more) for m, _ in limes)
        elif NEW_LIME in shelf and shelf[NEW_LIME].cce:
            cce = shelf[NEW_LIME].cce
            g_l = lacks / base_meq_per_g(cce.typ / 100) if cce else 0.0
            yield Change(NEW_LIME, 0.0, g_l, f"{reason}, and no lime was in it.")
