"""What some pots can be given, and when each is due: the rows of a feeding plan."""

from collections.abc import Sequence
from datetime import date, timedelta
from math import inf

from pelk.core.advice.feedings import Feed, Feeding, Pots
from pelk.core.crops.demand import REACHES
from pelk.core.crops.feeding_rules import (
    COLD_C,
    INTERVAL_WEEKS,
    PORE_VOLUME_L_L,
    Dressing,
    liquid_dose,
    liquid_strength,
    most_on_top,
    top_dress,
)
from pelk.core.materials.feeding_styles import FeedingWay, Inputs

TOP_UP_DAYS, CHECK_DAYS, FIRST_LIQUID_DAYS, MONTH = 7, 30, 28, 28
# Strength of liquid feeds by how hungry a crop is. [mg N/L]
STRENGTHS = {0: 60.0, 1: 100.0, 2: 125.0, 3: 175.0}
POURED_L_L = 0.15
LIQUID_EVERY = {
    FeedingWay.FEED_AS_YOU_GO: 14,
    FeedingWay.LIVING_SOIL: MONTH,
    FeedingWay.CHARGE_AND_TOP_DRESS: MONTH,
}
TEA_EVERY_DAYS = 14
# A four per cent blend, at most four grams a litre in a month; an acid one in early spring.
MOST_BLEND_G_L, BLEND_N_PCT, ACID_MEAL_G_L = 4.0, 4.0, 2.0
ACID_DAYS = 140
POTASH_G_L, POTASH_K_PCT = 0.5, 42.0
COATED_SHARE = 0.25
# Fed when buds show, and when true leaves are well grown.
FLOWERING = frozenset(["fruiting", "annuals", "citrus"])
BY_LEAVES = frozenset(["seedling", "leafy"])
LEAST_G_L = 0.1
# Between two dressings, at least.
APART_DAYS = 21


def liquids(pots: Pots, start: date, stop: date) -> list[Feeding]:
    """Return the liquid feeds from a day to another."""
    every = LIQUID_EVERY.get(pots.feeding)
    if pots.liquid is None or every is None or pots.crop.slug in ("lean", "legumes"):
        return []
    if pots.feeding != FeedingWay.FEED_AS_YOU_GO and pots.crop.intensity < 2:
        return []
    strength = STRENGTHS[pots.crop.intensity] * pots.strength
    per_ml = liquid_strength(1.0, pots.liquid.nitrogen_pct, pots.liquid.density_kg_l)
    ml_l, poured = strength / per_ml, POURED_L_L * pots.pot_l
    brings = liquid_dose(strength * pots.liquid.season_share, poured, pots.pot_l)
    first = 14 if pots.feeding == FeedingWay.FEED_AS_YOU_GO else FIRST_LIQUID_DAYS
    rows: list[Feeding] = []
    on = start + timedelta(days=first)
    while on <= stop:
        rows.append(
            Feeding(
                f"liquid-{len(rows) + 1}",
                on,
                "liquid",
                pots.liquid.name,
                f"{strength:.0f} mg/L of nitrogen in the water, poured to {POURED_L_L:.0%} of the "
                "soil’s volume; not on dry, sick or resting plants",
                ml_per_l=ml_l,
                l_per_pot=poured,
                nitrogen_mg_l=brings,
                days=14,
            )
        )
        on += timedelta(days=every)
    return rows


def dressings(
    pots: Pots,
    start: date,
    stop: date,
    run_out: int | None,
    wanted: Sequence[float],
    soil: Sequence[float],
    poured: Sequence[float],
) -> list[Feeding]:
    """Return the top-dressings: each covers what the weeks until the next will lack."""
    weeks = INTERVAL_WEEKS.get(pots.crop.slug)
    if weeks is None or run_out is None or pots.feeding == FeedingWay.FEED_AS_YOU_GO:
        return []
    rows: list[Feeding] = []
    step = max(round(weeks), 1)
    left_g = pots.dressing.most.season_g_l * pots.pot_l if pots.dressing.most else inf
    at, owed, earliest = run_out, 0.0, start + timedelta(days=TOP_UP_DAYS)
    while at // 7 < len(wanted):
        warm = pots.normals_c[(start + timedelta(days=at)).month - 1]
        day = _dressing(pots, at, 0.0, warm).day
        on = _warm_from(max(start + timedelta(days=day), earliest), pots.normals_c)
        at = max(at, (on - start).days)  # cold, or a late start, pushes the weeks it is for
        week = at // 7
        window = slice(week, week + step)
        lacks = owed + sum(
            max(w - s - p, 0.0)
            for w, s, p in zip(wanted[window], soil[window], poured[window], strict=False)
        )
        whole = _dressing(pots, at, lacks, warm).g_per_pot
        grams = min(whole, _most_g(pots), left_g)
        held = grams / whole if whole else 1.0
        owed = lacks * (1 - held)
        if grams >= LEAST_G_L * pots.pot_l and on <= stop:
            left_g -= grams
            is_last = left_g < LEAST_G_L * pots.pot_l
            less = "" if held > 0.999 else _held(pots.dressing, is_last=is_last)
            rows.append(
                Feeding(
                    f"dress-{len(rows) + 1}",
                    on,
                    "dress",
                    pots.dressing.name,
                    f"the soil lacks {lacks:.0f} mg/L of nitrogen in the {step} weeks from "
                    f"{start + timedelta(days=at):%-d %b}; scratch it in, mulch, water.{less}",
                    g_per_pot=grams,
                    nitrogen_mg_l=lacks * held,
                    days=7 * step,
                    lead_days=at - (on - start).days,
                )
            )
        at += 7 * step
        earliest = on + timedelta(days=APART_DAYS)
    return rows


def _dressing(pots: Pots, at: int, lacks_mg_l: float, warm_c: float) -> Dressing:
    feed = pots.dressing
    return top_dress(
        at,
        lacks_mg_l / REACHES["normal"],
        pots.pot_l,
        feed.nitrogen_pct,
        feed.season_share,
        kind=feed.lead,
        temperature_c=warm_c,
        surface_cm=pots.surface_cm,
    )


def _warm_from(on: date, normals_c: Sequence[float]) -> date:
    """Return a day, or the first of the next month that is warm enough to use a feed."""
    for _ in range(12):
        if normals_c[on.month - 1] >= COLD_C:
            break
        on = (on.replace(day=1) + timedelta(days=32)).replace(day=1)
    return on


def _most_g(pots: Pots) -> float:
    by_soil = MOST_BLEND_G_L * BLEND_N_PCT / pots.dressing.nitrogen_pct * pots.pot_l
    at_once = pots.dressing.most.once_g_l * pots.pot_l if pots.dressing.most else inf
    return min(by_soil, most_on_top(pots.surface_cm), at_once)


def _held(dressing: Feed, *, is_last: bool) -> str:
    if is_last and dressing.most and dressing.most.cap:
        return (
            f" Its {dressing.most.cap.says} stops more of it in this season. "
            "Feed the rest of the nitrogen with something else."
        )
    return " more at once could burn or mat; the rest follows later"


def first_days(pots: Pots, start: date, *, first_season: bool) -> list[Feeding]:
    """Return the topping up, and the coated granules where the school allows them."""
    rows: list[Feeding] = []
    if first_season and pots.filled_on and not pots.is_topped:
        on = pots.filled_on + timedelta(days=TOP_UP_DAYS)
        rows.append(
            Feeding(
                "top-up",
                on,
                "top up",
                "the same mix",
                "the mix has settled by now: fill to a hand’s width below the rim",
            )
        )
    if pots.inputs == Inputs.WITH_A_COATED_SAFETY_NET and first_season:
        grams = COATED_SHARE * pots.crop.uptake_mg_l["N"] * pots.pot_l / 150
        rows.append(
            Feeding(
                "coated",
                start + timedelta(days=14),
                "coated",
                "coated granules, 15 % N",
                "a quarter of the season’s nitrogen at most; the label is not organic",
                g_per_pot=grams,
                care="Follow the label: it goes before this figure.",
            )
        )
    return rows


def teas(pots: Pots, start: date, stop: date) -> list[Feeding]:
    """Return the teas of a living soil; their food is not counted."""
    if pots.feeding != FeedingWay.LIVING_SOIL:
        return []
    rows: list[Feeding] = []
    on = start + timedelta(days=TEA_EVERY_DAYS)
    while on <= stop:
        rows.append(
            Feeding(
                f"tea-{len(rows) + 1}",
                on,
                "tea",
                "compost or worm tea",
                "for the life in it; its nitrogen, 10 to 60 mg a litre, is not counted",
                l_per_pot=0.1 * pots.pot_l,
                care="Within 24 hours of stopping the air, best within 6.",
            )
        )
        on += timedelta(days=TEA_EVERY_DAYS)
    return rows


def early_spring(pots: Pots, start: date, spring: date) -> list[Feeding]:
    """Return the acid feed of acid lovers: before the buds break, not in their first weeks."""
    if "ericaceous" not in pots.crop.tags:
        return []
    if spring < start:
        spring = date(spring.year + 1, spring.month, 1)
    if (spring - start).days > 330:
        return []
    grams = min(ACID_MEAL_G_L * pots.pot_l, _most_g(pots))
    brings = grams / pots.pot_l * pots.dressing.nitrogen_pct * 10 * pots.dressing.season_share
    return [
        Feeding(
            "acid-spring",
            spring,
            "acid",
            f"{pots.dressing.name}, acid feed",
            "before the buds break: read the pH first, then the meal, half a dose of potash and "
            "magnesium as sulfates, 3 to 5 cm of bark or needles, rain water",
            g_per_pot=grams,
            nitrogen_mg_l=brings * REACHES["normal"],
            days=ACID_DAYS,
        )
    ]


def looks(pots: Pots, start: date, stop: date) -> list[Feeding]:
    """Return when salts are read, and the plain water that high salts ask for."""
    rows: list[Feeding] = []
    on = start + timedelta(days=CHECK_DAYS)
    while on <= stop:
        rows.append(
            Feeding(
                f"check-{len(rows) + 1}",
                on,
                "check",
                "salts and pH of the drainage water",
                f"over {pots.crop.ec_warn:g} dS/m: plain water before the next feed",
            )
        )
        on += timedelta(days=CHECK_DAYS)
    if pots.ec_ds_m is not None and pots.ec_on and pots.ec_ds_m > pots.crop.ec_warn:
        rows.append(
            Feeding(
                f"water-{pots.ec_on:%y%m%d}",
                max(pots.ec_on, start),
                "water",
                "plain water, one pore volume",
                f"salts read {pots.ec_ds_m:.1f} dS/m, over {pots.crop.ec_warn:g}: rinse, catch it "
                "for "
                "the beds, read again after a day, then feed",
                l_per_pot=PORE_VOLUME_L_L * pots.pot_l,
            )
        )
    return rows


def seen(pots: Pots, stop: date) -> list[Feeding]:
    """Return what waits for a bud or a leaf."""
    rows: list[Feeding] = []
    if pots.crop.slug in FLOWERING and (pots.buds_on is None or pots.buds_on <= stop):
        lacks = pots.potassium_short_mg_l
        grams = min(lacks / (POTASH_K_PCT * 10), POTASH_G_L) * pots.pot_l
        gives = bool(pots.potash) and grams >= LEAST_G_L * pots.pot_l
        rows.append(
            Feeding(
                "potash",
                pots.buds_on,
                "potash",
                pots.potash if gives else "nothing needed: note the date",
                f"when flower buds show: the season lacks {lacks:.0f} mg potassium a litre"
                if gives
                else "when flower buds show: potassium lasts the season, as far as the soil is "
                "known",
                g_per_pot=grams if gives else 0.0,
            )
        )
    if pots.crop.slug in BY_LEAVES and pots.liquid is not None:
        per_ml = liquid_strength(1.0, pots.liquid.nitrogen_pct, pots.liquid.density_kg_l)
        rows.append(
            Feeding(
                "leaves",
                pots.leaves_on,
                "liquid",
                pots.liquid.name,
                "when true leaves are well grown: weak, from below",
                ml_per_l=STRENGTHS[0] * pots.strength / per_ml,
                l_per_pot=POURED_L_L * pots.pot_l,
            )
        )
    return rows


def spread(rows: Sequence[Feeding], start: date, count: int) -> list[float]:
    """Return the nitrogen of some feeds by the week, each even over the days it lasts."""
    shares = [0.0] * count
    for row in rows:
        if row.on is None or not row.nitrogen_mg_l:
            continue
        first = max(((row.on - start).days + row.lead_days) // 7, 0)
        weeks = max(row.days // 7, 1)
        for week in range(first, min(first + weeks, count)):
            shares[week] += row.nitrogen_mg_l / weeks
    return shares
