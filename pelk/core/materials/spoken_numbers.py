"""Numbers as growers say and write them: half a dozen, 1 1/2, a couple, 1-2, about three."""

import re
from dataclasses import dataclass

from pelk.core.base.sources import cites

ONES = ["one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"]
TEENS = ["eleven", "twelve", "thirteen", "fourteen", "fifteen", "sixteen", "seventeen"]
TENS = ["twenty", "thirty", "forty", "fifty", "sixty", "seventy", "eighty", "ninety"]
NAMED = {
    **{word: float(i + 1) for i, word in enumerate([*ONES, *TEENS, "eighteen", "nineteen"])},
    **{word: 10.0 * (i + 2) for i, word in enumerate(TENS)},
    "couple": 2.0,
    "pair": 2.0,
    "double": 2.0,
    "dozen": 12.0,
    "score": 20.0,
    "hundred": 100.0,
    "single": 1.0,
}
PARTS_OF = {
    "half": 0.5,
    "third": 1 / 3,
    "quarter": 0.25,
    "thirds": 1 / 3,
    "quarters": 0.25,
    "halves": 0.5,
}
FRACTIONS = {"½": "1/2", "⅓": "1/3", "⅔": "2/3", "¼": "1/4", "¾": "3/4", "⅛": "1/8"}
ROUGHLY = frozenset(["about", "around", "roughly", "~", "say", "approx", "approximately"])
# Said of an amount that is no number.
VAGUE = frozenset(
    ["few", "some", "several", "bit", "lot", "plenty", "dash", "sprinkle", "splash", "loads"]
)
HEAPED = {
    **dict.fromkeys(["heaped", "rounded", "heaping", "generous"], 1.4),
    **dict.fromkeys(["level", "struck", "flat"], 1.0),
    **dict.fromkeys(["scant", "shy", "bare"], 0.9),
}
HEAPED_LOW, HEAPED_HIGH = 1.25, 1.7
FIGURE = re.compile(r"\d{1,12}(?:[.,'’]\d{1,12}){0,4}|[.,]\d{1,12}")
ARTICLES = ("a", "an")


@dataclass(frozen=True, slots=True)
class Number:
    """A number as said.

    Attributes
    ----------
    low, high : float
        Both ends of a range; the value itself where it is none. [-]
    end : int
        The token after it.
    ask : str
        What is open about it.
    is_bare_article : bool
        Only "a" or "an".
    """

    value: float
    low: float
    high: float
    end: int
    ask: str = ""
    is_bare_article: bool = False

    @property
    def is_range(self) -> bool:
        """Whether two ends were said."""
        return self.high > self.low


@cites("trade", "how numbers are written: sign of the decimals, groups of thousands")
def figure(text: str, *, is_comma: bool = False) -> tuple[float, str] | None:
    """Return a number written in digits, and what is open about it.

    Parameters
    ----------
    text : str
        Digits with dots, commas or apostrophes.
    is_comma : bool
        Whether the region writes decimals with a comma.

    Returns
    -------
    tuple of (float, str) or None
        Its value and what to ask; None for what is no number. [-]
    """
    plain = text.replace("’", "'").replace("'", "")
    if not FIGURE.fullmatch(text) and not FIGURE.fullmatch(plain):
        return None
    signs = [c for c in plain if c in ".,"]
    if not signs:
        return float(plain), ""
    last = plain.rindex(signs[-1])
    whole, after = plain[:last], plain[last + 1 :]
    grouped = len(after) == 3 and whole.strip(".,") not in ("", "0")
    if len(signs) > 1 and len(set(signs)) == 1:  # 1.000.000 or 1,00,000
        return float(re.sub("[.,]", "", plain)), ""
    if len(signs) > 1:  # 1.234,5
        return float(f"{re.sub('[.,]', '', whole)}.{after}"), ""
    if not grouped:
        return float(f"{whole or 0}.{after}"), ""
    decimal = "," if is_comma else "."
    if signs[0] == decimal:
        thousands, small = float(whole + after), float(f"{whole}.{after}")
        return small, f"{small:g} or {thousands:g}"
    return float(whole + after), ""


class Reader:
    """Reads numbers from the words of a phrase."""

    def __init__(self, tokens: list[str], *, is_comma: bool = False) -> None:
        self.tokens = tokens
        self.is_comma = is_comma

    def at(self, place: int) -> str:
        """Return a token; empty past the end."""
        return self.tokens[place] if 0 <= place < len(self.tokens) else ""

    def number(self, start: int) -> Number | None:
        """Return the number that begins at a token; None where none does."""
        if self.at(start) == "between":
            return self._range(start + 1, "and")
        first = self._one(start)
        if first is None:
            return None
        if self.at(first.end) in ("-", "to", "or"):
            both = self._range(start, self.at(first.end))
            return both or first
        return first

    def _range(self, start: int, joint: str) -> Number | None:
        low = self._one(start)
        if low is None or self.at(low.end) != joint:
            return None
        high = self._one(low.end + 1)
        if high is None or high.is_bare_article or high.value <= low.value:
            return None
        return Number((low.value + high.value) / 2, low.value, high.value, high.end)

    def _one(self, start: int) -> Number | None:
        simple = self._simple(start)
        if simple is None:
            return None
        value, end, ask, is_article = simple
        # One and a half; a half of it may stand after its unit: see `spoken`.
        if self.at(end) == "and":
            at = end + 1 + (self.at(end + 1) in ARTICLES)
            if self.at(at) in PARTS_OF:
                value, end, is_article = value + PARTS_OF[self.at(at)], at + 1, False
        return Number(value, value, value, end, ask, is_article)

    def _simple(self, start: int) -> tuple[float, int, str, bool] | None:
        """Return value, next token, what is open, whether only an article."""
        token = self.at(start)
        after = self.at(start + 1)
        if token in ARTICLES:
            if after in PARTS_OF or after in NAMED:
                return self._simple(start + 1)
            return 1.0, start + 1, "", True
        if token in PARTS_OF:
            end = start + 1
            if self.at(end) in ARTICLES and self.at(end + 1) in ("dozen",):
                return PARTS_OF[token] * NAMED[self.at(end + 1)], end + 2, "", False
            return PARTS_OF[token], end + (self.at(end) in ARTICLES), "", False
        if token in NAMED:
            return self._named(start)
        if "/" in token:
            top, _, low = token.partition("/")
            if top.isdigit() and low.isdigit() and int(low):
                return int(top[:9]) / int(low[:9]), start + 1, "", False
            return None
        read = figure(token, is_comma=self.is_comma)
        if read is None:
            return None
        value, ask = read
        end = start + 1
        while re.fullmatch(r"\d{3}", self.at(end)) and re.fullmatch(r"\d{1,3}", token):
            value, end = value * 1000 + float(self.at(end)), end + 1  # 1 000
        joined = self.at(end) == "-" and re.fullmatch(r"\d{1,2}/\d{1,2}", self.at(end + 1))
        if joined or re.fullmatch(r"\d{1,2}/\d{1,2}", self.at(end)):  # 1 1/2 or 1-1/2
            at = end + bool(joined)
            top, _, low = self.at(at).partition("/")
            if int(low):
                value, end = value + int(top) / int(low), at + 1
        return value, end, ask, False

    def _named(self, start: int) -> tuple[float, int, str, bool]:
        value, end = NAMED[self.at(start)], start + 1
        while True:
            token = self.at(end)
            if token == "hundred":
                value, end = value * 100, end + 1
            elif token in NAMED and NAMED[token] < 10 <= value and value % 10 == 0:
                value, end = value + NAMED[token], end + 1
            elif token == "and" and value >= 100 and self.at(end + 1) in NAMED:
                value, end = value + NAMED[self.at(end + 1)], end + 2
            elif token in PARTS_OF and value < 10:
                return value * PARTS_OF[token], end + 1, "", False
            elif token == "of" and self.at(start) in ("couple", "pair"):
                end += 1
            else:
                return value, end, "", False
