"""A group of pots by the year: what filled it, what was given and read, what it bore."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

from pelk.pots.models import PotDeed, PotFill

FED = (PotDeed.Kind.DONE, PotDeed.Kind.FED, PotDeed.Kind.TEA, PotDeed.Kind.MANURE)
NOTED = (
    PotDeed.Kind.NOTE,
    PotDeed.Kind.BUDS,
    PotDeed.Kind.LEAVES,
    PotDeed.Kind.DRAINED,
    PotDeed.Kind.LIFTED,
    PotDeed.Kind.SAW,
    PotDeed.Kind.RINSED,
    PotDeed.Kind.CLEARED,
)


@dataclass(slots=True)
class Season:
    """One year of some pots."""

    year: int
    fills: list[PotFill] = field(default_factory=list)
    crops: list[PotDeed] = field(default_factory=list)
    fed: list[PotDeed] = field(default_factory=list)
    skipped: int = 0
    readings: list[PotDeed] = field(default_factory=list)
    notes: list[PotDeed] = field(default_factory=list)
    harvests: list[PotDeed] = field(default_factory=list)
    judged: list[PotDeed] = field(default_factory=list)

    @property
    def kg(self) -> float:
        """What was harvested. [kg]."""
        return float(sum(d.figures.get("kg", 0.0) for d in self.harvests))

    @property
    def stars(self) -> int | None:
        """How it was judged last."""
        return round(self.judged[0].figures["stars"]) if self.judged else None

    @property
    def recipe_id(self) -> int | None:
        """The recipe that most of its new mix was made by."""
        made = [f for f in self.fills if f.batch is not None and f.batch.recipe_id]
        most = max(made, key=lambda f: f.taken_l, default=None)
        return most.batch.recipe_id if most and most.batch else None


def seasons(fills: Sequence[PotFill], deeds: Sequence[PotDeed]) -> list[Season]:
    """Return the years of some pots, the newest first."""
    by_year: dict[int, Season] = {}

    def of(year: int) -> Season:
        return by_year.setdefault(year, Season(year))

    for fill in fills:
        of(fill.on.year).fills.append(fill)
    for deed in deeds:
        season = of(deed.on.year)
        kept = {
            PotDeed.Kind.PLANTED: season.crops,
            PotDeed.Kind.READING: season.readings,
            PotDeed.Kind.HARVEST: season.harvests,
            PotDeed.Kind.STARS: season.judged,
            **dict.fromkeys(FED, season.fed),
            **dict.fromkeys(NOTED, season.notes),
        }.get(deed.kind)  # type: ignore[call-overload]
        if kept is not None:
            kept.append(deed)
        elif deed.kind == PotDeed.Kind.SKIPPED:
            season.skipped += 1
    return sorted(by_year.values(), key=lambda s: -s.year)
