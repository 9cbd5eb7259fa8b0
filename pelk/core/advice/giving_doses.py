"""How a dose is given: how much of it at once, and how long to wait before the next look."""

from dataclasses import dataclass

from pelk.core.base.guards import answers
from pelk.core.base.limits import limit

PLANTED = {kind: limit("whole_dose", f"{kind}_g_l") for kind in ("lime", "sulfur")}
UNPLANTED_SULFUR_G_L = 1.0
SPLIT_FAN, SPLIT_NEAR, MOST_STEP_PLANTED = 1.0, 0.3, 1.0
WAIT_DAYS = {
    "hydrated": 7,
    "calcitic_hort": 14,
    "dolomitic_hort": 28,
    "aglime": 120,
    "acid": 14,
    "sulfur": 60,
    "sulfur cool": 105,
    "prill_dispersing": 180,
}


@dataclass(frozen=True, slots=True)
class Advice:
    """How to give a dose: at most how much at once, and when to look again."""

    at_once_g_l: float
    is_split: bool
    wait_days: int
    reasons: tuple[str, ...]


@answers
def advise(
    kind: str,
    dose_g_l: float,
    *,
    grade: str = "",
    fan_width: float = 0.0,
    gap: float = 1.0,
    planted: bool = False,
    temperature_c: float = 20.0,
) -> Advice:
    """Return how much of a dose to give at once, and how long to wait.

    Parameters
    ----------
    kind : str
        ``lime`` or ``sulfur``.
    dose_g_l : float
        Computed. [g/L]
    grade : str
        Key of the lime or sulfur grade.
    fan_width : float
        p90 less p10 at the horizon. [pH]
    gap : float
        Target less where the mix rests, either sign. [pH]
    planted : bool
        A plant is in the pot.
    temperature_c : float
        Of the mix. [°C]

    Returns
    -------
    Advice
        With its reasons in words.
    """
    reasons, share = [], 1.0
    if fan_width > SPLIT_FAN:
        reasons.append("the forecast is wide")
    if planted:
        reasons.append("A plant is growing in it")
    if abs(gap) < SPLIT_NEAR:
        reasons.append("the target is near")
    if reasons:
        share = 0.5
    most = dose_g_l * share
    if planted:
        most = min(most, PLANTED[kind])
        if abs(gap) > MOST_STEP_PLANTED:
            most = min(most, dose_g_l * MOST_STEP_PLANTED / abs(gap))
    elif kind == "sulfur":
        most = min(most, UNPLANTED_SULFUR_G_L)
    if kind == "sulfur":
        cool = temperature_c < 20
        wait = WAIT_DAYS.get(grade) or WAIT_DAYS["sulfur cool" if cool else "sulfur"]
    else:
        wait = WAIT_DAYS.get(grade, 28)
    return Advice(most, most < dose_g_l - 1e-9, wait, tuple(reasons))
