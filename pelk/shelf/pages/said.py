"""What the Shelf says after a deed, or where it cannot be done."""

from pelk.core.base.rounding import sig
from pelk.core.materials.facts import FACTS
from pelk.shelf.models.bags import Bag
from pelk.shelf.models.materials import Value

COUNTED = "Counted."
SET_BESIDE_HOW = "Tick two to four bags, then set them side by side."
FIRST_SHOWN = "The first {most} are shown."
ON_SHELF = "{name}: on your shelf."
IS_ON_SHELF = "{name} is on your shelf."
CHOOSE_SAMPLE = "Choose what the sample is of."
USES_REPORT = "{name} now uses this report."
NOT_IMPORTED = "Not imported. {why}"
MEASURE_SAVED = "Your {name} is saved and used from now on."
CUP_KEPT = "The cup is kept: doses follow it from now on."
VALUE_BACK = "{name} is back at the library value."
VALUE_KEPT = "{name} is kept."
MEANS = "“{word}” means {name} here."
TAKEN_BACK = "It is taken back."
WORD_FORGOTTEN = "“{row.text}” is forgotten."
PACK_FORGOTTEN = "What a {row.pack} holds is forgotten."
LESSON_FORGOTTEN = "What {row.said_of} taught is forgotten."
REPORT_AWAY = "The report is deleted."
AWAY = "{row.name} is deleted."


def bag_away(row: Bag) -> str:
    """Say that a bag is deleted."""
    return f"The bag of {row.material.short_name.lower()} is deleted."


def value_back(row: Value) -> str:
    """Say which value of one's own is taken back."""
    return f"{FACTS[row.fact].name}: {sig(row.typ, 3)} is taken back."
