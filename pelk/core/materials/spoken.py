"""Amounts as spoken: "half a bag cow manure", "2 tbsp lime per gal peat", read into lines.

What is not said is asked, never guessed: each line carries what is open about it.
"""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace
from functools import cache

from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.spoken_numbers import (
    ARTICLES,
    FRACTIONS,
    HEAPED,
    HEAPED_HIGH,
    HEAPED_LOW,
    PARTS_OF,
    ROUGHLY,
    VAGUE,
    Number,
    Reader,
)
from pelk.core.materials.words import folded

PHRASE_MAX = 400
TOKEN = re.compile(
    r"\d+(?:-\d+(?:\.\d+)?){2,}|\d+(?::\d+)+|\d{1,4}/\d{1,4}(?![\d/])"
    r"|\d[\d.,'’]*\d|\d|[.,]\d+|[^\W\d_][\w'&]*|[%#~@=:,;/-]"
)
JOINED = re.compile(r"(?<=[^\W\d_])-(?=[^\W\d_])|(?<=\d)-(?=[^\W\d_])")
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
SPLITS = frozenset([",", "and", "plus", "&"])
FILLERS = frozenset(["of", "the", "some"])
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
VESSELS = frozenset(
    ["pot", "tub", "container", "planter", "trough", "basket", "tray", "tower", "tier"]
)
GROUND = {
    # Square metres of each.
    "m2": 1.0,
    "square metre": 1.0,
    "square meter": 1.0,
    "sq m": 1.0,
    "square yard": 0.836127,
    "sq yd": 0.836127,
    "yd2": 0.836127,
    "square foot": 0.092903,
    "sq ft": 0.092903,
    "ft2": 0.092903,
    "square feet": 0.092903,
}
HOW_OFTEN = re.compile(
    r"\b(weekly|monthly|fortnightly|daily|once a (?:week|month|year|day)"
    r"|every (?:\w+ )?(?:day|week|fortnight|month)s?)\b"
)
SOAKED = re.compile(r",? ?\b(?:soaked|wetted) in ([\w., ]+)$")
WEIGHED = ("by", "weight")
# Where a litre is of mix unless something wet is named.
WET = frozenset(["water", "can", "drench", "soak"])


@dataclass(frozen=True, slots=True)
class SpokenUnit:
    """A unit as growers name it.

    Attributes
    ----------
    kind : str
        ``volume`` (mL), ``mass`` (g), ``length`` (cm), ``percent``, ``share``, ``pack``
        or ``ask``.
    size : float or None
        In a region that says nothing else. [mL, g or cm]
    elsewhere : dict
        By territory. [mL or g]
    low, high : float
        Honest spread, as factors of the size. [-]
    ask : str
        What is open about it.
    """

    key: str
    kind: str
    size: float | None
    elsewhere: dict[str, float]
    low: float = 1.0
    high: float = 1.0
    ask: str = ""

    def size_in(self, region: str) -> float | None:
        """Return its size in a territory. [mL, g or cm]."""
        return self.elsewhere.get(region, self.size)


@dataclass(frozen=True, slots=True)
class Spoken:
    """One line of a phrase.

    Attributes
    ----------
    words : str
        What it is of, as found.
    amount : float or None
        In `unit`; of a range its middle; None where none was said.
    low, high : float or None
        Both ends of a range or of a rough measure.
    unit : str
        Key of the unit; empty where none was said.
    per : str
        What it counts by: ``gal``, ``L``, ``pot``, ``plant``, ``m2`` …; empty for the batch.
    per_number : float
        Of them.
    per_material : str
        Where the rate counts one part only.
    depth_cm : float or None
        To which ground is worked. [cm]
    in_water : bool
        It is a strength of a liquid.
    notes, asks : tuple of str
        What was said besides, and what is open.
    """

    words: str = ""
    amount: float | None = None
    low: float | None = None
    high: float | None = None
    is_rough: bool = False
    unit: str = ""
    per: str = ""
    per_number: float = 1.0
    per_material: str = ""
    depth_cm: float | None = None
    in_water: bool = False
    notes: tuple[str, ...] = ()
    asks: tuple[str, ...] = ()


@cache
def spoken_units() -> dict[str, SpokenUnit]:
    """Return the units by key."""
    units = {}
    for row in rows("spoken_units.csv"):
        pairs = [text.partition("=") for text in row["elsewhere"].split(";") if text]
        units[row["unit"]] = SpokenUnit(
            row["unit"],
            row["kind"],
            float(row["size"]) if row["size"] else None,
            {where: float(size) for where, _, size in pairs},
            float(row["low"] or 1),
            float(row["high"] or 1),
            row["ask"],
        )
    return units


@cache
def _unit_words() -> dict[str, str]:
    """Return keys by the words they go by, one and many."""
    listed: dict[str, str] = {}
    for row in rows("spoken_units.csv"):
        for word in row["words"].split(";"):
            for spelt in {word, folded(word) or word, f"{word}s", f"{word}es"}:
                listed.setdefault(spelt, row["unit"])
    return {**listed, "feet": "ft", "inches": "in", "halves": "part"}


def tokens_of(text: str, region: str = "") -> list[str]:
    """Return a phrase cut into numbers, words and signs."""
    if region == "US":
        text = re.sub(r"(?<=[\d½¼¾])\s*T\b", " tbsp", text)
        text = re.sub(r"(?<=[\d½¼¾])\s*t\b", " tsp", text)
    low = text.lower()
    for sign, written in FRACTIONS.items():
        low = low.replace(sign, f" {written} ")
    low = low.replace("–", "-").replace("×", "x").replace("²", "2").replace("³", "3")
    return TOKEN.findall(JOINED.sub(" ", low))


@cites("trade", "how amounts are said, from memory")
def heard(
    text: str,
    region: str = "",
    *,
    is_comma: bool = False,
    is_known: Callable[[str], bool] | None = None,
) -> list[Spoken]:
    """Return the lines of a phrase.

    Parameters
    ----------
    text : str
        As typed or said.
    region : str
        Territory, for what its spoons and gallons hold.
    is_comma : bool
        Whether the region writes decimals with a comma.
    is_known : callable, optional
        Whether some words name a material: they are then not read as a unit.

    Returns
    -------
    list of Spoken
        One for each thing that is named; an empty list for an empty phrase.
    """
    lines: list[Spoken] = []
    for piece in re.split(r"[\n;]|\bthen\b", text[:PHRASE_MAX]):
        if piece.strip():
            ear = _Ear(region, is_comma, is_known or (lambda _: False))
            lines.extend(ear.lines(piece, lines))
    return lines


@dataclass(slots=True)
class _Line:
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


class _Ear:
    """Reads the lines of one piece of a phrase."""

    def __init__(self, region: str, is_comma: bool, is_known: Callable[[str], bool]) -> None:
        self.region, self.is_comma, self.is_known = region, is_comma, is_known
        self.notes: list[str] = []
        self.asks: list[str] = []

    def lines(self, text: str, before: list[Spoken]) -> Iterator[Spoken]:
        """Yield what is said in a piece."""
        if often := HOW_OFTEN.search(text.lower()):
            self.notes.append(often.group(0))
            text = text[: often.start()] + text[often.end() :]
        if soaked := SOAKED.search(text.lower()):
            self.notes.append(f"soaked in {soaked.group(1).strip()}")
            text = text[: soaked.start()]
        tokens = tokens_of(text, self.region)
        ratio = self._ratio(tokens)
        if ratio is not None:
            yield from ratio
            return
        unit = before[-1].unit if before else ""
        for piece in self._pieces(tokens):
            for line in self._shared(piece):
                said = self._said(line, unit)
                unit = said.unit
                yield said
                self.notes, self.asks = [], []

    def _ratio(self, tokens: list[str]) -> list[Spoken] | None:
        """Return the parts of ``2:1:1 peat, compost, sand``."""
        if not tokens or not re.fullmatch(r"\d+(:\d+)+", tokens[0]):
            return None
        shares = [float(text[:6]) for text in tokens[0].split(":")]
        names = list(_listed(tokens[1:]))
        if len(names) != len(shares):
            return None
        return [Spoken(" ".join(n), s, unit="part") for n, s in zip(names, shares, strict=True)]

    def _begins_amount(self, tokens: list[str], at: int) -> bool:
        """Whether an amount stands at a token: a number, or a measure alone."""
        number = Reader(tokens, is_comma=self.is_comma).number(at)
        if number is not None:
            unit = self._unit(tokens, number.end)
            return unit is not None or not number.is_bare_article
        unit = self._unit(tokens, at)
        return unit is not None and len(tokens[at]) > 1

    def _pieces(self, tokens: list[str]) -> list[list[str]]:
        """Cut where a new amount begins, and join what belongs to the line before."""
        cut: list[list[str]] = [[]]
        at = 0
        while at < len(tokens):
            token = tokens[at]
            is_joint = token in SPLITS and self._begins_amount(tokens, at + 1)
            is_joint = is_joint and not (token == "and" and self._is_within_number(tokens, at))
            if is_joint or self._is_new_share(tokens, at, cut[-1]):
                cut.append([])
                at += is_joint
                if not is_joint:
                    cut[-1].append(token)
                    at += 1
                continue
            cut[-1].append(token)
            at += 1
        pieces: list[list[str]] = []
        for piece in (p for p in cut if p):
            if pieces and self._belongs(pieces[-1], piece):
                pieces[-1] = [*pieces[-1], ",", *piece]
            else:
                pieces.append(piece)
        return pieces

    def _is_within_number(self, tokens: list[str], at: int) -> bool:
        """Whether "and" stands in "one and a half", "a cup and a half" or "between 1 and 2"."""
        then = at + 1 + (tokens[at + 1] in ARTICLES)
        is_half = then < len(tokens) and tokens[then] in PARTS_OF
        if tokens[at - 1 : at] == ["hundred"]:
            return True
        return is_half or "between" in tokens[max(at - 3, 0) : at]

    def _is_new_share(self, tokens: list[str], at: int, so_far: list[str]) -> bool:
        number = Reader(tokens, is_comma=self.is_comma).number(at)
        if number is None or len(so_far) < 2:
            return False
        after = tokens[number.end : number.end + 1]
        is_share = bool(after) and _unit_words().get(after[0]) in ("%", "part")
        return is_share and self._begins_amount(so_far, 0)

    def _belongs(self, before: list[str], piece: list[str]) -> bool:
        """Whether a piece goes on with the line before: its amount, depth or vessel."""
        line, next_line = self._line(before), self._line(piece)
        if line.amount is None or (not line.words and not line.per_words):
            return True
        if next_line.depth_cm is not None and not next_line.words:
            return True
        return bool(next_line.words) and next_line.words[0] in VESSELS

    def _shared(self, piece: list[str]) -> Iterator[_Line]:
        """Yield the lines of a piece: "1 cup each of a and b" is two."""
        line = self._line(piece)
        words = line.words
        if line.amount is not None and words[:1] == ["each"]:
            for name in _listed(words[1:]):
                yield replace(line, words=name)
            return
        yield line

    # Reading one line, token by token.

    def _line(self, tokens: list[str]) -> _Line:
        line = _Line(tokens, [])
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

    def _past_verbs(self, line: _Line) -> int:
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

    def _unit(self, tokens: list[str], at: int) -> tuple[str, int] | None:
        for length in (3, 2, 1):
            span = tokens[at : at + length]
            key = _unit_words().get(" ".join(span)) if len(span) == length else None
            if key is not None:
                return key, at + length
        return None

    def _read_amount(self, line: _Line, at: int) -> int:
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
            None
            if tokens[at : at + 1] == ["#"] and number.is_bare_article
            else self._unit(tokens, at)
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

    def _unit_alone(self, line: _Line, at: int) -> int:
        """Read "handful of", "heaped spoon of": one of it."""
        tokens = line.tokens
        factor = HEAPED.get(tokens[at], 1.0)
        start = at + (tokens[at] in HEAPED)
        unit = self._unit(tokens, start)
        if unit is None or start == len(tokens) or len(tokens[start]) < 3:
            return 0
        line.amount, line.unit, line.factor = Number(1.0, 1.0, 1.0, unit[1]), unit[0], factor
        return unit[1]

    def _without_unit(self, line: _Line, number: Number, at: int) -> int:
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

    def _read_depth(self, line: _Line, at: int) -> int:
        """Read "20 cm deep", "dug in 6 in" and "an inch of" mulch."""
        tokens, start = line.tokens, at
        while at < len(tokens) and tokens[at] in ("dug", "worked", "to", "in", "x", "into"):
            at += 1
        number = Reader(tokens, is_comma=self.is_comma).number(at)
        unit = self._unit(tokens, number.end) if number else None
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

    def _read_rate(self, line: _Line, at: int) -> int:
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

    def _read_base(self, line: _Line, at: int, *, is_loose: bool) -> int:
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

    def _read_of(self, line: _Line, at: int) -> int:
        """Read what the base of a rate is of: water, one part, or what is dosed."""
        tokens = line.tokens
        words: list[str] = []
        while at < len(tokens) and tokens[at] not in SEPARATORS:
            if tokens[at] in ("mix", "soil") and not words:
                return at + 1
            if self._begins_amount(tokens, at):
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
        unit = self._unit(tokens, at)
        if unit is None or spoken_units()[unit[0]].kind not in ("volume", "pack", "ask"):
            return None
        return unit

    def _read_word(self, line: _Line, at: int) -> int:
        token = line.tokens[at]
        if token in VAGUE and line.amount is None and not line.words:
            line.vague = token
            unit = self._unit(line.tokens, at + 1)
            line.unit = unit[0] if unit else ""
            return unit[1] if unit else at + 1
        if token not in SEPARATORS or (token == "x" and line.words) or token == ",":
            line.words.append(token)
        return at + 1

    # What was read, and what is open about it.

    def _said(self, line: _Line, unit_before: str) -> Spoken:
        words = [w for w in line.words if w not in (":", "=", "@")]
        words = _trimmed(words)
        per_words = line.per_words or []
        if not words and per_words:
            words, per_words = per_words, []
        if "#" in words:
            words = _trimmed([w for w in words[: words.index("#")] if w != "in"])
        vessel = self._vessel(words)
        words = words[: len(words) - vessel] if vessel else words
        words = [w for w in words if w != ","]
        line = self._counted(line, words, unit_before)
        self._ask(line, words, line.vague)
        amount, low, high = self._amounts(line)
        per, per_number, ground = line.per, line.per_number, GROUND.get(line.per)
        if ground is not None:
            per, per_number = "m2", per_number * ground
        return Spoken(
            " ".join(words),
            amount,
            low,
            high,
            line.is_rough,
            line.unit,
            per,
            per_number,
            " ".join(_trimmed(per_words)),
            line.depth_cm,
            line.in_water,
            tuple(self.notes),
            tuple(dict.fromkeys(self.asks)),
        )

    def _vessel(self, words: list[str]) -> int:
        """Note a vessel that closes a line, as ", 30 litre tub"; return its words."""
        for length in (4, 3, 2):
            span = words[-length:]
            if len(span) == length and span[0] == "," and span[-1] in VESSELS:
                self.notes.append(" ".join(span[1:]))
                return length
        return 0

    def _counted(self, line: _Line, words: list[str], unit_before: str) -> _Line:
        """Give a bare number its unit: the line's before, or eggshells."""
        if line.amount is None or line.unit:
            return line
        if words and folded(words[-1]) == "eggshell":
            line.unit = "eggshell"
        elif unit_before and unit_before in spoken_units():
            line.unit = unit_before
        elif line.amount.is_range or PARTS_OF.get(line.tokens[0]) or "third" in line.tokens[:2]:
            line.unit = "share"
        else:
            shown = f"{line.amount.value:g}"
            self.asks.append(f"{shown} what: litres, parts or percent")
        return line

    def _ask(self, line: _Line, words: list[str], vague: str) -> None:
        unit = spoken_units().get(line.unit)
        if vague:
            self.asks.append("how much")
        if line.amount is not None and line.amount.ask:
            self.asks.append(line.amount.ask)
        if unit is not None and unit.ask:
            self.asks.append(unit.ask)
        if line.unit == "dose":
            self.asks.append("which dose; acidity from sulfur comes weeks later and adds up")
        if line.unit == "scoop":
            self.notes.append("your own scoop, or 250 mL until you have measured it")
        if line.unit in ("cup",) and self.region in ("GB", "IE"):
            self.notes.append("a metric cup of 250 mL; a mug holds about 300 mL")
        if line.per in GROUND and line.depth_cm is None:
            self.asks.append("to what depth it is worked in")
        if line.per == "trade pot":
            self.asks.append("by the pot (a #1 trade pot holds 2.8 L) or by true gallons")
        if "#" in line.tokens and line.per == "gal":
            self.asks.append("by the pot (a #1 trade pot holds 2.8 L) or by true gallons")
        if "gal" in (line.unit, line.per) and not self.region:
            self.asks.append("US gallons (3.8 L) or imperial ones (4.5 L)")
        if line.per == "plant":
            self.asks.append("how many plants a pot holds")
        if line.per in VESSELS or line.per == "hole":
            self.asks.append(f"how many litres the {line.per} holds")
        if not words:
            self.asks.append("of what")

    def _amounts(self, line: _Line) -> tuple[float | None, float | None, float | None]:
        number = line.amount
        if number is None:
            return None, None, None
        value = round(number.value * line.factor, 9)
        if line.factor > 1:
            self.notes.append("heaped")
            return value, number.low * HEAPED_LOW, number.high * HEAPED_HIGH
        if number.is_range:
            return value, number.low, number.high
        return value, None, None


def _trimmed(words: list[str]) -> list[str]:
    drop = {*FILLERS, *ARTICLES, ",", "-", ":", "and"}
    while words and words[0] in drop:
        words = words[1:]
    while words and words[-1] in drop:
        words = words[:-1]
    return [w for w in words if w != "of" or len(words) > 3]


def _listed(tokens: list[str]) -> Iterator[list[str]]:
    """Yield the names of a list: cut at commas and at the last "and"."""
    name: list[str] = []
    for token in [*tokens, ","]:
        if token in SPLITS:
            if trimmed := _trimmed(name):
                yield trimmed
            name = []
        else:
            name.append(token)
