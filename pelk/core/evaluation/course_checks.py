"""What the course of a mix goes wrong in: its pH, salts, nitrogen and readiness over time."""

from collections.abc import Iterator

import numpy as np

from pelk.core.acid_base.acidity import Acidity, lime_for, sulfur_for
from pelk.core.base.quantities import written_ph
from pelk.core.evaluation.cautions import Caution
from pelk.core.evaluation.worked import OURS, TRADE, Worked
from pelk.core.materials.library import MINERAL_SOIL
from pelk.core.salts.salts import share_to_dilute
from pelk.core.simulation.forecast import JUDGED_DAY, LINE_DAYS, Forecast
from pelk.core.simulation.readiness import HELD_UP

FAR_PH = 0.5
# A course may drift this far out of the band in two years.
DRIFT_MARGIN = 0.3
YEAR = 365
# Bark this acid, and this much of it, sets manganese free.
MUCH_BARK, MANGANESE_PH = 0.4, 5.2
REFUSED_SULFUR_KG_M3 = 3.0
COLD_FOR_SULFUR_C, HARD_WATER_MEQ_L, HUNGRY_MG_L = 10.0, 3.0, 10.0
# Nitrogen that a gram of blood or feather meal gives in a month.
BLOOD_N_MG_G = 80.0


def of_the_course(worked: Worked) -> list[Caution]:
    """Return the judgements that a course calls for; none where it cannot run."""
    forecast = worked.forecast
    if forecast is None:
        return []
    cautions: list[Caution] = []
    if worked.acidity is not None:
        judged = _judged(forecast, worked.acidity.band)
        cautions += [*_reach(worked.acidity, judged), *_lime_sense(worked, worked.acidity, judged)]
    return [*cautions, *_over_time(worked, forecast)]


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


def _over_time(worked: Worked, forecast: Forecast) -> Iterator[Caution]:
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
