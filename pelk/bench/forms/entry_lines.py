"""What was entered: its lines, the questions it leaves open, and the shop it is read in."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

from pelk.bench.forms.part_units import Fillings
from pelk.core.materials.words import Vocabulary
from pelk.yards.models import Yard


@dataclass(frozen=True, slots=True)
class Question:
    """What is asked about a line before it goes in.

    Attributes
    ----------
    kind : str
        ``which``, ``near``, ``unknown``, ``pack`` or ``amount``.
    words : str
        Of what is asked.
    text : str
        A sentence.
    choices : tuple of (str, str)
        Slug and name of what may be meant.
    pack : str
        Whose size is asked.
    """

    kind: str
    words: str
    text: str
    choices: tuple[tuple[str, str], ...] = ()
    pack: str = ""


@dataclass(frozen=True, slots=True)
class Line:
    """One line that is understood: what goes in, and how it was read.

    ``way`` is how the parts must be written where a part comes in this unit.
    """

    slug: str
    amount: str
    unit: str
    read_as: str
    per: str = ""
    way: str = ""


@dataclass(frozen=True, slots=True)
class Entry:
    """What stands typed in one box.

    Attributes
    ----------
    said : dict of str to str
        What its words mean, as was answered: slugs by word.
    question : Question or None
        What is open; None where all is understood.
    lines : tuple of Line
        What goes in.
    """

    text: str = ""
    said: Mapping[str, str] = field(default_factory=dict)
    question: Question | None = None
    lines: tuple[Line, ...] = ()

    @property
    def is_open(self) -> bool:
        """Whether something is typed that has not gone in."""
        return bool(self.text.strip())


class CannotError(Exception):
    """A line that cannot go in as it was said, with the question."""

    def __init__(self, question: Question) -> None:
        super().__init__(question.text)
        self.question = question


@dataclass(frozen=True, slots=True)
class Shop:
    """What the reading of a line needs to know of its yard."""

    fillings: Fillings
    vocabulary: Vocabulary

    @property
    def yard(self) -> Yard:
        """The yard."""
        return self.fillings.yard

    def name(self, slug: str) -> str:
        """Return a material's short name."""
        return self.vocabulary.materials[slug].short_name
