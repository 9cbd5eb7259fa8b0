"""Last year's soil made ready for its pages: the question at hand, the answer, what goes in."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from pelk.bench.documents import DoseDocument, MixDocument, PartDocument
from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import crop
from pelk.core.materials.facts import CONTENTS
from pelk.core.old_soil.inspection import Decision, Inspection, decide
from pelk.core.old_soil.prescription import Prescription, prescribe
from pelk.core.old_soil.questions import (
    GOES_TO,
    ROUTE_STEPS,
    STEPS,
    Step,
    inspected,
    next_step,
    what_would_change,
)
from pelk.core.vessels.planting import diameter_of, surface_of
from pelk.pots.models import POT_WORDS, OldSoil

# What a route is called, and how it is marked.
ROUTES = {
    "discard": ("stop", "Discard", "Do not keep it."),
    "discard for food": ("stop", "Not for food", "Nothing to eat grows in it."),
    "hold": ("wait", "Hold", "Test it first."),
    "air out": ("over", "Air it", "It went airless."),
    "treat": ("over", "Treat", "Treat it, and read again."),
    "flush": ("over", "Rinse", "Rinse it, then judge it again."),
    "not for this crop": ("stop", "Not for this", "Not for this crop."),
    "minor part": ("short", "A third", "Only as the smaller part of a new mix."),
    "dump and refresh": ("good", "Renew", "Worth reviving."),
    "in place": ("good", "In place", "Refresh it where it stands."),
    "reuse": ("good", "Use it", "Good as it is."),
    "bed": ("good", "Upkeep", "A bed’s yearly upkeep."),
}
# What the prescription's words stand for on the Bench.
MATERIALS = {
    "compost": "yard-compost",
    "aggregate": "perlite",
    "fresh peat or coir": "coir-pith-loose",
    "balanced organic blend": "poultry-manure-pellets",
    "kelp meal": "kelp-meal",
}
ACID_BLEND, PLANT_BLEND = "cottonseed-meal", "alfalfa-meal"
OLD_MIX = "spent-potting-mix"
OLD_MIX_G_L = 400.0


@dataclass(frozen=True, slots=True)
class Verdict:
    """What an inspection comes to, for its page."""

    seen: Inspection
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


def known_of(row: OldSoil) -> dict[str, Any]:
    """Return what is known of some soil without asking."""
    return {
        "next_crop": row.next_crop,
        "kind": row.kind,
        "last_family": row.last_family or None,
        "next_family": row.next_family or None,
    }


def step_of(row: OldSoil, key: str = "") -> Step | None:
    """Return the question asked for, or the next one."""
    step = next((s for s in STEPS if s.key == key), None)
    return step or next_step(row.answers)


def told(row: OldSoil) -> Verdict:
    """Return what follows from what was answered so far."""
    known = known_of(row)
    seen = inspected(row.answers, **known)
    decision = decide(seen, row.pot_l)
    mark, word, head = ROUTES[decision.route]
    prescribed = prescription_of(row, seen, decision)
    measures = row.yard.measures
    rows: list[tuple[str, str]] = []
    if prescribed is not None:
        rows = [
            (what, measures.mass(amount, 2) if unit == "g" else measures.volume(amount, 2))
            for what, amount, unit in prescribed.rows
        ]
    asks = {step.key: step.ask for step in STEPS}
    return Verdict(
        seen,
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
        decision.route in ("dump and refresh", "minor part", "reuse"),
    )


def prescription_of(row: OldSoil, seen: Inspection, decision: Decision) -> Prescription | None:
    """Return what goes in; None where nothing does."""
    width = diameter_of(surface_of(row.pot_l))
    try:
        return prescribe(
            decision,
            seen,
            row.litres,
            credit_mg_l=float(row.left_mg_l.get("N free", 0.0)),
            pot_cm=width,
            pot=POT_WORDS.get(row.made_of, row.made_of),
            habit=row.habit,
        )
    except PelkError:
        return None


def as_mix(row: OldSoil, old_slug: str) -> MixDocument:
    """Return the prescription as a recipe: the old soil with everything that goes in.

    Raises
    ------
    PelkError
        Where nothing is to be mixed.
    """
    seen = inspected(row.answers, **known_of(row))
    decision = decide(seen, row.pot_l)
    prescribed = prescription_of(row, seen, decision)
    if prescribed is None:
        raise PelkError(decision.why, "route")
    bulk = [PartDocument(old_slug, amount=round(row.litres, 1), unit="L")]
    doses = []
    blend = _blend(row)
    for what, amount, unit in prescribed.rows:
        slug = blend if what == "balanced organic blend" else MATERIALS.get(what)
        if what == "new mix":
            # What a new mix is made of is the Bench's own question: two sound parts to begin with.
            half = round(amount / 2, 1)
            bulk += [
                PartDocument("coir-pith-loose", amount=half, unit="L"),
                PartDocument("pine-bark-fines-composted", amount=half, unit="L"),
            ]
        elif slug and unit == "L":
            bulk.append(PartDocument(slug, amount=round(amount, 1), unit="L"))
        elif slug:
            doses.append(DoseDocument(slug, round(amount, 1), "g"))
    return MixDocument(name=f"{row.name}, renewed"[:80], crop=row.next_crop, bulk=bulk, doses=doses)


def _blend(row: OldSoil) -> str:
    if "ericaceous" in crop(row.next_crop).tags:
        return ACID_BLEND
    plant_only = row.yard.schooling.inputs == "plant and mineral only"
    return PLANT_BLEND if plant_only else MATERIALS["balanced organic blend"]


def contents_left(row: OldSoil) -> dict[str, float]:
    """Return what the soil still holds, as a share of its weight. [%]."""
    return {
        e: mg / (10 * OLD_MIX_G_L) for e, mg in row.left_mg_l.items() if mg > 0 and e in CONTENTS
    }
