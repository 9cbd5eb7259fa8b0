"""The rows of the Bench as typed: a part, a dose."""

from dataclasses import dataclass

from pelk.ui.numbers import read_number


@dataclass(slots=True)
class PartRow:
    """A part as typed."""

    material: str
    parts: str
    locked: bool = False
    there: str = ""
    error: str = ""
    # Where the parts are volumes: its own unit, and what one of it holds, as in "bag 25".
    unit: str = ""
    held: str = ""

    @property
    def one_l(self) -> float | None:
        """What one bag, bucket or barrow of it holds, loose. [L]."""
        unit, _, litres = self.held.partition(" ")
        return read_number(litres) if unit == self.unit else None


@dataclass(slots=True)
class DoseRow:
    """A dose as typed."""

    material: str
    amount: str
    unit: str
    per: str = ""
    error: str = ""
