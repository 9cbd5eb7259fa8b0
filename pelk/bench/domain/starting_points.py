"""Starting points: our own recipes for each crop group and school, to begin from.

Parts follow common practice of the trade (half to hold water, air to suit, life and food);
doses were fitted by Pelk's own proposals and rounded. They are a beginning, not a promise.
"""

from dataclasses import dataclass
from functools import cache
from importlib.resources import files

import msgspec

from pelk.bench.formats.documents import MixDocument, read


@dataclass(frozen=True, slots=True)
class StartingPoint:
    """A recipe to begin from."""

    key: str
    school: str
    say: str
    document: MixDocument


@cache
def starting_points() -> dict[str, StartingPoint]:
    """Return the starting points by key."""
    text = files("pelk.bench.domain").joinpath("starting_points.json").read_bytes()
    rows = msgspec.json.decode(text)
    return {
        row["key"]: StartingPoint(row["key"], row["school"], row["say"], read(row["mix"]))
        for row in rows
    }
