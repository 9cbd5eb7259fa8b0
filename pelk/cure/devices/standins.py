"""A pen and a hanging scale that stand in for real ones: they measure a heap's hidden truth.

They speak the line protocol on a local socket, tire their batteries and drift.
"""

from __future__ import annotations

import socketserver
from dataclasses import dataclass, field
from datetime import datetime
from threading import Lock

import numpy as np
from django.utils import timezone

from pelk.barrow.models import Batch
from pelk.core.plans.plan import MOISTURE
from pelk.core.simulation.forecast import Forecast
from pelk.core.simulation.synthetic_heap import (
    WEIGHT_SD,
    Truth,
    probed,
    true_line,
    true_ph,
    truth_of,
)
from pelk.cure.domain.moisture import BUCKET_L, weights_of
from pelk.cure.models import MeterCheckRow, Reading
from pelk.ui.numbers import read_count

LOWEST_PCT = 3.0
# What a heap loses between waterings, as a share of the sponge it was mixed to.
DRIES_A_WEEK = 0.08


@dataclass(slots=True)
class StandIn:
    """One device with its battery.

    Attributes
    ----------
    seed : int
        Of its noise.
    battery : float
        With which it was put in. [-]
    """

    seed: int
    battery: float = 1.0
    count: int = 0
    lock: Lock = field(default_factory=Lock)

    def answer(self, line: str, heap: int | None) -> tuple[str, int | None]:
        """Return the answer to a line, and the heap it stands in from then on."""
        word, _, rest = line.strip().partition(" ")
        if word == "HELLO":
            return f"OK PELK {self.name} 1", heap
        if word == "INTO":
            asked = read_count(rest) or 0
            is_there = Batch.objects.filter(pk=asked).exists()
            return ("OK", asked) if is_there else ("ERR NOHEAP", None)
        if word == "READ" and heap is not None:
            with self.lock:
                self.count += 1
                return self.read(Batch.objects.get(pk=heap)), heap
        return ("ERR NOHEAP" if word == "READ" else "ERR UNKNOWN"), heap

    name = "DEVICE"

    def read(self, batch: Batch) -> str:
        """Return a line of readings."""
        raise NotImplementedError


class Pen(StandIn):
    """Reads pH, salts and warmth."""

    name = "PEN"

    def read(self, batch: Batch) -> str:
        """Return what it reads of a heap's truth, with noise, drift and a tired battery."""
        ahead, truth, day = _heap_of(batch)
        if ahead is None:
            return "ERR NOHEAP"
        trace = true_line(ahead.heap, ahead.around, int(day) + 1, truth)
        ec = float(np.interp(day, np.arange(len(ahead.ec)), ahead.ec)) * truth.ec
        air = ahead.around.temperature_c
        air_c = float(np.mean(air)) if np.ndim(air) else float(air)
        warm = float(trace.daily("over_air_c")[-1])
        probe = probed(
            true_ph(trace, truth, day),
            ec,
            air_c + truth.warmer_c + warm,
            count=self.count,
            days_since_check=_since_check(batch),
            seed=self.seed,
            battery_at_start=self.battery,
        )
        if probe is None:
            return "ERR BATTERY"
        return (
            f"OK PH {probe.ph:.2f} EC {probe.ec_ds_m:.2f} T {probe.temperature_c:.1f} "
            f"BAT {100 * probe.battery:.0f}"
        )


class Scale(StandIn):
    """Weighs a bucket of the heap."""

    name = "SCALE"

    def read(self, batch: Batch) -> str:
        """Return what ten litres of the heap weigh, as dry as it is today."""
        battery = 100 * max(self.battery - 0.002 * self.count, 0.0)
        if battery <= LOWEST_PCT:
            return "ERR BATTERY"
        weights = weights_of(batch.evaluation(samples=0))
        if weights is None:
            return "ERR NOHEAP"
        lot = np.random.default_rng([self.seed, batch.pk, self.count])
        weeks = (timezone.now() - _watered(batch)).total_seconds() / 86400 / 7
        held = max(MOISTURE["moist"] - DRIES_A_WEEK * weeks, 0.1)
        kg = (weights.dry + held * weights.capacity) * BUCKET_L
        kg *= 1 + float(lot.normal(0, WEIGHT_SD))
        return f"OK KG {kg:.2f} BAT {battery:.0f}"


def _heap_of(batch: Batch) -> tuple[Forecast | None, Truth, float]:
    day = (timezone.now() - batch.made_at).total_seconds() / 86400
    return batch.evaluation(samples=0).forecast, truth_of(batch.pk), max(day, 0.0)


def _since_check(batch: Batch) -> float:
    last = MeterCheckRow.objects.of(batch.yard).live().first()
    since = last.checked_at if last else batch.made_at
    return max((timezone.now() - since).total_seconds() / 86400, 0.0)


def _watered(batch: Batch) -> datetime:
    wet = (Reading.Moisture.SPONGE, Reading.Moisture.RUNS)
    last = Reading.objects.for_batch(batch).filter(moisture__in=wet).first()
    since: datetime = last.taken_at if last else batch.made_at
    return since


class _Talk(socketserver.StreamRequestHandler):
    """One conversation: lines in, lines out."""

    def handle(self) -> None:
        heap: int | None = None
        device: StandIn = self.server.device  # type: ignore[attr-defined]
        for raw in iter(lambda: self.rfile.readline(200), b""):
            said, heap = device.answer(raw.decode("ascii", "replace"), heap)
            self.wfile.write(f"{said}\n".encode("ascii"))


class DeviceServer(socketserver.ThreadingTCPServer):
    """A stand-in listening on a local port."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, device: StandIn, port: int) -> None:
        self.device = device
        super().__init__(("127.0.0.1", port), _Talk)
