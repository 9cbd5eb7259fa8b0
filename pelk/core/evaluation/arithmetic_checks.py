"""Judgements where practice goes wrong, caught by arithmetic.

Each check looks at what a plan comes to and returns the cautions it finds, in
plain words, with the number that would be right.
"""

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from pelk.core.acid_base.acidity import Acidity, lime_for, sulfur_for
from pelk.core.base.quantities import written_ph
from pelk.core.crops.groups import Crop
from pelk.core.evaluation.cautions import Caution
from pelk.core.evaluation.season_supply import SeasonSupply
from pelk.core.materials.library import MINERAL_SOIL, Material
from pelk.core.plans.plan import Dose
from pelk.core.salts.salts import share_to_dilute
from pelk.core.simulation.forecast import JUDGED_DAY, LINE_DAYS, Forecast
from pelk.core.simulation.readiness import HELD_UP
from pelk.core.vessels.dose_amounts import DoseLine
from pelk.core.vessels.structure import Structure
from pelk.core.vessels.volumes import Volumes

MEAL_MAX_G_L, MEALS_MAX_G_L = 10.0, 15.0
THIN_DOSE_G_L = 0.1
DOSE_VOLUME_SHARE = 0.03
FAR_PH = 0.5
# A course may drift this far out of the band in two years.
DRIFT_MARGIN = 0.3
YEAR = 365
# Bark this acid, and this much of it, sets manganese free.
MUCH_BARK, MANGANESE_PH = 0.4, 5.2
BROILER_COMPOST = "composted-chicken-manure"
REFUSED_SULFUR_KG_M3 = 3.0
SMALL_BATCH_L = 20.0
COLD_FOR_SULFUR_C, HARD_WATER_MEQ_L, HUNGRY_MG_L, AIR_DOUBT = 10.0, 3.0, 10.0, 0.05
# Nitrogen that a gram of blood or feather meal gives in a month.
BLOOD_N_MG_G = 80.0
TRACE_POTASSIUM_PCT = 1.0
BULK_TAGS = frozenset(["casting", "compost", "manure-composted", "biochar", "guano"])
WEIGH_TAGS = frozenset(["borax", "lime-hydrated"])
SALT_FAMILIES = frozenset(["mineral-salt"])
NOT_PH_TOOLS = {
    "coffee-grounds-used": "Used coffee grounds are close to neutral: they feed a "
    "little, they do not acidify.",
    "pine-needles": "Dry pine needles hardly acidify: their ash cancels their acid.",
}
TRADE, OURS = "common practice", "Pelk estimate"


@dataclass(frozen=True, slots=True)
class Worked:
    """A plan worked out, as the checks look at it."""

    crop: Crop
    volumes: Volumes
    parts: tuple[tuple[Material, float], ...]
    doses: tuple[DoseLine, ...]
    typed: tuple[Dose, ...]
    acidity: Acidity | None
    forecast: Forecast | None = None
    supply: SeasonSupply | None = None
    pot: Structure | None = None
    wanted_air: float = 0.17


def judge(worked: Worked) -> list[Caution]:
    """Return every judgement that a worked plan calls for."""
    cautions = [*_shares(worked), *_rates(worked), *_measures(worked), *_feeding(worked)]
    if worked.acidity is not None and worked.forecast is not None:
        judged = _judged(worked.forecast, worked.acidity.band)
        cautions += [*_reach(worked.acidity, judged), *_lime_sense(worked, worked.acidity, judged)]
    if worked.forecast is not None:
        cautions += [*over_time(worked, worked.forecast)]
    return [*cautions, *_air(worked)]


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
    for line, dose in zip(worked.doses, worked.typed, strict=True):
        if dose.unit.kind == "mass" and line.share and BULK_TAGS & {*line.material.tags}:
            yield from _weight_is_not_share(worked, line)
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


def _weight_is_not_share(worked: Worked, line: DoseLine) -> Iterator[Caution]:
    """Catch a weight that is not the share it was meant to be."""
    meant = (line.material.share_typ_pct or 20) / 100
    if line.share is None or line.share * 1.5 >= meant:
        return
    litres = meant * worked.volumes.mixed_l
    kilos = litres * line.material.loose_density().typ
    yield Caution(
        "weight-not-share",
        "caution",
        f"{line.grams.typ / 1000:.3g} kg of {line.material.name} is {line.share:.1%} of "
        f"the mix. For {meant:.0%} you would need about {litres:.3g} L, {kilos:.3g} kg.",
        "derived by arithmetic",
        (line.material.name,),
    )


def _rates(worked: Worked) -> Iterator[Caution]:
    for line in worked.doses:
        name, rate, most = line.material.name, line.g_per_l, line.material.dose_max_g_l
        label = line.material.label_max_g_l
        if label and rate > label * 1.001:
            yield Caution(
                "label-over",
                "stop",
                f"{name} at {rate:.3g} g/L: its label allows {label:g} g/L. Stay at or under it.",
                "label law",
                (name,),
            )
        if most and rate > most * 1.001:
            yield Caution(
                "dose-over",
                "caution",
                f"{name} at {rate:.3g} g/L: practice stops at {most:g} g/L. The label comes first.",
                TRADE,
                (name,),
            )
        if rate < THIN_DOSE_G_L:
            yield Caution(
                "dose-thin",
                "note",
                f"{name} at {rate:.2g} g/L cannot be spread evenly: stir it into ten "
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
                f"{grams.low:.2g} to {grams.high:.2g} g. Weigh ten of yours once.",
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
                f"{line.material.name} at {line.g_per_l:.3g} g/L is hot: over "
                f"{MEAL_MAX_G_L:g} g/L burns roots for weeks.",
                TRADE,
                (line.material.name,),
            )
    if together > MEALS_MAX_G_L:
        yield Caution(
            "meals-heavy",
            "caution",
            f"Meals together are {together:.3g} g/L; keep them under {MEALS_MAX_G_L:g} g/L.",
            TRADE,
            names,
        )
    if "seedling" in worked.crop.tags and meals:
        yield Caution(
            "feed-on-seedlings",
            "caution",
            "Seedlings want no meals: ammonia kills young roots. Use castings or mild "
            "compost, then a weak liquid feed.",
            TRADE,
            names,
        )
    for slug, text in NOT_PH_TOOLS.items():
        names = tuple(
            m.name
            for m in [m for m, _ in worked.parts] + [d.material for d in worked.doses]
            if m.slug == slug
        )
        if names:
            yield Caution("not-a-ph-tool", "note", text, OURS, names)


def _judged(forecast: Forecast, band: tuple[float, float]) -> tuple[float, int]:
    """Return the pH that is judged, and its day: the far one where it drifts out of the band.

    Where all lime is spent may lie years off, and says nothing of the pot that is filled now.
    """
    far = forecast.ph_on(LINE_DAYS)
    if band[0] - DRIFT_MARGIN <= far <= band[1] + DRIFT_MARGIN:
        return forecast.ph_on(JUDGED_DAY), JUDGED_DAY
    near = forecast.ph_on(JUDGED_DAY)
    return (near, JUDGED_DAY) if not band[0] <= near <= band[1] else (far, LINE_DAYS)


def _reach(acidity: Acidity, judged: tuple[float, int]) -> Iterator[Caution]:
    """Say when the course misses the band, and what would not."""
    low, high = acidity.band
    (ph, day), middle = judged, (low + high) / 2
    has_acid = acidity.sum_of("sulfur") + acidity.sum_of("acid") < 0
    names = _names(acidity, "sulfur", "acid")
    if ph < low and has_acid:
        needed = sulfur_for(acidity, middle)
        enough = (
            f"At most {needed:.2g} g/L of elemental sulfur is enough."
            if needed > 0.005
            else "It needs none."
        )
        yield Caution(
            "sulfur-overshoot",
            "stop" if ph < low - FAR_PH else "caution",
            f"That acid takes the mix to pH {written_ph(ph)} by day {day}; the crop wants {low:g} "
            f"to {high:g}. {enough} A table made for garden beds does not fit a mix.",
            OURS,
            names,
        )
    if acidity.end.carbonate_left_meq_l and ph > high:
        sulfur = sulfur_for(acidity, middle)
        ending = (
            "Sulfur will not do it: choose another part."
            if sulfur > REFUSED_SULFUR_KG_M3
            else "Lime in the parts has to be used up first."
        )
        yield Caution(
            "carbonate-left",
            "stop" if has_acid else "caution",
            f"Free lime in this mix holds it near pH {written_ph(ph)}. To reach {middle:.1f} would "
            f"take {sulfur:.2g} kg of sulfur per m³. {ending}",
            OURS,
            names,
        )
    if has_acid and acidity.sum_of("lime") > 0:
        yield Caution(
            "lime-and-sulfur",
            "caution",
            "Lime and acid eat each other: leave one out.",
            OURS,
            _names(acidity, "lime", "sulfur", "acid"),
        )
    fading = [n for n in _names(acidity, "fading") if "vinegar" not in n.lower()]
    if fading:
        yield Caution(
            "acid-fades",
            "caution",
            "This acid is eaten by microbes within days and leaves the pH where it was.",
            OURS,
            tuple(fading),
        )


def _lime_sense(worked: Worked, acidity: Acidity, judged: tuple[float, int]) -> Iterator[Caution]:
    """Catch lime where none is wanted."""
    (low, high), (ph, day) = acidity.band, judged
    if acidity.sum_of("lime") <= 0:
        return
    names = _names(acidity, "lime")
    without = acidity.rest.ph
    if "ericaceous" in worked.crop.tags and without >= low:
        yield Caution(
            "lime-on-acid-lovers",
            "caution",
            f"Acid lovers need no lime here: without it the mix rests at pH {written_ph(without)}. "
            "For calcium use gypsum.",
            OURS,
            names,
        )
    elif without >= low and ph > high:
        yield Caution(
            "lime-in-neutral",
            "caution",
            f"This mix rests at pH {written_ph(without)} without lime: the crop wants {low:g} to "
            f"{high:g}. "
            "For calcium use gypsum.",
            OURS,
            names,
        )
    elif ph > high:
        enough = lime_for(acidity, (low + high) / 2)
        yield Caution(
            "lime-overshoot",
            "caution",
            f"That lime takes the mix to pH {written_ph(ph)} by day {day}; the crop wants {low:g} "
            f"to {high:g}. At most {enough:.2g} g/L of pure lime is enough.",
            OURS,
            names,
        )


def _names(acidity: Acidity, *kinds: str) -> tuple[str, ...]:
    return tuple(dict.fromkeys(a.material.name for a in acidity.actions if a.kind in kinds))


def _air(worked: Worked) -> Iterator[Caution]:
    pot = worked.pot
    if pot is None or pot.air_filled >= worked.wanted_air - AIR_DOUBT:
        return
    grave = pot.air_filled < worked.wanted_air / 2
    yield Caution(
        "air-low",
        "caution" if grave else "note",
        f"About {max(pot.air_filled, 0):.0%} air after draining, {pot.height_cm:.0f} cm "
        f"tall; {worked.crop.name.lower()} want near {worked.wanted_air:.0%}. More coarse "
        "aggregate, or a taller pot. A layer of stones below does not help.",
        OURS,
    )


def over_time(worked: Worked, forecast: Forecast) -> Iterator[Caution]:
    """Judge what the course of the heap comes to."""
    yield from _salts(worked, forecast)
    yield from _nitrogen(worked, forecast)
    yield from _ph_limits(worked, forecast)
    cold = float(np.mean(forecast.around.temperature_c)) < COLD_FOR_SULFUR_C
    if forecast.heap.sulfurs and cold:
        yield Caution(
            "sulfur-cold",
            "caution",
            "Below 10 °C sulfur hardly turns: it waits for warmth, then acts all at once. "
            "Do not dose again meanwhile.",
            OURS,
        )
    water = forecast.around.water
    if water.alkalinity_meq_l > HARD_WATER_MEQ_L and water.leaching_fraction < 0.1:
        yield Caution(
            "hard-water",
            "caution",
            f"This water limes the pot with {water.alkalinity_meq_l:.1f} meq a litre and "
            "nothing drains away. Rain water, or a mineral acid in the can.",
            TRADE,
        )


def _salts(worked: Worked, forecast: Forecast) -> Iterator[Caution]:
    crop, later = worked.crop, float(forecast.ec[30])
    if later > crop.ec_max:
        share = share_to_dilute(later, crop.ec_max)
        yield Caution(
            "salts-over",
            "caution",
            f"Salts reach about {later:.1f} dS/m once food comes free; {crop.name.lower()} "
            f"stand {crop.ec_max:g}. Thin it with {share:.0%} unfed mix, feed less, or "
            "leach once it has cured.",
            OURS,
        )
    elif later > crop.ec_warn:
        yield Caution(
            "salts-high",
            "note",
            f"Salts reach about {later:.1f} dS/m: above the {crop.ec_warn:g} that "
            f"{crop.name.lower()} like, under the {crop.ec_max:g} they stand.",
            OURS,
        )


def _nitrogen(worked: Worked, forecast: Forecast) -> Iterator[Caution]:
    unmet_n = forecast.line["hungry_mg_l"][forecast.line.edges <= YEAR]
    most = float(unmet_n.max())
    if most > HUNGRY_MG_L:
        yield Caution(
            "nitrogen-robbed",
            "caution",
            f"Wood, bark or straw wants up to {most:.0f} mg/L more nitrogen than there is. "
            f"About {most / BLOOD_N_MG_G:.1f} g/L of blood or feather meal makes up for it.",
            OURS,
        )
    ammonium, limit = forecast.line.daily("ammonium_mg_l"), forecast.limits.ammonium_mg_l
    peak = int(ammonium.argmax())
    if ammonium[peak] > limit:
        yield Caution(
            "ammonium-hot",
            "note",
            f"Ammonium peaks near {ammonium[peak]:.0f} mg/L about day {peak}; roots stand "
            f"{limit:g}. Nothing is planted before it has turned to nitrate.",
            OURS,
        )
    if forecast.ready.p50 is None:
        held = [HELD_UP[k] for k in forecast.ready.waiting_for]
        yield Caution(
            "never-ready",
            "caution",
            f"It may not get ready within a year without a change: "
            f"{' and '.join(held[:2]) or 'not everything holds at once'}.",
            OURS,
        )


def _ph_limits(worked: Worked, forecast: Forecast) -> Iterator[Caution]:
    mineral = sum(x for m, x in worked.parts if m.family in MINERAL_SOIL)
    low, high = float(forecast.ph[0][-1]), float(forecast.ph[2][-1])
    line = 7.0 if mineral > 0.25 else 6.8
    if high > line and worked.crop.ph_soilless[1] < line:
        yield Caution(
            "iron-locked",
            "note",
            f"The pH may pass {line:g}: iron, manganese and zinc go out of reach as "
            "it rises, however much is there.",
            TRADE,
        )
    bark = sum(x for m, x in worked.parts if m.family == "bark")
    if (
        bark >= MUCH_BARK
        and forecast.ph_on(JUDGED_DAY) < MANGANESE_PH
        and worked.crop.ph_soilless[0] >= MANGANESE_PH
    ):
        yield Caution(
            "manganese-excess",
            "note",
            f"Bark under pH {MANGANESE_PH:g} sets much manganese free: brown specks on old leaves, "
            "pale new ones. Raise the pH; iron does not cure it.",
            TRADE,
        )
    if mineral >= 0.2 and low < 5.0 and worked.crop.ph_soilless[0] >= 5.0:
        yield Caution(
            "aluminium",
            "caution",
            "Soil that may fall under pH 5 sets aluminium free, which stunts roots.",
            TRADE,
        )
