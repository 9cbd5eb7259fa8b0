"""What the buttons of the Bench do to its rows; every one can be undone by the page."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import TypeVar

from django.http import QueryDict

from pelk.bench.forms.mix import VOLUME_WAYS, BenchForm
from pelk.bench.forms.mix_rows import DoseRow, PartRow
from pelk.core.advice.grades import Change, DoKind
from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.measures import rate_from_area
from pelk.ui.numbers import read_count, read_number
from pelk.ui.units import sizes

Row = TypeVar("Row", PartRow, DoseRow)
SLUG_MAX = 80
# A rate per area as tables and bags print it, to grams a square metre.
AREA_RATES = {"g/m2": 1.0, "oz/yd2": 33.906, "lb/100 ft2": 48.824, "kg/100 m2": 10.0}
DEPTHS = {"cm": 1.0, "in": 2.54}
TINY = 1e-6
FULL_PERCENT = 100.0


def carry_out(form: BenchForm, action: str, post: QueryDict) -> None:
    """Carry out a button that changes the rows."""
    verb, _, rest = action.partition(":")
    if verb == "fix":
        mend(form, read_changes(rest))
    edit = EDITS.get(verb)
    if edit is not None:
        edit(form, rest)
    if verb == "area":
        from_a_bed_table(form, post)
    if verb == "share-out":
        share_out(form)


def _place(text: str, rows: list[Row]) -> int | None:
    at = read_count(text)
    return at if at is not None and at < len(rows) else None


def _drop(rows: list[Row], rest: str) -> None:
    """Take a row out: the one that stood there when the button was drawn, no other."""
    place, _, stood = rest.partition(":")
    slug, _, count = stood.partition(":")
    at = _place(place, rows)
    if at is not None and rows[at].material == slug and count == str(len(rows)):
        del rows[at]


def _move(rows: list[Row], rest: str) -> None:
    start, _, end = rest.partition(":")
    at = _place(start, rows)
    # "-1" is above the first.
    to = read_count(end.removeprefix("-"))
    if at is not None and to is not None:
        row = rows.pop(at)
        rows.insert(0 if end.startswith("-") else min(to, len(rows)), row)


def _swap_part(form: BenchForm, rest: str) -> None:
    place, _, slug = rest.partition(":")
    at = _place(place, form.parts)
    if at is not None and slug:
        form.parts[at].material = slug[:SLUG_MAX]


def _swap_dose(form: BenchForm, rest: str) -> None:
    """Put something else in a dose's place: as much as does the same job by weight."""
    place, _, named = rest.partition(":")
    slug, _, times = named.partition(":")
    at, factor = _place(place, form.doses), read_number(times or "1")
    if at is None or not slug:
        return
    row = form.doses[at]
    row.material = slug[:SLUG_MAX]
    amount = read_number(row.amount)
    if factor and amount is not None:
        row.amount = sig(amount * factor, 3)


EDITS: dict[str, Callable[[BenchForm, str], None]] = {
    "drop-part": lambda form, rest: _drop(form.parts, rest),
    "drop-dose": lambda form, rest: _drop(form.doses, rest),
    "move-part": lambda form, rest: _move(form.parts, rest),
    "move-dose": lambda form, rest: _move(form.doses, rest),
    "swap-part": _swap_part,
    "swap-dose": _swap_dose,
}


def read_changes(text: str) -> tuple[Change, ...]:
    """Return the changes that a button posted; nothing where it is something else."""
    try:
        rows = json.loads(text)
        return tuple(
            Change(
                do=DoKind(row["do"]),
                material=str(row["material"])[:80],
                into=str(row["into"])[:80],
                litres=float(row["litres"]),
                g_per_l=float(row["g_per_l"]),
                share=float(row["share"]),
                day=int(row["day"]),
            )
            for row in rows[:10]
        )
    except (ValueError, TypeError, KeyError, OverflowError):
        return ()


def mend(form: BenchForm, changes: tuple[Change, ...]) -> None:
    """Carry out a fix on the rows."""
    for change in changes:
        rows = [row for row in form.doses if row.material == change.material]
        if change.do is DoKind.DOSE:
            for row in rows:
                form.doses.remove(row)
            form.doses.append(DoseRow(change.material, sig(change.g_per_l, 4), "g/L"))
        elif change.do is DoKind.SCALE:
            for row in rows:
                amount = read_number(row.amount)
                if amount is not None:
                    row.amount = sig(amount * change.share, 3)
        elif change.do is DoKind.TAKE_OUT:
            form.doses = [row for row in form.doses if row.material != change.material]
        elif change.do is DoKind.SWAP:
            _swap_share(form, change)


def _swap_share(form: BenchForm, change: Change) -> None:
    """Put a share of the whole mix of one part in place of another's."""
    typed = [read_number(row.parts) for row in form.parts]
    ones = [form.litres_of_one(row) for row in form.parts]
    known = [n * one for n, one in zip(typed, ones, strict=True) if n is not None and one]
    if len(known) < len(typed):
        return
    more = change.share * sum(known)
    for row, size in zip(form.parts, known, strict=True):
        if row.material == change.material:
            row.parts = sig((size - more) / (form.litres_of_one(row) or 1.0), 3)
    form.parts = [row for row in form.parts if (read_number(row.parts) or 0.0) > TINY]
    add_part(
        form, PartRow(change.into, sig(more / (form.litres_of_one(PartRow("", "")) or 1.0), 3))
    )


def add_part(form: BenchForm, new: PartRow) -> None:
    """Add a part, or its amount to the row of the same material, in the unit that stands there."""
    there = next((row for row in form.parts if row.material == new.material), None)
    if there is None:
        form.parts.append(new)
        return
    one, other = form.litres_of_one(there), form.litres_of_one(new)
    factor = other / one if one and other else 1.0
    more = (read_number(new.parts) or 0.0) * factor
    there.parts = sig((read_number(there.parts) or 0.0) + more, 4)


def share_out(form: BenchForm) -> None:
    """Let the lines that are not locked make up what is missing of a hundred."""
    numbers = [read_number(row.parts) for row in form.parts]
    known = [n for n in numbers if n is not None]
    free = [i for i, row in enumerate(form.parts) if not row.locked]
    if len(known) < len(numbers) or not free:
        return
    fixed = sum(n for i, n in enumerate(known) if i not in free)
    moving = sum(known[i] for i in free)
    if moving <= 0 or fixed >= FULL_PERCENT:
        return
    for i in free:
        form.parts[i].parts = sig(known[i] * (FULL_PERCENT - fixed) / moving, 4)


def in_the_new_way(form: BenchForm, evaluation: Evaluation | None, *, by_volume: bool) -> None:
    """Write the parts in the way that was just chosen.

    What was typed stands: 2 parts are 2 gallons, of the same mix. Only percents are
    reckoned, and volumes where they are wanted `by_volume` or the sum is to stay the same.
    """
    if evaluation is None or form.way == form.way_was or not form.way_was:
        return
    volumes = evaluation.volumes
    keeps_sum = form.how == "sum" and form.way_was in VOLUME_WAYS
    for row, share, loose in zip(form.parts, volumes.shares, volumes.loose_l, strict=True):
        is_counted, is_volumes = bool(row.unit), form.way in VOLUME_WAYS
        if is_counted and is_volumes:
            continue
        row.unit = row.held = ""
        if form.way == "percent":
            row.parts = sig(100 * share, 4)
        elif is_volumes and (by_volume or keeps_sum):
            row.parts = sig(loose / sizes()[form.way], 4)
        elif is_counted:
            row.parts = sig(loose / sizes()[form.way_was], 4)


def from_a_bed_table(form: BenchForm, post: QueryDict) -> None:
    """Write a dose from a rate per area and the depth it is worked in to."""
    at = _place(post.get("area_dose", ""), form.doses)
    rate, depth = (read_number(post.get(name, "")) for name in ("area_rate", "area_depth"))
    if rate is None or depth is None or rate <= 0 or depth <= 0:
        form.errors_kept["area"] = "Enter the rate and the working depth."
        return
    if at is None:
        form.errors_kept["area"] = "Add the dose first, then convert its rate."
        return
    grams = rate * AREA_RATES.get(post.get("area_unit", ""), 1.0)
    cm = depth * DEPTHS.get(post.get("area_depth_unit", ""), 1.0)
    form.doses[at].amount = sig(rate_from_area(grams, cm), 3)
    form.doses[at].unit = "g/L"
