"""Amounts as spoken: "half a bag cow manure", "2 tbsp lime per gal peat", read into lines.

What is not said is asked, never guessed: each line carries what is open about it.
"""

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from pelk.core.base.sources import cites
from pelk.core.materials.spoken_line import Line, LineReader
from pelk.core.materials.spoken_numbers import (
    ARTICLES,
    FRACTIONS,
    HEAPED_HIGH,
    HEAPED_LOW,
    PARTS_OF,
    Reader,
)
from pelk.core.materials.spoken_units import GROUND, VESSELS, spoken_units, unit_words
from pelk.core.materials.words import folded

PHRASE_MAX = 400
TOKEN = re.compile(
    r"\d+(?:-\d+(?:\.\d+)?){2,}|\d+(?::\d+)+|\d{1,4}/\d{1,4}(?![\d/])"
    r"|\d[\d.,'’]*\d|\d|[.,]\d+|[^\W\d_][\w'&]*|[%#~@=:,;/-]"
)
JOINED = re.compile(r"(?<=[^\W\d_])-(?=[^\W\d_])|(?<=\d)-(?=[^\W\d_])")
SPLITS = frozenset([",", "and", "plus", "&"])
FILLERS = frozenset(["of", "the", "some"])
HOW_OFTEN = re.compile(
    r"\b(weekly|monthly|fortnightly|daily|once a (?:week|month|year|day)"
    r"|every (?:\w+ )?(?:day|week|fortnight|month)s?)\b"
)
SOAKED = re.compile(r",? ?\b(?:soaked|wetted) in ([\w., ]+)$")


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


class _Ear:
    """Reads the lines of one piece of a phrase."""

    def __init__(self, region: str, is_comma: bool, is_known: Callable[[str], bool]) -> None:
        self.region, self.is_comma = region, is_comma
        self.reader = LineReader(is_known, is_comma=is_comma)
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

    def _pieces(self, tokens: list[str]) -> list[list[str]]:
        """Cut where a new amount begins, and join what belongs to the line before."""
        cut: list[list[str]] = [[]]
        at = 0
        while at < len(tokens):
            token = tokens[at]
            is_joint = token in SPLITS and self.reader.begins_amount(tokens, at + 1)
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
        is_share = bool(after) and unit_words().get(after[0]) in ("%", "part")
        return is_share and self.reader.begins_amount(so_far, 0)

    def _belongs(self, before: list[str], piece: list[str]) -> bool:
        """Whether a piece goes on with the line before: its amount, depth or vessel."""
        line, next_line = self.reader.line(before), self.reader.line(piece)
        if line.amount is None or (not line.words and not line.per_words):
            return True
        if next_line.depth_cm is not None and not next_line.words:
            return True
        return bool(next_line.words) and next_line.words[0] in VESSELS

    def _shared(self, piece: list[str]) -> Iterator[Line]:
        """Yield the lines of a piece: "1 cup each of a and b" is two."""
        line = self.reader.line(piece)
        words = line.words
        if line.amount is not None and words[:1] == ["each"]:
            for name in _listed(words[1:]):
                yield replace(line, words=name)
            return
        yield line

    # What was read, and what is open about it.

    def _said(self, line: Line, unit_before: str) -> Spoken:
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

    def _counted(self, line: Line, words: list[str], unit_before: str) -> Line:
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

    def _ask(self, line: Line, words: list[str], vague: str) -> None:
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

    def _amounts(self, line: Line) -> tuple[float | None, float | None, float | None]:
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
