"""What brings last year's soil into the next crop's band: how much lime or sulfur, or none."""

from collections.abc import Mapping
from dataclasses import dataclass

from pelk.core.advice.dose_for_ph import Errand
from pelk.core.advice.ph_answer import Outcome, ph_answer
from pelk.core.advice.ph_desk import soil_heap
from pelk.core.advice.redose import INSIDE, WORK_DAYS
from pelk.core.base.errors import PelkError
from pelk.core.base.limits import limit
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material
from pelk.core.simulation.run import Surroundings

LIME, SULFUR = "lime-dolomitic-ground", "sulfur-dusting"
# What old potting soil and a bed are reckoned as, where nobody knows what they were made of.
LIKE = {"container": "peat-bark", "bed": "loam"}


@dataclass(frozen=True, slots=True)
class PhNeed:
    """What a soil out of its band wants.

    Attributes
    ----------
    ph, target_ph : float
        Read, and just inside the band. [pH]
    material : Material or None
        Lime or sulfur; None where no safe dose mends it.
    g_per_l : float
        Of it. [g/L]
    days : int
        By when it has worked. [d]
    """

    ph: float
    target_ph: float
    material: Material | None
    g_per_l: float
    days: int


@cites("pelk", "the one answer, asked of a like soil that was shifted to the pH read")
def ph_need(
    ph: float | None, band: tuple[float, float], kind: str, shelf: Mapping[str, Material]
) -> PhNeed | None:
    """Return what brings old soil into a band; None where it lies in it, or was not read.

    Parameters
    ----------
    ph : float or None
        As read. [pH]
    band : tuple of float
        That the next crop wants. [pH]
    kind : str
        ``container`` or ``bed``.
    shelf : mapping of str to Material
        With `LIME` and `SULFUR`.

    Returns
    -------
    PhNeed or None
        With the least that rests well.
    """
    low, high = band
    slack = limit("ph", "drifts_beyond")
    if ph is None or low - slack <= ph <= high + slack:
        return None
    inside = min(INSIDE, (high - low) / 2)
    target = high - inside if ph > high else low + inside
    lime, sulfur = shelf[LIME], shelf[SULFUR]
    nothing = PhNeed(ph, target, None, 0.0, WORK_DAYS)
    errand = Errand(target_ph=target, day=WORK_DAYS, band=band)
    try:
        heap = soil_heap(LIKE.get(kind, LIKE["container"]), ph)
        answer = ph_answer(heap, Surroundings(temperature_c=15.0), errand, [lime], [sulfur])
    except PelkError:
        return nothing
    if answer.outcome not in (Outcome.DOSE, Outcome.TOO_SLOW) or answer.material is None:
        return nothing
    if answer.material is sulfur and answer.g_per_l > limit("ph", "sulfur_refused_g_l"):
        return nothing
    return PhNeed(ph, target, answer.material, answer.g_per_l, WORK_DAYS)
