"""Last year's soil: looked at step by step, renewed through a recipe."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from pelk.bench.models import Recipe
from pelk.bench.services import save_recipe
from pelk.core.old_soil.questions import BY_KEY, UNKNOWN, next_step
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.pots.domain.feeding import left_in
from pelk.pots.domain.old_soil import OLD_MIX, as_mix, held_of, judged, read_of
from pelk.pots.models import OldSoil, PotGroup
from pelk.shelf.selectors import known_materials
from pelk.shelf.services.materials import Said, add_own, say_values
from pelk.yards.models import User, Yard


@transaction.atomic
def begin_old_soil(
    *,
    yard: Yard,
    by: User | None,
    name: str,
    litres: float,
    pot_l: float,
    made_of: str,
    next_crop: str,
    group: PotGroup | None = None,
    habit: str = PotGroup.Habit.NORMAL,
    kind: str = "container",
    last_family: str = "",
    next_family: str = "",
) -> OldSoil:
    """Begin an inspection; what a heap of the yard has left in it is reckoned once."""
    left = left_in(group, timezone.localdate()) if group else {}
    row: OldSoil = OldSoil.objects.create(
        yard=yard,
        group=group,
        name=name,
        litres=litres,
        pot_l=pot_l,
        made_of=made_of,
        habit=habit,
        kind=kind,
        next_crop=next_crop,
        last_family=last_family,
        next_family=next_family,
        left_mg_l=left,
    )
    _note(row, by, f"{row.name}: old soil checked")
    return row


@transaction.atomic
def answer(*, soil: OldSoil, by: User | None, key: str, said: str | float) -> None:
    """Keep an answer; the last one says in the log what follows."""
    step = BY_KEY[key]
    allowed = {name for name, _, _ in step.options} | {UNKNOWN}
    if step.options and said not in allowed:
        return
    # Two may answer at once: what the other one said stays.
    soil.lock()
    soil.answers = {**soil.answers, key: said}
    if next_step(soil.answers) is None and soil.told_at is None:
        soil.told_at = timezone.now()
        _, decision = judged(soil)
        _note(soil, by, f"{soil.name}: {decision.why}")
    soil.save(update_fields=["answers", "told_at"])


@transaction.atomic
def mix_old_soil(*, soil: OldSoil, by: User | None) -> Recipe:
    """Carry a prescription to the Bench: the old soil becomes a material with what it still holds.

    Raises
    ------
    PelkError
        Where nothing is to be mixed.
    """
    soil.lock()
    if soil.recipe is not None and soil.recipe.deleted_at is None:
        return soil.recipe
    yard: Yard = soil.yard
    like = known_materials(yard, [OLD_MIX])[OLD_MIX]
    document = as_mix(soil, OLD_MIX)
    own = add_own(
        yard=yard,
        by=by,
        name=f"Old soil, {soil.name}, {soil.created_at:%B %Y}",
        family=like.family,
        role=like.role,
        like=like,
    )
    for values, ground, note in (
        (read_of(soil), "yours", "read at its inspection"),
        (held_of(soil), "guess", "what the charge ledger says is left"),
    ):
        if values:
            said = Said(ground, timezone.localdate(), note)
            own = say_values(yard=yard, by=by, material=own, said=said, values=values)
    document.bulk[0].material = own.slug
    recipe = save_recipe(yard=yard, by=by, document=document, note="from an inspection")
    soil.recipe = recipe
    soil.save(update_fields=["recipe"])
    return recipe


def _note(soil: OldSoil, by: User | None, text: str) -> None:
    url = soil.get_absolute_url()
    record(yard=soil.yard, by=by, station=Station.POTS, text=text[:300], url=url)


OLD_SOILS = Shelving(
    model=OldSoil,
    station=Station.POTS,
    says=lambda row, word: f"{row.name}: inspection {word}",
    address=OldSoil.get_absolute_url,
)
