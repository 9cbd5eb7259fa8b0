"""Cautions of practice, caught by arithmetic: rates, measures, labels. Plants are judged in advice.

Each check looks at what a plan comes to and returns the cautions it finds, in
plain words, with the number that would be right.
"""

from collections.abc import Iterator

from pelk.core.base.rounding import sig
from pelk.core.evaluation.cautions import Caution
from pelk.core.evaluation.worked import OURS, TRADE, Worked

MEAL_MAX_G_L, MEALS_MAX_G_L = 10.0, 15.0
THIN_DOSE_G_L = 0.1
DOSE_VOLUME_SHARE = 0.03
BROILER_COMPOST = "composted-chicken-manure"
SMALL_BATCH_L = 20.0
TRACE_POTASSIUM_PCT = 1.0
WEIGH_TAGS = frozenset(["borax", "lime-hydrated"])
SALT_FAMILIES = frozenset(["mineral-salt"])


def practice_of(worked: Worked) -> list[Caution]:
    """Return every caution of practice that a worked plan calls for."""
    return [*_shares(worked), *_rates(worked), *_measures(worked), *_feeding(worked)]


def _shares(worked: Worked) -> Iterator[Caution]:
    for material, share in worked.parts:
        most = material.share_max_pct
        if most == 0:
            yield Caution(
                "part-not-as-is",
                "stop",
                f"{material.name} is not for a mix as it is. {material.notes}".strip(),
                TRADE,
                (material.name,),
            )
        elif most is not None and share * 100 > most + 0.05:
            yield Caution(
                "share-over",
                "caution",
                f"{material.name} is {share:.0%} of the mix; practice stops at {most:g} %.",
                TRADE,
                (material.name,),
            )
    everything = [*(m for m, _ in worked.parts), *(line.material for line in worked.doses)]
    if any(m.slug == BROILER_COMPOST for m in everything):
        yield Caution(
            "which-hens",
            "note",
            "Chicken compost of broilers or of laying hens? Layers' holds near three times the "
            "lime, from their feed. If in doubt, ask; of layers, take composted layer manure.",
            OURS,
        )
    added = sum(line.share or 0 for line in worked.doses)
    if added > DOSE_VOLUME_SHARE:
        yield Caution(
            "dose-volume",
            "note",
            f"The doses are {added:.0%} of the mix by volume. That much belongs among "
            "the parts, or the batch comes out larger.",
            "derived by arithmetic",
        )


def _rates(worked: Worked) -> Iterator[Caution]:
    for line in worked.doses:
        name, rate, most = line.material.name, line.g_per_l, line.material.dose_max_g_l
        label = line.material.label_max_g_l
        if label and rate > label * 1.001:
            yield Caution(
                "label-over",
                "stop",
                f"{name} at {sig(rate, 3)} g/L: its label allows {label:g} g/L. Stay at or "
                "under it.",
                "label law",
                (name,),
            )
        if most and rate > most * 1.001:
            yield Caution(
                "dose-over",
                "caution",
                f"{name} at {sig(rate, 3)} g/L: practice stops at {most:g} g/L. The label comes "
                "first.",
                TRADE,
                (name,),
            )
        if rate < THIN_DOSE_G_L:
            yield Caution(
                "dose-thin",
                "note",
                f"{name} at {sig(rate, 2)} g/L cannot be spread evenly: stir it into ten "
                "times its volume of sand or castings first.",
                TRADE,
                (name,),
            )
        potassium = line.material.composition.get("K")
        if (
            "rock-dust" in line.material.tags
            and potassium is not None
            and potassium.typ > TRACE_POTASSIUM_PCT
        ):
            yield Caution(
                "rock-potassium",
                "note",
                f"The potassium of {name} is locked in rock: a slow trace, not this "
                "season's potash.",
                OURS,
                (name,),
            )


def _measures(worked: Worked) -> Iterator[Caution]:
    for line, dose in zip(worked.doses, worked.typed, strict=True):
        if not dose.unit.is_by_hand:
            continue
        material, grams = line.material, line.grams
        small_sulfur = "sulfur" in material.tags and worked.volumes.mixed_l < SMALL_BATCH_L
        if small_sulfur or WEIGH_TAGS & {*material.tags} or material.family in SALT_FAMILIES:
            yield Caution(
                "weigh-it",
                "stop",
                f"Not by the {dose.unit.name} for {material.name}: two people's differ "
                "three-fold. Weigh it.",
                TRADE,
                (material.name,),
            )
        else:
            yield Caution(
                "by-hand",
                "note",
                f"{material.name} by the {dose.unit.name} is anything from "
                f"{sig(grams.low, 2)} to {sig(grams.high, 2)} g. Weigh ten of yours once.",
                TRADE,
                (material.name,),
            )


def _feeding(worked: Worked) -> Iterator[Caution]:
    meals = [line for line in worked.doses if "meal" in line.material.tags]
    together = sum(line.g_per_l for line in meals)
    names = tuple(line.material.name for line in meals)
    for line in meals:
        if line.g_per_l > MEAL_MAX_G_L:
            yield Caution(
                "meal-heavy",
                "caution",
                f"{line.material.name} at {sig(line.g_per_l, 3)} g/L is hot: over "
                f"{MEAL_MAX_G_L:g} g/L burns roots for weeks.",
                TRADE,
                (line.material.name,),
            )
    if together > MEALS_MAX_G_L:
        yield Caution(
            "meals-heavy",
            "caution",
            f"Meals together are {sig(together, 3)} g/L; keep them under {MEALS_MAX_G_L:g} g/L.",
            TRADE,
            names,
        )
    if "seedling" in worked.crop.tags and meals:
        yield Caution(
            "feed-on-seedlings",
            "caution",
            "Give seedlings no meals: ammonia kills young roots. Use castings or mild "
            "compost, then a weak liquid feed.",
            TRADE,
            names,
        )
