"""A sprout test that can say no: too few seeds, a control that did not grow, counted too early."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.core.base.guards import answers
from pelk.core.base.sources import cites

# Fewer seeds than this tell chance from burning by nothing. Judgement.
LEAST_SEEDS = 10
# The dish beside must grow by itself before it measures anything: common practice.
LEAST_CONTROL, LEAST_ROOT_MM, LEAST_DAYS = 0.6, 5.0, 3.0
# No mix lets cress grow twice as well as clean paper: the control was the trouble.
MOST_INDEX = 200.0
PASSES, TOXIC = 80.0, 50.0


@dataclass(frozen=True, slots=True)
class SproutVerdict:
    """What a sprout test says.

    Attributes
    ----------
    index : float or None
        Germination index; None where nothing can be said. [%]
    state, word, text : str
        As every page says it.
    """

    index: float | None
    state: str
    word: str
    text: str

    @property
    def passes(self) -> bool:
        """Whether roots do as well as beside it."""
        return self.index is not None and self.index >= PASSES


@cites("zucconi1981", "germination index; 80 passes, under 50 is toxic")
@cites("trade", "at least ten seeds, six in ten of the control up, three days")
def sprout_verdict(
    seeds: int,
    sprouted: int,
    sprouted_control: int,
    root_mm: float,
    root_control_mm: float,
    days: float,
) -> SproutVerdict:
    """Return what a sprout test says, or that it says nothing and why.

    Parameters
    ----------
    seeds : int
        In each dish. [-]
    sprouted, sprouted_control : int
        In the mix and beside it. [-]
    root_mm, root_control_mm : float
        Mean length of the roots. [mm]
    days : float
        Between sowing and counting. [d]
    """
    if why := _says_nothing(seeds, sprouted_control, root_control_mm, days):
        return SproutVerdict(None, "none", "It says nothing.", why)
    index = germination_index(sprouted, sprouted_control, root_mm, root_control_mm)
    if index > MOST_INDEX:
        why = f"{index:.0f} % is more than any mix gives: the dish beside it grew badly. Sow again."
        return SproutVerdict(None, "none", "It says nothing.", why)
    if index >= PASSES:
        said = f"{PASSES:.0f} and more: roots do as well as beside it."
        return SproutVerdict(index, "good", "It passes.", said)
    if index >= TOXIC:
        said = (
            f"Between {TOXIC:.0f} and {PASSES:.0f}: something still checks roots. Turn it, wait a "
            "week, sow again."
        )
        return SproutVerdict(index, "wait", "Not yet.", said)
    said = f"Under {TOXIC:.0f} is toxic to roots: nothing is planted in it now."
    return SproutVerdict(index, "stop", "It burns.", said)


def _says_nothing(seeds: int, sprouted_control: int, root_control_mm: float, days: float) -> str:
    """Return why a test says nothing; empty where it does."""
    if seeds < LEAST_SEEDS:
        return f"{seeds} seeds in a dish are too few: sow {LEAST_SEEDS} or more."
    if days < LEAST_DAYS:
        return f"It was counted after {days:.0f} days: cress takes {LEAST_DAYS:.0f} or four."
    if sprouted_control < LEAST_CONTROL * seeds:
        return (
            f"Only {sprouted_control} of {seeds} came up beside it: old seed, or too dry or cold. "
            "Sow again with fresh seed."
        )
    if root_control_mm < LEAST_ROOT_MM:
        return f"Roots of {root_control_mm:g} mm beside it have hardly begun: count a day later."
    return ""


@cites("zucconi1981", "germination index; 80 passes, under 50 is toxic")
@answers
def germination_index(
    sprouted: float, sprouted_control: float, root_mm: float, root_control_mm: float
) -> float:
    """Return how cress does in a mix beside how it does without.

    Parameters
    ----------
    sprouted, sprouted_control : float
        Seeds, in the mix and in the control. [-]
    root_mm, root_control_mm : float
        Mean root length. [mm]

    Returns
    -------
    float
        Germination index. [%]
    """
    return 100 * sprouted / sprouted_control * root_mm / root_control_mm
