"""Two on one recipe: what the other one kept meanwhile, beside what is about to be kept."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from pelk.bench.formats.documents import MixDocument
from pelk.bench.models import Recipe
from pelk.core.base.rounding import sig
from pelk.shelf.models.materials import Material


@dataclass(frozen=True, slots=True)
class Differs:
    """One line that is not the same."""

    what: str
    theirs: str
    mine: str


@dataclass(frozen=True, slots=True)
class Meanwhile:
    """A version that was kept after the page was opened."""

    number: int
    by: str
    at: datetime
    rows: list[Differs]


def kept_meanwhile(
    recipe: Recipe, base: int, over: int, mine: MixDocument, held: dict[str, Material]
) -> Meanwhile | None:
    """Return what stands in the way of keeping; None where nothing does.

    Parameters
    ----------
    recipe : Recipe
    base : int
        The newest version when the page was opened; 0 where it is not known.
    over : int
        The version that was seen, and is to be kept over.
    mine : MixDocument
        What is about to be kept.
    held : dict of str to Material
        For the names.
    """
    latest = recipe.latest
    if not base or latest.number in (base, over):
        return None
    theirs = latest.as_document()
    if theirs == mine:
        return None
    by = latest.by.shown_name if latest.by else "Somebody"
    return Meanwhile(latest.number, by, latest.created_at, _rows(theirs, mine, held))


def _rows(theirs: MixDocument, mine: MixDocument, held: dict[str, Material]) -> list[Differs]:
    first, second = (_lines(document, held) for document in (theirs, mine))
    return [
        Differs(what, first.get(what, "\u2013"), second.get(what, "\u2013"))
        for what in dict.fromkeys([*first, *second])
        if first.get(what) != second.get(what)
    ]


def _lines(document: MixDocument, held: dict[str, Material]) -> dict[str, str]:
    """Return a recipe as lines that can be compared by a reader."""
    lines = {"name": document.name, "for": document.crop}
    if document.batch:
        size = document.batch.volume or document.batch.part
        lines["how much"] = f"{sig(size, 3)} {document.batch.unit}" if size else "pots"
    for part in document.bulk:
        amount = part.parts if part.parts is not None else part.percent
        amount = amount if amount is not None else part.amount
        unit = "%" if part.percent is not None else part.unit or "parts"
        lines[_name(part.material, held)] = f"{sig(amount or 0.0, 3)} {unit}"
    for dose in document.doses:
        lines[_name(dose.material, held)] = f"{sig(dose.amount, 3)} {dose.unit}"
    return lines


def _name(slug: str, held: dict[str, Material]) -> str:
    return str(held[slug].short_name) if slug in held else slug
