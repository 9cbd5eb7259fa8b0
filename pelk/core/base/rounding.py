"""One way to write a number: so many significant figures, never an exponent."""

from math import floor, isfinite, log10


def sig(value: float | None, digits: int = 3) -> str:
    """Return a number to so many significant figures, without an exponent.

    Parameters
    ----------
    value : float or None
        In any unit; None is a dash.
    digits : int
        Significant figures.

    Returns
    -------
    str
        As it is read.
    """
    if value is None:
        return "–"
    if value == 0 or not isfinite(value):
        return "0" if value == 0 else "–"
    places = digits - 1 - floor(log10(abs(value)))
    rounded = round(value, places)
    text = f"{rounded:.{max(places, 0)}f}"
    if places > 0:
        text = text.rstrip("0").rstrip(".")
    return text.replace("-", "−")
