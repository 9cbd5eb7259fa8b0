"""What to measure next, in a sentence."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import date

from pelk.core.advice.measure_next import Measure, NextMeasure
from pelk.ui.days import short_day

WORDS = {
    Measure.PH_NOW: "Read its pH today (five minutes)",
    Measure.PH_NOW_CHECKED: "Check the pen in pH 7, then read the pH today (ten minutes)",
    Measure.PH_LATER: "Read its pH about {on:%-d %B}",
    Measure.JARS: "Set two jars of it for a fortnight, one with a gram of hydrated lime a litre",
    Measure.STRIP: "Dip an alkalinity strip into your tap water (two minutes)",
}


@dataclass(frozen=True, slots=True)
class MeasureSaid:
    """What to measure next; `others` says what else was weighed."""

    state: str
    say: str
    others: list[tuple[str, str]]


def measure_said(
    advised: NextMeasure, date_of: Callable[[int], date], also: str = ""
) -> MeasureSaid:
    """Say what to measure next; `date_of` gives the date of a day since mixing."""
    asked = short_day(date_of(advised.decision), "j F")
    width = f"{advised.width_now:.1f}"
    others = [
        (
            _words(o.measure, date_of(o.day)),
            f"to {o.telling.width_then:.2f} pH, {advised.width_now:.2f} now",
        )
        for o in advised.offers
    ]
    if advised.is_known:
        say = f"Measure nothing for now: its pH on {asked} is known to {width}."
        return MeasureSaid("good", say, others)
    if advised.offer is None:
        say = f"No reading would tell more of its pH on {asked} now: it is known to {width}."
        return MeasureSaid("none", say, others)
    then = f"{advised.offer.telling.width_then:.1f}"
    words = _words(advised.offer.measure, date_of(advised.offer.day))
    say = f"{words}: its pH on {asked} would be known to {then}, in place of {width}."
    if advised.changes_nothing:
        say += " It would change nothing that you do."
    return MeasureSaid("none" if advised.changes_nothing else "wait", say + also, others)


def _words(measure: Measure, on: date) -> str:
    return WORDS[measure].format(on=on)
