"""Asks a pen or a scale for a reading, line by line; a socket and a serial port look alike.

The protocol is written down in docs/devices.md.
"""

from __future__ import annotations

import socket
from dataclasses import dataclass
from typing import BinaryIO

TIMEOUT_S = 3.0
LONGEST = 200
# A battery under this is told.
LOW_BATTERY_PCT, FADING_PCT = 15.0, 30.0
BAUD, SERIAL = 9600, "serial:"
NAMES = {"PH": "ph", "EC": "ec_ds_m", "T": "temperature_c", "KG": "kg", "BAT": "battery_pct"}


# What a reading can be: lowest, highest, its name, its unit.
REASON = {
    "ph": (0.0, 14.0, "pH", ""),
    "ec_ds_m": (0.0, 50.0, "EC", " dS/m"),
    "temperature_c": (-30.0, 90.0, "temperature", " °C"),
    "kg": (0.0, 60.0, "weight", " kg"),
    "battery_pct": (0.0, 100.0, "battery", " %"),
}


class DeviceError(Exception):
    """A device that cannot be reached, or says so itself; the text is for the grower."""


@dataclass(frozen=True, slots=True)
class DeviceReading:
    """What a device said; None is not measured."""

    ph: float | None = None
    ec_ds_m: float | None = None
    temperature_c: float | None = None
    kg: float | None = None
    battery_pct: float | None = None

    @property
    def is_weak(self) -> bool:
        """Whether its battery makes the reading doubtful."""
        return self.battery_pct is not None and self.battery_pct < LOW_BATTERY_PCT

    @property
    def is_fading(self) -> bool:
        """Whether its battery is to be changed before it makes readings doubtful."""
        return self.battery_pct is not None and self.battery_pct < FADING_PCT


class LineDevice:
    """A device on anything that reads and writes bytes: a socket's file, a serial port's."""

    def __init__(self, stream: BinaryIO) -> None:
        self.stream = stream

    def ask(self, line: str) -> str:
        """Send one line, return the answer without its end."""
        self.stream.write(f"{line}\n".encode("ascii"))
        self.stream.flush()
        answer = self.stream.readline(LONGEST)
        if not answer.endswith(b"\n"):
            raise DeviceError("The device stopped in the middle of a line.")
        text = answer.decode("ascii", "replace").strip()
        if text.startswith("ERR"):
            raise DeviceError(_said(text))
        return text

    def read(self, into: str = "") -> DeviceReading:
        """Put it into a heap, where the device asks for one, and read it."""
        if into:
            self.ask(f"INTO {into}")
        return parsed(self.ask("READ"))


def parsed(text: str) -> DeviceReading:
    """Return what a line of readings says: ``OK PH 5.42 EC 0.71 T 14.2 BAT 87``."""
    head, *words = text.split()
    if head != "OK" or len(words) % 2:
        raise DeviceError(f"The device said {text[:60]!r}, which is no reading.")
    values: dict[str, float] = {}
    for name, value in zip(words[::2], words[1::2], strict=True):
        key = NAMES.get(name)
        if key is None:
            continue
        try:
            values[key] = float(value)
        except ValueError:
            raise DeviceError(
                f"The device said {name} {value[:20]!r}, which is no number."
            ) from None
    for key, number in values.items():
        low, high, what, unit = REASON[key]
        if not low <= number <= high:
            raise DeviceError(
                f"The device said {what} {number:g}{unit}, which cannot be: look at it, and read "
                "it again."
            )
    return DeviceReading(**values)


def _said(text: str) -> str:
    code = text.split(maxsplit=2)[1] if len(text.split()) > 1 else ""
    words = {
        "BATTERY": "The battery of the device is dead: change it, and check the pen in two "
        "buffers.",
        "NOHEAP": "The device is not in this heap.",
    }
    return words.get(code, f"The device says: {text[4:60] or 'it cannot'}.")


def read_at(address: str, into: str = "") -> DeviceReading:
    """Read the device at ``host:port``, or at ``serial:/dev/ttyUSB0``."""
    if address.startswith(SERIAL):
        return _read_serial(address.removeprefix(SERIAL))
    host, _, port = address.rpartition(":")
    try:
        with socket.create_connection((host, int(port)), TIMEOUT_S) as connection:
            connection.settimeout(TIMEOUT_S)
            with connection.makefile("rwb") as stream:
                return LineDevice(stream).read(into)  # type: ignore[arg-type]
    except (OSError, ValueError) as error:
        raise DeviceError(f"Nothing answers at {address}: is the device on?") from error


def _read_serial(port: str) -> DeviceReading:
    """Read a device on a serial port; it stands where it stands, and is told of no heap."""
    import serial  # type: ignore[import-untyped]  # noqa: PLC0415  (only where a port is set)

    try:
        with serial.Serial(port, BAUD, timeout=TIMEOUT_S, write_timeout=TIMEOUT_S) as stream:
            return LineDevice(stream).read()
    except (OSError, ValueError) as error:
        raise DeviceError(f"Nothing answers at {port}: is the device plugged in?") from error
