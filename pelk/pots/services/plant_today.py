"""A recipe mixed and planted in one go."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from django.db import transaction
from django.utils import timezone

from pelk.barrow.services import StoppedError, finish_batch, make_batch
from pelk.bench.models import Recipe
from pelk.core.vessels.planting import planting_need
from pelk.cure.services.due import plant_anyway
from pelk.pots.models import PotFill, PotGroup
from pelk.pots.selectors import correction_of
from pelk.pots.services.groups import GroupSaid, fill, keep_group
from pelk.yards.models import User


@transaction.atomic
def plant_today(
    *,
    recipe: Recipe,
    by: User | None,
    at: datetime,
    group: PotGroup | None,
    said: GroupSaid,
    reason: str = "",
    unmet: Sequence[str] = (),
) -> PotGroup:
    """Mix the newest version of a recipe, fill pots with it and plant them.

    `group` are pots that are there already; `said` describes new ones, or what is new of them.
    What a mix still waits for is `unmet`: then a reason is asked for as well.

    Raises
    ------
    StoppedError
        When a caution stops the mix and no reason was typed, or none can override it.
    """
    if unmet and not reason.strip():
        raise StoppedError("It is not ready yet: write why you plant it all the same.", "reason")
    batch = make_batch(recipe=recipe, by=by, reason=reason, at=at)
    finish_batch(batch=batch, by=by, at=at)
    if unmet:
        plant_anyway(batch=batch, by=by, reason=reason, unmet=list(unmet))
    if group is None or said:
        group = keep_group(yard=recipe.yard, by=by, group=group, **said)
    volumes = batch.evaluation(samples=0).volumes
    factor, _ = correction_of(recipe.yard)
    need = planting_need(group.vessels, volumes.settling, factor)
    fill(
        group=group,
        by=by,
        what=batch.name,
        # What was really taken nobody measured: what is reckoned, as far as the mix goes.
        taken_l=min(need.mix_l, volumes.mixed_l),
        how=PotFill.How.FILLED,
        on=timezone.localdate(at),
        batch=batch,
        filled_count=group.count,
        plants=True,
    )
    return group
