"""What is done with recipes."""

from datetime import datetime
from typing import Any

from django.db import transaction
from django.utils import timezone

from pelk.bench.formats.documents import MixDocument, write
from pelk.bench.models import BlendVersion, FeedBlend, Recipe, RecipeVersion
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.yards.models import User, Yard

NAME_LENGTH, NOTE_LENGTH = 80, 200


@transaction.atomic
def save_recipe(
    *,
    yard: Yard,
    by: User | None,
    document: MixDocument,
    recipe: Recipe | None = None,
    note: str = "",
    at: datetime | None = None,
) -> Recipe:
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
        note=note.strip()[:NOTE_LENGTH],
        by=by,
        created_at=at or timezone.now(),
    )
    _index(recipe, document)
    _note(recipe, by, f"{recipe.name} saved as v{number}", at=at)
    return recipe


@transaction.atomic
def copy_recipe(*, recipe: Recipe, by: User | None) -> Recipe:
    """Start a new recipe from the newest version of another."""
    document = recipe.latest.as_document()
    document.name = f"{recipe.name[: NAME_LENGTH - 5]} copy"
    copy = Recipe.objects.create(yard=recipe.yard, name=document.name)
    RecipeVersion.objects.create(recipe=copy, number=1, document=write(document), by=by)
    copy.tags = recipe.tags
    _index(copy, document)
    _note(copy, by, f"{recipe.name} copied as {copy.name}")
    return copy


@transaction.atomic
def rename_recipe(*, recipe: Recipe, by: User | None, name: str) -> Recipe:
    """Give a recipe another name; its versions keep theirs."""
    recipe.lock()
    before, recipe.name = recipe.name, name[:NAME_LENGTH]
    recipe.save(update_fields=["name"])
    _index(recipe, recipe.latest.as_document())
    _note(recipe, by, f"{before} renamed {recipe.name}")
    return recipe


@transaction.atomic
def tag_recipe(*, recipe: Recipe, tags: str) -> None:
    """Give a recipe its tags, as a list with commas."""
    words = dict.fromkeys(t.strip().lower()[:24] for t in tags.split(",") if t.strip())
    recipe.lock()
    recipe.tags = ", ".join(words)[:200]
    _index(recipe, recipe.latest.as_document())


def _index(recipe: Recipe, document: MixDocument) -> None:
    """Keep beside a recipe what the book searches."""
    slugs = [part.material for part in document.bulk]
    slugs += [dose.material for dose in document.doses]
    tags = "".join(f" #{tag}#" for tag in recipe.tags.split(", ") if tag)
    words = f"{recipe.name} {document.crop} {' '.join(slugs).replace('-', ' ')}{tags}"
    recipe.crop, recipe.search = document.crop, words.lower()
    recipe.save(update_fields=["crop", "search", "tags"])


@transaction.atomic
def plan_recipe(
    *, recipe: Recipe, by: User | None, planned: bool, at: datetime | None = None
) -> None:
    """Plan a recipe as a next batch, or take that back: the buying list follows."""
    recipe.lock()
    if (recipe.planned_at is not None) is planned:
        return
    recipe.planned_at = (at or timezone.now()) if planned else None
    recipe.save(update_fields=["planned_at"])
    word = "added to the buying list" if planned else "removed from the buying list"
    _note(recipe, by, f"{recipe.name} {word}", at=at)


@transaction.atomic
def keep_blend(
    *,
    yard: Yard,
    by: User | None,
    name: str,
    document: dict[str, Any],
    blend: FeedBlend | None = None,
    note: str = "",
    at: datetime | None = None,
) -> FeedBlend:
    """Keep a dry feed blend as its next version; a save without a change adds none."""
    if blend is None:
        blend, number = FeedBlend.objects.create(yard=yard, name=name[:NAME_LENGTH]), 1
    else:
        blend = FeedBlend.objects.of(yard).select_for_update().get(pk=blend.pk)
        latest = blend.latest
        if latest.document == document:
            return blend
        number, blend.name = latest.number + 1, name[:NAME_LENGTH]
        blend.save(update_fields=["name"])
    BlendVersion.objects.create(
        blend=blend,
        number=number,
        document=document,
        note=note.strip()[:NOTE_LENGTH],
        created_at=at or timezone.now(),
    )
    _note(blend, by, f"{blend.name} saved as v{number}, a feed blend", at=at)
    return blend


def _note(
    row: Recipe | FeedBlend,
    by: User | None,
    text: str,
    *,
    with_link: bool = True,
    at: datetime | None = None,
) -> None:
    url = row.get_absolute_url()
    record(yard=row.yard, by=by, station=Station.BENCH, text=text, url=url, at=at)


RECIPES = Shelving(
    model=Recipe,
    station=Station.BENCH,
    says=lambda row, word: f"{row.name} {word}",
    address=Recipe.get_absolute_url,
)
BLENDS = Shelving(
    model=FeedBlend,
    station=Station.BENCH,
    says=lambda row, word: f"{row.name} {word}",
    address=FeedBlend.get_absolute_url,
)
