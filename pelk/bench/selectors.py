"""What is read for the Bench."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date
from typing import Any

from django.db.models import F
from django.utils import timezone

from pelk.bench.formats.documents import DocumentError, MixDocument
from pelk.bench.formats.planning import as_plan
from pelk.bench.models import Recipe
from pelk.core.advice.judgement import Judgement
from pelk.core.advice.remedies import remedied
from pelk.core.advice.remedy_candidates import CANDIDATES, Pantry
from pelk.core.advice.report import report
from pelk.core.base.errors import PelkError
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.core.evaluation.sensitivity import Change, what_changes
from pelk.core.materials.cost import Package
from pelk.core.materials.feeding_styles import FeedingWay
from pelk.core.simulation.ensemble import SAMPLES
from pelk.shelf.domain.families import FAMILIES
from pelk.shelf.models.materials import Material, cores_of
from pelk.shelf.selectors import known_materials, packages_of, shelf_slugs
from pelk.yards.extensions import Need, Place, Use, needs_of_batches, places_of_material
from pelk.yards.models import Yard

PLACES = 20
ALSO_DOSED = frozenset(["castings", "biochar"])
# Families with their members, each a slug and a name.
Groups = list[tuple[str, list[tuple[str, str]]]]


def materials_of(document: MixDocument, yard: Yard) -> dict[str, Material]:
    """Return the materials a document names, as this yard knows them."""
    parts, doses = document.bulk, document.doses
    slugs = {part.material for part in parts} | {dose.material for dose in doses}
    return known_materials(yard, slugs)


def evaluated(
    document: MixDocument,
    yard: Yard,
    held: dict[str, Material] | None = None,
    samples: int = SAMPLES,
    packages: Mapping[str, Package] | None = None,
) -> Evaluation:
    """Return what a document comes to in this yard.

    `held` are the materials it names, where they have been read already; `samples` of
    0 leaves the fan out, for answers while someone types; `packages` is how they were
    bought, where that has been read.

    Raises
    ------
    DocumentError
        With every problem found.
    """
    rows = materials_of(document, yard) if held is None else held
    plan, shelf = as_plan(
        document, {slug: row.core for slug, row in rows.items()}, yard.hand_measures
    )
    try:
        return evaluate(
            plan,
            shelf,
            samples=samples,
            currency=yard.currency,
            packages=packages_of(yard, rows) if packages is None else packages,
        )
    except PelkError as error:
        raise DocumentError([error]) from error


def changes_of(
    document: MixDocument, yard: Yard, held: dict[str, Material], key: str
) -> list[Change]:
    """Return what would change a figure of a document most."""
    cores = {slug: row.core for slug, row in held.items()}
    return what_changes(*as_plan(document, cores, yard.hand_measures), key)


def mended(
    document: MixDocument, yard: Yard, evaluation: Evaluation, judgement: Judgement
) -> Judgement:
    """Return a judgement of a document with its fixes, what is on the shelf first."""
    owned = shelf_slugs(yard)
    named = {part.material for part in document.bulk} | {d.material for d in document.doses}
    wanted = Material.objects.listed_for(yard).filter(slug__in=named | CANDIDATES)
    rows = list(wanted.with_analysis())
    cores = {row.slug: core for row, core in zip(rows, cores_of(rows), strict=True)}
    plan, shelf = as_plan(document, cores, yard.hand_measures)
    style = yard.style
    if document.feeding:
        style = replace(style, feeding=FeedingWay(document.feeding))
    pantry = Pantry({**cores, **shelf}, frozenset(owned), style.allows)
    return remedied(plan, pantry, evaluation, judgement)


@places_of_material.register
def recipes_using(yard: Yard, slug: str) -> list[Place]:
    """Return the recipes whose newest version names a material, twenty at most."""
    recipes = Recipe.objects.of(yard).live().naming(slug)[:PLACES]
    return [Place(recipe.name, recipe.get_absolute_url()) for recipe in recipes]


@needs_of_batches.register
def needs_of_planned(yard: Yard) -> list[Need]:
    """Return what the recipes that are planned as the next batches will take."""
    needs = []
    for recipe in Recipe.objects.of(yard).live().planned().with_versions():
        try:
            made = evaluated(recipe.latest.as_document(), yard, samples=0)
        except DocumentError:
            continue
        uses = uses_of(report(made))
        needs.append(Need(recipe.name, recipe.get_absolute_url(), uses))
    return needs


@dataclass(frozen=True, slots=True)
class Record:
    """How a recipe did: how often it was made, when last and how much, the stars of its pots."""

    made: int
    last_on: date | None = None
    last_l: float | None = None
    stars: int | None = None


NEVER_MADE = Record(0)


def records_of(recipes: Sequence[Recipe]) -> dict[int, Record]:
    """Return what became of some recipes, by their keys; those never made are left out."""
    mixed = Recipe.objects.filter(
        pk__in=[r.pk for r in recipes],
        batches__finished_at__isnull=False,
        batches__deleted_at__isnull=True,
    ).order_by("batches__made_at")
    made = list(mixed.values_list("pk", "batches__made_at", "batches__shown__volume__litres"))
    starred = mixed.order_by().filter(
        batches__fills__deleted_at__isnull=True,
        batches__fills__group__deeds__kind="stars",
        batches__fills__group__deeds__deleted_at__isnull=True,
        batches__fills__group__deeds__on__gte=F("batches__fills__on"),
    )
    deeds = "batches__fills__group__deeds__"
    rated = starred.values_list("pk", f"{deeds}pk", f"{deeds}figures__stars").distinct()
    stars: dict[int, list[float]] = {}
    for pk, _, given in rated:
        stars.setdefault(pk, []).append(float(given))
    records: dict[int, Record] = {}
    for pk, made_at, litres in made:
        times = records[pk].made + 1 if pk in records else 1
        held = stars.get(pk)
        mean = round(sum(held) / len(held)) if held else None
        records[pk] = Record(times, timezone.localtime(made_at).date(), float(litres), mean)
    return records


def uses_of(shown: Mapping[str, Any]) -> tuple[Use, ...]:
    """Return what an evaluation, written as ``pelk.evaluation/1``, takes of each material."""
    parts = [Use(row["material"], row["litres"], row["kg"]) for row in shown["bulk"]]
    doses = [
        Use(row["material"], (row["millilitres"] or 0) / 1000, row["grams"] / 1000)
        for row in shown["doses"]
    ]
    return (*parts, *doses)


def choices(yard: Yard) -> dict[str, Groups]:
    """Return what can be added as ``parts`` and ``doses``, by family, the shelf first."""
    mine = shelf_slugs(yard)
    groups: dict[str, dict[str, list[tuple[str, str]]]] = {"parts": {}, "doses": {}}
    on_shelf: dict[str, list[tuple[str, str]]] = {"parts": [], "doses": []}
    rows = Material.objects.listed_for(yard).values_list("slug", "name", "family", "role")
    for slug, name, family, role in rows:
        kind = "parts" if role == "bulk" else "doses"
        if slug in mine:
            on_shelf[kind].append((slug, name))
        # Castings and biochar are also dosed by weight or by share.
        kinds = ("parts", "doses") if family in ALSO_DOSED else (kind,)
        for each in kinds:
            members = groups[each].setdefault(FAMILIES.get(family, family), [])
            members.append((slug, name))
    return {
        kind: ([("On your shelf", on_shelf[kind])] if on_shelf[kind] else [])
        + list(groups[kind].items())
        for kind in groups
    }
