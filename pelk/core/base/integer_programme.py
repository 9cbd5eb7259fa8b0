"""Mixed-integer programmes in words: variables, rows, what binds, what conflicts.

A thin layer over the solver of scipy (HiGHS): doses that are either left out or at
least weighable, rows with a low and a high side, and answers that can be explained.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

SECONDS = 5.0
GAP = 1e-4
TINY = 1e-7
LONG_CONFLICT, MOST_CONFLICTS = 4, 3


@dataclass(frozen=True, slots=True, kw_only=True)
class Variable:
    """Something that may go in.

    Attributes
    ----------
    cost : float
        For a unit of it.
    most, least : float
        At most, and at least once it is used at all.
    per_unit : mapping of str to float
        What a unit of it brings to each row.
    is_used : bool
        Counts when fewest are wanted; must be in when `least` is above zero else.
    """

    name: str
    cost: float
    most: float
    per_unit: Mapping[str, float]
    least: float = 0.0
    counts: bool = True


@dataclass(frozen=True, slots=True, kw_only=True)
class Row:
    """Something wanted between two sides.

    Attributes
    ----------
    low, high : float
        Infinite where that side is free.
    base : float
        There already.
    scale : float
        By how much a miss is measured.
    """

    name: str
    low: float = -np.inf
    high: float = np.inf
    base: float = 0.0
    scale: float = 1.0


@dataclass(frozen=True, slots=True)
class Binding:
    """A side that holds the answer where it is, and what moving it by a unit saves."""

    row: str
    side: str
    price: float


@dataclass(frozen=True, slots=True)
class Answer:
    """The best mix, and why it is no better.

    Attributes
    ----------
    gap : float
        How far from the best it may be; 0 when it is the best. [-]
    """

    amounts: dict[str, float]
    cost: float
    values: dict[str, float]
    binding: tuple[Binding, ...]
    at_most: tuple[str, ...]
    gap: float


@dataclass(frozen=True, slots=True)
class Conflict:
    """Why there is no answer, and what comes nearest.

    Attributes
    ----------
    nearest : dict of str to float
        Amounts that miss least.
    misses : dict of str to float
        How far each row is missed there: short is negative.
    sets : tuple of tuple of (str, str)
        Sides that cannot hold together, each set as small as can be.
    """

    nearest: dict[str, float]
    misses: dict[str, float]
    sets: tuple[tuple[tuple[str, str], ...], ...]


@dataclass(frozen=True, slots=True)
class _Arrays:
    matrix: Floats
    low: Floats
    high: Floats
    most: Floats
    least: Floats
    cost: Floats
    counts: Floats


def arrays_of(variables: Sequence[Variable], rows: Sequence[Row]) -> _Arrays:
    """Return a programme as the arrays that the solver takes."""
    base = np.array([r.base for r in rows])
    return _Arrays(
        np.array([[v.per_unit.get(r.name, 0.0) for v in variables] for r in rows]),
        np.array([r.low for r in rows]) - base,
        np.array([r.high for r in rows]) - base,
        np.array([v.most for v in variables]),
        np.array([v.least for v in variables]),
        np.array([v.cost for v in variables]),
        np.array([float(v.counts) for v in variables]),
    )


def milp_arguments(
    arrays: _Arrays, *, fewest: bool, most_used: int | None = None
) -> dict[str, Any]:
    """Return the solver's arguments for least cost, or for the fewest variables."""
    from scipy.optimize import Bounds, LinearConstraint  # noqa: PLC0415  (a second to load)
    from scipy.sparse import csr_array  # noqa: PLC0415

    n = len(arrays.most)
    switched = (arrays.least > 0) | fewest | (most_used is not None)
    eye = np.eye(n)
    zeros = np.zeros_like(arrays.matrix)
    blocks = [
        LinearConstraint(csr_array(np.hstack([arrays.matrix, zeros])), arrays.low, arrays.high),
        LinearConstraint(csr_array(np.hstack([eye, -np.diag(arrays.most)])), -np.inf, 0.0),
        LinearConstraint(csr_array(np.hstack([eye, -np.diag(arrays.least)])), 0.0, np.inf),
    ]
    if most_used is not None:
        row = np.concatenate([np.zeros(n), arrays.counts])[None, :]
        blocks.append(LinearConstraint(row, -np.inf, float(most_used)))
    top = arrays.cost.max(initial=0.0) or 1.0
    cost = np.concatenate([arrays.cost, np.zeros(n)])
    if fewest:
        small = 1e-3 / max(float(np.max(arrays.most, initial=1.0)) * n, 1.0)
        cost = np.concatenate([small * arrays.cost / top, arrays.counts])
    return {
        "c": cost,
        "constraints": blocks,
        "integrality": np.concatenate([np.zeros(n), switched.astype(float)]),
        "bounds": Bounds(0, np.concatenate([arrays.most, np.ones(n)])),
        "options": {"time_limit": SECONDS, "mip_rel_gap": GAP},
    }


def solve(
    variables: Sequence[Variable],
    rows: Sequence[Row],
    *,
    fewest: bool = False,
    most_used: int | None = None,
) -> Answer | Conflict:
    """Return the cheapest amounts that keep every row, or why there are none.

    Parameters
    ----------
    variables : sequence of Variable
        What may go in.
    rows : sequence of Row
        What is wanted.
    fewest : bool
        Fewest variables first, cost second.
    most_used : int, optional
        At most so many.

    Returns
    -------
    Answer or Conflict
        Within five seconds the best found and its gap.
    """
    if not variables:
        return _conflict(variables, rows, arrays_of(variables, rows))
    from scipy.optimize import milp  # noqa: PLC0415  (a second to load)

    arrays = arrays_of(variables, rows)
    result = milp(**milp_arguments(arrays, fewest=fewest, most_used=most_used))
    if result.x is None:
        return _conflict(variables, rows, arrays)
    n = len(variables)
    amounts = np.where(result.x[:n] > TINY, result.x[:n], 0.0)
    used = np.flatnonzero(amounts)
    taken = [int(i) for i in used]
    binding = _binding(rows, arrays, used)
    values = arrays.matrix @ amounts
    return Answer(
        {variables[i].name: float(amounts[i]) for i in taken},
        float(arrays.cost @ amounts),
        {r.name: float(v + r.base) for r, v in zip(rows, values, strict=True)},
        binding,
        tuple(variables[i].name for i in taken if amounts[i] > arrays.most[i] - TINY),
        float(result.mip_gap or 0.0),
    )


def _sides(rows: Sequence[Row], arrays: _Arrays) -> list[tuple[int, str]]:
    sides = [(k, "most") for k in range(len(rows)) if np.isfinite(arrays.high[k])]
    return sides + [(k, "least") for k in range(len(rows)) if np.isfinite(arrays.low[k])]


def _inequalities(
    arrays: _Arrays, sides: Sequence[tuple[int, str]], columns: NDArray[np.intp]
) -> tuple[Floats, Floats]:
    matrix = [arrays.matrix[k, columns] * (1 if side == "most" else -1) for k, side in sides]
    limits = [arrays.high[k] if side == "most" else -arrays.low[k] for k, side in sides]
    return np.array(matrix).reshape(len(sides), len(columns)), np.array(limits)


def _binding(rows: Sequence[Row], arrays: _Arrays, used: NDArray[np.intp]) -> tuple[Binding, ...]:
    """Return the sides without slack, by the linear programme of what is used."""
    from scipy.optimize import linprog  # noqa: PLC0415  (a second to load)

    sides = _sides(rows, arrays)
    if not sides or not used.size:
        return ()
    matrix, limits = _inequalities(arrays, sides, used)
    bounds = list(zip(arrays.least[used], arrays.most[used], strict=True))
    result = linprog(arrays.cost[used], A_ub=matrix, b_ub=limits, bounds=bounds)
    if result.status != 0:
        return ()
    return tuple(
        Binding(rows[k].name, side, float(-price))
        for (k, side), slack, price in zip(
            sides, result.slack, result.ineqlin.marginals, strict=True
        )
        if abs(slack) < TINY * max(1.0, abs(rows[k].scale))
    )


def _conflict(variables: Sequence[Variable], rows: Sequence[Row], arrays: _Arrays) -> Conflict:
    sides = _sides(rows, arrays)
    nearest, misses = _elastic(variables, rows, arrays, sides)
    rows_in_conflict: list[tuple[tuple[str, str], ...]] = []
    pool = list(sides)
    while len(rows_in_conflict) < MOST_CONFLICTS and pool and not _holds(arrays, pool):
        core = list(pool)
        for side in pool:
            fewer = [s for s in core if s != side]
            if not _holds(arrays, fewer):
                core = fewer
        rows_in_conflict.append(tuple((rows[k].name, side) for k, side in core))
        wish = next((s for s in core if s[1] == "least"), core[0])
        pool = [s for s in pool if s != wish]
    return Conflict(nearest, misses, tuple(rows_in_conflict))


def _holds(arrays: _Arrays, sides: Sequence[tuple[int, str]]) -> bool:
    """Return whether some amounts keep these sides."""
    if not sides:
        return True
    columns = np.arange(len(arrays.most))
    matrix, limits = _inequalities(arrays, sides, columns)
    if not columns.size:
        return bool((limits >= 0).all())
    from scipy.optimize import linprog  # noqa: PLC0415  (a second to load)

    bounds = [(0.0, most) for most in arrays.most]
    result = linprog(np.zeros(len(columns)), A_ub=matrix, b_ub=limits, bounds=bounds)
    return bool(result.status == 0)


def _elastic(
    variables: Sequence[Variable],
    rows: Sequence[Row],
    arrays: _Arrays,
    sides: Sequence[tuple[int, str]],
) -> tuple[dict[str, float], dict[str, float]]:
    """Return the amounts that miss the rows least, measured by their scales."""
    from scipy.optimize import linprog  # noqa: PLC0415  (a second to load)

    n, m = len(variables), len(sides)
    columns = np.arange(n)
    matrix, limits = _inequalities(arrays, sides, columns)
    cost = np.concatenate([np.zeros(n), [1 / rows[k].scale for k, _ in sides]])
    bounds = [(0.0, most) for most in arrays.most] + [(0.0, None)] * m
    result = linprog(cost, A_ub=np.hstack([matrix, -np.eye(m)]), b_ub=limits, bounds=bounds)
    if result.status != 0:
        return {}, {}
    nearest = {v.name: float(x) for v, x in zip(variables, result.x, strict=False) if x > TINY}
    misses = {
        rows[k].name: float(x if side == "most" else -x)
        for (k, side), x in zip(sides, result.x[n:], strict=True)
        if x > 1e-6 * rows[k].scale
    }
    return nearest, misses
