"""What the course of a mix goes wrong in while something grows: pH, salts, ammonium, heat."""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.acidity import sulfur_for
from pelk.core.advice.grades import Finding, Grade, Kind
from pelk.core.base.limits import grade_table, limit
from pelk.core.base.quantities import written_beside, written_ph
from pelk.core.base.rounding import sig
from pelk.core.crops.groups import Crop, ion_limit, is_acid_lover
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.salts.salts import boron_ratio, extract_mg_l
from pelk.core.simulation.forecast import LINE_DAYS, Forecast
from pelk.core.simulation.readiness import (
    FIRST_ROOTS_DAYS,
    HELD_UP,
    PULSE_LEFT_MG_L,
    PULSE_LEFT_SHARE,
)

Floats = NDArray[np.float64]
Bools = NDArray[np.bool_]


@dataclass(frozen=True, slots=True)
class Window:
    """The days that are judged: planted to the season's end, or as if unplanted."""

    first: int
    last: int
    is_planted: bool

    @property
    def run(self) -> int:
        """How long a fault must last. [d]."""
        return min(int(limit("window", "run_days")), self.last - self.first + 1)


def window_of(evaluation: Evaluation) -> Window:
    """Return the days that are judged of a mix."""
    ahead, supply = evaluation.forecast, evaluation.supply
    first, last = (int(day) for day in grade_table()["window"]["unplanted"])
    if supply is not None and ahead is not None and ahead.ready.p50 is not None:
        first = supply.planted_day
        last = min(first + supply.season_days, LINE_DAYS)
        return Window(min(first, last - 1), last, is_planted=True)
    if supply is not None:
        last = max(last, min(first + supply.season_days, LINE_DAYS))
    return Window(first, last, is_planted=False)


def lasts(holds: Bools, days: int) -> Bools:
    """Return whether something holds so many days running, for every draw."""
    if len(holds) < days:
        return np.zeros(holds.shape[1:], dtype=bool)
    summed = np.cumsum(np.concatenate([np.zeros((1, *holds.shape[1:])), holds]), axis=0)
    return np.asarray((summed[days:] - summed[:-days] >= days).any(axis=0))


def longest_run(holds: Bools) -> tuple[int, int] | None:
    """Return the first and the last day of the longest time that something holds."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], holds, [False]]).astype(int)))
    if not edges.size:
        return None
    starts, ends = edges[::2], edges[1::2] - 1
    longest = int(np.argmax(ends - starts))
    return int(starts[longest]), int(ends[longest])


@dataclass(frozen=True, slots=True)
class Course:
    """One quantity by day: the central line, and the draws as far as they go."""

    line: Floats
    draws: Floats | None

    def is_past(self, window: Window, over: float, *, sign: int = 1) -> bool:
        """Return whether the central line lies past a limit for the window's run of days."""
        central = sign * (self.line[window.first : window.last + 1] - over) > 0
        return bool(lasts(central, window.run))

    def chance(self, window: Window, over: float, *, sign: int = 1) -> float:
        """Return how likely it is to lie past a limit for the window's run of days.

        The central line decides which side of even odds it is: what is said is the same
        with an ensemble and without.
        """
        holds = self.is_past(window, over, sign=sign)
        likely = limit("probability", "likely")
        if self.draws is None:
            return float(holds)
        drawn = sign * (self.draws[window.first : window.last + 1] - over) > 0
        share = float(np.mean(lasts(drawn, window.run))) if len(drawn) >= window.run else 0.0
        return max(share, likely) if holds else min(share, likely - 0.01)

    def when(self, window: Window, over: float, *, sign: int = 1) -> tuple[int, int] | None:
        """Return between which days it lies past a limit for longest."""
        run = longest_run(sign * (self.line[window.first : window.last + 1] - over) > 0)
        return None if run is None else (window.first + run[0], window.first + run[1])

    def worst_day(self, window: Window, *, sign: int = 1) -> int:
        """Return on which day of the window the central line is worst. [d]."""
        inside = sign * self.line[window.first : window.last + 1]
        return window.first + int(np.argmax(inside))

    def worst(self, window: Window, *, sign: int = 1) -> tuple[float, float | None, float | None]:
        """Return the worst of the central line, and 8 in 10 on that day."""
        day = self.worst_day(window, sign=sign)
        low = high = None
        if self.draws is not None and day < len(self.draws):
            low, high = (float(q) for q in np.quantile(self.draws[day], (0.1, 0.9)))
        return float(self.line[day]), low, high


def course_of(ahead: Forecast, name: str) -> Course:
    """Return a quantity of a forecast by day."""
    draws = None if ahead.ensemble is None else ahead.ensemble.daily(name)
    return Course(ahead.line.daily(name), draws)


def course_findings(evaluation: Evaluation, ahead: Forecast, window: Window) -> Iterator[Finding]:
    """Return what the course goes wrong in."""
    yield from _ph(evaluation, ahead, window)
    yield from _salts(evaluation.crop, ahead, window)
    yield from _ions(evaluation, ahead, window)
    yield from _at_planting(evaluation, ahead, window)
    yield from _not_ready(evaluation, ahead)
    yield from _cold(ahead)


def ph_limits(crop: Crop, band: tuple[float, float], sign: int) -> tuple[float, float]:
    """Return where a pH harms and where it drifts, over (sign +1) or under the band. [pH]."""
    beyond, drifts = limit("ph", "harms_beyond"), limit("ph", "drifts_beyond")
    side = "over" if sign > 0 else "under"
    absolute = limit("ph", f"{'acid_lovers' if is_acid_lover(crop) else 'harms'}_{side}")
    edge = band[1] if sign > 0 else band[0]
    harms = edge + sign * beyond
    # The absolute line counts where the band does not reach to it.
    if sign * (absolute - edge) > drifts:
        harms = min(harms, absolute) if sign > 0 else max(harms, absolute)
    return harms, edge + sign * drifts


def _ph(evaluation: Evaluation, ahead: Forecast, window: Window) -> Iterator[Finding]:
    course, crop, band = course_of(ahead, "ph"), evaluation.crop, evaluation.ph_band
    likely, possible = limit("probability", "likely"), limit("probability", "possible")
    for sign in (1, -1):
        harms, drifts = ph_limits(crop, band, sign)
        grade, past = Grade.HARMS, harms
        chance = course.chance(window, harms, sign=sign)
        if chance < likely:
            grade, past = Grade.DRIFTS, drifts
            chance = course.chance(window, drifts, sign=sign)
        if likely > chance >= possible:
            grade = Grade.BETTER
        if chance >= possible:
            yield _ph_out(evaluation, course, window, sign, grade, past, chance)
        if chance < likely:
            yield from _keeps(evaluation, ahead, sign)


def _ph_out(
    evaluation: Evaluation,
    course: Course,
    window: Window,
    sign: int,
    grade: Grade,
    past: float,
    chance: float,
) -> Finding:
    crop, band = evaluation.crop.name.lower(), evaluation.ph_band
    value, low, high = course.worst(window, sign=sign)
    days = course.when(window, band[1] if sign > 0 else band[0], sign=sign)
    first, last = days or (window.first, window.last)
    sort = "not acid enough" if sign > 0 else "too acid"
    when = f" on day {course.worst_day(window, sign=sign)}"
    if (first, last) != (window.first, window.last):
        when += f", outside the range from day {first} to {last}"
    if grade is Grade.BETTER:
        text = (
            f"pH may leave the range of {band[0]:g} to {band[1]:g} for {crop}: "
            f"{chance:.0%} of the draws do."
        )
    else:
        text = (
            f"pH goes to {written_ph(value)}{when}: {sort} for {crop}, which need {band[0]:g} to "
            f"{band[1]:g}.{_held_by_lime(evaluation) if sign > 0 else ''}"
        )
    return Finding(
        kind=Kind.PH_HIGH if sign > 0 else Kind.PH_LOW,
        grade=grade,
        text=text,
        from_day=first,
        to_day=last,
        value=value,
        low=low,
        high=high,
        limit=past,
        probability=chance,
        why="ph_forecast",
    )


def _held_by_lime(evaluation: Evaluation) -> str:
    """Say that free lime of the parts holds the pH up, where sulfur cannot win against it."""
    acidity = evaluation.acidity
    if acidity is None or not acidity.end.carbonate_left_meq_l or acidity.sum_of("lime") > 1.0:
        return ""
    sulfur = sulfur_for(acidity, sum(evaluation.ph_band) / 2)
    if sulfur <= limit("ph", "sulfur_refused_g_l"):
        return ""
    return (
        f" Free lime in the parts holds it there: it would take {sig(sulfur, 2)} kg of sulfur "
        "per m³. Choose another part."
    )


def _keeps(evaluation: Evaluation, ahead: Forecast, sign: int) -> Iterator[Finding]:
    """Say where a mix that is well enough now goes on to in two years."""
    edge = evaluation.ph_band[1] if sign > 0 else evaluation.ph_band[0]
    far = ahead.ph_on(LINE_DAYS)
    beyond = sign * (far - edge)
    if beyond <= limit("ph_keeps", "drifts_beyond"):
        return
    grade = Grade.HARMS if beyond > limit("ph_keeps", "harms_beyond") else Grade.DRIFTS
    goes = "rising" if sign > 0 else "falling"
    yield Finding(
        kind=Kind.PH_KEEPS_RISING if sign > 0 else Kind.PH_KEEPS_FALLING,
        grade=grade,
        text=f"pH keeps {goes}: in two years, unplanted, it stands at {written_ph(far)}; "
        f"{evaluation.crop.name.lower()} need {evaluation.ph_band[0]:g} to "
        f"{evaluation.ph_band[1]:g}.",
        from_day=LINE_DAYS,
        to_day=LINE_DAYS,
        value=far,
        limit=edge + sign * limit("ph_keeps", "drifts_beyond"),
        why="ph_forecast",
    )


def _salts(crop: Crop, ahead: Forecast, window: Window) -> Iterator[Finding]:
    """Judge the first month of roots; all of the window where watering washes and brings salts."""
    course = Course(ahead.ec, None)
    if not ahead.around.water.l_per_l_day:
        window = replace(window, last=min(window.last, window.first + FIRST_ROOTS_DAYS))
    drifts, harms = (limit("salts", f"{g}_times_most") * crop.ec_max for g in ("drifts", "harms"))
    for grade, past in ((Grade.HARMS, harms), (Grade.DRIFTS, drifts)):
        if course.chance(window, past) < limit("probability", "likely"):
            continue
        value, _, _ = course.worst(window)
        first, last = course.when(window, drifts) or (window.first, window.last)
        what = "burn the roots of" if grade is Grade.HARMS else "hold back"
        yield Finding(
            kind=Kind.SALTS,
            grade=grade,
            text=f"Salts of {written_beside(value, crop.ec_max)} dS/m {what} {crop.name.lower()}, "
            f"which tolerate {crop.ec_max:g}.",
            from_day=first,
            to_day=last,
            value=value,
            limit=past,
            why="ec_later",
        )
        return


def _ions(evaluation: Evaluation, ahead: Forecast, window: Window) -> Iterator[Finding]:
    """Judge sodium, chloride and boron, each by what the crop stands."""
    day, crop = window.first, evaluation.crop
    extract = extract_mg_l({e: ahead.free_at(e, day) for e in ahead.free})
    boron = evaluation.traces.get("B")
    ratio = boron_ratio(boron.value, crop.slug) if boron and boron.value else 0.0
    for kind, name, value, unit in (
        (Kind.SODIUM, "Sodium", extract["Na"], "mg_l"),
        (Kind.CHLORIDE, "Chloride", extract["Cl"], "mg_l"),
        (Kind.BORON, "Boron", ratio, "ratio"),
    ):
        for grade, side in ((Grade.HARMS, "harms"), (Grade.DRIFTS, "drifts")):
            is_ratio = kind is Kind.BORON
            most = limit("boron", f"{side}_ratio") if is_ratio else ion_limit(crop, kind, side)
            if value > most:
                yield Finding(
                    kind=kind,
                    grade=grade,
                    text=_ion_says(name, value, most, unit, crop.name.lower()),
                    from_day=day,
                    value=value,
                    limit=most,
                    why="B_trace" if kind is Kind.BORON else "ec_now",
                )
                break


def _ion_says(name: str, value: float, most: float, unit: str, crop: str) -> str:
    if unit == "ratio":
        return f"{name} is {value:.0%} of what injures {crop}."
    return f"{name} is {value:.0f} mg/L in the extract; {crop} tolerate {most:.0f}."


def _at_planting(evaluation: Evaluation, ahead: Forecast, window: Window) -> Iterator[Finding]:
    """Judge what must be spent before roots go in: ammonium, quick food, warmth."""
    day, crop = window.first, evaluation.crop.name.lower()
    for name, most, what in (
        ("ammonium_mg_l", ahead.limits.ammonium_mg_l, "Ammonium"),
        ("free_ammonia_mg_l", ahead.limits.free_ammonia_mg_l, "Free ammonia"),
    ):
        course = course_of(ahead, name)
        value = float(course.line[day])
        times = value / most
        if times > limit("ammonium", "drifts_times"):
            yield Finding(
                kind=Kind.AMMONIUM,
                of="NH3" if what == "Free ammonia" else "NH4",
                grade=Grade.HARMS if times > limit("ammonium", "harms_times") else Grade.DRIFTS,
                text=f"{what} is {sig(value, 3)} mg/L on day {day}, when it is planted; {crop} "
                f"tolerate {most:g}.",
                from_day=day,
                value=value,
                limit=most,
                why="ready",
            )
    warmth = float(ahead.line.daily("temperature_c")[day])
    over_air = float(ahead.line.daily("over_air_c")[day])
    if warmth > limit("heat", "harms_c") and over_air > 0:
        yield Finding(
            kind=Kind.RUNS_HOT,
            grade=Grade.HARMS,
            text=f"The heap is {warmth:.0f} °C on day {day}, when it is planted.",
            from_day=day,
            value=warmth,
            limit=limit("heat", "harms_c"),
            why="ready",
        )
    fast = ahead.line.daily("fast_left_mg_l")
    spent = max(PULSE_LEFT_MG_L, PULSE_LEFT_SHARE * float(fast[0]))
    raw = any("manure-raw" in b.material.tags for b in evaluation.bulk) or any(
        "manure-raw" in d.material.tags for d in evaluation.doses
    )
    if raw and float(fast[day]) > spent:
        yield Finding(
            kind=Kind.RAW_MANURE,
            grade=Grade.HARMS,
            text=f"Raw manure still rots on day {day}, when it is planted: compost it first.",
            from_day=day,
            value=float(fast[day]),
            limit=spent,
            why="ready",
        )


def _not_ready(evaluation: Evaluation, ahead: Forecast) -> Iterator[Finding]:
    ready = ahead.ready
    if ready.p50 is not None:
        return
    held = " and ".join(HELD_UP[key] for key in (ready.in_vain or ready.waiting_for)[:2])
    text = f"Waiting does not mend this: {held}."
    if ready.later is not None:
        text = f"Not ready within {ready.days} days: until about day {ready.later} {held}."
    yield Finding(kind=Kind.NOT_READY, grade=Grade.DRIFTS, text=text, why="ready")


def _cold(ahead: Forecast) -> Iterator[Finding]:
    """Say that sulfur sleeps."""
    cold = float(np.mean(ahead.around.temperature_c))
    if ahead.heap.sulfurs and cold < limit("heat", "sulfur_sleeps_c"):
        yield Finding(
            kind=Kind.SULFUR_UNSPENT,
            grade=Grade.BETTER,
            text=f"Below {limit('heat', 'sulfur_sleeps_c'):g} °C sulfur hardly turns: it waits for "
            "warmth, then acts all at once. Add none meanwhile.",
            value=cold,
            limit=limit("heat", "sulfur_sleeps_c"),
            why="ph_forecast",
        )
