"""What is in the barrow already, and what is still to add to it."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.bench.forms.mix import BenchForm
from pelk.core.base.errors import PelkError
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.vessels.volumes import top_up
from pelk.ui.numbers import read_number
from pelk.ui.refusals import sentence
from pelk.ui.units import Measures, sizes


@dataclass(frozen=True, slots=True)
class Base:
    """The heap already there.

    Attributes
    ----------
    share : float
        Of the loose volume of the whole, for the hatched base of the picture. [-]
    """

    share: float
    say: str
    problem: str = ""


def base_of(form: BenchForm, evaluation: Evaluation, measures: Measures) -> Base | None:
    """Return what is there already and what to add; None where nothing is."""
    typed = [row.there.strip() for row in form.parts]
    if not any(typed):
        return None
    numbers = [read_number(text) if text else 0.0 for text in typed]
    if any(n is None or n < 0 for n in numbers):
        return Base(
            0.0, "", "Enter how much of each part is already in the barrow, or leave it blank."
        )
    unit = sizes()[measures.space_unit]
    there = {row.material: (n or 0.0) * unit for row, n in zip(form.parts, numbers, strict=True)}
    volumes = evaluation.volumes
    shares = {b.material.slug: b.share for b in evaluation.bulk}
    try:
        top = top_up(shares, there, volumes.mixed_l, volumes.blending_loss)
    except PelkError as error:
        return Base(0.0, "", sentence(error))
    names = {b.material.slug: b.material.spoken_name for b in evaluation.bulk}
    add = ", ".join(
        f"{names[slug]} {measures.volume(litres)}"
        for slug, litres in top.add_l.items()
        if litres > 1e-6
    )
    say = f"Add {add} to make {measures.volume(top.mixed_l)} mixed." if add else "Nothing to add."
    if top.grew:
        say += " That is more than you asked for: a part already in the barrow sets the size."
    return Base(min(sum(there.values()) / top.loose_l, 1.0), say)
