"""The same judge for a soil that goes on: pH, salts and food of what grows, from a day on."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from pelk.core.advice.grades import Finding, Grade, Kind
from pelk.core.advice.judged_course import Course, Window, ph_limits
from pelk.core.advice.judged_supply import ELEMENT_NAMES
from pelk.core.base.limits import limit
from pelk.core.base.quantities import written_beside, written_ph
from pelk.core.base.rounding import sig
from pelk.core.crops.groups import Crop
from pelk.core.crops.harvest_guard import first_harvest
from pelk.core.materials.material import Material
from pelk.core.simulation.followed_soil import FollowedSoil
from pelk.core.simulation.life import Cleared, Dressed, Life, Planted
from pelk.core.simulation.minerals import WANTED
from pelk.core.simulation.readiness import FIRST_ROOTS_DAYS, limits_for
from pelk.core.simulation.soil_forecast import SoilForecast

Floats = NDArray[np.float64]

LEAST_DAYS = 14
ORDER = {Grade.HARMS: 0, Grade.DRIFTS: 1, Grade.BETTER: 2}


def standing(life: Life, day: int) -> tuple[Crop, ...]:
    """Return what grows in a soil on a day; nothing where it is bare."""
    grown: list[Crop] = []
    for event in sorted(life.events, key=lambda e: e.day):
        if event.day > day:
            break
        if isinstance(event, Planted):
            grown.append(event.crop)
        elif isinstance(event, Cleared):
            grown = []
    return tuple(grown)


def band_of(crops: Sequence[Crop], mineral: float) -> tuple[float, float] | None:
    """Return the pH that suits all of some crops; None where none does, or nothing grows."""
    if not crops:
        return None
    bands = [crop.ph_band(mineral) for crop in crops]
    low, high = max(b[0] for b in bands), min(b[1] for b in bands)
    return (low, high) if low < high else None


def judge_life(forecast: SoilForecast, first: int, last: int) -> tuple[Finding, ...]:
    """Return what a soil goes wrong in between two days, the gravest first.

    Parameters
    ----------
    forecast : SoilForecast
        What comes of its life.
    first, last : int
        Days since mixing: today, and as far as it matters. [d]

    Returns
    -------
    tuple of Finding
        Of what grows on the first day; empty where nothing does.
    """
    crops = standing(forecast.life, first)
    last = min(last, forecast.life.days)
    if not crops or last - first < LEAST_DAYS:
        return ()
    window = Window(first, last, is_planted=True)
    findings = [
        *_ph(forecast, crops, window),
        *_salts(forecast, crops, window),
        *_ammonium(forecast, crops, window),
        *_raw(forecast, crops, window),
        *_short(forecast, crops, window),
    ]
    return tuple(sorted(findings, key=lambda f: (ORDER[f.grade], f.from_day or 0)))


def judge_plantings(forecast: SoilForecast) -> tuple[Finding, ...]:
    """Return what a whole life goes wrong in, each kind once, over each planting's own days."""
    life = forecast.life
    marks = sorted({e.day for e in life.events if isinstance(e, Planted)})
    ends = [*sorted({e.day for e in life.events if isinstance(e, Cleared)}), life.days]
    seen: dict[tuple[Kind, str], Finding] = {}
    for start in marks:
        end = next(day for day in ends if day > start or day == life.days)
        for finding in judge_life(forecast, start, end):
            seen.setdefault((finding.kind, finding.of), finding)
    return tuple(sorted(seen.values(), key=lambda f: (ORDER[f.grade], f.from_day or 0)))


def _ph(forecast: SoilForecast, crops: Sequence[Crop], window: Window) -> Iterator[Finding]:
    band = band_of(crops, forecast.life.soil.mineral)
    names = " and ".join(dict.fromkeys(crop.name.lower() for crop in crops))
    if band is None:
        yield Finding(
            kind=Kind.PH_HIGH,
            grade=Grade.DRIFTS,
            text=f"No one pH suits {names}: give them pots of their own.",
        )
        return
    course = Course(forecast.ph[1], _draws(forecast.ensemble, "ph", forecast.life.days))
    likely = limit("probability", "likely")
    for sign in (1, -1):
        harms, drifts = ph_limits(crops[0], band, sign)
        for grade, past in ((Grade.HARMS, harms), (Grade.DRIFTS, drifts)):
            chance = course.chance(window, past, sign=sign)
            if chance < likely:
                continue
            edge = band[1] if sign > 0 else band[0]
            days = course.when(window, edge, sign=sign) or (window.first, window.last)
            value, low, high = course.worst(window, sign=sign)
            sort = "not acid enough" if sign > 0 else "too acid"
            yield Finding(
                kind=Kind.PH_HIGH if sign > 0 else Kind.PH_LOW,
                grade=grade,
                text=f"pH goes to {written_ph(value)} {_on(forecast, course, window, sign)}, "
                f"outside the range {_when(forecast, days, window)}: {sort} "
                f"for {names}, which need {band[0]:g} to {band[1]:g}.",
                from_day=days[0],
                to_day=days[1],
                value=value,
                low=low,
                high=high,
                limit=past,
                probability=chance,
                why="ph_forecast",
            )
            break


def _salts(forecast: SoilForecast, crops: Sequence[Crop], window: Window) -> Iterator[Finding]:
    weakest = min(crops, key=lambda crop: crop.ec_max)
    course = Course(forecast.ec[1], None)
    for grade, side in ((Grade.HARMS, "harms"), (Grade.DRIFTS, "drifts")):
        past = limit("salts", f"{side}_times_most") * weakest.ec_max
        if not course.is_past(window, past):
            continue
        days = course.when(window, past) or (window.first, window.last)
        value, _, _ = course.worst(window)
        what = "burn the roots of" if grade is Grade.HARMS else "hold back"
        yield Finding(
            kind=Kind.SALTS,
            grade=grade,
            text=f"Salts of {written_beside(value, weakest.ec_max)} dS/m "
            f"{_when(forecast, days, window)} {what} {weakest.name.lower()}, which tolerate "
            f"{weakest.ec_max:g}.",
            from_day=days[0],
            to_day=days[1],
            value=value,
            limit=past,
        )
        return


def _ammonium(forecast: SoilForecast, crops: Sequence[Crop], window: Window) -> Iterator[Finding]:
    """Judge what burns young roots: their first month in it."""
    limits = [limits_for(crop, None) for crop in crops]
    last = min(window.first + FIRST_ROOTS_DAYS, window.last)
    for name, of, what, most in (
        ("ammonium_mg_l", "NH4", "Ammonium", min(x.ammonium_mg_l for x in limits)),
        ("free_ammonia_mg_l", "NH3", "Free ammonia", min(x.free_ammonia_mg_l for x in limits)),
    ):
        course = forecast.daily(name)[window.first : last + 1]
        value = float(course.max())
        if value / most <= limit("ammonium", "drifts_times"):
            continue
        day = window.first + int(np.argmax(course))
        is_harm = value / most > limit("ammonium", "harms_times")
        yield Finding(
            kind=Kind.AMMONIUM,
            of=of,
            grade=Grade.HARMS if is_harm else Grade.DRIFTS,
            text=f"{what} is {sig(value, 3)} mg/L {_day(forecast, day)}; "
            f"{crops[0].name.lower()} tolerate {most:g}.",
            from_day=day,
            to_day=last,
            value=value,
            limit=most,
        )


def _raw(forecast: SoilForecast, crops: Sequence[Crop], window: Window) -> Iterator[Finding]:
    """Say that nothing is eaten yet of a soil with raw manure in it."""
    soil = forecast.life.soil
    held = [m for m, _ in (*soil.parts, *soil.doses)]
    given = {e.day for e in forecast.life.events if isinstance(e, Dressed) and _is_raw(e.material)}
    days = [0, *given] if any(_is_raw(m) for m in held) else [*given]
    eaten = [crop for crop in crops if "food" in crop.tags]
    last = max((d for d in days if d <= window.last), default=None)
    if not eaten or last is None:
        return
    manured_on = forecast.life.mixed_on + timedelta(days=last)
    until = max(first_harvest(crop, manured_on) for crop in eaten)
    until_day = (until - forecast.life.mixed_on).days
    if until_day <= window.first:
        return
    yield Finding(
        kind=Kind.RAW_MANURE,
        grade=Grade.HARMS,
        text=f"Raw manure lies in it: nothing of it is eaten before {until:%-d %B %Y}.",
        from_day=window.first,
        to_day=until_day,
    )


def _is_raw(material: Material) -> bool:
    return "manure-raw" in material.tags


def _short(forecast: SoilForecast, crops: Sequence[Crop], window: Window) -> Iterator[Finding]:
    """Say what runs short of what is still wanted in the window."""
    for element in ("N", *WANTED):
        days = window.first, window.last
        wanted = float(forecast.gained(element, "wanted", *days))
        short = float(forecast.gained(element, "short", *days))
        if wanted <= 0:
            continue
        share = 1 - short / wanted
        if share >= limit("short", "better_share") - 0.05:
            continue
        grade = Grade.DRIFTS if share < limit("short", "drifts_share") else Grade.BETTER
        day = runs_short_on(forecast, element, window.first)
        name = ELEMENT_NAMES[element].capitalize()
        since = "" if day is None else f" It gives out about {_day(forecast, day)}."
        yield Finding(
            kind=Kind.SHORT,
            of=element,
            grade=grade,
            text=f"{name} is {short:.0f} mg/L short of the {wanted:.0f} that is still "
            f"wanted.{since}",
            from_day=day,
            value=wanted - short,
            limit=wanted,
        )


def runs_short_on(forecast: SoilForecast, element: str, first: int) -> int | None:
    """Return the day from which a tenth of what is wanted of an element is lacking; None if never.

    Parameters
    ----------
    forecast : SoilForecast
        What comes of a life.
    element : str
        N, P, K, Ca, Mg or S.
    first : int
        From which day on. [d]
    """
    held = forecast.elements[element]
    wanted = np.diff(held.wanted[first:] * forecast.litres[first:])
    short = np.diff(held.short[first:] * forecast.litres[first:])
    days = np.flatnonzero((wanted > 1e-9) & (short > 0.1 * wanted))
    return first + int(days[0]) if days.size else None


def _draws(ensemble: FollowedSoil | None, name: str, days: int) -> Floats | None:
    if ensemble is None:
        return None
    day, edges, values = np.arange(days + 1.0), ensemble.edges, ensemble.values[name]
    right = np.clip(np.searchsorted(edges, day, "right"), 1, len(edges) - 1)
    part = ((day - edges[right - 1]) / (edges[right] - edges[right - 1]))[:, None]
    return np.asarray(values[right - 1] * (1 - part) + values[right] * part)


def _on(forecast: SoilForecast, course: Course, window: Window, sign: int) -> str:
    return f"on {_day(forecast, course.worst_day(window, sign=sign))}"


def _when(forecast: SoilForecast, days: tuple[int, int], window: Window) -> str:
    if days == (window.first, window.last):
        return "all the while"
    if days[1] >= window.last:
        return f"from {_day(forecast, days[0])} on"
    return f"from {_day(forecast, days[0])} to {_day(forecast, days[1])}"


def _day(forecast: SoilForecast, day: int) -> str:
    on: date = forecast.dates[min(day, len(forecast.dates) - 1)]
    return f"{on:%-d %B}"
