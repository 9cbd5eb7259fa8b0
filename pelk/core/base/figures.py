"""A number that can be asked why: value, range, inputs, method, sources."""

from collections.abc import Callable
from dataclasses import dataclass, field

from pelk.core.base.quantities import Quantity
from pelk.core.base.sources import Citation, citations


@dataclass(frozen=True, slots=True)
class Input:
    """One thing that went into a figure: what, how much, and on what ground."""

    label: str
    value: float | None
    unit: str = ""
    mark: str = ""
    note: str = ""


@dataclass(frozen=True, slots=True)
class Figure:
    """A computed number for a reader, or the reason why there is none.

    Attributes
    ----------
    low, high : float or None
        The range most real lots fall in (about 8 in 10), in the unit of the
        quantity; None where the number has no useful doubt.
    method : str
        The formula in words.
    note : str
        What the reader must know beside it: what was left out, what is not known.
    """

    quantity: Quantity
    value: float | None
    low: float | None = None
    high: float | None = None
    inputs: tuple[Input, ...] = ()
    method: str = ""
    citations: tuple[Citation, ...] = field(default=())
    note: str = ""
    problem: str = ""


def figure(
    quantity: Quantity,
    value: float | None,
    by: Callable[..., object],
    *,
    span: tuple[float, float] | None = None,
    inputs: tuple[Input, ...] = (),
    method: str = "",
    note: str = "",
    problem: str = "",
    also: tuple[Callable[..., object], ...] = (),
) -> Figure:
    """Return a figure with the sources of the method that made it.

    Parameters
    ----------
    quantity : Quantity
        What the number is.
    value : float or None
        In the unit of `quantity`; None when `problem` says why there is none.
    by : callable
        The core function that computed it; its ``@cites`` come along.
    span : tuple of float, optional
        Low and high of the number.
    inputs, method, note, problem
        As in `Figure`.
    also : tuple of callable
        Further functions the number rests on.

    Returns
    -------
    Figure
        Checked against the possible range of the quantity.

    Raises
    ------
    OutOfRangeError
        When the value cannot be true.
    """
    if value is not None:
        quantity.check(value)
    low, high = span or (None, None)
    cited = tuple(dict.fromkeys(c for one in (by, *also) for c in citations(one)))
    return Figure(quantity, value, low, high, inputs, method, cited, note, problem)
