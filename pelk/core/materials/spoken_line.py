"""One line of what was said, read token by token: how much, of what, by what, how deep."""

import re
from collections.abc import Callable
from dataclasses import dataclass

from pelk.core.materials.spoken_numbers import HEAPED, ROUGHLY, VAGUE, Number, Reader
from pelk.core.materials.spoken_units import GROUND, VESSELS, spoken_units, unit_at
from pelk.core.materials.words import folded

VERBS = (
    ("put", "in"),
    ("mix", "in"),
    ("throw", "in"),
    ("chuck", "in"),
    ("top", "with"),
    ("add",),
    ("use",),
    ("give",),
    ("scatter",),
    ("dust",),
)
SEPARATORS = frozenset([":", "-", "=", ",", "@", "x"])
RATE_WORDS = (
    ("for", "each"),
    ("for", "every"),
    ("to", "the"),
    ("to", "each"),
    ("per",),
    ("/",),
    ("to",),
    ("in",),
    ("into",),
    ("each",),
    ("a",),
    ("an",),
)
WEIGHED = ("by", "weight")


@dataclass(slots=True)
class Line:
    """A line while it is read."""

    tokens: list[str]
    words: list[str]
    amount: Number | None = None
    unit: str = ""
    factor: float = 1.0
    is_rough: bool = False
    per: str = ""
    per_number: float = 1.0
    per_words: list[str] | None = None
    depth_cm: float | None = None
    in_water: bool = False
    is_top: bool = False
    vague: str = ""


class LineReader:
    """Reads a line; `is_known` says whether some words name a material."""

    def __init__(self, is_known: Callable[[str], bool], *, is_comma: bool) -> None:
        self.is_known, self.is_comma = is_known, is_comma

    def begins_amount(self, tokens: list[str], at: int) -> bool:
        """Return whether an amount stands at a token: a number, or a measure alone."""
        number = Reader(tokens, is_comma=self.is_comma).number(at)
        if number is not None:
            unit = unit_at(tokens, number.end)
            return unit is not None or not number.is_bare_article
        unit = unit_at(tokens, at)
        return unit is not None and len(tokens[at]) > 1

    def line(self, tokens: list[str]) -> Line:
        """Return what was read of some tokens; what it is of stands in its words."""
        line = Line(tokens, [])
        at = self._past_verbs(line)
        while at < len(tokens):
            known = self._known_end(tokens, at)
            if known:
                line.words.extend(tokens[at:known])
                at = known
                continue
            at = (
                self._read_depth(line, at)
                or self._read_amount(line, at)
                or self._read_rate(line, at)
                or self._read_word(line, at)
            )
        return line

    def _past_verbs(self, line: Line) -> int:
        for verb in VERBS:
            if tuple(line.tokens[: len(verb)]) == verb and len(line.tokens) > len(verb):
                line.is_top = verb == ("top", "with")
                return len(verb)
        return 0

    def _known_end(self, tokens: list[str], at: int) -> int:
        """Return where a known name of two words or more ends; 0 where none begins."""
        for end in range(min(at + 6, len(tokens)), at + 1, -1):
            span = tokens[at:end]
            if all(len(t) > 1 or t.isdigit() for t in span) and self.is_known(" ".join(span)):
                return end
        return 0

    def _read_amount(self, line: Line, at: int) -> int:
        if line.amount is not None:
            return 0
        tokens, start = line.tokens, at
        if tokens[at] in ROUGHLY:
            line.is_rough, at = True, at + 1
            if at == len(tokens):
                return at
        number = Reader(tokens, is_comma=self.is_comma).number(at)
        is_first = not line.words or tokens[start - 1] in SEPARATORS
        if number is None:
            return self._unit_alone(line, at) if is_first else 0
        at = number.end
        if at < len(tokens) and tokens[at] in HEAPED:
            line.factor, at = HEAPED[tokens[at]], at + 1
        unit = (
            None if tokens[at : at + 1] == ["#"] and number.is_bare_article else unit_at(tokens, at)
        )
        if unit is None:
            return self._without_unit(line, number, at) if is_first or line.is_rough else 0
        line.amount, line.unit = number, unit[0]
        at = unit[1]
        if tuple(tokens[at : at + 2]) == WEIGHED:
            line.unit, at = f"{line.unit} by weight", at + 2
        if tokens[at : at + 2] == ["and", "a"] and tokens[at + 2 : at + 3] == ["half"]:
            more = number.value + 0.5
            line.amount, at = Number(more, more, more, at + 3), at + 3
        return at

    def _unit_alone(self, line: Line, at: int) -> int:
        """Read "handful of", "heaped spoon of": one of it."""
        tokens = line.tokens
        factor = HEAPED.get(tokens[at], 1.0)
        start = at + (tokens[at] in HEAPED)
        unit = unit_at(tokens, start)
        if unit is None or start == len(tokens) or len(tokens[start]) < 3:
            return 0
        line.amount, line.unit, line.factor = Number(1.0, 1.0, 1.0, unit[1]), unit[0], factor
        return unit[1]

    def _without_unit(self, line: Line, number: Number, at: int) -> int:
        tokens = line.tokens
        if number.is_bare_article:
            vague = at < len(tokens) and tokens[at] in VAGUE
            return at if vague or not line.words else 0
        if tokens[at : at + 1] == ["strength"]:
            line.amount, line.unit = number, "label"
            return at + 1
        if tokens[at : at + 1] == ["x"] or tokens[number.end - 1] == "double":
            line.amount, line.unit = number, "dose"
            after = tokens[at:]
            skip = 1 if after[:1] == ["x"] else 0
            rest = after[skip:]
            dosed = 2 if rest[:2] == ["the", "dose"] else 1 if rest[:1] == ["dose"] else 0
            return at + skip + dosed
        line.amount = number
        return at

    def _read_depth(self, line: Line, at: int) -> int:
        """Read "20 cm deep", "dug in 6 in" and "an inch of" mulch."""
        tokens, start = line.tokens, at
        while at < len(tokens) and tokens[at] in ("dug", "worked", "to", "in", "x", "into"):
            at += 1
        number = Reader(tokens, is_comma=self.is_comma).number(at)
        unit = unit_at(tokens, number.end) if number else None
        if number is None or unit is None or spoken_units()[unit[0]].kind != "length":
            return 0
        is_deep = tokens[unit[1] : unit[1] + 1] in (["deep"], ["thick"])
        if at == start and not is_deep and not line.is_top:
            return 0
        size = spoken_units()[unit[0]].size or 1.0
        line.depth_cm = number.value * size
        if line.is_top:
            line.amount, line.unit = number, f"{unit[0]} thick"
        return unit[1] + is_deep

    def _read_rate(self, line: Line, at: int) -> int:
        tokens = line.tokens
        if re.fullmatch(r"1:\d{1,5}", tokens[at]):
            line.amount = line.amount or Number(1.0, 1.0, 1.0, at)
            line.unit = line.unit or "part"
            line.per, line.in_water = "part", True
            line.per_number = float(tokens[at].partition(":")[2])
            return at + 1
        for words in RATE_WORDS:
            if tuple(tokens[at : at + len(words)]) != words:
                continue
            if words[0] in ("a", "an", "each") and line.amount is None:
                continue
            end = self._read_base(line, at + len(words), is_loose=words[0] not in ("per", "/"))
            if end:
                return end
            if words == ("each",) and at + 1 == len(tokens):
                line.per = "plant"
                return at + 1
        return 0

    def _read_base(self, line: Line, at: int, *, is_loose: bool) -> int:
        tokens = line.tokens
        at += tokens[at : at + 1] == ["the"]
        at += tokens[at : at + 1] in (["a"], ["an"])
        number = Reader(tokens, is_comma=self.is_comma).number(at)
        how_many = number.value if number else 1.0
        at = number.end if number else at
        base = self._base(tokens, at)
        if base is None:
            return 0
        name, end = base
        if tokens[end : end + 1] == ["can"]:
            line.in_water, end = True, end + 1
        if is_loose and name in ("lb", "oz", "g", "kg", "in", "cm", "ft"):
            return 0
        line.per, line.per_number = name, how_many
        if name == "can":
            line.in_water = True
        if tokens[end : end + 1] == ["of"]:
            return self._read_of(line, end + 1)
        return end

    def _read_of(self, line: Line, at: int) -> int:
        """Read what the base of a rate is of: water, one part, or what is dosed."""
        tokens = line.tokens
        words: list[str] = []
        while at < len(tokens) and tokens[at] not in SEPARATORS:
            if tokens[at] in ("mix", "soil") and not words:
                return at + 1
            if self.begins_amount(tokens, at):
                break
            words.append(tokens[at])
            at += 1
        if words == ["water"]:
            line.in_water = True
        else:
            line.per_words = words
        return at

    def _base(self, tokens: list[str], at: int) -> tuple[str, int] | None:
        for length in (2, 1):
            span = " ".join(tokens[at : at + length])
            singular = folded(span)
            for text in (span, singular):
                if text in GROUND:
                    return text, at + length
        first = folded(tokens[at]) if at < len(tokens) else ""
        if first == "row" or (first in ("metre", "meter") and "row" in tokens[at:]):
            end = tokens.index("row", at) + 1
            return "row", end
        if first in VESSELS or first in ("plant", "hole", "bed", "can"):
            return first, at + 1
        if first == "#" and at + 2 < len(tokens):
            return "trade pot", at + 3
        unit = unit_at(tokens, at)
        if unit is None or spoken_units()[unit[0]].kind not in ("volume", "pack", "ask"):
            return None
        return unit

    def _read_word(self, line: Line, at: int) -> int:
        token = line.tokens[at]
        if token in VAGUE and line.amount is None and not line.words:
            line.vague = token
            unit = unit_at(line.tokens, at + 1)
            line.unit = unit[0] if unit else ""
            return unit[1] if unit else at + 1
        if token not in SEPARATORS or (token == "x" and line.words) or token == ",":
            line.words.append(token)
        return at + 1
