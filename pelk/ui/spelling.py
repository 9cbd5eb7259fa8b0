"""British words as an American yard reads them: one table, used on the finished page.

Templates and sentences hold the British word. What was typed is left alone: fields, and what
stands in ``textarea``, ``pre`` and ``code``; files and commands are not touched either.
"""

from __future__ import annotations

import re

AMERICAN = {
    "mould": "mold",
    "moulds": "molds",
    "mouldy": "moldy",
    "litre": "liter",
    "litres": "liters",
    "metre": "meter",
    "metres": "meters",
    "fertiliser": "fertilizer",
    "fertilisers": "fertilizers",
    "aluminium": "aluminum",
    "colour": "color",
    "colours": "colors",
    "neighbour": "neighbor",
    "neighbours": "neighbors",
    "neighbour’s": "neighbor’s",
    "grey": "gray",
    "odour": "odor",
    "analyse": "analyze",
    "analysed": "analyzed",
    "aubergine": "eggplant",
    "aubergines": "eggplants",
    "rubbish": "trash",
    "tetanus jab": "tetanus shot",
    "as the council says": "as your local waste service says",
}
# The station keeps its name, with its capital.
BARROW = {"barrow": "wheelbarrow", "barrows": "wheelbarrows"}
MONTHS = (
    "January|February|March|April|May|June|July|August|September|October|November|December|"
    "Jan|Feb|Mar|Apr|Jun|Jul|Aug|Sept|Sep|Oct|Nov|Dec"
)
WORD = re.compile(
    rf"\b({'|'.join(sorted(map(re.escape, AMERICAN), key=len, reverse=True))})\b", re.IGNORECASE
)
SMALL_BARROW = re.compile(r"(?<!wheel)\b(barrows?)\b")
DATE = re.compile(rf"\b(\d{{1,2}}) ({MONTHS})\b(?: (\d{{4}})\b)?")
# What is not to be touched: scripts, and what somebody typed or will read as it is.
LEFT_ALONE = re.compile(r"(<(script|style|textarea|pre|code)\b.*?</\2>)", re.DOTALL)
BETWEEN_TAGS = re.compile(r">([^<>]+)<")


def american(page: str) -> str:
    """Return a page with its words and dates as they are written in the United States."""
    pieces = LEFT_ALONE.split(page)
    # Of three pieces one is page, one is left alone, one names its tag.
    return "".join(
        BETWEEN_TAGS.sub(lambda m: f">{american_text(m[1])}<", piece) if i % 3 == 0 else piece
        for i, piece in enumerate(pieces)
        if i % 3 != 2
    )


def american_text(text: str) -> str:
    """Return a sentence as it is written in the United States."""
    text = WORD.sub(_spelled, text)
    text = SMALL_BARROW.sub(lambda m: BARROW[m[1]], text)
    return DATE.sub(lambda m: f"{m[2]} {m[1]}, {m[3]}" if m[3] else f"{m[2]} {m[1]}", text)


def _spelled(match: re.Match[str]) -> str:
    said = match[1]
    other = AMERICAN[said.lower()]
    if said.isupper():
        return other.upper()
    return other[0].upper() + other[1:] if said[0].isupper() else other
