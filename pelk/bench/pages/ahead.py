"""The pH ahead of a mix, made ready for the runway."""

from __future__ import annotations

import numpy as np

from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.simulation.forecast import Forecast
from pelk.ui.runway import Ahead, Runway, runway

PEN_POINTS, TELLING_OFF = 30, 0.1
# Findings take their room from the runway: the side stays on one screen.
RUNWAY_TALL_PX, RUNWAY_SHORT_PX = 194, 154
# The runway is drawn for its slot, never scaled: desk, tablet, phone. A page that does
# not say which slot it has gets all three, and shows the one that fits.
RUNWAY_PX = {"only-xl": 462, "only-m": 396, "only-s": 358}


def runways_of(
    evaluation: Evaluation, slot: str | None, *, is_short: bool
) -> list[tuple[str, Runway]]:
    """Return the runway for a slot, or for each; none without a forecast."""
    if evaluation.forecast is None:
        return []
    shown = ahead_of(evaluation.forecast)
    high = RUNWAY_SHORT_PX if is_short else RUNWAY_TALL_PX
    slots = [("", RUNWAY_PX[slot])] if slot in RUNWAY_PX else list(RUNWAY_PX.items())
    return [(css, runway(shown, evaluation.ph_band, width=px, height=high)) for css, px in slots]


def ahead_of(forecast: Forecast) -> Ahead:
    """Return what a runway shows of a forecast."""
    ammonium = forecast.line.daily("ammonium_mg_l")[: forecast.days + 1]
    hot = np.flatnonzero(ammonium > forecast.limits.ammonium_mg_l)
    ready = forecast.ready
    sulfur, lime = forecast.sulfur_left, forecast.lime_left
    return Ahead(
        low=forecast.ph[0],
        middle=forecast.ph[1],
        high=forecast.ph[2],
        ready=(ready.p10, ready.p50, ready.p90),
        hot_until=int(hot[-1]) if hot.size else 0,
        sulfur_left=None if sulfur is None else sulfur[: forecast.days + 1],
        lime_left=None if lime is None else lime[: forecast.days + 1],
        pen=pen_line(forecast),
    )


def pen_line(forecast: Forecast) -> np.ndarray[tuple[int], np.dtype[np.float64]] | None:
    """Return what a pen in a slurry shows by day, where salts take a tenth and more off."""
    days = np.arange(forecast.days + 1)
    at = np.unique(np.linspace(0, forecast.days, PEN_POINTS).astype(int))
    off = np.interp(days, at, [forecast.lowered_on(int(day)) for day in at])
    return forecast.ph[1] - off if float(off.max()) >= TELLING_OFF else None
