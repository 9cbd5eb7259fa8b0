"""The cautions of the trade as rules: which fire for a line, a crop, a stage.

A rule is an "or" of clauses, a clause an "and" of terms; a term asks for words
(``tag:sulfur``) or compares a number (``dose > 1.5``). A reading that is missing
makes its term false, except where the list says that it counts as zero.
"""

import operator
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache

import msgspec

from pelk.core.base.tables import read

SEVERITIES = ("note", "caution", "stop", "hard")
# Words said of a recipe line; all others are said of the batch.
LINE_WORDS = frozenset(["tag", "unit", "origin", "state"])
COMPARE: dict[str, Callable[[float, float], bool]] = {
    ">": operator.gt,
    "<": operator.lt,
    ">=": operator.ge,
    "<=": operator.le,
}
CLOSING = (
    "Follow the product label and safety sheet first. "
    "Local rules and your certifier decide what is allowed."
)


@dataclass(frozen=True, slots=True, kw_only=True)
class Term:
    """One question: words of a namespace, or a number compared."""

    ns: str = ""
    any: tuple[str, ...] = ()
    negate: bool = False
    var: str = ""
    op: str = ">"
    value: float = 0.0


@dataclass(frozen=True, slots=True, kw_only=True)
class Rule:
    """A caution with its trigger, wording, severity and source."""

    id: str
    any_of: tuple[tuple[Term, ...], ...]
    wording: str
    severity: str
    source: str


@dataclass(frozen=True, slots=True, kw_only=True)
class RuleBook:
    """All rules, and the readings that count as zero when missing."""

    vocabulary: dict[str, list[str]]
    rules: tuple[Rule, ...]
    missing_as_zero: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Caution:
    """A caution that fired.

    Attributes
    ----------
    severity : str
        One of `SEVERITIES`; ``hard`` is a stop that nobody may override.
    materials : tuple of str
        Names of the materials it is about; empty for the whole batch.
    """

    id: str
    severity: str
    text: str
    source: str
    materials: tuple[str, ...] = ()

    @property
    def stops(self) -> bool:
        """Whether it blocks making the batch."""
        return self.severity in ("stop", "hard")


@dataclass(frozen=True, slots=True)
class Line:
    """One recipe line as the rules see it.

    Attributes
    ----------
    words : mapping of str to set of str
        Namespace to words: ``tag``, ``unit``, ``state``.
    dose_g_l : float
        Rate. [g/L]
    """

    name: str
    words: Mapping[str, frozenset[str]]
    dose_g_l: float


@cache
def rule_book() -> RuleBook:
    """Return the published list of cautions."""
    return msgspec.json.decode(read("cautions.json"), type=RuleBook)


def fired(
    lines: Sequence[Line],
    context: Mapping[str, frozenset[str]],
    numbers: Mapping[str, float] | None = None,
    fills: Mapping[str, str] | None = None,
) -> list[Caution]:
    """Return the cautions that fire, the gravest first, each once.

    Parameters
    ----------
    lines : sequence of Line
        Parts and doses.
    context : mapping of str to set of str
        Words true of the whole batch: ``crop``, ``stage``, ``where``, ``who``.
    numbers : mapping of str to float, optional
        Readings and results (``r.*``, ``load_kg``). A missing one is unknown.
    fills : mapping of str to str, optional
        What stands in the blanks of a wording.

    Returns
    -------
    list of Caution
        With the names of the lines each is about.
    """
    book = rule_book()
    known = {**dict.fromkeys(book.missing_as_zero, 0.0), **(numbers or {})}
    tags = [line.words.get("tag", frozenset()) for line in lines]
    batch = {**context, "batchtag": frozenset().union(*tags)}
    said = _all_words(lines)
    cautions = []
    for rule in book.rules:
        clauses = [
            c for c in _open_clauses(rule, batch, known) if all(_may_hold(t, said) for t in c)
        ]
        hit = [line.name for line in lines if _holds(clauses, line)] if clauses else []
        if hit:
            # What the whole batch comes to is no single line's doing.
            own = [c for c in clauses if any(_is_of_line(t) for t in c)]
            of_lines = [n.name for n in lines if own and _holds(own, n)]
            of_lines = of_lines if _asks_line(rule) else []
            text = rule.wording.format_map(_Blanks(fills or {}))
            about = tuple(dict.fromkeys(of_lines))
            cautions.append(Caution(rule.id, rule.severity, text, rule.source, about))
    return by_severity(cautions)


def _all_words(lines: Sequence[Line]) -> dict[str, frozenset[str]]:
    """Return every word that any line says, by namespace."""
    spaces = {ns for line in lines for ns in line.words}
    return {
        ns: frozenset().union(*(line.words.get(ns, frozenset()) for line in lines)) for ns in spaces
    }


def _may_hold(term: Term, said: Mapping[str, frozenset[str]]) -> bool:
    """Return whether any line at all could make a term true."""
    if not term.ns or term.negate:
        return True
    return not said.get(term.ns, frozenset()).isdisjoint(term.any)


def by_severity(cautions: Sequence[Caution]) -> list[Caution]:
    """Return cautions with the gravest first, then those about a material that is named."""
    return sorted(cautions, key=lambda c: (-SEVERITIES.index(c.severity), not c.materials))


class _Blanks(dict[str, str]):
    """Fill the blanks of a wording; what is not known stays a dash."""

    def __missing__(self, key: str) -> str:
        return "–"


def _asks_line(rule: Rule) -> bool:
    """Whether the rule asks about a line at all, or only about the batch."""
    return any(_is_of_line(t) and t.ns != "state" for c in rule.any_of for t in c)


def _open_clauses(
    rule: Rule, batch: Mapping[str, frozenset[str]], known: Mapping[str, float]
) -> list[list[Term]]:
    """Return what is left to ask of a line, clause by clause, once the batch has answered."""
    left = []
    for clause in rule.any_of:
        of_batch = [term for term in clause if not _is_of_line(term)]
        if all(_true(term, batch, known) for term in of_batch):
            left.append([term for term in clause if _is_of_line(term)])
    return left


def _is_of_line(term: Term) -> bool:
    return term.ns in LINE_WORDS or term.var == "dose"


def _holds(clauses: list[list[Term]], line: Line) -> bool:
    numbers = {"dose": line.dose_g_l}
    return any(all(_true(t, line.words, numbers) for t in clause) for clause in clauses)


def _true(term: Term, words: Mapping[str, frozenset[str]], numbers: Mapping[str, float]) -> bool:
    if term.ns:
        has = not words.get(term.ns, frozenset()).isdisjoint(term.any)
        return has is not term.negate
    value = numbers.get(term.var)
    return value is not None and COMPARE[term.op](value, term.value)
