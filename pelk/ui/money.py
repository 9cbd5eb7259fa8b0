"""Money as a yard writes it: decimal, in one currency."""

import re
from decimal import ROUND_HALF_UP, Decimal, InvalidOperation
from functools import cache

from babel.numbers import get_currency_name, get_currency_symbol

from pelk.core.base.regions import regions

SYMBOLS = {
    "EUR": "€",
    "GBP": "£",
    "USD": "$",
    "CAD": "$",
    "AUD": "$",
    "NZD": "$",
    "CHF": "CHF ",
    "DKK": "kr ",
    "NOK": "kr ",
    "SEK": "kr ",
    "PLN": "zł ",
    "CZK": "Kč ",
    "ILS": "₪",
    "INR": "₹",
    "ZAR": "R ",
    "JPY": "¥",
}


def sign_of(currency: str) -> str:
    """Return what stands before an amount of a currency; its code where it has no sign."""
    if currency in SYMBOLS:
        return SYMBOLS[currency]
    sign = get_currency_symbol(currency, "en") if currency else ""
    return f"{sign} " if sign.isalpha() and sign else sign


@cache
def currencies() -> tuple[tuple[str, str], ...]:
    """Return the codes of all currencies with their names, in the order of the names."""
    codes = {region.currency for region in regions().values() if region.currency}
    named = [(code, f"{get_currency_name(code, locale='en')}, {code}") for code in codes]
    return tuple(sorted(named, key=lambda pair: pair[1]))


def foreign_sign(text: str, currency: str) -> str:
    """Return the sign or code of another currency that a typed amount bears; empty if none."""
    typed = text.strip().strip("0123456789.,' \u00a0")
    own = {sign_of(currency).strip(), currency}
    if not typed or typed in own or typed.upper() in own:
        return ""
    known = {sign.strip() for sign in SYMBOLS.values()} | {code for code, _ in currencies()}
    return typed if typed in known or typed.upper() in known else ""


AROUND = re.compile(r"^[^\d.,\-]+|[^\d.,]+$")
PENNY, MOST = Decimal("0.01"), Decimal(1_000_000)
# Below this a unit price is written with three significant figures.
SMALL = Decimal(1)


class Money:
    """Writes and reads amounts of one currency."""

    def __init__(self, currency: str) -> None:
        self.currency = currency

    @property
    def symbol(self) -> str:
        """What stands before an amount."""
        return sign_of(self.currency)

    def write(self, amount: Decimal | None) -> str:
        """Write a sum to the penny."""
        if amount is None:
            return "–"
        return f"{self.symbol}{amount.quantize(PENNY, ROUND_HALF_UP):,}"

    def each(self, amount: Decimal | None) -> str:
        """Write a price of one unit: small ones with three significant figures."""
        if amount is None:
            return "–"
        if amount >= SMALL or amount == 0:
            return self.write(amount)
        places = 2 - amount.adjusted()
        text = f"{amount:.{min(places, 6)}f}".rstrip("0")
        return f"{self.symbol}{text}"

    def each_float(self, amount: float) -> str:
        """Write a unit price that was kept as a float for ordering."""
        return self.each(Decimal(repr(round(amount, 6))))


def read_money(text: str) -> Decimal | None:
    """Return a typed amount of money, or None when it is not one."""
    text = AROUND.sub("", text.strip())
    text = text.replace(",", ".") if text.count(",") == 1 and "." not in text else text
    try:
        amount = Decimal(text.replace(",", ""))
    except InvalidOperation:
        return None
    return amount if amount.is_finite() and 0 <= amount <= MOST else None
