"""What a feed would do to the soil of some pots, before it is written down."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, timedelta
from typing import Any

from pelk.core.advice.grades import Finding, Grade
from pelk.core.advice.judged_life import judge_life, runs_short_on
from pelk.core.advice.vetoes import poisons
from pelk.core.crops.groups import crop
from pelk.core.simulation.soil_forecast import SoilForecast
from pelk.pots.domain.winter import is_asleep
from pelk.pots.models import PotGroup
from pelk.shelf.selectors import known_materials
from pelk.soils.domain.living import follow, refuse_before_mixing
from pelk.soils.models import Soil, SoilEvent

# What it gives is told by this day after it, and its salts by that one.
TOLD_DAYS, SALT_DAYS, LOOK_DAYS = 30, 14, 120
# Weaker than this it feeds nobody awake or asleep. [%]
LEAST_FEED_N_PCT = 1.0
ASLEEP = "roots rest in the cold and a wet winter takes its nitrogen: give it in spring"
RAW = "it is raw: 90 days, or 120 where the crop touches soil, before anything is eaten"


@dataclass(frozen=True, slots=True)
class Given:
    """What one pot gets: in base units, as the soil takes it."""

    slug: str
    do: str
    data: dict[str, Any]
    grams: float
    reads: str


@dataclass(frozen=True, slots=True)
class Effect:
    """What a feed does.

    Attributes
    ----------
    nitrogen_mg_l : float
        Free of it within a month. [mg/L]
    ec : tuple of float
        Saltiest fortnight without it and with it. [dS/m]
    ph : tuple of float
        At the end, without it and with it. [pH]
    until : date
        That end.
    lasts : date or None
        When nitrogen runs short with it; None where it does not.
    harms : tuple of Finding
        What harms with it and did not without.
    mends : bool
        Nothing that was found without it is graver with it, and less is found.
    stops : tuple of str
        Why it is not given at all, or not now.
    """

    nitrogen_mg_l: float
    ec: tuple[float, float]
    ph: tuple[float, float]
    until: date
    lasts: date | None
    harms: tuple[Finding, ...]
    mends: bool
    stops: tuple[str, ...] = ()


def event_of_given(group: PotGroup, soil: Soil, given: Given, on: date) -> SoilEvent:
    """Return the event that a feed is, not kept yet."""
    return SoilEvent(yard=group.yard, soil=soil, on=on, do=given.do, data=given.data)


def effect_of(group: PotGroup, given: Given, on: date) -> Effect | None:
    """Return what a feed does; None where nobody knows what fills the pots.

    Raises
    ------
    PelkError
        Where it cannot be: before the soil was mixed, or more than a soil can take.
    """
    soil = group.soil
    if soil is None:
        return None
    refuse_before_mixing(soil, on)
    until = on + timedelta(days=LOOK_DAYS)
    event = event_of_given(group, soil, given, on)
    bare = follow(soil, until, samples=0)
    fed = follow(soil, until, samples=0, more=[event])
    day = soil.day_of(on)
    month, fortnight = day + TOLD_DAYS, day + SALT_DAYS
    before, after = (judge_life(f, day, f.life.days) for f in (bare, fed))
    stops = stops_of(group, given, on)
    known = {(f.kind, f.of) for f in before if f.grade is Grade.HARMS}
    harms = tuple(f for f in after if f.grade is Grade.HARMS and (f.kind, f.of) not in known)
    short = runs_short_on(fed, "N", day)
    return Effect(
        _gained(fed, month) - _gained(bare, month),
        (float(bare.ec[1][day : fortnight + 1].max()), float(fed.ec[1][day : fortnight + 1].max())),
        (float(bare.ph[1][-1]), float(fed.ph[1][-1])),
        until,
        None if short is None else soil.date_of(short),
        harms,
        not harms and not stops and len(after) < len(before),
        stops,
    )


def stops_of(group: PotGroup, given: Given, on: date) -> tuple[str, ...]:
    """Return why a feed is not given to a group: what poisons it, what its season forbids."""
    material = known_materials(group.yard, [given.slug])[given.slug].core
    grown = crop(group.crop)
    reasons = [poisons(material, grown, given.grams / group.pot_l)] if group.pot_l else []
    nitrogen = material.composition.get("N")
    feeds = nitrogen is not None and nitrogen.typ >= LEAST_FEED_N_PCT
    if feeds and material.role != "bulk" and is_asleep(group, on.month):
        reasons.append(ASLEEP)
    if "manure-raw" in material.tags and "food" in grown.tags:
        reasons.append(RAW)
    return tuple(reason for reason in reasons if reason)


def _gained(forecast: SoilForecast, day: int) -> float:
    """Return the nitrogen that has come free and stayed or gone on by a day. [mg/L]."""
    held = forecast.elements["N"]
    return float(held.free[day] + held.wanted[day] - held.short[day] + held.leached[day])
