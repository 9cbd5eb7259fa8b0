"""What a grower wishes of a mix, and what may go into it."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from pelk.core.base.errors import PelkError
from pelk.core.materials.feeding_styles import FeedingStyle
from pelk.core.simulation.availability import ELEMENTS

MINIMISE = ("cost", "ingredients", "mass")


@dataclass(frozen=True, slots=True, kw_only=True)
class Goal:
    """What a grower wishes for.

    Attributes
    ----------
    targets : mapping of str to tuple
        Bands that replace the crop's: elements [mg/L], ``pH``, ``salts`` [dS/m].
    allow, exclude : frozenset of str
        Slugs, families, tags or ``animal``; an empty `allow` is everything.
    stock_g : mapping of str to float
        What is owned, by slug. [g]
    only_owned : bool
        Nothing is bought.
    minimise : str
        ``cost``, ``ingredients`` or ``mass``.
    most_used : int or None
        At most so many doses.
    may_change_parts : bool
        The parts are chosen too, from the plan's.
    """

    targets: Mapping[str, tuple[float | None, float | None]] = field(default_factory=dict)
    allow: frozenset[str] = frozenset()
    exclude: frozenset[str] = frozenset()
    stock_g: Mapping[str, float] = field(default_factory=dict)
    only_owned: bool = False
    minimise: str = "cost"
    most_used: int | None = None
    may_change_parts: bool = False
    style: FeedingStyle = field(default_factory=FeedingStyle)


def check_goal(goal: Goal) -> None:
    """Refuse a goal that asks for what there is not.

    Parameters
    ----------
    goal : Goal
        What is wished for.

    Raises
    ------
    PelkError
        With the path of the wish.
    """
    if goal.minimise not in MINIMISE:
        raise PelkError(f"found {goal.minimise!r}, allowed: {', '.join(MINIMISE)}", "goal.minimise")
    allowed = [*ELEMENTS, "pH", "salts"]
    for name, (low, high) in goal.targets.items():
        if name not in allowed:
            raise PelkError(f"found {name!r}, allowed: {', '.join(allowed)}", "goal.targets")
        if low is not None and high is not None and low > high:
            raise PelkError(f"found {low:g} over {high:g}", f"goal.targets.{name}")
