"""``pelk.mix/1``: a recipe with its batch, as a file and as the Bench keeps it.

Reading has two steps: the shape (keys and types) here, then the sense (`planning`).
Every refusal names the key's path, what was found and what is allowed.
"""

import re
from contextlib import suppress
from typing import Any, Literal

import msgspec
from msgspec import UNSET, Struct, UnsetType

from pelk.core.base.errors import PelkError
from pelk.core.materials.feeding_styles import FeedingWay

FORMAT = "pelk.mix/1"
WORDS = {"moisture": "dry, moist, wet", "inoculum": "none, some, rich"}


class VesselsDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """Pots of one kind."""

    kind: str
    count: int
    litres: float | None = None


class BatchDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """How much: a volume, vessels, or the size of one part."""

    volume: float | None = None
    vessels: list[VesselsDocument] = []
    part: float | None = None
    unit: str = "L"
    spare: float = 0.05


class PartDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """A bulk row: parts, or percent, or an amount with its unit.

    ``unit_l`` is what one unit holds, loose, where the unit has no size of its own: a bag,
    a bale, a brick, a bucket, a barrow.
    """

    material: str
    parts: float | None = None
    percent: float | None = None
    amount: float | None = None
    unit: str | None = None
    unit_l: float | None = None


class DoseDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """A dose row; ``per`` counts one bulk row only."""

    material: str
    amount: float
    unit: str
    per: str | None = None


class ConditionsDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """Where the mix lies and what waters it."""

    temperature_c: float = 20.0
    monthly_c: list[float] | None = None
    start: str | None = None
    moisture: Literal["dry", "moist", "wet"] = "moist"
    inoculum: Literal["none", "some", "rich"] | None = None
    water_alkalinity_mg_l: float = 0.0
    water_l_per_l_week: float = 0.0
    leaching_fraction: float = 0.15
    water_ions_mg_l: dict[str, float] = {}
    water_ions_as_given: bool = False


class KeptDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """What of a recipe the Bench does not edit, and must not lose."""

    days: int = 180
    pot_height_cm: float | None = None
    leaching_fraction: float = 0.15
    vessels: list[VesselsDocument] = []
    materials: list[dict[str, Any]] = []
    water_alkalinity_mg_l: float = 0.0
    water_ions_mg_l: dict[str, float] = {}
    water_ions_as_given: bool = False


class MixDocument(Struct, forbid_unknown_fields=True, omit_defaults=True):
    """A recipe with its batch."""

    format: str = FORMAT
    name: str = "Mix"
    crop: str = "fruiting"
    batch: BatchDocument | None = None
    bulk: list[PartDocument] = []
    doses: list[DoseDocument] = []
    materials: list[dict[str, Any]] = []
    conditions: ConditionsDocument | UnsetType = UNSET
    days: int = 180
    pot_height_cm: float | None = None
    ready_by: str | None = None
    feeding: str | None = None


class DocumentError(Exception):
    """A document that cannot be read: every problem with its path."""

    def __init__(self, problems: list[PelkError]) -> None:
        super().__init__("; ".join(f"{p.path}: {p.message}" for p in problems))
        self.problems = problems


def read(data: Any) -> MixDocument:
    """Return a document from decoded JSON, its shape checked.

    Raises
    ------
    DocumentError
        Naming the first key that does not fit.
    """
    try:
        document = msgspec.convert(data, MixDocument)
    except msgspec.ValidationError as error:
        raise DocumentError([shape_problem(str(error), data)]) from error
    if not isinstance(data, dict) or data.get("format") != FORMAT:
        stated = data.get("format") if isinstance(data, dict) else data
        raise DocumentError([PelkError(f"found {stated!r}, allowed: {FORMAT!r}", "format")])
    if document.feeding is not None:
        with suppress(ValueError):  # `planning` says what is allowed
            document.feeding = FeedingWay(document.feeding).value
    return document


def write(document: MixDocument) -> dict[str, Any]:
    """Return a document as plain JSON values."""
    built: dict[str, Any] = msgspec.to_builtins(document)
    return {**built, "format": FORMAT, "name": document.name, "crop": document.crop}


def kept_of(document: MixDocument) -> str:
    """Return what of a document the Bench does not edit, as text for its form."""
    held = document.conditions
    given = ConditionsDocument() if held is UNSET else held
    kept = KeptDocument(
        days=document.days,
        pot_height_cm=document.pot_height_cm,
        leaching_fraction=given.leaching_fraction,
        vessels=document.batch.vessels[1:] if document.batch else [],
        materials=document.materials,
        water_alkalinity_mg_l=given.water_alkalinity_mg_l if given.water_ions_mg_l else 0.0,
        water_ions_mg_l=given.water_ions_mg_l,
        water_ions_as_given=given.water_ions_as_given,
    )
    text = msgspec.json.encode(kept).decode()
    return "" if text == "{}" else text


def read_kept(text: str) -> KeptDocument:
    """Return what `kept_of` wrote.

    Raises
    ------
    PelkError
        When it is something else.
    """
    try:
        return msgspec.json.decode(text or "{}", type=KeptDocument)
    except msgspec.DecodeError as error:
        raise PelkError(
            "what the form carried along cannot be read: reload the page", "kept"
        ) from error


def shape_problem(message: str, data: Any) -> PelkError:
    """Say where a document's shape is wrong, what was found and what is allowed."""
    text, _, place = message.partition(" - at `$")
    path = place.rstrip("`").lstrip(".")
    if match := re.search(r"unknown field `(.+?)`", text):
        key = match[1]
        return PelkError(
            "found a key that is not known, allowed: the keys of the format",
            f"{path}.{key}" if path else key,
        )
    if match := re.search(r"missing required field `(.+?)`", text):
        key = match[1]
        return PelkError("found nothing, it is needed", f"{path}.{key}" if path else key)
    if text.startswith("Invalid enum value"):
        words = WORDS.get(path.rpartition(".")[2], "a word of the format")
        return PelkError(f"found {_value_at(data, path)!r}, allowed: {words}", path)
    allowed = re.search(r"Expected `(.+?)`", text)
    names = {
        "float": "a number",
        "int": "a whole number",
        "str": "a text",
        "array": "a list",
        "object": "an object",
        "| null": "or nothing",
    }
    wanted = allowed[1] if allowed else text
    for word, plain in names.items():
        wanted = wanted.replace(word, plain)
    return PelkError(f"found {_value_at(data, path)!r}, allowed: {wanted}", path)


def _value_at(data: Any, path: str) -> Any:
    for step in re.findall(r"[^.\[\]]+", path):
        try:
            data = data[int(step)] if isinstance(data, list) else data[step]
        except (KeyError, IndexError, TypeError, ValueError):
            return None
    return data
