"""One set of equations for one line of floats and for many samples at once.

A time course is stepped with plain floats for the central line (numpy's call cost
would be most of the time) and with arrays for the samples of a fan. The equations
are written once against `Arithmetic`; `ONE` and `MANY` say how its words are done.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

Columns = NDArray[np.float64]


class Lane(Protocol):
    """A float, or an array over samples: what the equations of a step need of either."""

    def __add__(self, other: Any, /) -> Any: ...
    def __radd__(self, other: Any, /) -> Any: ...
    def __sub__(self, other: Any, /) -> Any: ...
    def __rsub__(self, other: Any, /) -> Any: ...
    def __mul__(self, other: Any, /) -> Any: ...
    def __rmul__(self, other: Any, /) -> Any: ...
    def __truediv__(self, other: Any, /) -> Any: ...
    def __rtruediv__(self, other: Any, /) -> Any: ...
    def __pow__(self, other: Any, /) -> Any: ...
    def __rpow__(self, other: Any, /) -> Any: ...
    def __neg__(self) -> Any: ...
    def __abs__(self) -> Any: ...
    def __float__(self) -> float: ...
    def __lt__(self, other: Any, /) -> Any: ...
    def __le__(self, other: Any, /) -> Any: ...
    def __gt__(self, other: Any, /) -> Any: ...
    def __ge__(self, other: Any, /) -> Any: ...


class Grid:
    """Columns tabulated at even steps: one look-up gives all of them.

    Parameters
    ----------
    start, step : float
        Of the axis.
    columns : sequence of array
        Values at each point of the axis.
    """

    def __init__(self, start: float, step: float, columns: Sequence[Columns]) -> None:
        self.start, self.scale = start, 1 / step
        values = np.stack(columns, axis=1)
        rises = np.diff(values, axis=0, append=values[-1:])
        self.width = len(columns)
        self.many = np.ascontiguousarray(np.hstack([values, rises]))
        # One flat list: thousands of small ones would wake the garbage collector.
        self.one: list[float] = values.ravel().tolist()
        self.last = len(values) - 1


class Stack:
    """Several curves over one even axis, each read at its own place.

    Parameters
    ----------
    curves : sequence of array
        Values at each step of the axis.
    step : float
        Of the axis, which starts at zero.
    """

    def __init__(self, curves: Sequence[Columns], step: float) -> None:
        self.scale = 1 / step
        self.one: list[list[float]] = [c.tolist() for c in curves]
        self.flat = np.concatenate(curves) if curves else np.zeros(0)
        self.last = len(curves[0]) - 1 if curves else 0
        self.starts = np.arange(len(curves))[:, None] * (self.last + 1)


@dataclass(frozen=True, slots=True)
class Arithmetic:
    """The words that differ between a float and an array."""

    exp: Callable[..., Lane]
    expm1: Callable[..., Lane]
    log1p: Callable[..., Lane]
    sqrt: Callable[..., Lane]
    least: Callable[..., Lane]
    most: Callable[..., Lane]
    where: Callable[..., Lane]
    rows: Callable[[Grid, Any], Any]
    each: Callable[..., Any]
    read: Callable[[Stack, Any], Any]
    total: Callable[[Any], Lane]
    largest: Callable[[Any], float]


def _rows_of_one(grid: Grid, x: float) -> list[float]:
    place = (x - grid.start) * grid.scale
    j = min(max(int(place), 0), grid.last - 1)
    rest = min(max(place - j, 0.0), 1.0)
    width = grid.width
    first = j * width
    low, high = (grid.one[first : first + width], grid.one[first + width : first + 2 * width])
    return [a + rest * (b - a) for a, b in zip(low, high)]  # noqa: B905  (the hot path)


def _rows_of_many(grid: Grid, x: Columns) -> Columns:
    place = np.minimum(np.maximum((x - grid.start) * grid.scale, 0.0), grid.last - 1e-9)
    j = place.astype(np.intp)
    rows = grid.many.take(j, axis=0).T
    columns: Columns = rows[grid.width :] * (place - j)
    columns += rows[: grid.width]
    return columns


def _each_of_one(rule: Callable[..., float], *columns: Sequence[float]) -> list[float]:
    return [rule(*row) for row in zip(*columns)]  # noqa: B905  (the hot path)


def _each_of_many(rule: Callable[..., Columns], *columns: Columns) -> Columns:
    return rule(*columns)


def _read_of_one(stack: Stack, places: Sequence[float]) -> list[float]:
    values = []
    for curve, x in zip(stack.one, places):  # noqa: B905  (the hot path)
        place = min(x * stack.scale, stack.last - 1e-9)
        j = int(place)
        values.append(curve[j] + (place - j) * (curve[j + 1] - curve[j]))
    return values


def _read_of_many(stack: Stack, places: Columns) -> Columns:
    place = np.minimum(places * stack.scale, stack.last - 1e-9)
    j = place.astype(np.intp)
    k = j + stack.starts
    low = stack.flat.take(k)
    columns: Columns = low + (place - j) * (stack.flat.take(k + 1) - low)
    return columns


def _either(condition: bool, yes: float, no: float) -> float:
    return yes if condition else no


ONE = Arithmetic(
    exp=math.exp,
    expm1=math.expm1,
    log1p=math.log1p,
    sqrt=math.sqrt,
    least=min,
    most=max,
    where=_either,
    rows=_rows_of_one,
    each=_each_of_one,
    read=_read_of_one,
    total=sum,
    largest=abs,
)
MANY = Arithmetic(
    exp=np.exp,
    expm1=np.expm1,
    log1p=np.log1p,
    sqrt=np.sqrt,
    least=np.minimum,
    most=np.maximum,
    where=np.where,
    rows=_rows_of_many,
    each=_each_of_many,
    read=_read_of_many,
    total=lambda rows: rows.sum(0),
    largest=lambda x: float(np.max(np.abs(x))),
)
