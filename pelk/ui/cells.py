"""What a cell of a CSV or a spreadsheet may hold: text, no formula, no control character."""

import re

CONTROLS = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f]")
NUMBER = re.compile(r"[-+]?\d[\d.,]{0,40}%?")
# What a spreadsheet takes for the beginning of a formula.
FORMULAS = ("=", "+", "-", "@", "\t", "\r", "\n", "|", *"\uff1d\uff0b\uff0d\uff20")
LONGEST = 32_000


def plain_cell(value: object) -> str:
    """Return a value as a cell's text; nothing stays empty, a number stays a number.

    Parameters
    ----------
    value : object
        A text, a number, or None.
    """
    if value is None or value == "":
        return ""
    text = CONTROLS.sub("", str(value))[:LONGEST]
    if text.startswith(FORMULAS) and not NUMBER.fullmatch(text):
        return f"'{text}"
    return text


def as_typed(text: str) -> str:
    """Return what stood there before it was guarded."""
    return text[1:] if text.startswith("'") and text[1:].startswith(FORMULAS) else text
