"""Money as a yard writes it: decimal, in one currency."""

from decimal import ROUND_HALF_UP, Decimal, InvalidOperation

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
CURRENCIES = [(code, f"{code} {symbol.strip()}") for code, symbol in SYMBOLS.items()]
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
        return SYMBOLS.get(self.currency, f"{self.currency} ")

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
    text = text.strip().lstrip("".join(s.strip() for s in SYMBOLS.values())).strip()
    text = text.replace(",", ".") if text.count(",") == 1 and "." not in text else text
    try:
        amount = Decimal(text.replace(",", ""))
    except InvalidOperation:
        return None
    return amount if amount.is_finite() and 0 <= amount <= MOST else None
