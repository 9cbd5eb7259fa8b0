"""What a weighed bucket says of a heap's moisture."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.core.evaluation.evaluate import Evaluation
from pelk.cure.models import Reading

BUCKET_L = 10.0
# Up to which share of what it holds drained a handful is dust, crumbles, is a sponge.
STEPS = (
    (0.20, Reading.Moisture.DUST),
    (0.45, Reading.Moisture.CRUMBLES),
    (0.90, Reading.Moisture.SPONGE),
)


@dataclass(frozen=True, slots=True)
class Weights:
    """What a litre of a heap weighs dry, and what water it holds when it has drained. [kg/L]."""

    dry: float
    capacity: float


def weights_of(evaluation: Evaluation) -> Weights | None:
    """Return the weights of a litre; None where nobody has weighed a part."""
    if evaluation.wet_mass.value is None:
        return None
    parts, doses, water = (i.value or 0.0 for i in evaluation.wet_mass.inputs)
    return Weights(parts + doses, water)


def squeeze_of(evaluation: Evaluation, kg: float) -> dict[str, str]:
    """Return the squeeze that a bucket of ten litres by weight stands for, with a note.

    What it weighs over its dry weight is water; its share of what the drained mix holds
    is laid on the same steps as the hand's.
    """
    note = f"10 L weigh {kg:g} kg"
    weights = weights_of(evaluation)
    if weights is None:
        return {"note": note}
    held = (kg / BUCKET_L - weights.dry) / weights.capacity
    squeeze = next((s for most, s in STEPS if held < most), Reading.Moisture.RUNS)
    return {"moisture": str(squeeze.value), "note": note}
