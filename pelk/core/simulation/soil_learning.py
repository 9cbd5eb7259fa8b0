"""What the readings of a soil teach of it, on its own life instead of a heap's course."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.salts_on_pens import PhMethod
from pelk.core.base.sources import cites
from pelk.core.simulation.calibration import OFFSET_AT, Calibration, PhReading, calibrate_by
from pelk.core.simulation.ensemble import DRAINS_SPREAD, Posterior
from pelk.core.simulation.follow import Follower
from pelk.core.simulation.initial_state import starting_at, with_buffer
from pelk.core.simulation.life import Life, Read
from pelk.core.simulation.run import CENTRAL, LINE_PACE, Draws

Floats = NDArray[np.float64]
# Logarithm of the factor on what drains, and its spread.
Drains = tuple[float, float]

# How a life writes a method.
METHODS = {
    "slurry": PhMethod.SLURRY,
    "1:2": PhMethod.HALF,
    "1:5": PhMethod.FIFTH,
    "sme": PhMethod.PASTE,
    "paste": PhMethod.PASTE,
    "pour-through": PhMethod.POUR,
}
FURTHEST = np.log([0.2, 5.0])
# Salts: of the logarithm of a reading, by method; of the meter and the scooping together.
EC_NOISE = {"1:2": 0.15, "paste": 0.15, "pour-through": 0.25}
EC_FACTOR_SD = 0.20
# Before so many days of watering salts say what was mixed, not what drains.
WASHED_DAYS, DRAIN_TURNS, MOST_DRAINS = 14, 2, 1.2


def as_begun(life: Life) -> Life:
    """Return a life whose mix starts at the pH that was read on mixing day, where one was."""
    first = next((e.ph for e in life.events if isinstance(e, Read) and e.day == 0 and e.ph), None)
    if first is None:
        return life
    soil = replace(life.soil, heap=starting_at(life.soil.heap, first))
    return replace(life, soil=soil)


def as_learned(
    life: Life, learned: Posterior | None, drains: Drains | None = None
) -> tuple[Life, Draws]:
    """Return a life, and the factors of its central line, by what readings taught."""
    told, draws = life, CENTRAL
    if learned is not None:
        told, draws = _with(life, np.append(learned.mean, 0.0))
    return told, replace(draws, drains=float(np.exp(drains[0]))) if drains else draws


@cites("pelk", "the priors of a heap, on the life of a soil")
def learn(life: Life) -> Calibration | None:
    """Return what the pH readings of a life teach; None where there are none after mixing day.

    Parameters
    ----------
    life : Life
        With its readings among its events.

    Returns
    -------
    Calibration or None
        Factors on buffer, lime, sulfur and carbonate of what it was mixed of.
    """
    reads = [e for e in life.events if isinstance(e, Read) and e.day > 0 and e.ph is not None]
    if not reads:
        return None
    readings = [_reading(e) for e in reads]
    until = max(e.day for e in reads) + 1
    past = replace(life, days=until, events=tuple(e for e in life.events if e.day <= until))

    def predict(theta: Floats, at: Floats) -> Floats:
        told, draws = _with(past, theta)
        before = Follower(told, LINE_PACE, draws).run().before
        return np.array([float(before[int(day)]["ph"]) for day in at])

    return calibrate_by(life.soil.heap, readings, predict)


@cites("pelk", "salts move what drains only: one factor, ln-sd .40; the meter's own factor .20")
def learn_drains(life: Life, conductivity: Callable[[Life, float], Floats]) -> Drains | None:
    """Return what readings of salts teach of what drains; None where they can teach nothing.

    Parameters
    ----------
    life : Life
        With its readings among its events.
    conductivity : callable
        From a life and a factor on what drains to its salts on every day. [dS/m]

    Returns
    -------
    tuple of float, or None
        Logarithm of the factor on what drains, and its spread.
    """
    watered = min((e.day for e in life.events if not isinstance(e, Read)), default=life.days)
    reads = [e for e in life.events if isinstance(e, Read) and e.ec_ds_m]
    reads = [e for e in reads if e.day >= watered + WASHED_DAYS]
    if not reads:
        return None
    until = max(e.day for e in reads) + 1
    past = replace(life, days=until, events=tuple(e for e in life.events if e.day <= until))
    days = [e.day for e in reads]
    seen = np.log([e.ec_ds_m or 1.0 for e in reads])
    noise = np.array([EC_NOISE.get(e.method, EC_NOISE["1:2"]) for e in reads])
    doubt = np.linalg.inv(np.diag(noise**2) + EC_FACTOR_SD**2)

    def shown(factor: float) -> Floats:
        ec = conductivity(past, float(np.exp(factor)))[days]
        return np.asarray(np.log(np.maximum(ec, 1e-3)))

    at, step, spread = 0.0, DRAINS_SPREAD, DRAINS_SPREAD
    here = shown(at)
    for _ in range(DRAIN_TURNS):
        slope = (shown(at + step) - here) / step
        sure = float(slope @ doubt @ slope) + 1 / DRAINS_SPREAD**2
        better = float(slope @ doubt @ (seen - here + slope * at)) / sure
        at = float(np.clip(better, -MOST_DRAINS, MOST_DRAINS))
        here, spread = shown(at), sure**-0.5
    return at, spread


def _with(life: Life, theta: Floats) -> tuple[Life, Draws]:
    factors = np.exp(np.clip(theta[:OFFSET_AT], *FURTHEST))
    buffer, lime, sulfur, carbonate = factors.tolist()
    soil = replace(life.soil, heap=with_buffer(life.soil.heap, buffer))
    return replace(life, soil=soil), Draws(lime=lime, sulfur=sulfur, carbonate=carbonate)


def _reading(event: Read) -> PhReading:
    meter = "checked pen" if event.checked else "unchecked pen"
    return PhReading(
        day=float(event.day),
        ph=event.ph or 0.0,
        method=METHODS.get(event.method, PhMethod.SLURRY),
        meter="strip" if event.method == "strip" else meter,
    )
