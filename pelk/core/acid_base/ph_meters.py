"""A pH pen checked in two buffers: its slope, its offset, and whether to trust it."""

from dataclasses import dataclass

from pelk.core.base.guards import answers
from pelk.core.base.sources import cites

BUFFER_LOW, BUFFER_HIGH = 4.01, 7.00
SLOPE_GOOD, SLOPE_WORN = (95.0, 105.0), (85.0, 110.0)
OFFSET_GOOD, OFFSET_WORN = 0.15, 0.4
# A check counts for a month.
GOOD_FOR_DAYS = 30


@dataclass(frozen=True, slots=True)
class MeterCheck:
    """What two buffers say of a pen.

    Attributes
    ----------
    slope_pct : float
        Of what it should read between the two. [%]
    offset : float
        What it reads too much in the upper one. [pH]
    state : str
        ``good``, ``worn`` or ``bad``.
    """

    slope_pct: float
    offset: float
    state: str

    def mended(self, reading: float) -> float:
        """Return what a reading of this pen really was. [pH].

        Parameters
        ----------
        reading : float
            As the pen said. [pH]
        """
        from_seven = (reading - BUFFER_HIGH - self.offset) / (self.slope_pct / 100)
        return BUFFER_HIGH + from_seven


@cites("trade", "a pen is checked in pH 4 and pH 7; a slope of 95 to 105 % is good")
@answers
def check_meter(read_low: float, read_high: float) -> MeterCheck:
    """Return what readings in buffers of pH 4.01 and 7.00 say of a pen.

    Parameters
    ----------
    read_low, read_high : float
        What it said in the buffer of 4.01 and of 7.00. [pH]
    """
    slope = 100 * (read_high - read_low) / (BUFFER_HIGH - BUFFER_LOW)
    offset = read_high - BUFFER_HIGH
    if _inside(slope, SLOPE_GOOD) and abs(offset) <= OFFSET_GOOD:
        state = "good"
    elif _inside(slope, SLOPE_WORN) and abs(offset) <= OFFSET_WORN:
        state = "worn"
    else:
        state = "bad"
    return MeterCheck(slope, offset, state)


def _inside(value: float, span: tuple[float, float]) -> bool:
    return span[0] <= value <= span[1]
