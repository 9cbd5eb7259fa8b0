"""Last year's soil made ready for its pages: the question at hand, the answer, what goes in."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

from pelk.bench.formats.documents import DoseDocument, MixDocument, PartDocument
from pelk.bench.formats.planning import as_plan
from pelk.core.advice.judgement import judge
from pelk.core.advice.old_soil_ph import LIME, SULFUR, PhNeed, ph_need
from pelk.core.advice.whole_doses import most_of
from pelk.core.base.errors import PelkError
from pelk.core.crops.groups import crop
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.facts import CONTENTS, spread_of
from pelk.core.materials.feeding_styles import Inputs
from pelk.core.materials.material import Material, Range
from pelk.core.old_soil.deciding import decide
from pelk.core.old_soil.inspection import Decision, Inspection, Route, band_of
from pelk.core.old_soil.prescription import Item, Prescription, prescribe
from pelk.core.old_soil.questions import STEPS, Step, inspected, next_step
from pelk.core.vessels.planting import diameter_of, surface_of
from pelk.pots.models import POT_WORDS, OldSoil
from pelk.shelf.selectors import known_materials

# What the prescription's words stand for on the Bench.
MATERIALS = {
    Item.COMPOST: "yard-compost",
    Item.AGGREGATE: "perlite",
    Item.PEAT_OR_COIR: "coir-pith-loose",
    Item.BLEND: "poultry-manure-pellets",
    Item.KELP: "kelp-meal",
}
# Routes that end in a recipe.
MIXED = (Route.DUMP_AND_REFRESH, Route.MINOR_PART, Route.REUSE)
ACID_BLEND, PLANT_BLEND = "cottonseed-meal", "alfalfa-meal"
# Of the nitrogen of a feed whose share in a season is not known. [-]
UNKNOWN_SHARE = 0.5
OLD_MIX = "spent-potting-mix"
PH_TOOLS = (LIME, SULFUR)
# Compost brings lime and salts: so much of it is tried as peat, where with all of it a mix harms.
LESS_COMPOST, LEAN_HOLDER = (0.0, 0.5, 1.0), "sphagnum-peat-light"
OLD_MIX_G_L = 400.0


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


def judged(row: OldSoil) -> tuple[Inspection, Decision]:
    """Return what was seen of some soil, and what is to be done with it."""
    observed = inspected(row.answers, **known_of(row))
    return observed, decide(observed, row.pot_l)


def prescription_of(row: OldSoil, observed: Inspection, decision: Decision) -> Prescription | None:
    """Return what goes in; None where nothing does."""
    width = diameter_of(surface_of(row.pot_l))
    in_place = decision.route in (Route.IN_PLACE, Route.PARTLY_OUT)
    slug = MATERIALS[Item.BLEND] if in_place else _blend(row)
    blend = known_materials(row.yard, [slug])[slug].core
    most = most_of([(blend, 1.0)], crop(row.next_crop), 1.0)
    try:
        return prescribe(
            decision,
            observed,
            row.litres,
            credit_mg_l=float(row.left_mg_l.get("N free", 0.0)),
            pot_cm=width,
            pot=POT_WORDS.get(row.made_of, row.made_of),
            habit=row.habit,
            nitrogen_pct=blend.composition["N"].typ,
            available_share=blend.season_n or UNKNOWN_SHARE,
            most_g_l=min(most.once_g_l, most.season_g_l),
            pots=pots_of(row),
        )
    except PelkError:
        return None


def pots_of(row: OldSoil) -> int:
    """Return in how many pots the soil stands."""
    return max(round(row.litres / row.pot_l), 1) if row.pot_l else 1


def ph_need_of(row: OldSoil, observed: Inspection) -> PhNeed | None:
    """Return what brings some soil into the next crop's band; None where it lies there."""
    shelf = {slug: known.core for slug, known in known_materials(row.yard, PH_TOOLS).items()}
    return ph_need(observed.ph, band_of(observed), observed.kind, shelf)


@dataclass(frozen=True, slots=True)
class JudgedMix:
    """What a prescription comes to, mixed as the Bench would.

    Attributes
    ----------
    document : MixDocument
        The recipe.
    prescribed : Prescription
        What goes in.
    litres : float
        It makes. [L]
    harms : tuple of str
        What would harm in it; empty for what is sound.
    """

    document: MixDocument
    prescribed: Prescription
    litres: float
    harms: tuple[str, ...]


def judged_mix(row: OldSoil) -> JudgedMix | None:
    """Return what a prescription makes: the first that harms nothing, with less and less compost.

    None where nothing is mixed, or nothing is known of its parts.
    """
    observed, decision = judged(row)
    prescribed = prescription_of(row, observed, decision)
    if decision.route not in MIXED or prescribed is None:
        return None
    first = None
    has_compost = any(what == Item.COMPOST for what, _, _ in prescribed.rows)
    for share in LESS_COMPOST if has_compost else LESS_COMPOST[:1]:
        leaner = _leaner(prescribed, share)
        tried = _tried(row, leaner, "" if share == 0 else LEAN_HOLDER)
        if tried is not None and not tried.harms:
            return tried
        first = first or tried
    return first


def _leaner(prescribed: Prescription, share: float) -> Prescription:
    """Return a prescription with a share of its compost in peat."""
    amounts = {what: (amount, unit) for what, amount, unit in prescribed.rows}
    if share == 0:
        return prescribed
    compost, unit = amounts[Item.COMPOST]
    held, _ = amounts.get(Item.PEAT_OR_COIR, (0.0, unit))
    amounts[Item.COMPOST] = (compost * (1 - share), unit)
    amounts[Item.PEAT_OR_COIR] = (held + compost * share, unit)
    rows = tuple((what, amount, of) for what, (amount, of) in amounts.items() if amount > 0)
    return replace(prescribed, rows=rows)


def _tried(row: OldSoil, prescribed: Prescription, holder: str) -> JudgedMix | None:
    document = _as_mix(row, OLD_MIX, prescribed, holder)
    names = {p.material for p in document.bulk} | {d.material for d in document.doses}
    shelf = {slug: known.core for slug, known in known_materials(row.yard, names).items()}
    shelf[OLD_MIX] = _as_known(row, shelf[OLD_MIX])
    try:
        plan, own = as_plan(document, shelf)
        told = evaluate(plan, {**shelf, **own}, samples=0)
    except PelkError:
        return None
    harms = tuple(f.text for f in judge(told).harms)
    return JudgedMix(document, prescribed, told.volumes.mixed_l, harms)


def read_of(row: OldSoil) -> dict[str, Range]:
    """Return the pH and the salts that were read of some soil, by fact."""
    return {
        fact: spread_of(fact, float(row.answers[key]), "yours")
        for fact, key in (("ph", "ph"), ("ec", "ec_ds_m"))
        if isinstance(row.answers.get(key), int | float)
    }


def held_of(row: OldSoil) -> dict[str, Range]:
    """Return the contents that some soil still holds, by element."""
    return {e: spread_of(e, pct, "guess") for e, pct in contents_left(row).items()}


def _as_known(row: OldSoil, like: Material) -> Material:
    """Return the old soil with what was read of it and what it holds, like a spent mix else."""
    composition = {**like.composition, **held_of(row)}
    return replace(like, composition=composition, **read_of(row))  # type: ignore[arg-type]


def as_mix(row: OldSoil, old_slug: str) -> MixDocument:
    """Return the prescription as a recipe: the old soil with everything that goes in.

    Raises
    ------
    PelkError
        Where nothing is to be mixed.
    """
    observed, decision = judged(row)
    prescribed = prescription_of(row, observed, decision)
    if prescribed is None:
        raise PelkError(decision.why, "route")
    if decision.route not in MIXED:
        raise PelkError("it is not mixed again: what goes in is given where it stands", "route")
    sound = judged_mix(row)
    if sound is None:
        return _as_mix(row, old_slug, prescribed, "")
    sound.document.bulk[0].material = old_slug
    return sound.document


def _as_mix(row: OldSoil, old_slug: str, prescribed: Prescription, holder: str) -> MixDocument:
    bulk = [PartDocument(old_slug, amount=round(row.litres, 1), unit="L")]
    doses = []
    blend = _blend(row)
    for what, amount, unit in prescribed.rows:
        slug = blend if what == Item.BLEND else MATERIALS.get(what)
        slug = holder or slug if what == Item.PEAT_OR_COIR else slug
        if what == Item.NEW_MIX:
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
    plant_only = row.yard.style.inputs == Inputs.PLANT_AND_MINERAL_ONLY
    return PLANT_BLEND if plant_only else MATERIALS[Item.BLEND]


def contents_left(row: OldSoil) -> dict[str, float]:
    """Return what the soil still holds, as a share of its weight. [%]."""
    return {
        e: mg / (10 * OLD_MIX_G_L) for e, mg in row.left_mg_l.items() if mg > 0 and e in CONTENTS
    }
