"""Parts into loose and mixed litres: fines fall between coarse pieces.

Three volumes: loose parts, mixed soil (doses and concentrations count by it), and
soil settled in the pot.
"""

from collections.abc import Mapping
from dataclasses import dataclass

from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.quantities import LOOSE_VOLUME, MIXED_VOLUME
from pelk.core.base.sources import cites
from pelk.core.base.tables import rows
from pelk.core.materials.material import MINERAL_SOIL, Material
from pelk.core.plans.plan import Batch, Plan
from pelk.core.vessels.trade_pots import filled_volume

# Loss of each pair at 50:50, by class: Coarse, Medium (fibrous), Powdery.
PAIR_LOSS = {("C", "M"): 0.03, ("C", "P"): 0.12, ("M", "P"): 0.08}
LOSS_CAP = 0.25
# Two-size packing: fines fill three quarters of the gaps at most.
PACKING_EFFICIENCY = 0.75
LOSS_SPREAD = 0.05
# Loss to settling after two or three waterings, by what the mix is rich in.
SETTLING = {
    "wood fibre": 0.15,
    "soil": 0.18,
    "compost": 0.13,
    "mineral": 0.04,
    "bark": 0.08,
    "other": 0.10,
}


@dataclass(frozen=True, slots=True)
class Volumes:
    """A batch as volumes.

    Attributes
    ----------
    shares : tuple of float, shape (n_parts,)
        Share of the loose volume. [-]
    loose_l : tuple of float, shape (n_parts,)
        Loose litres to fetch. [L]
    mixed_l : float
        Mixed soil the batch makes. [L]
    blending_loss, settling : float
        Shares lost to blending and to settling in the pot. [-]
    filled_l : float or None
        What the pots take once settled, where pots were named. [L]
    """

    shares: tuple[float, ...]
    loose_l: tuple[float, ...]
    mixed_l: float
    blending_loss: float
    settling: float
    filled_l: float | None = None

    @property
    def loose_total_l(self) -> float:
        """Loose litres of all parts together. [L]."""
        return sum(self.loose_l)


@cites("pelk", "loss of each pair of size classes at 50:50, +-0.05")
@cites("pelk", "two-size packing where large pieces meet fines")
def blending_loss(parts: list[tuple[Material, float]]) -> float:
    """Return the share of loose volume that vanishes on mixing.

    ``s = 4 (0.03 xC xM + 0.12 xC xP + 0.08 xM xP)`` over the classes coarse,
    medium and powdery; where chips, nuggets or clay balls meet fines, the larger
    of that and the two-size packing estimate. Measured buckets differ by +-0.05.

    Parameters
    ----------
    parts : list of (Material, float)
        Materials with their shares of loose volume.

    Returns
    -------
    float
        Loss. [-]

    Examples
    --------
    >>> from pelk.core.materials.library import library
    >>> third = [(library()[s], 1 / 3) for s in
    ...          ("sphagnum-peat-light", "perlite", "yard-compost")]
    >>> round(blending_loss(third), 4)
    0.1022
    """
    share = dict.fromkeys("CMP", 0.0)
    for material, part in parts:
        share[material.shrink_class or "P"] += part
    pairs = 4 * sum(loss * share[one] * share[other] for (one, other), loss in PAIR_LOSS.items())
    return min(max(pairs, _packing_loss(parts)), LOSS_CAP)


def _packing_loss(parts: list[tuple[Material, float]]) -> float:
    large = {row["retention_set"]: row for row in rows("packing.csv")}
    fines = sum(part for material, part in parts if material.shrink_class != "C")
    lost = 0.0
    for material, part in parts:
        if row := large.get(material.retention_set):
            efficiency = PACKING_EFFICIENCY * (1 - float(row["size_ratio"])) ** 2
            lost += efficiency * min(fines, float(row["voids"]) * part)
    return lost


@cites("trade", "settling after two waterings, by kind of mix")
def settling(parts: list[tuple[Material, float]]) -> float:
    """Return the share of mixed volume lost once watered into the pot.

    Parameters
    ----------
    parts : list of (Material, float)
        Materials with their shares of loose volume.

    Returns
    -------
    float
        Loss. [-]
    """

    def rich(*families: str) -> float:
        return sum(part for material, part in parts if material.family in families)

    if rich("wood") > 0.30:
        return SETTLING["wood fibre"]
    if rich(*MINERAL_SOIL) > 0.50:
        return SETTLING["soil"]
    if rich("compost", "castings", "manure") > 0.40:
        return SETTLING["compost"]
    if rich("mineral-aggregate") > 0.50:
        return SETTLING["mineral"]
    return SETTLING["bark"] if rich("bark") > 0.50 else SETTLING["other"]


@cites("trade", "order pots x fill volume over settling, and a little spare")
def needed_for_vessels(batch: Batch, settling_loss: float) -> tuple[float, float]:
    """Return the settled and the mixed litres that the pots of a batch need.

    Parameters
    ----------
    batch : Batch
        With `vessels`.
    settling_loss : float
        Share lost once watered in. [-]

    Returns
    -------
    tuple of float
        Settled litres in the pots; mixed litres to make, spare included. [L]
    """
    filled = sum(
        filled_volume(vessels, f"batch.vessels[{i}]") for i, vessels in enumerate(batch.vessels)
    )
    return filled, filled * (1 + batch.spare) / (1 - settling_loss)


def volumes(plan: Plan, shelf: Mapping[str, Material]) -> Volumes:
    """Return how much of each part to fetch and what it makes.

    Parameters
    ----------
    plan : Plan
        Batch and parts.
    shelf : mapping of str to Material
        The materials the plan names.

    Returns
    -------
    Volumes
        Loose and mixed litres.

    Raises
    ------
    PelkError
        When there are no parts, or the batch is impossible.
    """
    if not plan.parts:
        raise PelkError("add at least one part: doses need something to go in", "bulk")
    for i, part in enumerate(plan.parts):
        shelf[part.material].loose_density(f"bulk[{i}].material")
    total = sum(part.parts for part in plan.parts)
    shares = tuple(part.parts / total for part in plan.parts)
    blend = [(shelf[p.material], x) for p, x in zip(plan.parts, shares, strict=True)]
    loss, settle = blending_loss(blend), settling(blend)
    batch, filled = plan.batch, None
    if batch.volume_l is not None:
        mixed = batch.volume_l
    elif batch.vessels:
        filled, mixed = needed_for_vessels(batch, settle)
    elif batch.part_l is not None:
        mixed = batch.part_l * total * (1 - loss)
    elif plan.parts_are_litres:
        mixed = total * (1 - loss)
    else:
        raise PelkError("say how much to make: a volume, pots, or the size of one part", "batch")
    MIXED_VOLUME.check(mixed, "batch")
    loose = tuple(x * mixed / (1 - loss) for x in shares)
    LOOSE_VOLUME.check(sum(loose), "batch")
    return Volumes(shares, loose, mixed, loss, settle, filled)


@dataclass(frozen=True, slots=True)
class TopUp:
    """What to add to a barrow that holds something already.

    Attributes
    ----------
    add_l : dict of str to float
        Loose litres of each part. [L]
    loose_l, mixed_l : float
        What it comes to. [L]
    grew : bool
        More than was wanted: a part already there set the size.
    """

    add_l: dict[str, float]
    loose_l: float
    mixed_l: float
    grew: bool


@cites("arithmetic", "the part that is furthest ahead sets the size")
@answers
def top_up(
    shares: Mapping[str, float], there_l: Mapping[str, float], wanted_l: float, loss: float
) -> TopUp:
    """Return what to add to reach a recipe with what is in the barrow already.

    Parameters
    ----------
    shares : mapping of str to float
        Of the loose volume, by slug. [-]
    there_l : mapping of str to float
        Loose litres already in, by slug. [L]
    wanted_l : float
        Mixed soil wanted. [L]
    loss : float
        Lost on blending. [-]

    Returns
    -------
    TopUp
        Loose litres of each part to add.

    Raises
    ------
    PelkError
        When something is in the barrow that the recipe does not have.
    """
    strange = [slug for slug, litres in there_l.items() if litres and slug not in shares]
    if strange:
        raise PelkError(f"the recipe has no {strange[0]}", "there")
    loose = wanted_l / (1 - loss)
    ahead = max([there_l.get(s, 0.0) / x for s, x in shares.items()], default=0.0)
    total = max(loose, ahead)
    add = {s: max(x * total - there_l.get(s, 0.0), 0.0) for s, x in shares.items()}
    return TopUp(add, total, total * (1 - loss), total > loose * (1 + 1e-9))
