"""Readings that come from devices: a pen, a scale, the CSV of a logger."""

from __future__ import annotations

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
from pelk.cure.models import heap_address
from pelk.cure.services.readings import record_logged
from pelk.cure.views.heaps import own_heap
from pelk.yards.middleware import YardRequest

MOST_BYTES = 2_000_000
SHOWN = 12


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
        return redirect("cure:heap", row.pk)
    if reading.is_weak:
        messages.warning(
            request, f"Its battery is at {reading.battery_pct:.0f} %: the reading is doubtful."
        )
    fields = _fields(reading)
    if reading.kg is not None:
        fields |= squeeze_of(row.evaluation(samples=0), reading.kg)
    return redirect(f"{heap_address(row.pk)}?{urlencode(fields)}")


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
    """Take the CSV of a data logger: shown first, kept whole or not at all."""
    row = own_heap(request, batch)
    text, logged, problem = request.POST.get("text", ""), None, ""
    if request.method == "POST":
        file = request.FILES.get("file")
        if file is not None and file.size is not None and file.size > MOST_BYTES:
            problem = "The file is over 2 MB: send a part of it."
        elif file is not None:
            text = file.read().decode("utf-8", "replace")
        if not problem:
            logged = _placed(read_logger(text), row.made_at.timestamp())
        if logged and not logged.problems and request.POST.get("action") == "keep":
            count = record_logged(batch=row, by=request.user, rows=_local(logged.rows))
            messages.success(request, f"{count} readings are kept.")
            return redirect("cure:heap", row.pk)
    context = {
        "batch": row,
        "text": text,
        "logged": logged,
        "problem": problem,
        "first": logged.rows[:SHOWN] if logged else [],
    }
    return render(request, "cure/logger.html", context)


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
            problems.append((row.line, "is not between mixing day and now"))
    return Logged(logged.rows, tuple(sorted(problems)))
