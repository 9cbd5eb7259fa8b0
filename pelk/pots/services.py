"""What is done with pots."""

from datetime import date
from typing import Any

from django.db import transaction

from pelk.barrow.models import Batch
from pelk.log.models import Station
from pelk.log.services import record
from pelk.pots.models import PotFill, PotGroup
from pelk.ui.numbers import sig
from pelk.yards.models import User, Yard


@transaction.atomic
def keep_group(
    *, yard: Yard, by: User | None, group: PotGroup | None = None, **said: Any
) -> PotGroup:
    """Keep a group of pots as it was described."""
    row = group or PotGroup(yard=yard)
    is_new = row.pk is None
    for name, value in said.items():
        setattr(row, name, value)
    row.save()
    _note(row, by, f"{row.name}: {row.count} pots {'set up' if is_new else 'changed'}")
    return row


@transaction.atomic
def delete_group(*, group: PotGroup, by: User | None) -> None:
    """Put a group away."""
    group.put_away()
    _note(group, by, f"{group.name} put away", with_link=False)


@transaction.atomic
def restore_group(*, group: PotGroup, by: User | None) -> None:
    """Undo it."""
    group.bring_back()
    _note(group, by, f"{group.name} brought back")


@transaction.atomic
def fill(
    *, group: PotGroup, by: User | None, what: str, taken_l: float, how: str, on: date,
    batch: Batch | None = None, reckoned_l: float | None = None,
    filled_count: int | None = None, seasons: int = 0, plants: bool = False,
) -> PotFill:  # fmt: skip
    """Write down what went into a group of pots; planting them says so on the group."""
    row: PotFill = PotFill.objects.create(
        yard=group.yard, group=group, batch=batch, what=what[:120], taken_l=taken_l,
        how=how, on=on, reckoned_l=reckoned_l, filled_count=filled_count,
        seasons=seasons,
    )  # fmt: skip
    if plants:
        group.planted_on = on
        group.save(update_fields=["planted_on"])
    litres = group.yard.measures.volume(taken_l)
    many = f", {sig(filled_count)} pots" if filled_count else ""
    _note(
        group, by, f"{group.name}: {row.get_how_display()} with {litres} of {what}{many}"
    )
    return row


@transaction.atomic
def delete_fill(*, row: PotFill, by: User | None) -> None:
    """Strike out a filling."""
    row.put_away()
    _note(row.group, by, f"{row.group.name}: a filling struck out")


@transaction.atomic
def restore_fill(*, row: PotFill, by: User | None) -> None:
    """Bring a filling back."""
    row.bring_back()
    _note(row.group, by, f"{row.group.name}: a filling brought back")


def _note(group: PotGroup, by: User | None, text: str, *, with_link: bool = True) -> None:
    url = group.get_absolute_url() if with_link else ""
    record(yard=group.yard, by=by, station=Station.POTS, text=text, url=url)
