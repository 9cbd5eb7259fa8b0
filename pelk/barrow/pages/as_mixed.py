"""What changes when what went in differed from the plan."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.barrow.models import Batch
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation


@dataclass(frozen=True, slots=True)
class Consequence:
    """One number as planned and as made."""

    name: str
    planned: str
    made: str

    @property
    def is_changed(self) -> bool:
        """Whether it can be seen."""
        return self.planned != self.made


def consequences(batch: Batch, planned: Evaluation, made: Evaluation) -> list[Consequence]:
    """Return the numbers a grower asks for, as planned and as made."""
    measures = batch.measures
    rows = [
        ("makes", *(measures.volume(e.volumes.mixed_l) for e in (planned, made))),
        ("pH at the end", *(_ph(e) for e in (planned, made))),
        ("ready on day", *(_ready(e) for e in (planned, made))),
        ("free nitrogen, mg/L", *(_nitrogen(e) for e in (planned, made))),
        ("salts in a month, dS/m", *(_salts(e) for e in (planned, made))),
        ("air in the pot, %", *(_air(e) for e in (planned, made))),
    ]
    return [Consequence(*row) for row in rows]


def _ph(evaluation: Evaluation) -> str:
    return written_ph(float(evaluation.forecast.ph[1][-1])) if evaluation.forecast else "–"


def _ready(evaluation: Evaluation) -> str:
    day = evaluation.forecast.ready.p50 if evaluation.forecast else None
    return "–" if day is None else str(day)


def _nitrogen(evaluation: Evaluation) -> str:
    return sig(evaluation.supply.elements["N"].free.value, 2) if evaluation.supply else "–"


def _salts(evaluation: Evaluation) -> str:
    return sig(evaluation.ec_later.value, 2) if evaluation.ec_later else "–"


def _air(evaluation: Evaluation) -> str:
    return sig(evaluation.air.value, 2) if evaluation.air else "–"
