"""What a file would change, shown before it counts: one page for every kind of file.

Loggers, laboratories and materials differ in what stands in them; what a grower sees of each
is the same: what was read, what is asked, what is left aside, what is wrong, and what then
counts. A station fills a :class:`Preview`; ``ui/preview.html`` shows it.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

SHOWN_PROBLEMS = 20
MARK_WORDS = {"good": "Ready", "short": "Look", "none": "The same"}


@dataclass(frozen=True, slots=True)
class Head:
    """A column: its name, and whether numbers stand in it."""

    name: str
    is_number: bool = False


@dataclass(frozen=True, slots=True)
class Cell:
    """One value: what stands there, a mark before it, a note under it."""

    text: str = ""
    mark: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True)
class Line:
    """One row of what was read."""

    cells: tuple[Cell, ...]
    is_bad: bool = False


@dataclass(frozen=True, slots=True)
class Answer:
    """One answer to a question; ``entry`` names a field to type the right value in."""

    value: str
    words: str
    is_chosen: bool = False
    entry: str = ""
    entered: str = ""


@dataclass(frozen=True, slots=True)
class Question:
    """What the file leaves open: the field's name, what is asked and why, its answers."""

    name: str
    asks: str
    answers: tuple[Answer, ...]
    why: str = ""
    problem: str = ""


@dataclass(frozen=True, slots=True)
class Action:
    """A button: what it sends and what it says."""

    value: str
    words: str
    is_main: bool = False


@dataclass(frozen=True, slots=True)
class Preview:
    """A file looked through.

    Attributes
    ----------
    title, about : str
        What the file is, and of what.
    back : tuple of (str, str)
        Where the page was reached from, and its name.
    mark, says : str
        How it stands, in one sentence.
    heads, lines : tuple
        The first rows of what was read; ``more`` are not shown.
    questions : tuple of Question
        What has to be said before all of it counts.
    aside : tuple of str
        What is left aside, in words.
    problems : tuple of (str, str)
        Where something is wrong ("Line 3"), and what.
    actions : tuple of Action
        What can be done now.
    carried : dict of str to str
        What the form sends on: the text, its name.
    footnote : str
        What holds once it counts.
    """

    title: str
    about: str
    back: tuple[str, str]
    mark: str
    says: str
    heads: tuple[Head, ...]
    lines: tuple[Line, ...]
    actions: tuple[Action, ...]
    more: int = 0
    questions: tuple[Question, ...] = ()
    asked_for: str = ""
    aside: tuple[str, ...] = ()
    problems: tuple[tuple[str, str], ...] = ()
    carried: Mapping[str, str] = field(default_factory=dict)
    footnote: str = ""

    @property
    def word(self) -> str:
        """What stands beside the mark."""
        return MARK_WORDS.get(self.mark, "")

    @property
    def rows(self) -> list[tuple[bool, list[tuple[Head, Cell]]]]:
        """Each line as it stands in the table: whether it is bad, its cells with their heads."""
        heads = self.heads
        return [(line.is_bad, list(zip(heads, line.cells, strict=True))) for line in self.lines]

    @property
    def first_problems(self) -> tuple[tuple[str, str], ...]:
        """The problems that are shown."""
        return self.problems[:SHOWN_PROBLEMS]

    @property
    def more_problems(self) -> int:
        """How many problems are not shown."""
        return max(len(self.problems) - SHOWN_PROBLEMS, 0)
