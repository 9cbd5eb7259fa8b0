"""The fix with the fault: candidates, each run through the same evaluation and the same judge."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import islice

from pelk.core.advice.disposal import with_rate
from pelk.core.advice.dose_for_ph import Errand
from pelk.core.advice.grades import Change, DoKind, Finding, Grade, Kind, Remedy
from pelk.core.advice.judged_supply import needs_of, reaches_of
from pelk.core.advice.judgement import Judgement, judge
from pelk.core.advice.ph_answer import Outcome, ph_answer
from pelk.core.advice.proposals import rounded_g
from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.core.materials.material import Material
from pelk.core.plans.plan import Part, Plan
from pelk.core.simulation.forecast import JUDGED_DAY

MOST_OFFERED, MOST_FINDINGS = 3, 3
MOST_EVALUATIONS, MOST_CONFIRMED, MOST_TRIED = 12, 2, 4
SOUR, SWEET, AIRY = "sphagnum-peat-light", "coir-pith-loose", "perlite"
LIMES, SULFURS = ("lime-dolomitic-ground", "lime-calcitic-ground"), ("sulfur-dusting",)
# What brings an element best, in the order of the trade; one's own before all others.
BRINGERS = {
    "N": ("feather-meal", "blood-meal", "alfalfa-meal", "soybean-meal"),
    "P": ("fish-bone-meal", "bone-meal-steamed", "bone-meal"),
    "K": ("sulfate-of-potash", "kelp-meal", "langbeinite"),
    "Ca": ("gypsum",),
    "Mg": ("epsom-salt", "langbeinite"),
    "S": ("gypsum", "epsom-salt"),
}
# What a dose is called salty by.
SALTY = ("N", "K", "Na", "Cl", "S", "Mg")
# What may come in beside what lies there.
CANDIDATES = frozenset([SOUR, SWEET, AIRY, *LIMES, *SULFURS]).union(*BRINGERS.values())
SWAPPED_SHARES = (0.1, 0.2, 0.35)
INSIDE_PH = 0.2


@dataclass(frozen=True, slots=True)
class Pantry:
    """What a remedy may use.

    Attributes
    ----------
    materials : mapping of str to Material
        By slug: what the plan names, and what may come in.
    owned : frozenset of str
        Slugs of the shelf, which come first.
    may_use : callable
        Whether a material is allowed here.
    """

    materials: Mapping[str, Material]
    owned: frozenset[str] = frozenset()
    may_use: Callable[[Material], bool] = lambda _: True

    def first(self, slugs: Sequence[str]) -> list[Material]:
        """Return those of some materials that are allowed, one's own first."""
        there = [self.materials[s] for s in slugs if s in self.materials]
        return sorted((m for m in there if self.may_use(m)), key=lambda m: m.slug not in self.owned)


@dataclass(slots=True)
class _Try:
    """A changed plan on trial."""

    text: str
    changes: tuple[Change, ...]
    plan: Plan
    size: float
    result: Evaluation | None = None
    judged: Judgement | None = None


@dataclass(slots=True)
class _Bench:
    """A mix whose faults are being mended."""

    plan: Plan
    pantry: Pantry
    evaluation: Evaluation
    judgement: Judgement
    spent: int = 0
    confirmed: int = 0

    def judged(self, plan: Plan) -> tuple[Evaluation, Judgement] | None:
        """Return a plan judged on the central line; None once the budget is spent."""
        if self.spent >= MOST_EVALUATIONS:
            return None
        self.spent += 1
        try:
            result = evaluate(plan, self.pantry.materials, samples=0)
        except PelkError:
            return None
        return result, judge(result)

    def confirm(self, plan: Plan) -> tuple[Evaluation, Judgement] | None:
        """Return a plan judged with its ensemble; None once the budget is spent."""
        if self.confirmed >= MOST_CONFIRMED:
            return None
        self.confirmed += 1
        result = evaluate(plan, self.pantry.materials)
        return result, judge(result)


def remedied(plan: Plan, pantry: Pantry, evaluation: Evaluation, judgement: Judgement) -> Judgement:
    """Return a judgement with a fix beside each of its gravest findings, where there is one.

    Parameters
    ----------
    plan : Plan
        Of the evaluation.
    pantry : Pantry
        What may come in.
    evaluation : Evaluation
        Of the plan, with its ensemble.
    judgement : Judgement
        Of the evaluation.

    Returns
    -------
    Judgement
        At most three remedies on each of at most three findings; only those that were
        confirmed with the ensemble.
    """
    bench = _Bench(plan, pantry, evaluation, judgement)
    findings = list(judgement.findings)
    passing = {i: _passing(bench, f) for i, f in enumerate(findings[:MOST_FINDINGS])}
    offered: dict[int, list[Remedy]] = {i: [] for i in passing}
    # The best of each finding is confirmed before the second best of any.
    for place in range(MOST_OFFERED):
        for i, tried in passing.items():
            if place < len(tried):
                remedy = _confirmed(bench, findings[i], tried[place])
                offered[i] += [] if remedy is None else [remedy]
    for i, remedies in offered.items():
        findings[i] = replace(findings[i], remedies=tuple(remedies))
    return replace(judgement, findings=tuple(findings))


def _passing(bench: _Bench, finding: Finding) -> list[_Try]:
    """Return the candidates that mend a finding on the central line, least change first."""
    passed: list[_Try] = []
    for candidate in islice(_candidates(bench, finding), MOST_TRIED):
        outcome = bench.judged(candidate.plan)
        if outcome is None:
            continue
        candidate.result, candidate.judged = outcome
        if mends(finding, bench.judgement, candidate.judged):
            passed.append(candidate)
            if len(passed) >= MOST_CONFIRMED:
                break
    return sorted(passed, key=lambda t: t.size)


def mends(finding: Finding, before: Judgement, after: Judgement) -> bool:
    """Return whether a finding is less grave, with no new harm and nothing worse in all."""
    left = max(
        (f.grade for f in after.findings if (f.kind, f.of) == (finding.kind, finding.of)),
        default=Grade.FINE,
    )
    hurt_before = {(f.kind, f.of) for f in before.harms}
    new_harm = any((f.kind, f.of) not in hurt_before for f in after.harms)
    return left < finding.grade and not new_harm and _counted(after) <= _counted(before)


def _counted(judgement: Judgement) -> tuple[int, int]:
    """Return how many findings harm, and how many drift."""
    drifts = sum(f.grade is Grade.DRIFTS for f in judgement.findings)
    return len(judgement.harms), drifts


def _confirmed(bench: _Bench, finding: Finding, candidate: _Try) -> Remedy | None:
    outcome = bench.confirm(candidate.plan)
    if outcome is None or not mends(finding, bench.judgement, outcome[1]):
        return None
    before, after = figures_of(bench.evaluation), figures_of(outcome[0])
    if finding.value is not None:
        before["value"] = finding.value
        same = (finding.kind, finding.of)
        left = [f.value for f in outcome[1].findings if (f.kind, f.of) == same]
        if left and left[0] is not None:
            after["value"] = left[0]
    return Remedy(candidate.text, candidate.changes, before, after)


def figures_of(evaluation: Evaluation) -> dict[str, float]:
    """Return what stands before and after a remedy: pH, salts, air, the ready day."""
    figures: dict[str, float] = {}
    ahead = evaluation.forecast
    if ahead is not None:
        figures = {"ph": ahead.ph_on(JUDGED_DAY), "ec_ds_m": float(ahead.ec[30])}
        if ahead.ready.p50 is not None:
            figures["ready_day"] = ahead.ready.p50
    if evaluation.pot is not None:
        figures["air"] = max(evaluation.pot.air_filled, 0.0)
    if evaluation.supply is not None:
        figures["nitrogen"] = reaches_of(evaluation.supply.elements["N"])
    return figures


def _candidates(bench: _Bench, finding: Finding) -> Iterator[_Try]:
    """Return what may mend a finding, the least change first."""
    kind = finding.kind
    if kind in (Kind.PH_HIGH, Kind.PH_KEEPS_RISING, Kind.PH_LOW, Kind.PH_KEEPS_FALLING):
        yield from _for_ph(bench, up=kind in (Kind.PH_LOW, Kind.PH_KEEPS_FALLING))
    elif kind in (Kind.SALTS, Kind.SODIUM, Kind.CHLORIDE, Kind.BORON):
        yield from _less_salt(bench, finding)
    elif kind is Kind.AMMONIUM and bench.plan.planted_day is not None:
        yield from _planted_later(bench)
    elif kind in (Kind.AMMONIUM, Kind.RUNS_HOT, Kind.NOT_READY):
        yield from _less_of_the_hot(bench)
    elif kind is Kind.SHORT:
        yield from _more_of(bench, finding.of)
    elif kind is Kind.WOODY_ROBBERY:
        yield from _more_of(bench, "N")
    elif kind is Kind.AIR_LOW:
        yield from _more_air(bench, finding)
    elif kind is Kind.LIME_AND_SULFUR or (kind is Kind.USELESS and finding.of == "lime"):
        yield from _without(bench, lambda m: bool(m.lime_grade))
        if kind is Kind.LIME_AND_SULFUR:
            yield from _without(bench, lambda m: m.acidity_role == "sulfur")
    elif kind is Kind.USELESS:
        yield from _without(bench, lambda m: m.slug == finding.of)


# Changes of a plan ---------------------------------------------------------------------


def carried_out(plan: Plan, changes: Sequence[Change], evaluation: Evaluation) -> Plan:
    """Return a plan with changes made.

    Parameters
    ----------
    plan : Plan
        As it is.
    changes : sequence of Change
        What to do.
    evaluation : Evaluation
        Of the plan: its loose litres and rates.
    """
    loose = {b.material.slug: b.loose_l for b in evaluation.bulk}
    rates = {d.material.slug: d.g_per_l for d in evaluation.doses}
    for change in changes:
        if change.do in (DoKind.SWAP, DoKind.ADD):
            plan = _swapped(plan, change, loose)
        elif change.do is DoKind.DOSE:
            plan = with_rate(plan, change.material, change.g_per_l)
        elif change.do is DoKind.SCALE:
            plan = with_rate(plan, change.material, rates.get(change.material, 0.0) * change.share)
        elif change.do is DoKind.TAKE_OUT:
            plan = replace(
                plan, doses=tuple(d for d in plan.doses if d.material != change.material)
            )
        elif change.do is DoKind.WAIT:
            plan = replace(plan, planted_day=change.day)
    return plan


def _swapped(plan: Plan, change: Change, loose: Mapping[str, float]) -> Plan:
    """Return a plan with litres of one part in place of another's, or added."""
    whole = sum(loose.values())
    per_litre = sum(p.parts for p in plan.parts) / whole
    parts = {p.material: p.parts for p in plan.parts}
    more = change.litres * per_litre
    if change.do is DoKind.SWAP:
        parts[change.material] = parts.get(change.material, 0.0) - more
    into = change.into or change.material
    parts[into] = parts.get(into, 0.0) + more
    rows = tuple(Part(material=m, parts=n) for m, n in parts.items() if n > 1e-9)
    return replace(plan, parts=rows)


def _litres(value: float) -> float:
    """Return litres as they are measured out: halves when small, whole when large."""
    step = 0.5 if value < 10 else 1.0
    return max(round(value / step) * step, step)


def _try(bench: _Bench, text: str, changes: tuple[Change, ...], size: float) -> _Try:
    return _Try(text, changes, carried_out(bench.plan, changes, bench.evaluation), size)


def _name(bench: _Bench, slug: str) -> str:
    return bench.pantry.materials[slug].spoken_name


def _rate(bench: _Bench, g_per_l: float) -> float:
    """Return a rate that a scale can weigh out for the batch. [g/L]."""
    litres = bench.evaluation.volumes.mixed_l
    return rounded_g(g_per_l * litres) / litres


def _swaps(bench: _Bench, out: str, into: str) -> Iterator[_Try]:
    """Return swaps of more and more of one part for another."""
    loose = {b.material.slug: b.loose_l for b in bench.evaluation.bulk}
    whole = sum(loose.values())
    allowed = bench.pantry.first([into])
    if not allowed or out == into:
        return
    tried: set[float] = set()
    for share in SWAPPED_SHARES:
        litres = min(_litres(share * whole), loose[out])
        if litres in tried:
            continue
        tried.add(litres)
        share = litres / whole
        change = Change(do=DoKind.SWAP, material=out, into=into, litres=litres, share=share)
        text = f"Swap {litres:g} L of {_name(bench, out)} for {_name(bench, into)}"
        yield _try(bench, text, (change,), share)


# Candidates by kind --------------------------------------------------------------------


def _for_ph(bench: _Bench, *, up: bool) -> Iterator[_Try]:
    """Return what moves the pH: the one answer first, then a part swapped for another."""
    ahead = bench.evaluation.forecast
    if ahead is None:
        return
    low, high = bench.evaluation.ph_band
    inside = min(INSIDE_PH, (high - low) / 2)
    errand = Errand(
        target_ph=low + inside if up else high - inside, day=JUDGED_DAY, band=(low, high)
    )
    limes, sulfurs = bench.pantry.first(LIMES), bench.pantry.first(SULFURS)
    answer = ph_answer(ahead.heap, ahead.around, errand, limes, sulfurs)
    if answer.outcome is Outcome.TAKE_BACK:
        yield from _taken_back(bench, answer.kind, answer.keep_share)
    elif answer.outcome in (Outcome.DOSE, Outcome.TOO_SLOW) and answer.material is not None:
        material, rate = answer.material, _rate(bench, answer.g_per_l)
        lying = {d.material.slug: d.g_per_l for d in bench.evaluation.doses}
        change = Change(
            do=DoKind.DOSE, material=material.slug, g_per_l=lying.get(material.slug, 0.0) + rate
        )
        grams = rate * bench.evaluation.volumes.mixed_l
        if rate > 0:
            yield _try(bench, f"Add {sig(grams, 4)} g of {material.spoken_name}", (change,), 0.02)
    known = [b for b in bench.evaluation.bulk if b.material.ph is not None and b.share > 0.05]
    into = SWEET if up else SOUR
    if known:
        pick = min if up else max
        out = pick(known, key=lambda b: b.material.ph.typ if b.material.ph else 7.0)
        yield from _swaps(bench, out.material.slug, into)


def _taken_back(bench: _Bench, kind: str, keep: float) -> Iterator[_Try]:
    role = (lambda m: bool(m.lime_grade)) if kind == "lime" else _is_sulfur
    lines = [d for d in bench.evaluation.doses if role(d.material)]
    if not lines:
        return
    changes = tuple(
        Change(do=DoKind.TAKE_OUT, material=d.material.slug)
        if keep < 0.02
        else Change(do=DoKind.SCALE, material=d.material.slug, share=keep)
        for d in lines
    )
    names = " and ".join(d.material.spoken_name for d in lines)
    grams = sum(d.g_per_l for d in lines) * bench.evaluation.volumes.mixed_l
    text = f"Leave out the {names}" if keep < 0.02 else f"Give {sig(keep * grams, 3)} g of {names}"
    yield _try(bench, text, changes, 0.01)


def _is_sulfur(material: Material) -> bool:
    return material.acidity_role == "sulfur"


def _without(bench: _Bench, which: Callable[[Material], bool]) -> Iterator[_Try]:
    for line in bench.evaluation.doses:
        if which(line.material):
            change = Change(do=DoKind.TAKE_OUT, material=line.material.slug)
            text = f"Leave out the {line.material.spoken_name}"
            yield _try(bench, text, (change,), 0.01)


def _less_salt(bench: _Bench, finding: Finding) -> Iterator[_Try]:
    """Return less of the saltiest dose, then of the saltiest part."""
    of = {Kind.SODIUM: ("Na",), Kind.CHLORIDE: ("Cl",), Kind.BORON: ("B",)}.get(finding.kind, SALTY)

    def brings(material: Material) -> float:
        held = material.composition
        return sum(held[e].typ for e in of if e in held)

    by_salt = sorted(
        (d for d in bench.evaluation.doses if brings(d.material)),
        key=lambda d: -brings(d.material) * d.g_per_l,
    )
    for line in by_salt[:1]:
        for share in (0.5, 0.25):
            change = Change(do=DoKind.SCALE, material=line.material.slug, share=share)
            grams = line.grams.typ * share
            text = f"Give only {sig(grams, 3)} g of {line.material.spoken_name}"
            yield _try(bench, text, (change,), 0.02)
    salty = [b for b in bench.evaluation.bulk if b.material.ec is not None]
    if salty:
        out = max(salty, key=lambda b: b.share * (b.material.ec.typ if b.material.ec else 0.0))
        into = SOUR if "ericaceous" in bench.evaluation.crop.tags else SWEET
        ph_high = any(f.kind is Kind.PH_HIGH for f in bench.judgement.findings)
        yield from _swaps(bench, out.material.slug, SOUR if ph_high else into)


def _planted_later(bench: _Bench) -> Iterator[_Try]:
    ahead = bench.evaluation.forecast
    if ahead is not None and ahead.ready.p50 is not None:
        day = ahead.ready.p50
        change = Change(do=DoKind.WAIT, day=day)
        yield _try(bench, f"Plant on day {day}", (change,), 0.0)


def _less_of_the_hot(bench: _Bench) -> Iterator[_Try]:
    """Return less of the feed that brings most quick nitrogen."""
    hot = [d for d in bench.evaluation.doses if "N" in d.material.composition]
    hot.sort(key=lambda d: -d.g_per_l * d.material.composition["N"].typ)
    for line in hot[:1]:
        for share in (0.6, 0.3):
            change = Change(do=DoKind.SCALE, material=line.material.slug, share=share)
            grams = line.grams.typ * share
            text = f"Give only {sig(grams, 3)} g of {line.material.spoken_name}"
            yield _try(bench, text, (change,), 0.02)


def _more_of(bench: _Bench, element: str) -> Iterator[_Try]:
    """Return more of an element: first of what lies there or is owned."""
    supply = bench.evaluation.supply
    if supply is None:
        return
    row = supply.elements[element]
    short = needs_of(row) - reaches_of(row)
    free, reaches = max(row.season_free, 1.0), max(reaches_of(row), 1.0)
    lying = {d.material.slug: d.g_per_l for d in bench.evaluation.doses}
    slugs = [
        *(s for s in lying if element in bench.pantry.materials[s].composition),
        *BRINGERS.get(element, ()),
    ]
    for material in bench.pantry.first(list(dict.fromkeys(slugs)))[:2]:
        content = material.composition.get(element)
        most = min(material.label_max_g_l or 10.0, material.dose_max_g_l or 10.0)
        if content is None or content.typ <= 0:
            continue
        wanted = short / (10 * content.typ) / max(min(reaches / free, 1.0), 0.4)
        rate = _rate(bench, min(lying.get(material.slug, 0.0) + wanted, most))
        if rate <= lying.get(material.slug, 0.0):
            continue
        change = Change(do=DoKind.DOSE, material=material.slug, g_per_l=rate)
        grams = (rate - lying.get(material.slug, 0.0)) * bench.evaluation.volumes.mixed_l
        text = f"Add {sig(grams, 4)} g of {material.spoken_name}"
        yield _try(bench, text, (change,), 0.03)


def _more_air(bench: _Bench, finding: Finding) -> Iterator[_Try]:
    """Return coarse aggregate in place of what holds most water."""
    fine = [b for b in bench.evaluation.bulk if b.material.slug != AIRY and b.share > 0.1]
    if not fine or finding.limit is None:
        return
    out = max(fine, key=lambda b: b.share)
    yield from _swaps(bench, out.material.slug, AIRY)
