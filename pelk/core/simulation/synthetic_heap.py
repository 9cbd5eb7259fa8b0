"""A heap with a truth of its own: what a pen would find there, for devices and training."""

from dataclasses import dataclass

import numpy as np

from pelk.core.base.sources import cites
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import with_buffer
from pelk.core.simulation.run import Draws, Surroundings, Trace, simulate

# How far one heap is from the middle of the sums: ln-sd, as the fan has them.
BUFFER_SD, LIME_SD, SULFUR_SD, DECAY_SD = 0.28, 0.40, 0.55, 0.25
WARMER_SD, EC_SD, OWN_PH_SD = 1.5, 0.15, 0.12
PEN_SD, EC_READ_SD, WARM_READ_SD, WEIGHT_SD = 0.05, 0.04, 0.2, 0.005
DRIFT_PH_DAY = 0.004
LOW_BATTERY, DEAD_BATTERY = 0.15, 0.03
NOISY_TIMES = 4.0
BATTERY_A_READ = 0.004
STREAM = {"truth": 1, "read": 2}


@dataclass(frozen=True, slots=True)
class Truth:
    """What is hidden of a heap: factors on the sums, and its own pH and salts.

    Attributes
    ----------
    buffer, lime, sulfur, decay, ec : float
        Times the central value. [-]
    warmer_c : float
        Over what the grower believes of the air. [°C]
    own_ph : float
        Over what the sums say of the mix. [pH]
    """

    buffer: float = 1.0
    lime: float = 1.0
    sulfur: float = 1.0
    decay: float = 1.0
    ec: float = 1.0
    warmer_c: float = 0.0
    own_ph: float = 0.0

    @property
    def draws(self) -> Draws:
        """The factors as a course takes them."""
        return Draws(lime=self.lime, sulfur=self.sulfur, decay=self.decay, warmer_c=self.warmer_c)


@dataclass(frozen=True, slots=True)
class Probed:
    """What a device read. [pH], [dS/m], [°C], and its battery. [-]."""

    ph: float
    ec_ds_m: float
    temperature_c: float
    battery: float


def truth_of(seed: int) -> Truth:
    """Return the truth of a heap by its number: the same heap is always the same."""
    lot = np.random.default_rng([STREAM["truth"], seed])

    def factor(sd: float) -> float:
        return float(np.exp(lot.normal(0, sd)))

    return Truth(
        buffer=factor(BUFFER_SD),
        lime=factor(LIME_SD),
        sulfur=factor(SULFUR_SD),
        decay=factor(DECAY_SD),
        ec=factor(EC_SD),
        warmer_c=float(lot.normal(0, WARMER_SD)),
        own_ph=float(lot.normal(0, OWN_PH_SD)),
    )


@cites("pelk", "one draw of the fan's own spreads, held back from the grower")
def true_line(heap: Heap, around: Surroundings, days: int, truth: Truth) -> Trace:
    """Return what really happens in a simulated heap.

    Parameters
    ----------
    heap : Heap
        As the grower believes it to be.
    around : Surroundings
        Where it lies, as they believe.
    days : int
        How long. [d]
    truth : Truth
        What they do not know.
    """
    return simulate(with_buffer(heap, truth.buffer), around, days, truth.draws)


@cites("arithmetic", "the course, and what the mix's own pH is off")
def true_ph(trace: Trace, truth: Truth, day: float) -> float:
    """Return the true pH of a simulated heap on a day.

    Parameters
    ----------
    trace : Trace
        What really happens.
    truth : Truth
        What is hidden.
    day : float
        Since mixing. [d]

    Returns
    -------
    float
        On the slurry scale. [pH]
    """
    series = trace.daily("ph")
    return float(np.interp(day, np.arange(len(series)), series)) + truth.own_ph


@cites("pelk", "noise, drift and a failing battery of a cheap pen")
def probed(
    ph: float,
    ec_ds_m: float,
    temperature_c: float,
    *,
    count: int,
    days_since_check: float,
    seed: int,
    battery_at_start: float = 1.0,
) -> Probed | None:
    """Return what a pen reads of a true state; None when its battery is dead.

    Parameters
    ----------
    ph, ec_ds_m, temperature_c : float
        The truth. [pH], [dS/m], [°C]
    count : int
        Readings taken with this battery so far.
    days_since_check : float
        Since the pen stood in its buffers: it drifts. [d]
    seed : int
        Of this pen.
    battery_at_start : float
        When `count` was none. [-]
    """
    battery = max(battery_at_start - BATTERY_A_READ * count, 0.0)
    if battery <= DEAD_BATTERY:
        return None
    lot = np.random.default_rng([STREAM["read"], seed, count])
    times = NOISY_TIMES if battery < LOW_BATTERY else 1.0
    drift = DRIFT_PH_DAY * days_since_check
    return Probed(
        ph=round(ph + drift + float(lot.normal(0, PEN_SD * times)), 2),
        ec_ds_m=round(max(ec_ds_m * (1 + float(lot.normal(0, EC_READ_SD * times))), 0.0), 2),
        temperature_c=round(temperature_c + float(lot.normal(0, WARM_READ_SD)), 1),
        battery=round(battery, 3),
    )
