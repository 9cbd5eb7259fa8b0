"""What may mend a finding: changed plans, the least change first."""

from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass

from pelk.core.advice.dose_for_ph import Errand
from pelk.core.advice.grades import Change, DoKind, Finding, Kind
from pelk.core.advice.judged_supply import needs_of, reaches_of
from pelk.core.advice.judgement import Judgement, judge
from pelk.core.advice.ph_answer import Outcome, ph_answer
from pelk.core.advice.plan_changes import carried_out
from pelk.core.advice.proposals import rounded_g
from pelk.core.advice.vetoes import acid_salts, against_what_lies_there, not_as_remedy, unfit
from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.core.materials.material import Material
from pelk.core.plans.plan import Plan
from pelk.core.simulation.forecast import JUDGED_DAY
from pelk.core.vessels.dose_amounts import DoseLine

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
class Trial:
    """A changed plan on trial."""

    text: str
    changes: tuple[Change, ...]
    plan: Plan
    size: float
    result: Evaluation | None = None
    judged: Judgement | None = None


@dataclass(slots=True)
class Mending:
    """A mix whose faults are being mended."""

    plan: Plan
    pantry: Pantry
    evaluation: Evaluation
    judgement: Judgement
    spent: int = 0
    confirmed: int = 0

    def allowed(self, slugs: Sequence[str]) -> list[Material]:
        """Return those of some materials that may come in here, one's own first."""
        crop = self.evaluation.crop
        return [
            m
            for m in self.pantry.first(slugs)
            if not not_as_remedy(m, crop) and not against_what_lies_there(m, self.evaluation)
        ]

    def may_stay(self, material: Material) -> bool:
        """Return whether some of a dose may be left in, or all of it is taken out."""
        return not not_as_remedy(material, self.evaluation.crop)

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


def candidates(mending: Mending, finding: Finding) -> Iterator[Trial]:
    """Return what may mend a finding, the least change first."""
    kind = finding.kind
    if kind is not Kind.AIR_LOW:
        # The cause first: what has no business in this mix at all.
        yield from _without(mending, lambda m: bool(unfit(m, mending.evaluation.crop)))
    if kind in (Kind.PH_HIGH, Kind.PH_KEEPS_RISING, Kind.PH_LOW, Kind.PH_KEEPS_FALLING):
        yield from _for_ph(mending, up=kind in (Kind.PH_LOW, Kind.PH_KEEPS_FALLING))
    elif kind in (Kind.SALTS, Kind.SODIUM, Kind.CHLORIDE, Kind.BORON):
        yield from _less_salt(mending, finding)
    elif kind is Kind.AMMONIUM and mending.plan.planted_day is not None:
        yield from _planted_later(mending)
    elif kind in (Kind.AMMONIUM, Kind.RUNS_HOT, Kind.NOT_READY):
        yield from _less_of_the_hot(mending)
    elif kind is Kind.SHORT:
        yield from _more_of(mending, finding.of)
    elif kind is Kind.WOODY_ROBBERY:
        yield from _more_of(mending, "N")
    elif kind is Kind.AIR_LOW:
        yield from _more_air(mending, finding)
    elif kind is Kind.LIME_AND_SULFUR or (kind is Kind.USELESS and finding.of == "lime"):
        yield from _without(mending, lambda m: bool(m.lime_grade))
        if kind is Kind.LIME_AND_SULFUR:
            yield from _without(mending, lambda m: m.acidity_role == "sulfur")
    elif kind is Kind.USELESS:
        yield from _without(mending, lambda m: m.slug == finding.of)


def _litres(value: float) -> float:
    """Return litres as they are measured out: halves when small, whole when large."""
    step = 0.5 if value < 10 else 1.0
    return max(round(value / step) * step, step)


def _try(mending: Mending, text: str, changes: tuple[Change, ...], size: float) -> Trial:
    return Trial(text, changes, carried_out(mending.plan, changes, mending.evaluation), size)


def _name(mending: Mending, slug: str) -> str:
    return mending.pantry.materials[slug].spoken_name


def _rate(mending: Mending, g_per_l: float) -> float:
    """Return a rate that a scale can weigh out for the batch. [g/L]."""
    litres = mending.evaluation.volumes.mixed_l
    return rounded_g(g_per_l * litres) / litres


def _swaps(mending: Mending, out: str, into: str) -> Iterator[Trial]:
    """Return swaps of more and more of one part for another."""
    loose = {b.material.slug: b.loose_l for b in mending.evaluation.bulk}
    whole = sum(loose.values())
    allowed = mending.allowed([into])
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
        text = f"Swap {sig(litres, 3)} L of {_name(mending, out)} for {_name(mending, into)}"
        yield _try(mending, text, (change,), share)


def _for_ph(mending: Mending, *, up: bool) -> Iterator[Trial]:
    """Return what moves the pH: the one answer first, then a part swapped for another."""
    ahead = mending.evaluation.forecast
    if ahead is None:
        return
    low, high = mending.evaluation.ph_band
    inside = min(INSIDE_PH, (high - low) / 2)
    errand = Errand(
        target_ph=low + inside if up else high - inside, day=JUDGED_DAY, band=(low, high)
    )
    salts = {m.slug for m in acid_salts(mending.evaluation)}
    if up and salts:
        yield from _without(mending, lambda m: m.slug in salts)
    limes, sulfurs = mending.allowed(LIMES), mending.allowed(SULFURS)
    answer = ph_answer(ahead.heap, ahead.around, errand, limes, sulfurs)
    if answer.outcome is Outcome.TAKE_BACK:
        yield from _taken_back(mending, answer.kind, answer.keep_share)
    elif answer.outcome in (Outcome.DOSE, Outcome.TOO_SLOW) and answer.material is not None:
        material, rate = answer.material, _rate(mending, answer.g_per_l)
        lying = {d.material.slug: d.g_per_l for d in mending.evaluation.doses}
        change = Change(
            do=DoKind.DOSE, material=material.slug, g_per_l=lying.get(material.slug, 0.0) + rate
        )
        grams = rate * mending.evaluation.volumes.mixed_l
        if rate > 0:
            yield _try(mending, f"Add {sig(grams, 4)} g of {material.spoken_name}", (change,), 0.02)
    known = [
        b
        for b in mending.evaluation.bulk
        if b.material.ph is not None and b.share > 0.05 and b.material.family != "mineral-aggregate"
    ]
    into = SWEET if up else SOUR
    if known:
        pick = min if up else max
        out = pick(known, key=lambda b: b.material.ph.typ if b.material.ph else 7.0)
        yield from _swaps(mending, out.material.slug, into)


def _taken_back(mending: Mending, kind: str, keep: float) -> Iterator[Trial]:
    role = (lambda m: bool(m.lime_grade)) if kind == "lime" else _is_sulfur
    lines = [d for d in mending.evaluation.doses if role(d.material)]
    if not lines:
        return
    is_useless = any(f.kind is Kind.USELESS and f.of == "lime" for f in mending.judgement.findings)
    if keep < 0.02 or (kind == "lime" and is_useless):
        keep = 0.0
    stays = [d for d in lines if keep and mending.may_stay(d.material)]
    changes = tuple(
        Change(do=DoKind.SCALE, material=d.material.slug, share=keep)
        if d in stays
        else Change(do=DoKind.TAKE_OUT, material=d.material.slug)
        for d in lines
    )
    names = " and ".join(d.material.spoken_name for d in lines)
    grams = sum(d.g_per_l for d in stays) * mending.evaluation.volumes.mixed_l * keep
    text = f"Give {sig(grams, 3)} g of {names}" if stays else f"Leave out the {names}"
    yield _try(mending, text, changes, 0.01)


def _is_sulfur(material: Material) -> bool:
    return material.acidity_role == "sulfur"


def _without(mending: Mending, which: Callable[[Material], bool]) -> Iterator[Trial]:
    for line in mending.evaluation.doses:
        if which(line.material):
            change = Change(do=DoKind.TAKE_OUT, material=line.material.slug)
            text = f"Leave out the {line.material.spoken_name}"
            yield _try(mending, text, (change,), 0.01)


def _less_salt(mending: Mending, finding: Finding) -> Iterator[Trial]:
    """Return less of the saltiest dose, then of the saltiest part."""
    of = {Kind.SODIUM: ("Na",), Kind.CHLORIDE: ("Cl",), Kind.BORON: ("B",)}.get(finding.kind, SALTY)

    def brings(material: Material) -> float:
        held = material.composition
        return sum(held[e].typ for e in of if e in held)

    by_salt = sorted(
        (d for d in mending.evaluation.doses if brings(d.material)),
        key=lambda d: -brings(d.material) * d.g_per_l,
    )
    for line in by_salt[:1]:
        yield from _less_of(mending, line, (0.5, 0.25))
    salty = [b for b in mending.evaluation.bulk if b.material.ec is not None]
    if salty:
        out = max(salty, key=lambda b: b.share * (b.material.ec.typ if b.material.ec else 0.0))
        into = SOUR if "ericaceous" in mending.evaluation.crop.tags else SWEET
        ph_high = any(f.kind is Kind.PH_HIGH for f in mending.judgement.findings)
        yield from _swaps(mending, out.material.slug, SOUR if ph_high else into)


def _planted_later(mending: Mending) -> Iterator[Trial]:
    ahead = mending.evaluation.forecast
    if ahead is not None and ahead.ready.p50 is not None:
        day = ahead.ready.p50
        change = Change(do=DoKind.WAIT, day=day)
        yield _try(mending, f"Plant on day {day}", (change,), 0.0)


def _less_of_the_hot(mending: Mending) -> Iterator[Trial]:
    """Return less of the feed that brings most quick nitrogen."""
    hot = [d for d in mending.evaluation.doses if "N" in d.material.composition]
    hot.sort(key=lambda d: -d.g_per_l * d.material.composition["N"].typ)
    for line in hot[:1]:
        yield from _less_of(mending, line, (0.6, 0.3))


def _less_of(mending: Mending, line: DoseLine, shares: Sequence[float]) -> Iterator[Trial]:
    """Return less and less of a dose; all of it out, where none of it may stay."""
    name = line.material.spoken_name
    if not mending.may_stay(line.material):
        yield from _without(mending, lambda m: m.slug == line.material.slug)
        return
    for share in shares:
        change = Change(do=DoKind.SCALE, material=line.material.slug, share=share)
        text = f"Give only {sig(line.grams.typ * share, 3)} g of {name}"
        yield _try(mending, text, (change,), 0.02)


def _more_of(mending: Mending, element: str) -> Iterator[Trial]:
    """Return more of an element: first of what lies there or is owned."""
    supply = mending.evaluation.supply
    if supply is None:
        return
    row = supply.elements[element]
    short = needs_of(row) - reaches_of(row)
    free, reaches = max(row.season_free, 1.0), max(reaches_of(row), 1.0)
    lying = {d.material.slug: d.g_per_l for d in mending.evaluation.doses}
    slugs = [
        *(s for s in lying if element in mending.pantry.materials[s].composition),
        *BRINGERS.get(element, ()),
    ]
    for material in mending.allowed(list(dict.fromkeys(slugs)))[:2]:
        content = material.composition.get(element)
        most = min(material.label_max_g_l or 10.0, material.dose_max_g_l or 10.0)
        if content is None or content.typ <= 0:
            continue
        wanted = short / (10 * content.typ) / max(min(reaches / free, 1.0), 0.4)
        rate = _rate(mending, min(lying.get(material.slug, 0.0) + wanted, most))
        if rate <= lying.get(material.slug, 0.0):
            continue
        change = Change(do=DoKind.DOSE, material=material.slug, g_per_l=rate)
        grams = (rate - lying.get(material.slug, 0.0)) * mending.evaluation.volumes.mixed_l
        text = f"Add {sig(grams, 4)} g of {material.spoken_name}"
        yield _try(mending, text, (change,), 0.03)


def _more_air(mending: Mending, finding: Finding) -> Iterator[Trial]:
    """Return coarse aggregate in place of what holds most water."""
    fine = [b for b in mending.evaluation.bulk if b.material.slug != AIRY and b.share > 0.1]
    if not fine or finding.limit is None:
        return
    out = max(fine, key=lambda b: b.share)
    yield from _swaps(mending, out.material.slug, AIRY)
