"""The recipe book: each recipe as strata, where its pH goes, what it costs, how it did."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date

from django.utils.safestring import SafeString

from pelk.bench.domain.starting_points import StartingPoint
from pelk.bench.formats.documents import DocumentError, MixDocument
from pelk.bench.models import Recipe
from pelk.bench.pages.sums import a_litre
from pelk.bench.selectors import NEVER_MADE, evaluated, records_of
from pelk.core.base.quantities import written_ph
from pelk.core.crops.groups import library as crops
from pelk.core.evaluation.evaluate import Evaluation
from pelk.shelf.models.materials import Material
from pelk.shelf.selectors import known_materials, packages_of
from pelk.ui.ph_dot import ph_dot_svg
from pelk.ui.slab import slab_svg
from pelk.ui.tally import tally_svg
from pelk.ui.textures import texture_of
from pelk.yards.models import Yard


@dataclass(frozen=True, slots=True)
class BookRow:
    """One recipe of the book; what cannot be worked out yet is left empty."""

    recipe: Recipe
    slab: SafeString
    crop: str
    ph: SafeString | str
    per_litre: str
    made: int
    tally: SafeString
    last_l: str
    last_on: date | None
    stars: int | None


@dataclass(frozen=True, slots=True)
class StartingMix:
    """A mix to start from, with its slab."""

    point: StartingPoint
    slab: SafeString


def book_rows(recipes: list[Recipe], yard: Yard) -> list[BookRow]:
    """Make a page of recipes ready to be looked at."""
    documents = {recipe.pk: recipe.latest.as_document() for recipe in recipes}
    held = known_materials(yard, _named(documents.values()))
    packages = packages_of(yard, held)
    records = records_of(recipes)
    rows = []
    for recipe in recipes:
        document, record = documents[recipe.pk], records.get(recipe.pk, NEVER_MADE)
        try:
            made = evaluated(document, yard, held, 0, packages)
        except DocumentError:
            made = None
        rows.append(
            BookRow(
                recipe,
                _slab(f"r{recipe.pk}", document, held),
                crops()[document.crop].name.lower() if document.crop in crops() else "",
                _ph(made) if made else "",
                _cost(made, yard) if made else "",
                record.made,
                tally_svg(record.made),
                yard.measures.volume(record.last_l) if record.last_l else "",
                record.last_on,
                record.stars,
            )
        )
    return rows


def starting_mixes(points: Iterable[StartingPoint], yard: Yard) -> list[StartingMix]:
    """Return mixes to start from as slabs."""
    points = list(points)
    held = known_materials(yard, {p.material for point in points for p in point.document.bulk})
    return [StartingMix(point, _slab(point.key, point.document, held)) for point in points]


def _named(documents: Iterable[MixDocument]) -> set[str]:
    named: set[str] = set()
    for document in documents:
        named |= {part.material for part in document.bulk} | {d.material for d in document.doses}
    return named


def _slab(key: str, document: MixDocument, held: dict[str, Material]) -> SafeString:
    layers = [
        (texture_of(held[part.material]), part.parts or part.percent or part.amount or 0.0)
        for part in document.bulk
        if part.material in held
    ]
    return slab_svg(key, layers)


def _ph(made: Evaluation) -> SafeString | str:
    if made.forecast is None:
        return ""
    ph = float(made.forecast.ph[1][-1])
    return ph_dot_svg(ph, made.ph_band, written_ph(ph))


def _cost(made: Evaluation, yard: Yard) -> str:
    each = made.cost.per_litre
    return "" if each is None else a_litre(each, yard)
