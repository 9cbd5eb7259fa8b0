"""What is read for the Bench."""

from pelk.bench.documents import DocumentError, MixDocument, as_plan
from pelk.core.errors import PelkError
from pelk.core.evaluate import Evaluation, evaluate
from pelk.core.fan import SAMPLES
from pelk.shelf.families import FAMILIES
from pelk.shelf.models import Material
from pelk.shelf.selectors import known_materials, shelf_slugs
from pelk.yards.models import Yard

ALSO_DOSED = frozenset(["castings", "biochar"])
# Families with their members, each a slug and a name.
Groups = list[tuple[str, list[tuple[str, str]]]]


def materials_of(document: MixDocument, yard: Yard) -> dict[str, Material]:
    """Return the materials a document names, as this yard knows them."""
    parts, doses = document.bulk, document.doses
    slugs = {part.material for part in parts} | {dose.material for dose in doses}
    return known_materials(yard, slugs)


def evaluated(
    document: MixDocument, yard: Yard, held: dict[str, Material] | None = None,
    samples: int = SAMPLES,
) -> Evaluation:  # fmt: skip
    """Return what a document comes to in this yard.

    `held` are the materials it names, where they have been read already; `samples` of
    0 leaves the fan out, for answers while someone types.

    Raises
    ------
    DocumentError
        With every problem found.
    """
    rows = materials_of(document, yard) if held is None else held
    plan, shelf = as_plan(document, {slug: row.core for slug, row in rows.items()})
    try:
        return evaluate(plan, shelf, samples=samples)
    except PelkError as error:
        raise DocumentError([error]) from error


def choices(yard: Yard) -> dict[str, Groups]:
    """Return what can be added as ``parts`` and ``doses``, by family, the shelf first."""
    mine = shelf_slugs(yard)
    groups: dict[str, dict[str, list[tuple[str, str]]]] = {"parts": {}, "doses": {}}
    on_shelf: dict[str, list[tuple[str, str]]] = {"parts": [], "doses": []}
    rows = Material.objects.visible_to(yard).values_list("slug", "name", "family", "role")
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
