"""Last year's soil made ready for its page: the answer, what goes in, what would change it."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.core.crops.groups import crop
from pelk.core.old_soil.inspection import Decision, Inspection, Route, band_of
from pelk.core.old_soil.prescription import Item, Prescription
from pelk.core.old_soil.questions import GOES_TO, ROUTE_STEPS, STEPS, what_would_change
from pelk.pots.domain.old_soil import (
    MIXED,
    judged,
    judged_mix,
    known_of,
    ph_need_of,
    pots_of,
    prescription_of,
)
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
    ph: str
    harms: tuple[str, ...]


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
    mixed = judged_mix(row)
    prescribed = mixed.prescribed if mixed else prescribed
    rows = _rows(row, prescribed) if prescribed is not None else []
    harms = mixed.harms if mixed else ()
    if harms:
        mark, word, head = "stop", "Not yet", "Mixed so it would harm what grows in it."
    asks = {step.key: step.ask for step in STEPS}
    return OldSoilPage(
        observed,
        decision,
        mark,
        word,
        head,
        rows,
        prescribed.steps if prescribed else ROUTE_STEPS.get(decision.route, ()),
        measures.volume(mixed.litres if mixed else prescribed.makes_l, 2) if prescribed else "",
        GOES_TO.get(decision.route, ()),
        [
            (ask, words, ROUTES[d.route][2])
            for ask, words, d in what_would_change(row.answers, row.pot_l, **known)
        ],
        [asks[key] for key in decision.ask if key in asks],
        decision.route in MIXED,
        _ph_says(row, observed),
        harms,
    )


def _rows(row: OldSoil, prescribed: Prescription) -> list[tuple[str, str]]:
    """Write what goes in, for all of it and for one pot of several."""
    measures, pots, shown = row.yard.measures, pots_of(row), []
    for what, amount, unit in prescribed.rows:
        written = measures.mass(amount, 2) if unit == "g" else measures.volume(amount, 2)
        if what in ON_TOP and pots > 1:
            written += f", {measures.mass(amount / pots, 2)} a pot"
        if what == Item.PELLETS_LATER and prescribed.goes > 1:
            written += f", in {prescribed.goes} goes, three to four weeks apart"
        shown.append((WORDS[what], written))
    return shown


def _ph_says(row: OldSoil, observed: Inspection) -> str:
    """Say what brings its pH to what the next crop wants, or that nothing does."""
    need = ph_need_of(row, observed)
    if need is None:
        return ""
    low, high = band_of(observed)
    wants = f"pH {need.ph:g}, and {crop(observed.next_crop).name.lower()} want {low:g} to {high:g}"
    if need.material is None:
        return f"{wants}: no safe dose mends that. Grow something else in it."
    grams = row.yard.measures.mass(need.g_per_l * row.litres, 2)
    return (
        f"{wants}: mix in {grams} of {need.material.spoken_name}, wait three months and read again."
    )


ON_TOP = frozenset([Item.PELLETS_NOW, Item.PELLETS_LATER])
