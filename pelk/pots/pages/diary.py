"""A season of some pots drawn above another: pictures, height, flower, fed, pH, picked."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np
from django.urls import reverse

from pelk.core.crops.groups import crop
from pelk.core.crops.living import livings
from pelk.core.crops.pests import PESTS
from pelk.pots.models import PotDeed, PotGroup
from pelk.soils.models import SoilEvent
from pelk.ui.chart_numbers import ChartNumbers, lane_numbers
from pelk.ui.days import short_day
from pelk.ui.scales import Scale, Tick, path
from pelk.ui.units import Measures

WIDE, NARROW, LEFT, RIGHT, LEFT_NARROW = 1232.0, 358.0, 150.0, 20.0, 58.0
PHOTO_W, PHOTO_H, PLOT, LANE = 66.0, 50.0, 144.0, 28.0
PHONE_DAYS = 92
YEAR = 365
LEAST_TALL_CM = 20.0
# A month that begins nearer the end has no room for its name.
ROOM_DAYS = 10
DO = {PotDeed.Kind.FED: "dressed", PotDeed.Kind.DONE: "dressed", PotDeed.Kind.RINSED: "rinsed"}
TOPPED = "topped"


@dataclass(frozen=True, slots=True)
class Dot:
    """Something at a day: where, how large, what it says."""

    x: float
    y: float
    r: float
    says: str
    do: str = ""

    @property
    def use_x(self) -> float:
        """Where its picture begins."""
        return self.x - 9

    @property
    def use_y(self) -> float:
        """Where its picture begins."""
        return self.y - 9


@dataclass(frozen=True, slots=True)
class Picture:
    """A photograph on the line of time."""

    x: float
    url: str
    small: str
    says: str

    @property
    def middle(self) -> float:
        """Where its thread falls from."""
        return self.x + PHOTO_W / 2


@dataclass(frozen=True, slots=True)
class SeasonDrawn:
    """One season, drawn from its own top."""

    title: str
    top: float
    base: float
    pictures: list[Picture]
    line: str
    area: str
    heights: list[Dot]
    ticks: list[Tick]
    flower: Dot | None
    picked: list[Dot]
    picked_says: str
    stars: str
    fed: list[Dot]
    read: list[Dot]
    trouble: list[Dot]
    is_empty: bool

    @property
    def photo_y(self) -> float:
        """Where the photographs hang."""
        return self.top

    @property
    def thread(self) -> float:
        """Where the threads begin."""
        return self.top + PHOTO_H

    @property
    def fed_y(self) -> float:
        """The lane of what was given."""
        return self.base + 20

    @property
    def read_y(self) -> float:
        """The lane of pH."""
        return self.base + 20 + LANE

    @property
    def foot(self) -> float:
        """Under its lanes."""
        return self.base + 34 + LANE


@dataclass(frozen=True, slots=True)
class DiaryPage:
    """Both seasons on one axis."""

    width: float
    height: float
    left: float
    right: float
    seasons: list[SeasonDrawn]
    months: list[Tick]
    months_y: float
    today: float | None
    says: list[str]
    label: str
    numbers: ChartNumbers


@dataclass(frozen=True, slots=True)
class _Season:
    """What is known of a season: its first day, and what lies in it."""

    group: PotGroup
    start: date
    days: int
    deeds: list[PotDeed]

    def day(self, on: date) -> int:
        return (on - self.start).days

    @property
    def heights(self) -> list[tuple[int, float]]:
        return [
            (self.day(d.on), d.figures["height_cm"]) for d in self.deeds if "height_cm" in d.figures
        ]

    @property
    def flowered(self) -> int | None:
        """Day of the first flower, as it was seen."""
        return next((self.day(d.on) for d in self.deeds if d.figures.get("flower")), None)

    def tall_on(self, day: int) -> float | None:
        """Height on a day, between two that were measured. [cm]."""
        held = self.heights
        if not held or not held[0][0] <= day <= held[-1][0]:
            return None
        days, talls = (np.array(x, dtype=float) for x in zip(*held, strict=True))
        return float(np.interp(day, days, talls))


def diary_page(
    group: PotGroup,
    today: date,
    *,
    beside: PotGroup | None = None,
    back: int = 1,
    is_narrow: bool = False,
) -> DiaryPage:
    """Return a season of some pots above another of theirs, or of other pots."""
    first, days = _window(group, today)
    other_group = beside or group
    other_first = first if beside else _years_back(first, back)
    above = _season(group, first, days)
    below = _season(other_group, other_first, days)
    left, wide = (LEFT_NARROW, NARROW) if is_narrow else (LEFT, WIDE)
    start, end = 0, days
    if is_narrow:
        now = min(max((today - first).days, 0), days)
        start, end = max(0, now - 2 * PHONE_DAYS // 3), min(days, now + PHONE_DAYS // 3)
    x = Scale(start, max(end, start + 1), left, wide - RIGHT)
    tallest = max([LEAST_TALL_CM, *(cm for s in (above, below) for _, cm in s.heights)])
    top = 24.0
    drawn = [_drawn(above, x, top, tallest, (start, end))]
    months_y = drawn[0].foot
    drawn.append(_drawn(below, x, months_y + 44, tallest, (start, end)))
    now_day = (today - first).days
    return DiaryPage(
        wide,
        drawn[1].foot + 12,
        left,
        wide - RIGHT,
        drawn,
        _months(first, x, start, end),
        months_y,
        x(now_day) if start <= now_day <= end else None,
        _compared(above, below, today, group.yard.measures, is_same=beside is None),
        f"{group.name}: {_title(above)} above {_title(below)}",
        _numbers((above, below), group.yard.measures),
    )


def _window(group: PotGroup, today: date) -> tuple[date, int]:
    """Return where a season is drawn from, and for how many days."""
    planted = group.planted_on or today - timedelta(days=30)
    grown = crop(group.crop)
    if livings()[grown.slug].is_perennial:
        start = planted
        while (today - start).days >= YEAR:
            start = _years_back(start, -1)
        return start.replace(day=1), YEAR
    days = int(grown.season_days) + 60
    return planted.replace(day=1), min(max(days, 150), YEAR)


def _years_back(on: date, years: int) -> date:
    return date(on.year - years, on.month, 1)


def _season(group: PotGroup, start: date, days: int) -> _Season:
    deeds = group.deeds.filter(
        deleted_at=None, on__gte=start, on__lt=start + timedelta(days=days)
    ).exclude(kind=PotDeed.Kind.WATERED)
    return _Season(
        group, start, days, list(deeds.select_related("event", "group__yard").order_by("on", "pk"))
    )


def _title(season: _Season) -> str:
    return f"{season.group.name} {season.start.year}"


def _drawn(
    season: _Season, x: Scale, top: float, tallest: float, shown: tuple[int, int]
) -> SeasonDrawn:
    base = top + PHOTO_H + PLOT
    y = Scale(0.0, tallest * 1.1, base, top + PHOTO_H + 8)
    measures = season.group.yard.measures

    def seen(day: int) -> bool:
        return shown[0] <= day <= shown[1]

    held = [(day, cm) for day, cm in season.heights if seen(day)]
    line = [(x(day), y(cm)) for day, cm in held]
    area = [(line[0][0], base), *line, (line[-1][0], base)] if len(line) > 1 else []
    heights, fed, read, picked, trouble = [], [], [], [], []
    flower, stars, kg = None, "", 0.0
    for deed in season.deeds:
        day, figures = season.day(deed.on), deed.figures
        if not seen(day):
            continue
        on = short_day(deed.on)
        if "height_cm" in figures:
            words = f"{measures.span(figures['height_cm'])}, {on}"
            many = f"{figures['leaves']:g}" if "leaves" in figures else ""
            heights.append(Dot(x(day), y(figures["height_cm"]), 3.0, words, many))
        if figures.get("flower") and flower is None:
            tall = season.tall_on(day)
            flower = Dot(x(day), y(tall) if tall else base - 40, 6.0, f"first flower, {on}")
        if "ph" in figures:
            read.append(Dot(x(day), base + 20 + LANE, 5.0, f"{figures['ph']:.1f}"))
        if "kg" in figures:
            kg += figures["kg"]
            words = f"{measures.mass(1000 * figures['kg'])}, {on}"
            picked.append(Dot(x(day), base - 12, min(3 + 4 * figures["kg"] ** 0.5, 11), words))
        if "stars" in figures:
            stars = f"{figures['stars']:g} of 5 stars"
        if any(figures.get(slug) for slug in PESTS):
            trouble.append(Dot(x(day), base + 20, 0.0, deed.says))
        do = _fed_mark(deed)
        if do:
            fed.append(Dot(x(day), base + 20, 0.0, deed.says, do))
    return SeasonDrawn(
        _title(season),
        top,
        base,
        _pictures(season, x, shown),
        path(line) if len(line) > 1 else "",
        path(area) + "Z" if area else "",
        heights,
        _tall_ticks(y, tallest, measures),
        flower,
        picked,
        f"picked {measures.mass(1000 * kg)}" if kg else "",
        stars,
        fed,
        read,
        trouble,
        not season.deeds,
    )


def _numbers(seasons: Sequence[_Season], measures: Measures) -> ChartNumbers:
    """Return what both seasons hold, a row for each thing seen or done, by its day."""
    heads = ("day", "season", "height", "leaves", "pH", "picked", "what was seen or done")
    rows = []
    for season in seasons:
        for deed in season.deeds:
            had = deed.figures
            rows.append(
                (
                    f"{deed.on:%-d %b %Y}",
                    _title(season),
                    measures.span(had["height_cm"]) if "height_cm" in had else "–",
                    f"{had['leaves']:g}" if "leaves" in had else "–",
                    f"{had['ph']:.1f}" if "ph" in had else "–",
                    measures.mass(1000 * had["kg"]) if "kg" in had else "–",
                    deed.says,
                )
            )
    return lane_numbers("diary", heads, rows)


def _fed_mark(deed: PotDeed) -> str:
    """Return the mark of what a deed gave; empty for what gave nothing."""
    if deed.event is not None and deed.event.do in (
        SoilEvent.Do.DRESSED,
        SoilEvent.Do.POURED,
        SoilEvent.Do.RINSED,
        SoilEvent.Do.TOPPED,
    ):
        return str(deed.event.do)
    return DO.get(PotDeed.Kind(deed.kind), "") if deed.event is None else ""


def _pictures(season: _Season, x: Scale, shown: tuple[int, int]) -> list[Picture]:
    """Return the photographs that have room beside one another, the oldest first."""
    photos = season.group.photos.filter(
        deleted_at=None, on__gte=season.start, on__lt=season.start + timedelta(days=season.days)
    ).order_by("on", "pk")
    hung: list[Picture] = []
    for photo in photos:
        day = season.day(photo.on)
        at = x(day) - PHOTO_W / 2
        if not shown[0] <= day <= shown[1] or (hung and at < hung[-1].x + PHOTO_W + 4):
            continue
        url = reverse("pots:photo", args=[photo.pk])
        hung.append(Picture(at, url, f"{url}?small=1", photo.note or short_day(photo.on, "j F")))
    return hung


def _tall_ticks(y: Scale, tallest: float, measures: Measures) -> list[Tick]:
    name, centimetres = measures.length
    whole = tallest / centimetres
    step = next(s for s in (5, 10, 20, 25, 50, 100, 200, 500) if whole / s <= 2.5)
    return [
        Tick(y(n * step * centimetres), f"{n * step} {name}" if n == 1 else f"{n * step}")
        for n in range(1, int(whole / step) + 1)
    ]


def _months(first: date, x: Scale, start: int, end: int) -> list[Tick]:
    ticks, day = [], first
    while (day - first).days <= end:
        at = (day - first).days
        if start <= at <= end - ROOM_DAYS:
            ticks.append(Tick(x(at), f"{day:%b}"))
        day = (day + timedelta(days=32)).replace(day=1)
    return ticks


def _compared(
    above: _Season, below: _Season, today: date, measures: Measures, *, is_same: bool
) -> list[str]:
    """Say how this season stands against the other: first flower, height, what was picked."""
    than = "than last year" if is_same else f"than {below.group.name}"
    says = []
    flowers = (above.flowered, below.flowered)
    if flowers[0] is not None and flowers[1] is not None:
        sooner = flowers[1] - flowers[0]
        word = "sooner" if sooner > 0 else "later"
        days = f"{abs(sooner)} day{'s' if abs(sooner) != 1 else ''}"
        says.append(
            f"The first flower came {days} {word} {than}."
            if sooner
            else "The first flower came on the same day."
        )
    day = min((today - above.start).days, above.heights[-1][0]) if above.heights else None
    talls = (above.tall_on(day), below.tall_on(day)) if day is not None else (None, None)
    if talls[0] is not None and talls[1] is not None:
        more = talls[0] - talls[1]
        word = "taller" if more > 0 else "shorter"
        says.append(f"The plants stand {measures.span(abs(more))} {word} {than}.")
    kg = [sum(d.figures.get("kg", 0.0) for d in s.deeds) for s in (above, below)]
    if all(kg):
        word = "more" if kg[0] > kg[1] else "less"
        says.append(f"{measures.mass(1000 * abs(kg[0] - kg[1]))} {word} was picked {than} so far.")
    return says
