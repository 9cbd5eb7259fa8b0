"""A refusal of the core as a sentence for who typed it; files and commands keep the core's own.

The core names what was given and what may be: ``Parts: found -3, allowed: from 0.0001 to
1000000``. On a page that is a sentence with its subject, what is wrong, and what to do.
"""

from __future__ import annotations

import re

from pelk.core.base.errors import PelkError
from pelk.core.base.sentences import capital

REFUSED = re.compile(
    r"^(?:(?P<name>[^:]{1,60}): )?found (?P<value>.+?), allowed: (?P<may>.+)$", re.S
)
SPAN = re.compile(r"^(?:a number )?from (?P<low>\S+) to (?P<high>\S+)(?P<unit> .+)?$")
MATERIAL = re.compile(r"^a material\b")
MOST_CHOICES, LONGEST = 8, 60


def sentence(error: PelkError | str) -> str:
    """Return a refusal as a whole sentence, with its capital and its stop."""
    said = error if isinstance(error, str) else error.message
    match = REFUSED.match(said)
    return _refused(match) if match else _whole(said)


def _refused(match: re.Match[str]) -> str:
    name, may = match["name"] or "", match["may"].rstrip(".")
    value = _short(_number(match["value"].strip("'\"")))
    span = SPAN.match(may)
    if span:
        ends = f"from {_number(span['low'])} to {_number(span['high'])}{span['unit'] or ''}"
        return f"{capital(name) or 'This'} can’t be {value}. Enter a number {ends}."
    if MATERIAL.match(may):
        return (
            f"Pelk has no material called “{value}”. Choose one from the list, or add it on the "
            "Shelf."
        )
    if may.startswith(("a date", "a time", "a number")):
        kind = may.split(" such as ")[0].split(",")[0]
        like = f" Write it like {may.split(' such as ')[1]}." if " such as " in may else ""
        return f"“{value}” is not {kind}.{like}"
    about = f"{capital(name)}: “{value}”" if name else f"“{value}”"
    if may.count(",") >= MOST_CHOICES:
        return f"{about} can’t be used here. Choose one from the list."
    return f"{about} can’t be used here. It may be: {may}."


def _number(text: str) -> str:
    """Write a number without an exponent; what is none stays."""
    try:
        value = float(text)
    except ValueError:
        return text
    if "e" not in text.lower() and len(text) < 7:
        return text
    if value != value or abs(value) >= 1e15:
        return "so large a number"
    return f"{value:,.0f}" if abs(value) >= 1000 else f"{value:.6f}".rstrip("0").rstrip(".")


def _short(text: str) -> str:
    return text if len(text) <= LONGEST else f"{text[:LONGEST]}…"


def _whole(text: str) -> str:
    text = capital(text.strip())
    return text if text.endswith((".", "!", "?", "…", "”")) else f"{text}."
