"""Pages of the Barrow."""

from datetime import date
from typing import Any

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.barrow import services
from pelk.barrow.domain.schedule_cache import ready_date
from pelk.barrow.forms import MadeForm, MakeForm
from pelk.barrow.models import Batch
from pelk.barrow.pages import said
from pelk.barrow.pages.as_mixed import Consequence, consequences
from pelk.barrow.pages.batch_rows import batch_rows
from pelk.barrow.pages.card import card_of
from pelk.bench.formats.documents import DocumentError
from pelk.bench.models import Recipe
from pelk.bench.pages.bench_page import bench_page
from pelk.bench.pages.said import NOT_TO_BE_MADE
from pelk.bench.pages.verdicts import graded
from pelk.bench.selectors import evaluated
from pelk.core.advice.judgement import judge
from pelk.core.base.errors import PelkError
from pelk.core.evaluation.evaluate import Evaluation, evaluate
from pelk.ui.numbers import read_count
from pelk.ui.pages import render_page
from pelk.ui.refusals import sentence
from pelk.ui.square_code import square_code
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

PER_PAGE = 40
FRAGMENTS = {"card": "barrow/_card.html"}


@require_safe
def batches(request: YardRequest) -> HttpResponse:
    """List the batches, those still being mixed first."""
    rows = Batch.objects.of(request.yard).live().open_first().prefetch_related("ticks")
    page = Paginator(rows, PER_PAGE).get_page(request.GET.get("page"))
    return render(request, "barrow/batches.html", {"page": page, "rows": batch_rows(page)})


@require_http_methods(["GET", "POST"])
@once()
def make(request: YardRequest, recipe: int) -> HttpResponse:
    """Say what will be made, in what; POST freezes it. A stop asks for a typed reason."""
    recipes = Recipe.objects.of(request.yard).live().with_versions()
    row = get_object_or_404(recipes, pk=recipe)
    reason, problem = request.POST.get("reason", ""), ""
    try:
        evaluation = evaluated(row.latest.as_document(), request.yard)
    except DocumentError:
        messages.error(request, NOT_TO_BE_MADE)
        return redirect(row)
    typed = {"vessel": "barrow", **request.POST.dict()} if request.POST else None
    form = MakeForm(typed, yard=request.yard, evaluation=evaluation)
    # A POST with nothing in it makes the batch in the yard's own barrow.
    if request.method == "POST" and (not form.is_bound or form.is_valid()):
        try:
            batch = services.make_batch(
                recipe=row,
                by=request.user,
                reason=reason,
                mixed_in=form.mixed_in if form.is_bound else None,
                there=form.there if form.is_bound else None,
                at=form.mixed_at if form.is_bound else None,
            )
            if form.is_bound and form.mixed_at is not None:
                services.finish_batch(batch=batch, by=request.user, at=form.mixed_at)
                return redirect("cure:heap", batch.pk)
            return redirect(batch)
        except services.StoppedError as error:
            problem = sentence(error)
    judgement = judge(evaluation)
    context = {
        "recipe": row,
        "form": form,
        "shown": bench_page(evaluation, judgement, request.yard),
        "harms": [f for f in graded(judgement) if f.band == "harm"],
        "hard": any(stop.severity == "hard" for stop in evaluation.stops),
        "reason": reason,
        "problem": problem,
    }
    return render(request, "barrow/make.html", context)


@require_http_methods(["GET", "POST"])
def made(request: YardRequest, batch: int) -> HttpResponse:
    """Say what really went in; "try" shows what changes, "keep" keeps it."""
    row = _own(request, batch)
    planned = row.evaluation(samples=0, as_planned=True)
    if request.POST.get("action") == "forget":
        services.forget_as_mixed(batch=row, by=request.user)
        return redirect(row)
    now = row.evaluation(samples=0)
    typed = request.POST if request.method == "POST" else None
    # Lines left out of what was made still stand in the form, as none.
    form = MadeForm(typed, batch=row, evaluation=planned, as_mixed=row.as_mixed)
    rows = consequences(row, planned, now) if row.as_mixed else []
    if form.is_bound and form.is_valid():
        rows = _changed(row, planned, form)
        if request.POST.get("action") == "keep" and rows:
            services.record_as_mixed(
                batch=row, by=request.user, litres=form.litres, grams=form.grams
            )
            messages.success(request, said.MADE_SAVED)
            return redirect(row)
    return render(request, "barrow/made.html", {"batch": row, "form": form, "rows": rows})


def _changed(row: Batch, planned: Evaluation, form: MadeForm) -> list[Consequence]:
    """Return what changes; a made that cannot be says so on the form."""
    try:
        plan = row.plan_of(form.litres, form.grams)
        return consequences(row, planned, evaluate(plan, row.plan()[1], samples=0))
    except PelkError as error:
        form.add_error(None, sentence(error))
        return []


@require_safe
def label(request: YardRequest, batch: int) -> HttpResponse:
    """Show the label of the bin, to print: its code leads to the heap."""
    row = _own(request, batch)
    address = request.build_absolute_uri(reverse("cure:heap", args=[row.pk]))
    evaluation = row.evaluation()
    context = {
        "batch": row,
        "evaluation": evaluation,
        "square": square_code(address),
        "ready": ready_date(row) if row.schedule_cache else _forecast_ready(row, evaluation),
        "today": timezone.localdate(),
        "cautions": [c for c in evaluation.cautions if c.severity != "note"],
        "litres": row.measures.volume(evaluation.volumes.mixed_l),
    }
    return render(request, "barrow/label.html", context)


def _forecast_ready(row: Batch, evaluation: Evaluation) -> date | None:
    """Return when a batch that is still being mixed will be ready."""
    ready = evaluation.forecast.ready if evaluation.forecast else None
    return None if ready is None or ready.p50 is None else row.date_of(ready.p50)


@require_safe
def card(request: YardRequest, batch: int) -> HttpResponse:
    """Show the card of a batch, at the load at hand or the one asked for."""
    return _card(request, _own(request, batch))


@require_POST
def tick(request: YardRequest, batch: int) -> HttpResponse:
    """Tick a step, or take it back."""
    row = _own(request, batch)
    load, step = read_count(request.POST.get("load", "")), request.POST.get("step", "")
    if load is None or not card_of(row).allowed(load, step):
        raise Http404
    done = request.POST.get("done") == "1"
    services.tick(batch=row, by=request.user, load=load, step=step, done=done)
    if request.headers.get("HX-Target") in FRAGMENTS:
        return _card(request, _own(request, batch), load)
    return redirect(f"{row.get_absolute_url()}?load={load}")


@require_POST
def finish(request: YardRequest, batch: int) -> HttpResponse:
    """Send a mixed batch to Cure."""
    row = _own(request, batch)
    services.finish_batch(batch=row, by=request.user)
    return redirect("cure:heap", row.pk)


def _own(request: YardRequest, pk: int) -> Batch:
    batches = Batch.objects.of(request.yard).live().prefetch_related("ticks")
    row: Batch = get_object_or_404(batches, pk=pk)
    return row


def _card(request: YardRequest, batch: Batch, ticked: int = 0) -> HttpResponse:
    card = card_of(batch)
    asked = request.GET.get("load", "") or str(ticked or "")
    load = next((x for x in card.loads if str(x.number) == asked), card.current)
    # A load just ticked through hands over to the next one.
    if ticked and load.next is None:
        load = card.current
    context: dict[str, Any] = {
        "batch": batch,
        "card": card,
        "load": load,
        "next": load.next,
        "last": batch.ticks.filter(load=load.number).last(),
    }
    return render_page(request, "barrow/card.html", context, fragments=FRAGMENTS)
