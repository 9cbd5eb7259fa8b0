"""Last year's soil made ready for its page: the answer, what goes in, what would change it."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.core.old_soil.inspection import Decision, Inspection, Route
from pelk.core.old_soil.prescription import Item
from pelk.core.old_soil.questions import GOES_TO, ROUTE_STEPS, STEPS, what_would_change
from pelk.pots.domain.old_soil import MIXED, judged, known_of, prescription_of
from pelk.pots.models import OldSoil

WORDS = {
    Item.COMPOST: "compost",
    Item.AGGREGATE: "aggregate",
    Item.PEAT_OR_COIR: "fresh peat or coir",
    Item.BLEND: "balanced organic blend",
    Item.KELP: "kelp meal",
    Item.NEW_MIX: "new mix",
    Item.WATER: "water",
    Item.PELLETS_NOW: "pelletised balanced organic, now",
    Item.PELLETS_LATER: "the rest, in three to four weeks",
}
# What a route is called, and how it is marked.
ROUTES = {
    Route.DISCARD: ("stop", "Discard", "Do not keep it."),
    Route.DISCARD_FOR_FOOD: ("stop", "Not for food", "Grow nothing to eat in it."),
    Route.HOLD: ("wait", "Hold", "Test it first."),
    Route.AIR_OUT: ("over", "Air it", "It has gone airless."),
    Route.TREAT: ("over", "Treat", "Treat it, and read again."),
    Route.FLUSH: ("over", "Rinse", "Rinse it, then judge it again."),
    Route.NOT_FOR_THIS_CROP: ("stop", "Not for this", "Not for this crop."),
    Route.MINOR_PART: ("short", "A third", "Use it as a third of a new mix at most."),
    Route.DUMP_AND_REFRESH: ("good", "Renew", "Worth reviving."),
    Route.IN_PLACE: ("good", "In place", "Refresh it where it stands."),
    Route.PARTLY_OUT: ("short", "In part", "Renew the upper part where it stands."),
    Route.AIR_IN_PLACE: ("over", "Air it", "It went airless: open it where it stands."),
    Route.REUSE: ("good", "Use it", "Good as it is."),
    Route.BED: ("good", "Upkeep", "A bed’s yearly upkeep."),
}


@dataclass(frozen=True, slots=True)
class OldSoilPage:
    """What an inspection comes to, for its page."""

    observed: Inspection
    decision: Decision
    mark: str
    word: str
    head: str
    rows: list[tuple[str, str]]
    steps: tuple[str, ...]
    makes: str
    goes_to: tuple[str, ...]
    changes: list[tuple[str, str, str]]
    ask: list[str]
    may_mix: bool


# A verdict is worth showing from this many answers on.
ENOUGH = 3


@dataclass(frozen=True, slots=True)
class StandingSoil:
    """An old soil in the list: where it stands, how far its check is, what it comes to."""

    soil: OldSoil
    litres: str
    answered: int
    of: int
    mark: str
    word: str
    head: str

    @property
    def percent(self) -> int:
        """How far the check is, in percent."""
        return round(100 * self.answered / self.of)


def standing_soil(row: OldSoil) -> StandingSoil:
    """Return an old soil for the list of them; an answer once enough is known."""
    answered, of = len(row.answers), len(STEPS)
    mark, word, head = "", "", ""
    if answered >= ENOUGH:
        mark, word, head = ROUTES[judged(row)[1].route]
    return StandingSoil(
        row, row.yard.measures.volume(row.litres), min(answered, of), of, mark, word, head
    )


def old_soil_page(row: OldSoil) -> OldSoilPage:
    """Return what follows from what was answered so far."""
    known = known_of(row)
    observed, decision = judged(row)
    mark, word, head = ROUTES[decision.route]
    prescribed = prescription_of(row, observed, decision)
    measures = row.yard.measures
    rows: list[tuple[str, str]] = []
    if prescribed is not None:
        rows = [
            (WORDS[what], measures.mass(amount, 2) if unit == "g" else measures.volume(amount, 2))
            for what, amount, unit in prescribed.rows
        ]
    asks = {step.key: step.ask for step in STEPS}
    return OldSoilPage(
        observed,
        decision,
        mark,
        word,
        head,
        rows,
        prescribed.steps if prescribed else ROUTE_STEPS.get(decision.route, ()),
        measures.volume(prescribed.makes_l, 2) if prescribed else "",
        GOES_TO.get(decision.route, ()),
        [
            (ask, words, ROUTES[d.route][2])
            for ask, words, d in what_would_change(row.answers, row.pot_l, **known)
        ],
        [asks[key] for key in decision.ask if key in asks],
        decision.route in MIXED,
    )
