"""What to measure next of a soil that goes on."""

from __future__ import annotations

import numpy as np

from pelk.core.advice.judged_life import band_of, standing
from pelk.core.advice.measure_next import NextMeasure, PhDraws, next_measure, ph_offers, strip_offer
from pelk.core.simulation.ensemble import SAMPLES, life_draws_of
from pelk.core.simulation.soil_forecast import SoilForecast

# What is done about a pH takes weeks: it is asked about so long ahead.
AHEAD_DAYS, LEAST_DAYS = 60, 7


def next_for(forecast: SoilForecast, today: int, *, pen_is_checked: bool) -> NextMeasure | None:
    """Return what to measure next; None where nothing grows, or nothing was drawn."""
    life, run = forecast.life, forecast.ensemble
    crops = standing(life, today)
    decision = min(today + AHEAD_DAYS, life.days)
    if run is None or not crops or decision < today + LEAST_DAYS:
        return None
    draws = PhDraws.of(run)
    offers = ph_offers(draws, today, decision, pen_is_checked=pen_is_checked)
    if life.water_is_guessed:
        drawn = life_draws_of(life.soil.heap, draws.ph.shape[1] or SAMPLES, guessed=True)
        offers.append(strip_offer(draws, np.asarray(drawn.alkalinity), today, decision))
    return next_measure(draws, offers, decision, band_of(crops, life.soil.mineral))
