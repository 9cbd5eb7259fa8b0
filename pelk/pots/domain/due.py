"""What is due with pots: the rows of feeding plans against what was done."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from pelk.core.advice.feedings import Feeding
from pelk.core.base.rounding import sig
from pelk.core.curing.due_states import STALE_DAYS, TaskState, task_state, without_overtaken
from pelk.pots.domain.feeding import plan_of
from pelk.pots.models import PotDeed, PotGroup
from pelk.yards.extensions import DayEvent, events_of_yard
from pelk.yards.models import Yard

TITLES = {
    "top up": "Top up with",
    "dress": "Top-dress:",
    "liquid": "Liquid:",
    "tea": "Water with",
    "acid": "Early spring:",
    "potash": "When buds show:",
    "need": "Dress with",
    "check": "Read the",
    "water": "Rinse:",
    "coated": "Coated feed:",
}


# What a deed that answers a row makes of it; a feed of its own may answer one too.
STATES: dict[str, TaskState] = {
    PotDeed.Kind.DONE: TaskState.DONE,
    PotDeed.Kind.FED: TaskState.DONE,
    PotDeed.Kind.SKIPPED: TaskState.SKIPPED,
}


@dataclass(frozen=True, slots=True)
class FeedRow:
    """A row of the plan, and what became of it."""

    group: PotGroup
    feeding: Feeding
    key: str
    state: TaskState
    deed: PotDeed | None = None

    @property
    def amount(self) -> str:
        """How much a pot gets, and all of them."""
        return amount_of(self.feeding, self.group)

    @property
    def title(self) -> str:
        """What to do, in a few words."""
        return f"{TITLES[self.feeding.kind]} {self.feeding.what}"

    @property
    def is_open(self) -> bool:
        """Whether it waits for someone."""
        return self.state.is_open

    @property
    def is_decided(self) -> bool:
        """Whether it was done or skipped."""
        return self.deed is not None

    @property
    def is_past(self) -> bool:
        """Whether nobody waits for it any more."""
        return self.is_decided or self.state == TaskState.MISSED


def rows_of(group: PotGroup, deeds: Iterable[PotDeed], today: date) -> list[FeedRow]:
    """Return the rows of a group's plan against what was done."""
    plan = plan_of(group, today)
    if plan is None:
        return []
    held = {d.key: d for d in deeds if d.group_id == group.pk and d.key and d.kind in STATES}
    rows = []
    for feeding in plan.rows:
        key = f"{plan.season[0].year}:{feeding.key}"
        deed = held.get(key)
        state = (
            STATES[deed.kind]
            if deed
            else task_state(feeding.on, today, missed_after_days=STALE_DAYS)
        )
        rows.append(FeedRow(group, feeding, key, state, deed))
    return rows


@events_of_yard.register
def feeding_events(yard: Yard, today: date) -> list[DayEvent]:
    """Return what is due with pots for the calendar: what is open, and what has a day to come."""
    return [
        DayEvent(
            f"pots-{row.group.pk}-{row.key}",
            f"{row.group.name}: {row.title}",
            row.feeding.on,
            row.group.get_absolute_url(),
        )
        for row in _rows_of_yard(yard, today)
        if row.feeding.on and row.state.is_ahead
    ]


def due_of_pots(yard: Yard, today: date) -> list[FeedRow]:
    """Return what is due with the pots of a yard, and what comes within a week."""
    rows = [row for row in _rows_of_yard(yard, today) if row.is_open or row.state == TaskState.SOON]
    return sorted(rows, key=lambda r: (r.feeding.on or today, r.group.name))


def _rows_of_yard(yard: Yard, today: date) -> list[FeedRow]:
    """Return the rows of all groups' plans that nobody decided, less what is overtaken."""
    groups = list(PotGroup.objects.of(yard).live().filter(planted_on__isnull=False))
    deeds = PotDeed.objects.of(yard).live().filter(group__in=groups).answering()
    by_group: dict[int, list[PotDeed]] = {}
    for deed in deeds:
        by_group.setdefault(deed.group_id, []).append(deed)
    rows: list[FeedRow] = []
    for group in groups:
        group.yard = yard
        rows += _waiting(rows_of(group, by_group.get(group.pk, ()), today))
    return rows


def _waiting(rows: list[FeedRow]) -> list[FeedRow]:
    """Return the newest of each kind that is due, then what is coming."""
    due = without_overtaken(
        (row for row in rows if row.is_open),
        is_overtaken_by=lambda row, later: row.feeding.kind == later.feeding.kind,
    )
    return [*due, *(row for row in rows if row.state in (TaskState.SOON, TaskState.LATER))]


def amount_of(feeding: Feeding, group: PotGroup) -> str:
    """Say how much a pot gets, and all of them."""
    measures = group.yard.measures
    said = []
    if feeding.g_per_pot:
        whole = measures.mass(feeding.g_per_pot * group.count, 2)
        said.append(f"{measures.mass(feeding.g_per_pot, 2)} a pot, {whole} in all")
    if feeding.ml_per_l:
        can = group.yard.bucket_l
        millilitres = can * feeding.ml_per_l
        is_us = group.yard.system == Yard.System.US
        measured = measures.kitchen(millilitres) if is_us else f"{sig(millilitres, 2)} mL"
        said.append(
            f"{sig(feeding.ml_per_l, 2)} mL/L, {measured} in a can of {measures.volume(can, 2)}"
        )
    if feeding.l_per_pot:
        whole = measures.volume(feeding.l_per_pot * group.count, 2)
        said.append(f"{measures.volume(feeding.l_per_pot, 2)} a pot, {whole} in all")
    return "; ".join(said)
