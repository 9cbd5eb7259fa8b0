"""What a season lacks beside nitrogen, and what gives it."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from pelk.core.advice.feeding_rows import FLOWERING, LEAST_G_L
from pelk.core.advice.feedings import Feeding, Pots
from pelk.core.advice.judged_supply import ELEMENT_NAMES
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites

# What gives each element soon, in the order of choice: common practice.
GIVES: Mapping[str, tuple[str, ...]] = {
    "P": ("fish-bone-meal", "bone-meal-steamed", "bat-guano-high-p", "blood-and-bone"),
    "K": ("sulfate-of-potash", "langbeinite"),
    "Ca": ("gypsum",),
    "Mg": ("epsom-salt", "kieserite", "langbeinite"),
    "S": ("gypsum", "epsom-salt", "kieserite"),
}
# Of what it holds, what comes free in a season: salts all, bone a part. Judgement.
COMES_FREE = {"P": 0.3}
# No more at once, for the salts. Judgement.
MOST_AT_ONCE_G_L = {"P": 1.0, "K": 0.5, "Ca": 1.0, "Mg": 0.5, "S": 1.0}
# Less than this of what the season wants is no lack, and no dressing.
LEAST_LACKING = 0.10
LEAD_DAYS, EARLIEST_DAYS = 14, 10


@dataclass(frozen=True, slots=True)
class Lack:
    """An element that runs short in a season. [mg/L], [d from its beginning]."""

    element: str
    short_mg_l: float
    wanted_mg_l: float
    day: int


@dataclass(frozen=True, slots=True)
class Giver:
    """A product that gives an element: what it is called, how much it holds, if it is at hand."""

    name: str
    percent: float
    is_mine: bool


def lacks(seen: Iterable[Lack]) -> list[Lack]:
    """Return the lacks that are worth a dressing: one in ten of what the season wants."""
    return [x for x in seen if x.element in GIVES and x.short_mg_l > LEAST_LACKING * x.wanted_mg_l]


@cites("pelk", "each element that lacks is given ahead of its day, by what is at hand first")
def needs(
    pots: Pots, lacking: Sequence[Lack], givers: Mapping[str, Giver], start: date, stop: date
) -> list[Feeding]:
    """Return the dressings of what lacks beside nitrogen.

    Parameters
    ----------
    pots : Pots
        What grows in what.
    lacking : sequence of Lack
        What runs short. Potassium of what flowers waits for its buds (`feeding_rows.seen`).
    givers : mapping of str to Giver
        What gives each element.
    start, stop : date
        Of the season's feeding.

    Returns
    -------
    list of Feeding
        One for each element, before it runs short.
    """
    rows = []
    for lack in lacks(lacking):
        giver = givers.get(lack.element)
        if giver is None or (lack.element == "K" and pots.crop.slug in FLOWERING and pots.potash):
            continue
        on = start + timedelta(days=max(lack.day - LEAD_DAYS, EARLIEST_DAYS))
        share = COMES_FREE.get(lack.element, 1.0)
        whole = lack.short_mg_l / (10 * giver.percent * share)
        g_l = min(whole, MOST_AT_ONCE_G_L[lack.element])
        if g_l < LEAST_G_L / 2 or on > stop:
            continue
        less = " More at once would be salty: this gives a part." if g_l < 0.99 * whole else ""
        rows.append(
            Feeding(
                f"need-{lack.element}",
                on,
                "need",
                giver.name,
                f"{ELEMENT_NAMES[lack.element]} lacks {sig(lack.short_mg_l, 2)} of the "
                f"{sig(lack.wanted_mg_l, 2)} mg/L that the season wants, from "
                f"{start + timedelta(days=lack.day):%-d %b} on; scratch it in, water.{less}",
                g_per_pot=g_l * pots.pot_l,
                care="" if giver.is_mine else "Not on your shelf yet.",
            )
        )
    return rows
