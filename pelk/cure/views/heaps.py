"""A heap with its readings."""

from typing import Any

from django.contrib import messages
from django.core.paginator import Page, Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from pelk.barrow.models import Batch
from pelk.bench.pages.ahead import ahead_of
from pelk.bench.pages.bench_page import figures
from pelk.bench.pages.fitting import LIMES, SULFURS
from pelk.bench.pages.verdicts import MOST_SHOWN, graded
from pelk.core.advice.judgement import judge
from pelk.core.base.errors import PelkError
from pelk.core.base.figures import Figure
from pelk.core.evaluation.evaluate import Evaluation
from pelk.core.materials.library import library
from pelk.cure.domain.due import due_rows, is_planted, planted_of
from pelk.cure.domain.learning import Learned, day_of, doubts, learned, own_ph
from pelk.cure.domain.measure_next import next_for
from pelk.cure.domain.visits import (
    NEWEST,
    STRUCK,
    checks_of,
    hand_of,
    imports_of,
    pens_in,
    together,
)
from pelk.cure.forms.readings import FIELDS, ReadingForm
from pelk.cure.models import Decision, LoggedImport, MeterCheckRow, Reading, SproutTest
from pelk.cure.pages import said
from pelk.cure.pages.glance import SHOWN, heaps_at_a_glance
from pelk.cure.pages.heap import heap_verdicts, ready_rows, redose_say
from pelk.cure.services import readings as services
from pelk.ui.measure_says import MeasureSaid, measure_said
from pelk.ui.pages import page_without_total
from pelk.ui.ph_answers import AnswerSaid
from pelk.ui.refusals import sentence
from pelk.ui.runway import Runway, runway
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

PER_PAGE = 30
DUE_SHOWN, TESTS, PHOTOS, FILLS = 6, 10, 24, 12
# Charts are drawn for their slot, never scaled: desk, tablet, phone.
WIDE, MIDDLE, NARROW = 612, 560, 358
# A difference between pen and mix from which it is told.
TELLING_PH = 0.1
PLOTTED = (Reading.PhMethod.SLURRY, Reading.PhMethod.PEN)


@require_safe
def heaps(request: YardRequest) -> HttpResponse:
    """List the heaps."""
    listed = _heaps(request)
    mixed = Batch.objects.of(request.yard).live().in_cure().select_related("yard")
    drawn = mixed.defer("document", "forecast_at_mixing")[:SHOWN]
    glance = heaps_at_a_glance(list(drawn), timezone.localdate())
    return render(request, "cure/heap.html", {**listed, "batch": None, "glance": glance})


@require_http_methods(["GET", "POST"])
@once()
def heap(request: YardRequest, batch: int) -> HttpResponse:
    """Show a heap with its readings; POST keeps a new one, or asks about an odd one."""
    row = own_heap(request, batch)
    sent, checks = request.POST or None, checks_of(request.yard)
    form = ReadingForm(
        sent,
        initial=_measured_by_device(request),
        measures=request.yard.measures,
        pens=pens_in(checks),
    )
    imports = imports_of(row)
    newest, struck, is_all = _visits(request, row, imports, checks)
    doubt = ""
    if request.method == "POST" and form.is_valid():
        doubt = _doubt(request, row, newest, form)
        if not doubt:
            is_sure = request.POST.get("sure") == "1"
            services.record_reading(
                batch=row, by=request.user, is_sure=is_sure, **form.cleaned_data
            )
            return redirect("cure:heap", row.pk)
    readings = _readings_page(request, row, newest if is_all else None)
    return _page(request, row, newest, struck, readings, form, doubt, imports)


@require_http_methods(["GET", "POST"])
def reading(request: YardRequest, reading: int) -> HttpResponse:
    """Correct a reading: the old one stays visible, struck out."""
    row = get_object_or_404(
        Reading.objects.of(request.yard).live().select_related("batch"), pk=reading
    )
    form = ReadingForm(
        request.POST or None,
        instance=None if request.POST else row,
        measures=request.yard.measures,
        pens=pens_in(checks_of(request.yard)),
    )
    if request.method == "POST" and form.is_valid():
        measured = dict(form.cleaned_data)
        if not request.POST.get("taken_at"):
            measured["taken_at"] = row.taken_at
        try:
            services.correct_reading(reading=row, by=request.user, is_sure=True, **measured)
        except PelkError as error:
            messages.error(request, said.NOT_SAVED.format(why=sentence(error)))
        return redirect("cure:heap", row.batch_id)
    return render(request, "cure/reading.html", {"reading": row, "form": form})


def _measured_by_device(request: YardRequest) -> dict[str, str]:
    """Return what a pen sent along in the address, to stand in the form."""
    sent = {k: request.GET.get(k, "") for k in FIELDS}
    return {k: v for k, v in sent.items() if v}


def _doubt(request: YardRequest, row: Batch, newest: list[Reading], form: ReadingForm) -> str:
    """Return what is odd about a reading that nobody has said to be so yet."""
    if request.POST.get("sure") == "1":
        return ""
    data = form.cleaned_data
    day = max((data["taken_at"] - row.made_at).total_seconds() / 86400, 0.0)
    return said.doubt(doubts(row, newest, data.get("ph"), data["method"], day))


def _page(
    request: YardRequest,
    row: Batch,
    newest: list[Reading],
    struck: list[Reading],
    readings: Page[Reading],
    form: ReadingForm,
    doubt: str,
    imports: list[LoggedImport],
) -> HttpResponse:
    learning = learned(row, newest)
    decisions = Decision.objects.of(request.yard).live().filter(batch=row)
    planted = is_planted(decisions)
    measure = None if planted else _measure(request, row, learning)
    kept = [measure.state, measure.say] if measure else None
    services.keep_one_date(row, newest, learning, kept)
    tests = list(row.sprout_tests.filter(deleted_at=None)[:TESTS])
    today = timezone.localdate()
    due = [] if planted else due_rows(row, decisions, today)
    return render(
        request,
        "cure/heap.html",
        {
            **_heaps(request),
            **_shown(row, newest, tests, learning.evaluation, is_planted=planted),
            "batch": row,
            "planted": planted,
            "pots": _pots_of(row) if planted else [],
            "form": form,
            "doubt": doubt,
            "taught": learning.taught,
            "taught_by": learning.count,
            "pen_off": _pen_off(row, newest),
            "page": readings,
            "struck": struck,
            "why": _why(request, learning.evaluation),
            "litres": request.yard.measures.volume(learning.evaluation.volumes.mixed_l),
            "due": [r for r in due if r.state.is_ahead][:DUE_SHOWN],
            "measure": measure,
            "tests": tests,
            "photos": row.photos.filter(deleted_at=None)[:PHOTOS],
            "anyway": getattr(row, "planted_anyway", None),
            "imports": imports,
        },
    )


def _measure(request: YardRequest, row: Batch, learning: Learned) -> MeasureSaid | None:
    """Say what to measure next; two jars are weighed where they are asked about."""
    asks_jars = request.GET.get("ask") == "jars"
    today = (timezone.now() - row.made_at).days
    advised = next_for(learning, today, asks_jars=asks_jars)
    return measure_said(advised, row.date_of) if advised else None


def _visits(
    request: YardRequest, row: Batch, imports: list[LoggedImport], checks: list[MeterCheckRow]
) -> tuple[list[Reading], list[Reading], bool]:
    """Return the readings that count, those that were struck out, and whether all were by hand."""
    rows = Reading.objects.of(request.yard).filter(batch=row).select_related("corrected_by")
    both = list(rows.by_hand()[: NEWEST + STRUCK])
    hand = [r for r in both if r.deleted_at is None]
    struck = [r for r in both if r.deleted_at is not None][:STRUCK]
    is_all = len(both) < NEWEST + STRUCK
    counted = together(row, hand if is_all else hand_of(row), imports, checks)
    return counted, struck, is_all and len(counted) == len(hand)


def _readings_page(
    request: YardRequest, row: Batch, everything: list[Reading] | None
) -> Page[Reading]:
    """Return a page of the readings; it needs no query while all are at hand."""
    rows = Reading.objects.for_batch(row) if everything is None else everything
    return Paginator(rows, PER_PAGE).get_page(request.GET.get("page"))


def own_heap(request: YardRequest, pk: int) -> Batch:
    """Return a live batch of the yard, or 404."""
    batches = Batch.objects.of(request.yard).live().select_related("planted_anyway", "yard")
    row: Batch = get_object_or_404(batches, pk=pk)
    return row


def _why(request: YardRequest, evaluation: Evaluation) -> Figure | None:
    return figures(evaluation).get(request.GET.get("why", ""))


def _pots_of(row: Batch) -> list[Any]:
    """Return the pots that a heap went into, each group once."""
    fills = row.fills.filter(deleted_at=None, group__deleted_at=None).select_related("group")
    return list({fill.group_id: fill.group for fill in fills[:FILLS]}.values())


def _shown(
    row: Batch,
    newest: list[Reading],
    tests: list[SproutTest],
    evaluation: Evaluation,
    *,
    is_planted: bool,
) -> dict[str, Any]:
    """Return what the page says and draws of a heap; one that is planted asks for nothing."""
    today = (timezone.now() - row.made_at).days
    passed = None if is_planted else (timezone.now() - row.made_at).total_seconds() / 86400
    ahead = evaluation.forecast
    return {
        "evaluation": evaluation,
        "verdicts": [] if is_planted else heap_verdicts(row, newest, evaluation, today),
        "findings": [] if is_planted else graded(judge(evaluation))[:MOST_SHOWN],
        "week": today // 7 + 1,
        "rows": ready_rows(row, newest, tests, evaluation, today) if ahead else [],
        "redose": None if is_planted else _redose(row, newest, evaluation, today),
        "wide": _runway(row, newest, evaluation, WIDE, passed),
        "middle": _runway(row, newest, evaluation, MIDDLE, passed),
        "narrow": _runway(row, newest, evaluation, NARROW, passed),
    }


def _redose(
    row: Batch, newest: list[Reading], evaluation: Evaluation, today: int
) -> AnswerSaid | None:
    """Say whether to dose again, with what is in the heap already before the usual."""
    used = [d.material for d in evaluation.doses]
    limes = [m for m in used if m.family == "lime"] + [library()[s] for s in LIMES]
    sulfurs = [m for m in used if m.sulfur_grade] + [library()[s] for s in SULFURS]
    read = [day_of(row, reading) for reading in newest if reading.ph is not None]
    return redose_say(row, evaluation, today, limes, sulfurs, read, newest)


def _heaps(request: YardRequest) -> dict[str, Any]:
    batches = Batch.objects.of(request.yard).live().in_cure()
    batches = batches.defer("document", "analyses", "shown", "forecast_at_mixing")
    page = page_without_total(batches, request.GET.get("heaps", ""), PER_PAGE)
    return {"heaps": page, "planted_heaps": planted_of(page)}


def _pen_off(batch: Batch, readings: list[Reading]) -> float:
    """Return the most by which the pen showed less than the mix itself, where it is telling."""
    plotted = [r for r in readings if r.method in PLOTTED]
    off = [ph - (r.ph or 0.0) for r in plotted if (ph := own_ph(batch, r)) is not None]
    most = max(off, default=0.0)
    return most if most >= TELLING_PH else 0.0


def _forecast_at_mixing(batch: Batch) -> list[tuple[float, float]]:
    """Return the pH by day as it was foretold on mixing day."""
    told = (batch.forecast_at_mixing or {}).get("ph", [])
    return [(float(day), ph) for day, ph in enumerate(told)]


def _runway(
    batch: Batch,
    readings: list[Reading],
    evaluation: Evaluation,
    width: int,
    passed_days: float | None,
) -> Runway:
    measured = [
        (day_of(batch, r), ph)
        for r in reversed(readings)
        if r.method in PLOTTED and (ph := own_ph(batch, r)) is not None
    ]
    forecast = evaluation.forecast
    return runway(
        ahead_of(forecast) if forecast else None,
        evaluation.ph_band,
        width=width,
        height=320,
        readings=measured,
        begun=batch.made_at,
        forecast_at_mixing=_forecast_at_mixing(batch),
        today=passed_days,
    )
