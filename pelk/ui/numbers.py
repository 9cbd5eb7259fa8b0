"""Numbers as growers write and read them."""

import re
from collections.abc import Iterable
from math import isfinite

from pelk.core.base.rounding import sig

QUARTERS = {0.25: "¼", 0.5: "½", 0.75: "¾"}
VULGAR = {"¼": 0.25, "½": 0.5, "¾": 0.75, "⅓": 1 / 3, "⅔": 2 / 3, "⅛": 0.125}
# What has more characters is no number that anybody writes.
LONGEST = 40
MOST = 2**63 - 1  # what a database keeps in one field
MIXED = re.compile(r"^(?:(\d+)\s+)?(\d+)/(\d+)$")


def label_grade(shares: Iterable[float]) -> str:
    """Write nitrogen, phosphate and potash as labels do: ``4–3–4.5``."""
    return "–".join(f"{share:.1f}".removesuffix(".0") for share in shares)


def fraction(value: float) -> str:
    """Write a count of measures: ``2¾``, ``3/8``, ``5``."""
    whole, part = int(value), value - int(value)
    if part in QUARTERS:
        return f"{whole or ''}{QUARTERS[part]}"
    if part and value < 1:
        return f"{round(part * 8)}/8"
    if part:
        return sig(value)
    return str(whole)


def read_count(text: str, most: int = MOST) -> int | None:
    """Return the whole number that was written, of digits only; None for anything else."""
    if not text.isdecimal() or len(text) > LONGEST:
        return None
    return min(int(text), most)


def read_counts(texts: Iterable[str]) -> list[int]:
    """Return the whole numbers among what was written."""
    return [count for text in texts if (count := read_count(text)) is not None]


def read_number(text: str) -> float | None:
    """Return the number a grower wrote: ``0.9``, ``0,9``, ``1/2``, ``1 1/2``, ``1½``.

    None when it is not one number.
    """
    text = text.strip()
    if len(text) > LONGEST:
        return None
    if text and text[-1] in VULGAR:
        whole = text[:-1].strip() or "0"
        return int(whole) + VULGAR[text[-1]] if whole.isdecimal() else None
    if match := MIXED.match(text):
        whole_part, top, bottom = match.groups()
        return int(whole_part or 0) + int(top) / int(bottom) if int(bottom) else None
    try:
        value = float(text.replace(",", ".") if text.count(",") == 1 else text)
    except ValueError:
        return None
    return value if isfinite(value) else None
