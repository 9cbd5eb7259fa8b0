"""The curve of a blend read backwards: the pH that holds a net base, tabulated once."""

from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.buffering import PH_GRID
from pelk.core.base.arithmetic import Lane

Floats = NDArray[np.float64]

NET_BASE_SPAN_MEQ = 1500.0


def inverse_of(base: Floats, nodes: int) -> Callable[[Any], Lane]:
    """Return the function that gives the pH at which a curve holds a charge.

    Parameters
    ----------
    base : array, shape (n_ph,) or (n_draws, n_ph)
        Base that holds each pH of an even grid from 2 to 10. [meq/L]
    nodes : int
        Of the even table that is read.

    Returns
    -------
    callable
        From net base [meq/L] to pH.
    """
    if base.ndim == 1:
        return _inverse_of_one(base, nodes)
    grid = np.linspace(PH_GRID[0], PH_GRID[-1], base.shape[1])
    lows = np.maximum(base[:, 0], -NET_BASE_SPAN_MEQ)
    spans = np.minimum(base[:, -1], NET_BASE_SPAN_MEQ) - lows
    axis = np.linspace(0, 1, nodes + 1)
    flat = np.concatenate(
        [
            np.interp(low + span * axis, row, grid)
            for low, span, row in zip(lows, spans, base, strict=True)
        ]
    )
    scales = nodes / spans
    starts = np.arange(len(base)) * (nodes + 1)

    def many(net_base: Floats) -> Floats:
        place = np.minimum(np.maximum((net_base - lows) * scales, 0.0), nodes - 1e-9)
        j = place.astype(np.intp)
        k = starts + j
        low = flat[k]
        ph: Floats = low + (place - j) * (flat[k + 1] - low)
        return ph

    return many


def _inverse_of_one(base: Floats, nodes: int) -> Callable[[Any], Lane]:
    low = max(float(base[0]), -NET_BASE_SPAN_MEQ)
    high = min(float(base[-1]), NET_BASE_SPAN_MEQ)
    table: list[float] = np.interp(np.linspace(low, high, nodes + 1), base, PH_GRID).tolist()
    scale, last = nodes / (high - low), nodes - 1e-9

    def one(net_base: float) -> float:
        place = min(max((net_base - low) * scale, 0.0), last)
        j = int(place)
        return table[j] + (place - j) * (table[j + 1] - table[j])

    return one
