"""Questions that later stations answer for earlier ones, which know none of them.

A later station decorates its answer with ``register``; its module is loaded with the apps
(`pelk.yards.apps`).
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from datetime import date
from typing import Generic, ParamSpec, TypeVar

from pelk.yards.models import Yard

P = ParamSpec("P")
T = TypeVar("T")


class Extension(Generic[P, T]):
    """One question, and whoever has an answer to it."""

    def __init__(self) -> None:
        self._answers: list[Callable[P, Iterable[T]]] = []

    def register(self, answer: Callable[P, Iterable[T]]) -> Callable[P, Iterable[T]]:
        """Let a function of a later station answer, too."""
        self._answers.append(answer)
        return answer

    def ask(self, *args: P.args, **kwargs: P.kwargs) -> list[T]:
        """Return all answers, in the order of the stations."""
        return [each for answer in self._answers for each in answer(*args, **kwargs)]


@dataclass(frozen=True, slots=True)
class Use:
    """So much of one material, by both measures."""

    slug: str
    litres: float
    kg: float


@dataclass(frozen=True, slots=True)
class Need:
    """What one planned batch will take."""

    name: str
    url: str
    uses: tuple[Use, ...]


@dataclass(frozen=True, slots=True)
class Place:
    """Where a material is used."""

    name: str
    url: str


@dataclass(frozen=True, slots=True)
class DayEvent:
    """Something to do on a day; it keeps its `uid` when its day shifts."""

    uid: str
    summary: str
    on: date
    path: str


# Where a yard uses a material; what its planned batches will take; what is due in it.
places_of_material: Extension[[Yard, str], Place] = Extension()
needs_of_batches: Extension[[Yard], Need] = Extension()
events_of_yard: Extension[[Yard, date], DayEvent] = Extension()
