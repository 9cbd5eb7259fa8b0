"""The one judge: what of a mix harms what grows in it, drifts, or could be better."""

from collections.abc import Iterator
from dataclasses import dataclass

from pelk.core.advice.grades import Finding, Grade, Kind
from pelk.core.advice.judged_course import Window, course_findings, window_of
from pelk.core.advice.judged_supply import supply_findings
from pelk.core.base.limits import limit
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig
from pelk.core.base.sources import cites
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.evaluation.worked import NOT_PH_TOOLS
from pelk.core.vessels.drainage import least_air

BULK_TAGS = frozenset(["casting", "compost", "manure-composted", "biochar"])
LEAST_ACID_MEQ_L = 0.05


@dataclass(frozen=True, slots=True)
class Judgement:
    """What the judge found, the worst first.

    Attributes
    ----------
    findings : tuple of Finding
        By grade, then by how sure, then by when.
    window : Window or None
        The days that were judged; None where no course could run.
    ready_day : int or None
        From when it may be planted.
    problem : str
        Why nothing can be said of its course; empty where it can.
    """

    findings: tuple[Finding, ...]
    window: Window | None
    ready_day: int | None
    problem: str = ""

    @property
    def worst(self) -> Grade:
        """The gravest grade there is."""
        return max((f.grade for f in self.findings), default=Grade.FINE)

    @property
    def harms(self) -> tuple[Finding, ...]:
        """What hurts plants."""
        return tuple(f for f in self.findings if f.grade is Grade.HARMS)

    @property
    def is_met(self) -> bool:
        """Whether everything is met: no harm, and no drift."""
        return not self.problem and self.worst < Grade.DRIFTS

    @property
    def is_plant_now(self) -> bool:
        """Whether it can be planted at once: no harm, and nothing to wait for."""
        return self.ready_day is not None and self.ready_day <= AT_ONCE and not self.harms


# A day or two of rest is no cure.
AT_ONCE = 3


@cites("pelk", "one table of grades for every page; window from planting to the season's end")
def judge(evaluation: Evaluation) -> Judgement:
    """Return what of a mix harms what grows in it, drifts, or could be better.

    Parameters
    ----------
    evaluation : Evaluation
        With an ensemble the findings say how sure; without, they follow the central line.

    Returns
    -------
    Judgement
        The worst first.
    """
    ahead = evaluation.forecast
    findings = [*_air(evaluation), *_shares(evaluation), *_useless(evaluation)]
    if ahead is None:
        return Judgement(_sorted(findings), None, None, evaluation.acidity_problem)
    window = window_of(evaluation)
    findings += course_findings(evaluation, ahead, window)
    findings += supply_findings(evaluation, ahead, window.first)
    findings += _against_each_other(evaluation)
    return Judgement(_sorted(findings), window, ahead.ready.p50)


def _sorted(findings: list[Finding]) -> tuple[Finding, ...]:
    order = list(Kind)
    return tuple(
        sorted(findings, key=lambda f: (-f.grade, -round(f.probability, 1), order.index(f.kind)))
    )


def _air(evaluation: Evaluation) -> Iterator[Finding]:
    pot, wish = evaluation.pot, evaluation.wanted_air
    if pot is None:
        return
    air, crop = max(pot.air_filled, 0.0), evaluation.crop.name.lower()
    least = least_air(evaluation.crop)
    if air < least:
        grade, most = Grade.HARMS, least
    elif air < wish - limit("air", "drifts_points"):
        grade, most = Grade.DRIFTS, wish - limit("air", "drifts_points")
    elif air < wish - limit("air", "better_points"):
        grade, most = Grade.BETTER, wish - limit("air", "better_points")
    else:
        return
    drowns = " Roots drown in it." if grade is Grade.HARMS else ""
    yield Finding(
        kind=Kind.AIR_LOW,
        grade=grade,
        text=f"Only {air:.0%} air is left after draining, {pot.height_cm:.0f} cm tall; {crop} want "
        f"about {wish:.0%}.{drowns}",
        value=air,
        limit=most,
        why="air",
    )


def _shares(evaluation: Evaluation) -> Iterator[Finding]:
    """Say where a weight is not the share that it was meant to be; of bulk materials only."""
    for line in evaluation.doses:
        material = line.material
        is_bulk = material.role == "bulk" and BULK_TAGS & {*material.tags}
        if not is_bulk or not line.share or material.share_typ_pct is None:
            continue
        meant = material.share_typ_pct / 100
        if line.share * limit("share", "meant_over") >= meant:
            continue
        litres = meant * evaluation.volumes.mixed_l
        kilos = litres * material.loose_density().typ
        yield Finding(
            kind=Kind.SHARE_NOT_MEANT,
            of=material.slug,
            grade=Grade.BETTER,
            text=f"{sig(line.grams.typ / 1000, 3)} kg of {material.name} is {line.share:.1%} of "
            f"the mix. For {meant:.0%} you would need about {sig(litres, 3)} L, "
            f"{sig(kilos, 3)} kg.",
            value=line.share,
            limit=meant,
        )


def _useless(evaluation: Evaluation) -> Iterator[Finding]:
    there = [b.material for b in evaluation.bulk] + [d.material for d in evaluation.doses]
    for material in there:
        text = NOT_PH_TOOLS.get(material.slug, "")
        if material.acidity_role == "weak_acid" and "vinegar" not in material.slug:
            text = (
                f"{material.name} is eaten by microbes within days and leaves the pH where it was."
            )
        if text:
            yield Finding(kind=Kind.USELESS, of=material.slug, grade=Grade.BETTER, text=text)


def _against_each_other(evaluation: Evaluation) -> Iterator[Finding]:
    acidity = evaluation.acidity
    if acidity is None:
        return
    acid = -(acidity.sum_of("sulfur") + acidity.sum_of("acid"))
    without = acidity.rest.ph
    if acidity.sum_of("lime") > LEAST_ACID_MEQ_L and without >= evaluation.ph_band[0]:
        yield Finding(
            kind=Kind.USELESS,
            of="lime",
            grade=Grade.BETTER,
            text=f"Without lime this mix rests at pH {written_ph(without)}, and "
            f"{evaluation.crop.name.lower()} need {evaluation.ph_band[0]:g} to "
            f"{evaluation.ph_band[1]:g}. For calcium use gypsum.",
            value=without,
            limit=evaluation.ph_band[0],
            why="ph_forecast",
        )
    if acid > LEAST_ACID_MEQ_L and acidity.sum_of("lime") > LEAST_ACID_MEQ_L:
        yield Finding(
            kind=Kind.LIME_AND_SULFUR,
            grade=Grade.DRIFTS,
            text="Lime and sulfur in one mix eat each other: leave one out.",
        )
