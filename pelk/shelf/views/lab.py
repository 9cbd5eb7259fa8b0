"""Lab reports pasted, looked through and taken; samples for the simulated lab."""

from __future__ import annotations

from django.contrib import messages
from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.core.base.errors import PelkError
from pelk.shelf.forms.lab import ReportForm, SampleForm, decisions_of
from pelk.shelf.models.lab import LabReport, Sample
from pelk.shelf.pages import said
from pelk.shelf.pages.lab_report import report_page
from pelk.shelf.services import lab as services
from pelk.ui.refusals import sentence
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

PER_PAGE = 30


@require_safe
def lab(request: YardRequest) -> HttpResponse:
    """List the reports and the samples that are away."""
    reports = LabReport.objects.of(request.yard).live().select_related("material")
    samples = Sample.objects.of(request.yard).live().select_related("material")
    context = {
        "page": Paginator(reports, PER_PAGE).get_page(request.GET.get("page")),
        "samples": samples[:PER_PAGE],
        "form": SampleForm(yard=request.yard),
    }
    return render(request, "shelf/lab.html", context)


@require_http_methods(["GET", "POST"])
@once()
def new_report(request: YardRequest) -> HttpResponse:
    """Take in a report: pasted, uploaded, or typed from paper."""
    form = ReportForm(
        request.POST or None,
        request.FILES or None,
        yard=request.yard,
        initial={"material": request.GET.get("material", "")},
    )
    if request.method == "POST" and form.is_valid():
        report = services.keep_report(yard=request.yard, by=request.user, **form.report_fields)
        return redirect(report)
    return render(request, "shelf/report_new.html", {"form": form})


@require_http_methods(["GET", "POST"])
def report(request: YardRequest, report: int) -> HttpResponse:
    """Look a report through; POST keeps what is decided on its odd rows."""
    row = _own(request, report)
    problems: dict[str, str] = {}
    if request.method == "POST":
        decisions, problems = decisions_of(request.POST)
        services.decide(report=row, decisions=decisions)
        if request.POST.get("action") == "take" and not problems:
            try:
                own = services.take_report(report=row, by=request.user)
            except PelkError as error:
                messages.error(request, said.NOT_IMPORTED.format(why=sentence(error)))
            else:
                messages.success(request, said.USES_REPORT.format(name=own.short_name))
                return redirect("shelf:material", own.slug)
        elif not problems:
            return redirect(row)
    page = report_page(row, problems)
    return render(request, "shelf/report.html", {"page": page, "preview": page.preview})


@require_POST
@once()
def send(request: YardRequest) -> HttpResponse:
    """Send a sample to the simulated lab."""
    form = SampleForm(request.POST, yard=request.yard)
    if form.is_valid():
        services.send_sample(yard=request.yard, by=request.user, material=form.chosen)
    else:
        messages.error(request, said.CHOOSE_SAMPLE)
    return redirect("shelf:lab")


@require_POST
def hurry(request: YardRequest, sample: int) -> HttpResponse:
    """Fast-forward to the day the report is back."""
    services.hurry(sample=_sample(request, sample))
    return redirect("shelf:lab")


@require_safe
def sample_file(request: YardRequest, sample: int) -> HttpResponse:
    """Hand out the report that came back, as a file."""
    row = _back(request, sample)
    response = HttpResponse(services.sample_report(row), content_type="text/csv")
    name = f"simulated-report-{row.pk}.csv"
    response["Content-Disposition"] = f'attachment; filename="{name}"'
    return response


@require_POST
def sample_read(request: YardRequest, sample: int) -> HttpResponse:
    """Read the report that came back straight in."""
    row = _back(request, sample)
    report = services.keep_report(
        yard=request.yard,
        by=request.user,
        material=row.material,
        text=services.sample_report(row),
        method="total",
        lab="simulated lab",
        dated=row.due_at.date(),
    )
    return redirect(report)


def _own(request: YardRequest, pk: int) -> LabReport:
    rows = LabReport.objects.of(request.yard).live().select_related("material")
    row: LabReport = get_object_or_404(rows, pk=pk)
    return row


def _sample(request: YardRequest, pk: int) -> Sample:
    rows = Sample.objects.of(request.yard).live().select_related("material")
    row: Sample = get_object_or_404(rows, pk=pk)
    return row


def _back(request: YardRequest, pk: int) -> Sample:
    row = _sample(request, pk)
    if not row.is_back:
        from django.http import Http404  # noqa: PLC0415

        raise Http404
    return row
