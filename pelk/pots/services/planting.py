"""Planting some pots in layers: the mix, then what goes into the planting hole."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from typing import TypedDict, Unpack

from django.db import transaction

from pelk.barrow.models import Batch
from pelk.bench.forms.entry_lines import Shop
from pelk.pots.domain.planting import HolePiece
from pelk.pots.models import PotGroup
from pelk.pots.services.fed import give
from pelk.pots.services.groups import fill, refresh
from pelk.yards.models import User


class Filled(TypedDict):
    """What went into the pots besides, as `fill` takes it."""

    what: str
    taken_l: float
    how: str
    batch: Batch | None
    reckoned_l: float | None
    filled_count: int | None
    seasons: int
    plants: bool


@transaction.atomic
def plant_in_layers(
    *,
    group: PotGroup,
    by: User | None,
    hole: Sequence[HolePiece],
    shop: Shop,
    on: date,
    **filled: Unpack[Filled],
) -> None:
    """Fill some pots, and put into their planting holes what was said: roots mix it in.

    Raises
    ------
    PelkError
        Where it cannot be; then nothing is written.
    """
    fill(group=group, by=by, on=on, **filled)
    for piece in hole:
        give(
            group=group,
            by=by,
            given=piece.given,
            material=shop.fillings.material(piece.given.slug),
            on=on,
            said=f"{piece.name}, in the planting hole",
            refreshes=False,
        )
    if hole:
        refresh(group)
