"""Who says so: works a number rests on, and the mark each number keeps.

The works live in ``data/sources.toml``; a method names them with ``@cites`` and
so carries its sources to the screen and to the docs.
"""

import tomllib
from collections.abc import Callable
from dataclasses import dataclass
from functools import cache
from importlib.resources import files
from typing import TypeVar

import msgspec

Method = TypeVar("Method", bound=Callable[..., object])

MARKS = {
    "published": "published, recalled from memory",
    "derived": "derived by arithmetic",
    "practice": "common practice of the trade",
    "estimate": "Pelk estimate",
}


@dataclass(frozen=True, slots=True)
class Source:
    """A work, or a kind of ground such as the trade's practice.

    Attributes
    ----------
    mark : str
        One of the keys of `MARKS`: how far the work was relied on.
    mentioned_as : tuple of str
        How provenance texts name it, to link a material to its works.
    """

    key: str
    authors: str
    title: str
    year: str = ""
    published: str = ""
    mark: str = "published"
    mentioned_as: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class Citation:
    """One place in a source: a table, a page, a section."""

    source: Source
    where: str

    def __str__(self) -> str:
        """Write the citation as it stands beside a number."""
        year = f" {self.source.year}" if self.source.year else ""
        return f"{self.source.authors}{year}, {self.where} ({MARKS[self.source.mark]})"


@cache
def library() -> dict[str, Source]:
    """Return every source by its key, in the order of the file."""
    text = files("pelk.core").joinpath("data/sources.toml").read_text("utf-8")
    return {
        key: msgspec.convert({"key": key, **entry}, Source)
        for key, entry in tomllib.loads(text).items()
    }


def cites(key: str, where: str) -> Callable[[Method], Method]:
    """Remember on a method that it rests on a source.

    Parameters
    ----------
    key : str
        Key of the source in ``data/sources.toml``.
    where : str
        Table, page or section.
    """

    def remember(method: Method) -> Method:
        places = [(key, where), *getattr(method, "cited_places", [])]
        method.cited_places = places  # type: ignore[attr-defined]
        return method

    return remember


def citations(method: Callable[..., object]) -> tuple[Citation, ...]:
    """Return the citations a method carries, outermost first."""
    return tuple(
        Citation(library()[key], where) for key, where in getattr(method, "cited_places", [])
    )
