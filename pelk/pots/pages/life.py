"""A soil's life drawn: pH, what happened, food and salts on one axis of time."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from numpy.typing import NDArray

from pelk.bench.pages.verdicts import BANDS
from pelk.core.advice.grades import Finding, Kind
from pelk.core.advice.judged_life import band_of, judge_life, runs_short_on, standing
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig
from pelk.core.crops.groups import library
from pelk.core.crops.living import livings
from pelk.core.simulation.soil_forecast import SoilForecast
from pelk.soils.models import Soil, SoilEvent
from pelk.ui.chart_numbers import ChartNumbers, chart_numbers
from pelk.ui.days import short_day
from pelk.ui.scales import Scale, Tick, path, round_step, steps

Floats = NDArray[np.float64]

WIDE, LEFT, RIGHT = 1190.0, 176.0, 44.0
PH_TOP, PH_BASE, LANE = 34.0, 214.0, 246.0
FOOD_TALL, GAP, SALT_TALL = 62.0, 24.0, 46.0
LONGEST_SHOWN, AHEAD_PERENNIAL, AHEAD_LEAST = 730, 180, 60
WEEK = 7
NAMES = {"N": "Nitrogen", "P": "Phosphorus", "K": "Potassium", "Ca": "Calcium"}
NAMES |= {"Mg": "Magnesium", "S": "Sulfur"}
ALWAYS = ("N", "K")
# Rows of the table behind the picture.
TOLD = 25


@dataclass(frozen=True, slots=True)
class Mark:
    """Something that happened, on the lane of events."""

    x: float
    do: str
    says: str
    hair: float
    is_planned: bool = False

    @property
    def use_x(self) -> float:
        """Where its picture begins."""
        return self.x - 9


@dataclass(frozen=True, slots=True)
class Stave:
    """One element: what is at hand each week beside what is wanted."""

    name: str
    state: str
    word: str
    top: float
    base: float
    at_hand: str
    planned: str
    wanted: str
    short: tuple[tuple[float, float], ...]


@dataclass(frozen=True, slots=True)
class LifePicture:
    """Everything the page draws."""

    width: float
    height: float
    left: float
    right: float
    ph_ticks: list[Tick]
    band: tuple[float, float] | None
    band_says: str
    fan: str
    line: str
    points: list[tuple[float, float, str]]
    marks: list[Mark]
    lane: float
    staves: list[Stave]
    salts: Stave
    salt_line: str
    salt_points: list[tuple[float, float, str]]
    too_salty: float | None
    months: list[Tick]
    foot: float
    today: float
    ph_state: tuple[str, str]
    ph_ends: tuple[float, float, str]
    leaves: tuple[float, str] | None
    label: str
    numbers: ChartNumbers

    @property
    def plot_width(self) -> float:
        """From the left edge of the plot to the right."""
        return self.right - self.left

    @property
    def band_height(self) -> float:
        """Of the band."""
        return round(self.band[1] - self.band[0], 1) if self.band else 0.0

    @property
    def lane_top(self) -> float:
        """Where the marks of the lane begin."""
        return self.lane - 9

    @property
    def lane_foot(self) -> float:
        """Under the lane."""
        return self.lane + 14

    @property
    def leaves_foot(self) -> float:
        """Where the flag of leaving the band ends."""
        return PH_BASE

    @property
    def food_tall(self) -> float:
        """Height of a stave of food."""
        return FOOD_TALL


@dataclass(frozen=True, slots=True)
class Said:
    """A finding as the page says it."""

    state: str
    word: str
    text: str


@dataclass(frozen=True, slots=True)
class SoilPage:
    """A soil as its page shows it."""

    soil: Soil
    forecast: SoilForecast
    picture: LifePicture
    says: list[Said]
    ph: str
    ec: str
    thirsty_days: int


def last_day(soil: Soil, events: Sequence[SoilEvent], today: date) -> date:
    """Return how far a soil is followed: the season's end, at least a while ahead."""
    until = today + timedelta(days=AHEAD_LEAST)
    for event in events:
        if event.do != SoilEvent.Do.PLANTED:
            continue
        crop = library()[event.data["crop"]]
        if livings()[crop.slug].is_perennial:
            until = max(until, today + timedelta(days=AHEAD_PERENNIAL))
        else:
            until = max(until, event.on + timedelta(days=int(crop.season_days) + 14))
    return min(until, today + timedelta(days=LONGEST_SHOWN))


@dataclass(frozen=True, slots=True)
class Ahead:
    """What is planned: its marks (days, marks, words), and the soil followed with all of it."""

    marks: Sequence[tuple[date, str, str]] = ()
    forecast: SoilForecast | None = None


def soil_page(
    soil: Soil, forecast: SoilForecast, events: Sequence[SoilEvent], today: date, ahead: Ahead
) -> SoilPage:
    """Return a soil made ready for its page."""
    day = min(max(soil.day_of(today), 0), forecast.life.days)
    findings = judge_life(forecast, day, forecast.life.days)
    planned = judge_life(ahead.forecast, day, forecast.life.days) if ahead.forecast else findings
    return SoilPage(
        soil,
        forecast,
        _picture(soil, forecast, events, day, findings, ahead),
        _says(findings, planned) or _nothing_wrong(forecast, day),
        written_ph(float(forecast.ph[1][day])),
        sig(float(forecast.ec[1][day]), 2),
        forecast.line.thirsty_days,
    )


def _says(findings: Sequence[Finding], planned: Sequence[Finding]) -> list[Said]:
    """Say what is wrong: what the feeds as planned mend is no fault, what they bring is one."""
    known = {(f.kind, f.of) for f in findings}
    stays = {(f.kind, f.of) for f in planned}
    said = [_said(f) for f in findings if f.kind is not Kind.SHORT]
    for finding in planned:
        new = (finding.kind, finding.of) not in known
        if new or finding.kind is Kind.SHORT:
            state, word, _ = BANDS[finding.grade]
            fed = "" if planned is findings else "Fed as planned: "
            said.append(Said(state, word, f"{fed}{finding.text}"))
    mended = [f for f in findings if f.kind is Kind.SHORT and (f.kind, f.of) not in stays]
    if mended:
        names = " and ".join(NAMES.get(f.of, f.of).lower() for f in mended)
        said.append(
            Said(
                "good",
                "Good",
                f"The planned feeds make up the difference; without them {names} lacks.",
            )
        )
    return said


def _said(finding: Finding) -> Said:
    state, word, _ = BANDS[finding.grade]
    return Said(state, word, finding.text)


def _nothing_wrong(forecast: SoilForecast, day: int) -> list[Said]:
    if not standing(forecast.life, day):
        return [Said("wait", "At rest", "Nothing grows in it.")]
    return [Said("good", "Good", "pH, salts and food hold as far as can be seen.")]


def _picture(
    soil: Soil,
    forecast: SoilForecast,
    events: Sequence[SoilEvent],
    today: int,
    findings: Sequence[Finding],
    ahead: Ahead,
) -> LifePicture:
    last = forecast.life.days
    first = max(0, last - LONGEST_SHOWN)
    x = Scale(first, last, LEFT, WIDE - RIGHT)
    days = np.arange(first, last + 1)
    crops = standing(forecast.life, today)
    band = band_of(crops, forecast.life.soil.mineral)
    low, high = float(forecast.ph[0][first:].min()), float(forecast.ph[2][first:].max())
    read = [(e, e.data) for e in events if e.do == SoilEvent.Do.READ and soil.day_of(e.on) >= first]
    shown = [d["ph"] for _, d in read if "ph" in d]
    low, high = min([low, *shown, *(band or ())]) - 0.1, max([high, *shown, *(band or ())]) + 0.1
    y = Scale(low, high, PH_BASE, PH_TOP)
    step = round_step(high - low, 4)
    fan = [*zip(x.many(days), y.many(forecast.ph[2][first:]), strict=True)]
    fan += [*zip(x.many(days[::-1]), y.many(forecast.ph[0][first:][::-1]), strict=True)]
    line = [*zip(x.many(days), y.many(forecast.ph[1][first:]), strict=True)]
    top = LANE + 26.0
    staves = []
    for element in _shown_elements(findings):
        staves.append(_food(forecast, ahead.forecast, element, x, first, today, top))
        top += FOOD_TALL + GAP
    salts, salt_line, salt_points, too_salty = _salts(forecast, soil, read, x, first, today, top)
    foot = top + SALT_TALL
    end = float(forecast.ph[1][last])
    leaves = next(
        (f.from_day for f in findings if f.kind in (Kind.PH_HIGH, Kind.PH_LOW) and f.from_day), None
    )
    return LifePicture(
        WIDE,
        foot + 34,
        LEFT,
        WIDE - RIGHT,
        [Tick(y(v), f"{v:g}") for v in steps(low, high, step)],
        (y(band[1]), y(band[0])) if band else None,
        f"{crops[0].name.lower()} {band[0]:g} to {band[1]:g}" if band else "",
        path(fan) + "Z",
        path(line),
        [
            (x(soil.day_of(e.on)), y(d["ph"]), f"pH {d['ph']:.1f}, {short_day(e.on)}")
            for e, d in read
            if "ph" in d
        ],
        [
            *(_mark(soil, e, x, y, forecast) for e in events if soil.day_of(e.on) >= first),
            *(
                Mark(x(soil.day_of(on)), do, f"{short_day(on)}, planned: {says}", LANE - 12, True)
                for on, do, says in ahead.marks
                if soil.day_of(on) <= last
            ),
        ],
        LANE,
        staves,
        salts,
        salt_line,
        salt_points,
        too_salty,
        _months(soil, x, first, last),
        foot,
        x(today),
        _ph_state(forecast, today),
        (x(last), y(end), f"{end:.1f}"),
        (x(leaves), short_day(soil.date_of(leaves), "j F")) if leaves and leaves > today else None,
        f"{soil.name}: pH {written_ph(float(forecast.ph[1][today]))} today, "
        f"{written_ph(end)} on {soil.date_of(last):%-d %B %Y}",
        _numbers(forecast, _shown_elements(findings), first),
    )


def _numbers(forecast: SoilForecast, elements: Sequence[str], first: int) -> ChartNumbers:
    """Return a soil's life at even days: pH with its doubt, salts, what is free of each element."""
    free = [NAMES[e].lower() + " free, mg/L" for e in elements]
    rows = []
    for day in np.unique(np.linspace(first, forecast.life.days, TOLD).astype(int)):
        middle, low, high = (written_ph(float(forecast.ph[i][day])) for i in (1, 0, 2))
        cells = [f"{forecast.dates[day]:%-d %b %Y}", middle, low, high]
        cells.append(sig(float(forecast.ec[1][day]), 2))
        cells += [f"{max(float(forecast.elements[e].free[day]), 0.0):.0f}" for e in elements]
        rows.append((float(day), cells))
    heads = ("day", "pH", "8 in 10 from", "to", "salts, dS/m", *free)
    return chart_numbers("life-of-the-soil", heads, rows)


def _shown_elements(findings: Sequence[Finding]) -> list[str]:
    """Return nitrogen and potassium, and whatever runs short."""
    short = [f.of for f in findings if f.kind is Kind.SHORT]
    return [*ALWAYS, *(e for e in short if e not in ALWAYS)][:4]


def _ph_state(forecast: SoilForecast, today: int) -> tuple[str, str]:
    now = float(forecast.ph[1][today])
    later = float(forecast.ph[1][min(today + 60, forecast.life.days)])
    goes = "holding" if abs(later - now) < 0.1 else "rising" if later > now else "falling"
    return "wait" if goes != "holding" else "good", f"{written_ph(now)}, {goes}"


def _mark(soil: Soil, event: SoilEvent, x: Scale, y: Scale, forecast: SoilForecast) -> Mark:
    day = soil.day_of(event.on)
    hair = y(float(forecast.ph[1][min(day, forecast.life.days)]))
    said = f", {event.said}" if event.said else ""
    return Mark(x(day), event.do, f"{short_day(event.on)}: {event.get_do_display()}{said}", hair)


def _food(
    forecast: SoilForecast,
    with_plan: SoilForecast | None,
    element: str,
    x: Scale,
    first: int,
    today: int,
    top: float,
) -> Stave:
    """Draw what is at hand of an element each week beside what is wanted, then what is planned."""
    last = forecast.life.days
    weeks = list(range(first, last, WEEK))
    ends = [min(week + WEEK, last) for week in weeks]
    wanted, taken, at_hand = _by_week(forecast, element, weeks, ends)
    most = max(float(wanted.max(initial=0.0)) * 1.6, 5.0)
    y = Scale(0.0, most, top + FOOD_TALL, top)
    middle = [(week + end) / 2 for week, end in zip(weeks, ends, strict=True)]
    tops = y.many(at_hand)
    area = [(x(first), top + FOOD_TALL), (x(first), tops[0])]
    area += [*zip(x.many(middle), tops, strict=True), (x(last), tops[-1])]
    area.append((x(last), top + FOOD_TALL))
    planned = ""
    if with_plan is not None:
        _, fed, more = _by_week(with_plan, element, weeks, ends)
        if ((more > at_hand + 0.05 * most) & (at_hand < most)).any():
            taken = np.maximum(taken, fed)
            over = y.many(np.maximum(more, at_hand))
            between = [*zip(x.many(middle), over, strict=True)]
            between += [*zip(x.many(middle[::-1]), tops[::-1], strict=True)]
            planned = path(between) + "Z"
    short = tuple(
        (x(week), x(end) - x(week))
        for week, end, want, took in zip(weeks, ends, wanted, taken, strict=True)
        if want > 0.2 and took < 0.9 * want
    )
    state, word = _food_state(forecast, with_plan, element, today)
    return Stave(
        NAMES[element],
        state,
        word if wanted.any() or state == "short" else "nothing wants it",
        top,
        top + FOOD_TALL,
        path(area) + "Z",
        planned,
        path([*zip(x.many(middle), y.many(wanted), strict=True)]),
        short,
    )


def _by_week(
    forecast: SoilForecast, element: str, weeks: list[int], ends: list[int]
) -> tuple[Floats, Floats, Floats]:
    """Return what is wanted, taken and at hand of an element in each week. [mg/L]."""
    wanted = np.maximum(forecast.gained(element, "wanted", weeks, ends), 0.0)
    taken = np.maximum(wanted - forecast.gained(element, "short", weeks, ends), 0.0)
    return wanted, taken, taken + np.maximum(forecast.elements[element].free[ends], 0.0)


def _food_state(
    forecast: SoilForecast, with_plan: SoilForecast | None, element: str, today: int
) -> tuple[str, str]:
    """Say from when an element lacks, with all feeds as planned and without."""
    day = runs_short_on(forecast, element, today)
    if day is None:
        return "good", "enough"
    later = runs_short_on(with_plan, element, today) if with_plan is not None else day
    if later is None:
        return "good", "enough, fed as planned"
    on = forecast.dates[later]
    return "short", "short now" if later <= today + WEEK else f"short from {short_day(on, 'j F')}"


def _salts(
    forecast: SoilForecast,
    soil: Soil,
    read: Sequence[tuple[SoilEvent, dict[str, float]]],
    x: Scale,
    first: int,
    today: int,
    top: float,
) -> tuple[Stave, str, list[tuple[float, float, str]], float | None]:
    ec, days = forecast.ec[1], np.arange(first, forecast.life.days + 1)
    crops = standing(forecast.life, today)
    most = min((crop.ec_max for crop in crops), default=None)
    y = Scale(0.0, max(float(ec[first:].max()), most or 0.0) * 1.1, top + SALT_TALL, top)
    now = sig(float(ec[today]), 2)
    is_over = most is not None and float(ec[today]) > most
    word = f"{now} dS/m" if most is None else f"{now} of {most:g} dS/m"
    points = [
        (x(soil.day_of(e.on)), y(d["ec_ds_m"]), f"{d['ec_ds_m']:g} dS/m, {short_day(e.on)}")
        for e, d in read
        if "ec_ds_m" in d
    ]
    stave = Stave(
        "Salts", "short" if is_over else "good", word, top, top + SALT_TALL, "", "", "", ()
    )
    line = path([*zip(x.many(days), y.many(ec[first:]), strict=True)])
    return stave, line, points, y(most) if most is not None else None


def _months(soil: Soil, x: Scale, first: int, last: int) -> list[Tick]:
    ticks, day = [], soil.date_of(first).replace(day=1)
    while day <= soil.date_of(last):
        if soil.day_of(day) >= first:
            text = f"{day:%b}" if day.month != 1 else f"{day:%Y}"
            ticks.append(Tick(x(soil.day_of(day)), text))
        day = (day + timedelta(days=32)).replace(day=1)
    wide = max(len(ticks) // 14, 1)
    return [Tick(t.at, t.text if i % wide == 0 else "") for i, t in enumerate(ticks)]
