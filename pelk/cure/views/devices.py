"""Readings that come from devices: a pen, a scale, the CSV of a logger."""

from __future__ import annotations

from dataclasses import replace
from urllib.parse import urlencode

from django.conf import settings
from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from pelk.core.curing.logger_csv import Logged, LoggedRow, read_logger
from pelk.cure.devices.adapter import DeviceError, DeviceReading, read_at
from pelk.cure.domain.moisture import squeeze_of
from pelk.cure.forms.readings import FIELDS
from pelk.cure.models import LoggerShape, heap_address
from pelk.cure.pages import said
from pelk.cure.pages.logger import logger_preview
from pelk.cure.services.readings import answer_about, record_logged
from pelk.cure.views.heaps import own_heap
from pelk.ui.uploads import upload_of
from pelk.yards.middleware import YardRequest

MOST_BYTES = 4_000_000
# What a file may leave open: the unit of EC, the degrees, the order of its dates.
QUESTIONS = ("ec", "warmth", "order")


@require_POST
def pen(request: YardRequest, batch: int) -> HttpResponse:
    """Read the pen, or the scale, into the reading form: the grower still looks and saves."""
    row = own_heap(request, batch)
    is_scale = request.POST.get("device") == "scale"
    address = settings.PELK_SCALE if is_scale else settings.PELK_PEN
    try:
        reading = read_at(address, str(row.pk))
    except DeviceError as error:
        messages.error(request, str(error))
        return redirect(f"{heap_address(row.pk)}?{urlencode(_typed(request))}")
    if reading.is_weak:
        messages.warning(request, said.BATTERY_WEAK.format(share=reading.battery_pct))
    elif reading.is_fading:
        messages.info(request, said.BATTERY_FADING.format(share=reading.battery_pct))
    fields = _typed(request) | _fields(reading)
    if reading.kg is not None:
        fields |= squeeze_of(row.evaluation(samples=0), reading.kg)
    return redirect(f"{heap_address(row.pk)}?{urlencode(fields)}")


def _typed(request: YardRequest) -> dict[str, str]:
    """Return what stood in the form: a device fills its own fields and takes nothing away."""
    typed = {name: request.POST.get(name, "").strip()[:300] for name in FIELDS}
    return {name: value for name, value in typed.items() if value}


def _fields(reading: DeviceReading) -> dict[str, str]:
    measured = {
        "ph": reading.ph,
        "ec_ds_m": reading.ec_ds_m,
        "temperature_c": reading.temperature_c,
    }
    sent = {k: f"{v:g}" for k, v in measured.items() if v is not None}
    return sent | {"method": "pen"} if "ph" in sent else sent


@require_http_methods(["GET", "POST"])
def logger(request: YardRequest, batch: int) -> HttpResponse:
    """Take the CSV of a data logger: shown first, what is unsure is asked, then kept as one."""
    row = own_heap(request, batch)
    if request.method != "POST":
        return render(request, "cure/logger.html", {"batch": row})
    upload = upload_of(request, MOST_BYTES)
    if upload.problem:
        context = {"batch": row, "text": upload.text, "problem": upload.problem}
        return render(request, "cure/logger.html", context, status=400)
    logged = _placed(_read(request, upload.text), row.made_at.timestamp())
    action = request.POST.get("action")
    may_keep = logged.rows and (not logged.problems or action == "leave")
    if may_keep and action in ("keep", "leave"):
        rows = _local(logged.rows)
        count = record_logged(batch=row, by=request.user, rows=rows, name=upload.name)
        there = len(logged.rows) - count
        known = said.THERE_ALREADY.format(count=there) if there else ""
        messages.success(request, said.IMPORTED.format(count=count) + known)
        return redirect("cure:heap", row.pk)
    return render(request, "ui/preview.html", {"preview": logger_preview(row, upload, logged)})


def _read(request: YardRequest, text: str) -> Logged:
    """Read a logger's file with what was answered about it, now or about one of its shape."""
    said = {key: request.POST[key] for key in QUESTIONS if request.POST.get(key)}
    bare = read_logger(text)
    known = LoggerShape.objects.of(request.yard).live().filter(shape=bare.shape).first()
    answers = {**(known.answers if known else {}), **said}
    if said and bare.shape:
        answer_about(yard=request.yard, shape=bare.shape, answers=answers)
    return read_logger(text, answers) if answers else bare


def _local(rows: tuple[LoggedRow, ...]) -> list[tuple[LoggedRow, float]]:
    """Return rows with their moment: a time without a zone is the yard's own."""
    return [(row, _moment(row)) for row in rows]


def _moment(row: LoggedRow) -> float:
    at = row.at if row.at.tzinfo else timezone.make_aware(row.at)
    return at.timestamp()


def _placed(logged: Logged, made: float) -> Logged:
    """Refuse what was logged before the heap was mixed, or is still to come."""
    now, problems = timezone.now().timestamp(), list(logged.problems)
    for row in logged.rows:
        if not made - 86400 <= _moment(row) <= now + 300:
            problems.append((row.line, said.OUTSIDE))
    outside = {line for line, _ in problems}
    rows = tuple(row for row in logged.rows if row.line not in outside)
    return replace(logged, rows=rows, problems=tuple(sorted(problems)))
