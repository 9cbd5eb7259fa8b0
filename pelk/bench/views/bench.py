"""Pages of the Bench: trying out is a preview POST, keeping is POST and redirect."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from typing import Any

from django.conf import settings
from django.contrib import messages
from django.http import HttpResponse, QueryDict
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import Resolver404, resolve, reverse
from django.views.decorators.http import require_http_methods, require_safe
from django_htmx.http import HttpResponseClientRedirect, trigger_client_event

from pelk.bench import services
from pelk.bench.domain import fit_queue
from pelk.bench.domain.starting_points import starting_points
from pelk.bench.formats.documents import DocumentError, MixDocument
from pelk.bench.forms import edits
from pelk.bench.forms.mix import VOLUME_WAYS, BenchForm
from pelk.bench.models import FitAsked, Recipe, RecipeVersion
from pelk.bench.pages import fitting, options, said
from pelk.bench.pages.barrow_base import base_of
from pelk.bench.pages.bench_page import BenchPage, bench_page, goal_of
from pelk.bench.pages.form_rows import dose_rows, named, part_rows
from pelk.bench.pages.meanwhile import kept_meanwhile
from pelk.bench.pages.sums import Beside
from pelk.bench.selectors import changes_of, evaluated, mended
from pelk.bench.views.book import own_recipe
from pelk.bench.views.entering import Entering, fillings_of
from pelk.core.advice.judgement import judge
from pelk.core.base.rounding import sig
from pelk.core.crops.groups import library as crops
from pelk.core.evaluation.sensitivity import Change
from pelk.core.lab.substitutes import job_of
from pelk.core.materials.cost import Package
from pelk.core.simulation.ensemble import SAMPLES
from pelk.shelf.models.materials import Material
from pelk.shelf.pages.material import choices_for
from pelk.shelf.selectors import known_materials, packages_of, packs_of, ready_bag_of
from pelk.ui.money import read_money
from pelk.ui.numbers import read_count, read_number
from pelk.ui.pages import render_page
from pelk.ui.units import sizes
from pelk.yards.doors.limits import DEAR, passes
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

# The answer to an edit comes without the fan; "ahead" then brings it.
FRAGMENTS = {
    "bench": "bench/_bench.html",
    "ahead": "bench/_ahead.html",
    "graded": "bench/_graded.html",
}
QUICK, AHEAD, FIXES = "bench", "ahead", "graded"
VERSIONS = 30
# Where the buttons that keep a recipe lead; nowhere else but to its own page.
LEADS = {"save": "", "make": "barrow:make", "plant": "pots:plant_today"}
KEEPS = frozenset(LEADS)


@require_http_methods(["GET", "POST"])
@once(*KEEPS)
def new(request: YardRequest) -> HttpResponse:
    """Design a mix that is not kept yet."""
    return _bench(request, None)


@require_http_methods(["GET", "POST"])
@once(*KEEPS)
def recipe(request: YardRequest, recipe: int) -> HttpResponse:
    """Show a recipe, try changes out, keep them."""
    return _bench(request, own_recipe(request, recipe))


def _bench(request: YardRequest, recipe: Recipe | None) -> HttpResponse:
    action = request.POST.get("action", "")
    form = _form(request, recipe)
    form.normals_c = request.yard.normals_c
    form.read_in(request.yard.measures, is_typed=request.method == "POST")
    form.pour(request.yard.water_analysis)
    form.fill(fillings_of(request.yard))
    if request.method == "POST":
        edits.carry_out(form, action, request.POST)
    entering = Entering(request, form, action)
    if way := entering.volumes_way:
        _as_volumes(form, way, request)
    entering.put_in()
    if action == "fit-take":
        fitting.take_fit(form, request.POST)
    slugs = {part.material for part in form.parts} | {d.material for d in form.doses}
    held = known_materials(request.yard, slugs)
    if form.way_was and form.way != form.way_was:
        _rewrite(form, request, held, by_volume=False)
    form.way_was = form.way
    shown = _read(form, request, held)
    meanwhile = None
    if action in KEEPS and shown is not None and recipe is not None:
        base, over = (read_count(request.POST.get(name, "")) or 0 for name in ("base", "over"))
        meanwhile = kept_meanwhile(recipe, base, over, form.as_document(), held)
    if action in KEEPS and shown is not None and meanwhile is None:
        kept = services.save_recipe(
            yard=request.yard,
            by=request.user,
            document=form.as_document(),
            recipe=recipe,
            note=form.version_note,
        )
        if LEADS[action]:
            return _leave(request, reverse(LEADS[action], args=[kept.pk]))
        messages.success(request, said.SAVED.format(name=kept.name, number=kept.latest.number))
        return _leave(request, kept.get_absolute_url())
    if action.startswith("why:"):
        why = action.removeprefix("why:")
    else:
        why = request.POST.get("why_open", request.GET.get("why", ""))
    context = {
        **_context(request, form, recipe, shown, why, held),
        **entering.context,
        "meanwhile": meanwhile,
        "base_number": request.POST.get("base") or (recipe.latest.number if recipe else 0),
    }
    response = render_page(request, "bench/bench.html", context, fragments=FRAGMENTS)
    if _target(request) == QUICK and shown is not None:
        trigger_client_event(response, "bench-read", after="settle")
    if _target(request) == AHEAD and shown is not None and shown.findings:
        trigger_client_event(response, "bench-ahead", after="settle")
    return response


def _leave(request: YardRequest, address: str) -> HttpResponse:
    """Go to another page, by the page's own script where it asked."""
    if request.headers.get("HX-Request"):
        return HttpResponseClientRedirect(address)
    return redirect(address)


def _target(request: YardRequest) -> str:
    return request.headers.get("HX-Target", "")


def _form(request: YardRequest, recipe: Recipe | None) -> BenchForm:
    if request.method == "POST":
        return BenchForm.from_post(request.POST)
    if recipe is None:
        return _begun_from(request)
    version = _asked_version(request, recipe)
    form = BenchForm.from_document(version.as_document())
    form.name = recipe.name
    return form


def _begun_from(request: YardRequest) -> BenchForm:
    """Return a new mix: empty, or begun from a starting point."""
    point = starting_points().get(request.GET.get("from", ""))
    form = BenchForm.from_document(point.document) if point else BenchForm()
    count = read_count(request.GET.get("count", ""))
    litres = read_number(request.GET.get("litres", ""))
    if count and litres and litres > 0:
        size = sizes()[request.yard.measures.space_unit]
        form.how, form.count, form.litres = "pots", str(count), sig(litres * size, 4)
        form.kind = "round-pot"
    if request.yard.water_analysis.known != "unknown":
        form.tap = "yard"
    return form


def _asked_version(request: YardRequest, recipe: Recipe) -> RecipeVersion:
    """Return the version an address asks for, or the newest."""
    asked = request.GET.get("version", "")
    matching = [v for v in recipe.versions.all() if str(v.number) == asked]
    return matching[0] if matching else recipe.latest


def _as_volumes(form: BenchForm, way: str, request: YardRequest) -> None:
    """Write the parts as the volumes that they come to, so that a volume can join them."""
    form.way_was, form.way = form.way, way
    slugs = {part.material for part in form.parts} | {d.material for d in form.doses}
    _rewrite(form, request, known_materials(request.yard, slugs), by_volume=True)
    form.way_was = form.way


def _rewrite(
    form: BenchForm, request: YardRequest, held: dict[str, Material], *, by_volume: bool
) -> None:
    """Write the parts in the way that was just chosen, where they can be read."""
    now, form.way = form.way, form.way_was
    evaluation = None
    with suppress(DocumentError):
        document = form.as_document()
        if not form.errors:
            evaluation = evaluated(document, request.yard, held, samples=0)
    form.way = now
    edits.in_the_new_way(form, evaluation, by_volume=by_volume)
    if form.how == "sum" and form.way not in VOLUME_WAYS:
        form.how = "litres"
        if evaluation is not None:
            form.volume, form.volume_unit = sig(evaluation.volumes.mixed_l, 4), "L"


def _read(form: BenchForm, request: YardRequest, held: dict[str, Material]) -> BenchPage | None:
    """Return what the form comes to, or None with the problems noted on it."""
    keeping = request.POST.get("action") in KEEPS
    if not form.parts and not form.doses and not keeping:
        form.as_document()
        form.note([])
        return None
    document, evaluation = form.as_document(), None
    if keeping and form.percent_open is not None:
        form.errors["bulk"] = said.PERCENTS_OPEN
    try:
        samples = 0 if _target(request) == QUICK else SAMPLES
        bought = packages_of(request.yard, held)
        evaluation = evaluated(document, request.yard, held, samples, bought)
    except DocumentError as error:
        form.note(error.problems)
    form.note([])
    if evaluation is None or form.errors:
        return None
    units = (form.charge_unit, form.charge_as)
    judgement = judge(evaluation)
    if _target(request) == FIXES:
        with suppress(DocumentError):  # a material that went meanwhile has no fix
            judgement = mended(document, request.yard, evaluation, judgement)
    beside = _beside(form, document, request)
    slot = request.POST.get("slot")
    return bench_page(evaluation, judgement, request.yard, goal_of(document), units, beside, slot)


def _beside(form: BenchForm, document: MixDocument, request: YardRequest) -> Beside:
    """Return the ready-made bag that was described, else the newest one on the shelf."""
    batch = document.batch
    pots = sum(v.count for v in batch.vessels) if batch else 0
    spare = batch.spare if batch else 0.0
    size, price = read_number(form.bag_l), read_money(form.bag_price)
    if size and size > 0 and price:
        unit = request.yard.measures.space_unit
        return Beside(Package(price=price, litres=size * sizes()[unit]), pots, spare)
    return Beside(ready_bag_of(request.yard), pots, spare)


def _context(
    request: YardRequest,
    form: BenchForm,
    recipe: Recipe | None,
    shown: BenchPage | None,
    why: str,
    materials: dict[str, Material],
) -> dict[str, Any]:
    names = tuple((row.material, named(row.material, materials)) for row in form.parts)
    packs = packs_of(request.yard, materials) if form.way in VOLUME_WAYS else {}
    is_fragment = _target(request) in FRAGMENTS
    missing = form.percent_open
    return {
        **options.lists(),
        "form": form,
        "recipe": recipe,
        "versions": list(recipe.versions.all())[:VERSIONS] if recipe else [],
        "shown": shown,
        "held": bool(form.errors),
        "is_typing": is_fragment and not request.POST.get("action"),
        "is_page": not is_fragment,
        "is_quick": _target(request) == QUICK and not request.POST.get("action"),
        "parts": part_rows(form, materials, shown, packs),
        "doses": dose_rows(form, materials, shown, names),
        "why": shown.figure(why) if shown and why else None,
        "why_key": why if shown else "",
        "changes": _changes(request, form, shown, why, materials),
        "swaps": _swaps(request, form, materials),
        "fit": _fit(request, form),
        "waits": _waits(request),
        "aim": fitting.aimed(form, request.yard, materials)
        if request.POST.get("action") == "aim"
        else None,
        "percent_sum": sig(100 - missing, 4) if missing is not None else "",
        "percent_off": sig(abs(missing), 3) if missing is not None else "",
        "crop": crops().get(form.crop),
        "goal": options.goal_says(form, request.yard.measures) if shown else "",
        "is_trade": form.kind.startswith("trade-"),
        "hows": options.hows(form.way),
        "areas": edits.AREA_RATES,
        "depths": edits.DEPTHS,
        "base": base_of(form, shown.evaluation, request.yard.measures) if shown else None,
        "space_unit": request.yard.measures.space_unit,
        "slot": request.POST.get("slot", ""),
        "here": recipe.get_absolute_url() if recipe else reverse("bench:new"),
    }


def _changes(
    request: YardRequest,
    form: BenchForm,
    shown: BenchPage | None,
    why: str,
    materials: dict[str, Material],
) -> list[Change]:
    """Return what would change the figure that is asked why; not while someone types."""
    if shown is None or not why or (_target(request) and not request.POST.get("action")):
        return []
    return changes_of(form.as_document(), request.yard, materials, why)


def _fit(request: YardRequest, form: BenchForm) -> fitting.Fitted | None:
    """Return the drawer of fitted doses while it is open."""
    action = request.POST.get("action")
    if action not in ("fit", "fit-open"):
        return None
    blank = request.POST.copy()
    blank["action"] = "fit-open"
    if action == "fit" and not _may_ask(request):
        opened = fitting.fit(form, blank, request.yard)
        return replace(opened, asked=True, problem=f"{DEAR.says} Wait {DEAR.wait}.")
    if action == "fit" and fit_queue.is_worked():
        # Worked out elsewhere: the page waits, and shows its place.
        return fitting.fit(form, blank, request.yard)
    return fitting.fit(form, request.POST, request.yard)


def _may_ask(request: YardRequest) -> bool:
    """Return whether a person may have one more dear answer by now; asked once a request."""
    if not settings.LIMITS:
        return True
    if not hasattr(request, "may_ask"):
        request.may_ask = passes(DEAR, f"u{request.user.pk}")  # type: ignore[attr-defined]
    return bool(request.may_ask)  # type: ignore[attr-defined]


def _waits(request: YardRequest) -> dict[str, int] | None:
    """Return the place of a fit in the queue; None where it is reckoned at once."""
    if request.POST.get("action") != "fit" or not _may_ask(request) or not fit_queue.is_worked():
        return None
    row = fit_queue.ask(yard=request.yard, by=request.user, posted=_question(request.POST))
    return {"pk": row.pk, "before": fit_queue.before(row)}


def _question(post: QueryDict) -> str:
    """Return what a fit asks, without what differs at every press."""
    asked = post.copy()
    for name in ("csrfmiddlewaretoken", "once"):
        asked.pop(name, None)
    return asked.urlencode()


@require_safe
def fit_answer(request: YardRequest, asked: int) -> HttpResponse:
    """Answer a fit that waited, or its place in the queue."""
    row = get_object_or_404(FitAsked.objects.of(request.yard), pk=asked)
    context: dict[str, Any] = {"here": _own_path(request.GET.get("here", ""))}
    if row.done_at is None:
        context["waits"] = {"pk": row.pk, "before": fit_queue.before(row)}
    else:
        context["fit"] = fitting.as_fitted(row.answer)
    return render(request, "bench/_fit_answer.html", context)


def _own_path(here: str) -> str:
    """Return where the Bench posts to; only its own pages."""
    try:
        is_ours = resolve(here).view_name in ("bench:new", "bench:recipe")
    except Resolver404:
        is_ours = False
    return here if is_ours else reverse("bench:new")


def _swaps(
    request: YardRequest, form: BenchForm, materials: dict[str, Material]
) -> dict[str, Any] | None:
    """Return what else does the same job as the line that was asked about."""
    verb, _, rest = request.POST.get("action", "").partition(":")
    kind, _, place = rest.partition(":")
    rows: list[Any] = list(form.parts if kind == "part" else form.doses)
    at = read_count(place)
    if verb != "swaps" or at is None or at >= len(rows):
        return None
    material = materials.get(rows[at].material)
    if material is None:
        return None
    choices, _ = choices_for(material, request.yard)
    return {
        "kind": kind,
        "at": at,
        "name": material.short_name,
        "choices": choices,
        "job": job_of(material.core).name,
    }
