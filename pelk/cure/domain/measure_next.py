"""What to measure next of a heap, for the day that it is to be ready."""

from __future__ import annotations

from pelk.core.advice.measure_next import (
    NextMeasure,
    Offer,
    PhDraws,
    jar_offer,
    next_measure,
    ph_offers,
)
from pelk.cure.domain.learning import Learned

# A heap that is ready, or never is, is asked about for so long ahead; nearer is too late.
AHEAD_DAYS, LEAST_DAYS = 45, 7


def next_for(learning: Learned, today: int, *, asks_jars: bool = False) -> NextMeasure | None:
    """Return what to measure next; None where nothing is forecast, or it lies too long.

    `asks_jars` weighs two jars too: another ensemble, so only where it is asked for.
    """
    evaluation = learning.evaluation
    ahead = evaluation.forecast
    if ahead is None or ahead.ensemble is None:
        return None
    ready = ahead.ready.p50
    is_ahead = ready is not None and ready >= today + LEAST_DAYS
    decision = ready if is_ahead and ready is not None else today + AHEAD_DAYS
    if decision > ahead.days:
        return None
    draws = PhDraws.of(ahead.ensemble)
    offers: list[Offer] = ph_offers(draws, today, decision, pen_is_checked=learning.pen_is_checked)
    if asks_jars:
        offers.append(jar_offer(ahead.heap, draws, today, decision))
    return next_measure(draws, offers, decision, evaluation.ph_band)
