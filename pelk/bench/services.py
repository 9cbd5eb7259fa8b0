"""What is done with recipes."""

from datetime import datetime

from django.db import transaction
from django.utils import timezone

from pelk.bench.documents import MixDocument, write
from pelk.bench.models import Recipe, RecipeVersion
from pelk.log.models import Station
from pelk.log.services import record
from pelk.yards.models import User, Yard

NAME_LENGTH = 80


@transaction.atomic
def save_recipe(
    *, yard: Yard, by: User | None, document: MixDocument, recipe: Recipe | None = None,
    at: datetime | None = None,
) -> Recipe:  # fmt: skip
    """Keep a recipe as its next version; a save without a change adds none."""
    name, data = document.name[:NAME_LENGTH], write(document)
    if recipe is None:
        recipe = Recipe.objects.create(yard=yard, name=name)
        number = 1
    else:
        recipe = Recipe.objects.of(yard).select_for_update().get(pk=recipe.pk)
        latest = recipe.latest
        if latest.as_document() == document:
            return recipe
        number = latest.number + 1
        recipe.name = name
        recipe.save(update_fields=["name"])
    RecipeVersion.objects.create(
        recipe=recipe,
        number=number,
        document=data,
        by=by,
        created_at=at or timezone.now(),
    )
    _note(recipe, by, f"{recipe.name} kept as v{number}", at=at)
    return recipe


@transaction.atomic
def copy_recipe(*, recipe: Recipe, by: User | None) -> Recipe:
    """Start a new recipe from the newest version of another."""
    document = recipe.latest.as_document()
    document.name = f"{recipe.name[: NAME_LENGTH - 5]} copy"
    copy = Recipe.objects.create(yard=recipe.yard, name=document.name)
    RecipeVersion.objects.create(recipe=copy, number=1, document=write(document), by=by)
    _note(copy, by, f"{recipe.name} copied as {copy.name}")
    return copy


@transaction.atomic
def rename_recipe(*, recipe: Recipe, by: User | None, name: str) -> Recipe:
    """Give a recipe another name; its versions keep theirs."""
    before, recipe.name = recipe.name, name[:NAME_LENGTH]
    recipe.save(update_fields=["name"])
    _note(recipe, by, f"{before} renamed {recipe.name}")
    return recipe


@transaction.atomic
def plan_recipe(
    *, recipe: Recipe, by: User | None, planned: bool, at: datetime | None = None
) -> None:
    """Plan a recipe as a next batch, or take that back: the buying list follows."""
    recipe.planned_at = (at or timezone.now()) if planned else None
    recipe.save(update_fields=["planned_at"])
    word = "planned as a next batch" if planned else "no longer planned"
    _note(recipe, by, f"{recipe.name} {word}", at=at)


@transaction.atomic
def delete_recipe(*, recipe: Recipe, by: User | None) -> None:
    """Put a recipe away; batches made from it keep their own copy."""
    recipe.put_away()
    _note(recipe, by, f"{recipe.name} deleted", with_link=False)


@transaction.atomic
def restore_recipe(*, recipe: Recipe, by: User | None) -> None:
    """Undo the delete."""
    recipe.bring_back()
    _note(recipe, by, f"{recipe.name} brought back")


def _note(
    recipe: Recipe, by: User | None, text: str, *, with_link: bool = True,
    at: datetime | None = None,
) -> None:  # fmt: skip
    url = recipe.get_absolute_url() if with_link else ""
    record(yard=recipe.yard, by=by, station=Station.BENCH, text=text, url=url, at=at)
