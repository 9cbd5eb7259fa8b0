"""Doses fitted to a goal, and the dose for a pH on a day, as the Bench shows them."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import msgspec
from django.http import QueryDict

from pelk.bench.formats.documents import DocumentError, MixDocument
from pelk.bench.formats.planning import as_plan
from pelk.bench.forms.mix import BenchForm
from pelk.bench.forms.mix_rows import DoseRow
from pelk.core.advice.goal import Goal
from pelk.core.advice.ph_on_a_day import dose_for_day
from pelk.core.advice.proposals import propose
from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.base.sentences import capital
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.feeding_styles import FeedingWay
from pelk.core.materials.material import Material as CoreMaterial
from pelk.shelf.models.materials import Material, cores_of
from pelk.shelf.selectors import packages_of, shelf_slugs
from pelk.ui.numbers import read_number
from pelk.ui.ph_answers import answer_said
from pelk.ui.refusals import sentence
from pelk.yards.models import Yard

MINIMISE = {"cost": "lowest cost", "ingredients": "fewest doses", "mass": "least weight"}
FROM = {"shelf": "your shelf", "any": "anything your settings allow"}
MOST_OFFERED = 300
# What a miss is written in; less than this is none.
MISSED_IN, LEAST_MISS = {"pH": "", "salt": " dS/m"}, 0.05
LIMES = ("lime-dolomitic-ground", "lime-calcitic-ground")
SULFURS = ("sulfur-dusting", "sulfur-wettable")


@dataclass(frozen=True, slots=True)
class FitLine:
    """One proposed dose."""

    slug: str
    name: str
    rate: str
    mass: str
    cost: str
    is_new: bool


@dataclass(frozen=True, slots=True, kw_only=True)
class Fitted:
    """What a fit came to, with what was asked."""

    minimise: str
    source: str
    keeps: bool
    asked: bool
    problem: str = ""
    is_met: bool = False
    lines: list[FitLine]
    binds: tuple[str, ...] = ()
    conflicts: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()
    misses: list[str]
    total: str = ""


def form_for(post: QueryDict, yard: Yard) -> BenchForm:
    """Return the Bench's form as it was posted, read for a yard."""
    form = BenchForm.from_post(post)
    form.normals_c = yard.normals_c
    form.read_in(yard.measures, is_typed=True)
    form.pour(yard.water_analysis)
    return form


def stored(fitted: Fitted) -> dict[str, Any]:
    """Return a fit as plain values, to be kept until its page asks."""
    held: dict[str, Any] = msgspec.to_builtins(fitted)
    return held


def as_fitted(answer: Any) -> Fitted:
    """Return a fit that was kept."""
    return msgspec.convert(answer, Fitted)


def fit(form: BenchForm, post: QueryDict, yard: Yard) -> Fitted:
    """Return doses for what is on the Bench; nothing is taken yet."""
    minimise = post.get("fit_minimise", "cost")
    source, keeps = post.get("fit_from", "shelf"), post.get("fit_keep") == "1"
    minimise = minimise if minimise in MINIMISE else "cost"
    source = source if source in FROM else "shelf"
    blank: dict[str, Any] = {
        "minimise": minimise,
        "source": source,
        "keeps": keeps,
        "lines": [],
        "misses": [],
    }
    if post.get("action") != "fit":
        return Fitted(asked=False, **blank)
    document = form.as_document()
    if form.errors:
        return Fitted(asked=True, problem="Fix the marked entries first.", **blank)
    if not keeps:
        document.doses = []
    try:
        return _fitted(document, yard, minimise, source, blank)
    except DocumentError as error:
        return Fitted(asked=True, problem=sentence(error.problems[0]), **blank)
    except PelkError as error:
        return Fitted(asked=True, problem=sentence(error), **blank)


def _fitted(
    document: MixDocument, yard: Yard, minimise: str, source: str, blank: dict[str, Any]
) -> Fitted:
    rows = _offered(yard, source, document)
    cores = {m.slug: core for m, core in zip(rows, cores_of(rows), strict=True)}
    plan, named = as_plan(document, cores, yard.hand_measures)
    offered = shelf_slugs(yard) if source == "shelf" else frozenset()
    if source == "shelf" and not any(cores[s].role == "dose" for s in offered if s in cores):
        raise PelkError(
            "Your shelf has no dose materials yet. Add one, or choose “anything your settings "
            "allow”."
        )
    style = yard.style
    if document.feeding:
        style = replace(style, feeding=FeedingWay(document.feeding))
    goal = Goal(allow=frozenset(offered), minimise=minimise, style=style)
    packages = packages_of(yard, cores)
    proposal = propose(plan, {**cores, **named}, goal, packages)
    kept, money = len(plan.doses), yard.money
    litres = proposal.evaluation.volumes.mixed_l
    lines, total = [], 0.0
    for i, (dose, line) in enumerate(
        zip(proposal.plan.doses, proposal.evaluation.doses, strict=True)
    ):
        package = packages.get(dose.material)
        cost = None
        if package is not None:
            each = float(package.price) / package.kilograms(cores[dose.material])
            cost = each * line.grams.typ / 1000
            total += cost
        lines.append(
            FitLine(
                dose.material,
                cores[dose.material].short_name,
                sig(line.grams.typ / litres, 3),
                yard.measures.mass(line.grams.typ),
                "" if cost is None else money.each_float(round(cost, 2)),
                i >= kept,
            )
        )
    misses = [
        f"{name} by {sig(abs(by), 2)}{MISSED_IN.get(name, ' mg/L')}"
        for name, by in proposal.misses.items()
        if abs(by) >= LEAST_MISS
    ]
    return Fitted(
        asked=True,
        is_met=proposal.is_met,
        binds=tuple(capital(say) for say in proposal.binds),
        conflicts=proposal.conflicts,
        notes=proposal.notes,
        total=money.each_float(round(total, 2)) if total else "",
        **{**blank, "lines": lines, "misses": misses},
    )


def _offered(yard: Yard, source: str, document: MixDocument) -> list[Material]:
    """Return what may be chosen from, and what the mix names already."""
    named = {part.material for part in document.bulk}
    named |= {dose.material for dose in document.doses}
    wanted = Material.objects.listed_for(yard)
    if source == "shelf":
        wanted = wanted.filter(slug__in=named | shelf_slugs(yard))
    return list(wanted.with_analysis()[:MOST_OFFERED])


def take_fit(form: BenchForm, post: QueryDict) -> None:
    """Take the ticked lines of a fit; a material that is there already is replaced."""
    for text in post.getlist("fit_take")[:40]:
        slug, _, rate = text.partition(":")
        if read_number(rate) is None:
            continue
        form.doses = [row for row in form.doses if row.material != slug]
        form.doses.append(DoseRow(slug[:80], rate[:20], "g/L"))


@dataclass(frozen=True, slots=True)
class Aimed:
    """The dose for a pH on a day, in words."""

    problem: str = ""
    say: str = ""
    then: str = ""
    loam: str = ""
    slug: str = ""
    rate: str = ""
    name: str = ""


def aimed(form: BenchForm, yard: Yard, materials: dict[str, Material]) -> Aimed:
    """Return what brings the mix on the Bench to the pH and day that were typed."""
    ph, day = read_number(form.aim_ph), read_number(form.aim_day)
    if ph is None or day is None or day != int(day):
        return Aimed("Enter a pH and a whole number of days, such as 5.2 and 60.")
    try:
        document = form.as_document()
        plan, shelf = as_plan(
            document, {slug: row.core for slug, row in materials.items()}, yard.hand_measures
        )
        evaluation = evaluate(plan, shelf, samples=0)
        limes, sulfurs = (_preferred(yard, slugs) for slugs in (LIMES, SULFURS))
        aim = dose_for_day(plan, shelf, evaluation, ph, int(day), limes, sulfurs)
    except DocumentError as error:
        return Aimed(sentence(error.problems[0]))
    except PelkError as error:
        return Aimed(sentence(error))
    answer, litres = aim.answer, evaluation.volumes.mixed_l
    said = answer_said(
        answer, yard.measures, litres, int(day), advice=aim.advice, quicker=aim.quicker
    )
    loam = ""
    if aim.loam_g_per_l is not None and aim.loam_ph is not None:
        loam = (
            f"A bed table for loam would give {sig(aim.loam_g_per_l, 2)} g/L: here that "
            f"ends at pH {aim.loam_ph:.1f}."
        )
    slug, rate, name = "", "", ""
    if answer.material is not None and answer.g_per_l > 0:
        slug, name = answer.material.slug, answer.material.short_name
        rate = sig(answer.g_per_l, 3)
    return Aimed(say=said.say, then=said.then, loam=loam, slug=slug, rate=rate, name=name)


def _preferred(yard: Yard, usual: tuple[str, ...]) -> list[CoreMaterial]:
    """Return some materials, those on the shelf first, the usual one before the rest."""
    mine = shelf_slugs(yard)
    rows = list(Material.objects.listed_for(yard).filter(slug__in=usual).with_analysis())
    rows.sort(key=lambda m: (m.slug not in mine, usual.index(m.slug)))
    return cores_of(rows)
