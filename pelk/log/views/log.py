"""The log's page, its file, and notes of one's own."""

import csv
from collections.abc import Iterator
from itertools import groupby
from typing import Any
from urllib.parse import urlencode

from django.contrib import messages
from django.http import HttpResponse, StreamingHttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.utils.safestring import SafeString
from django.views.decorators.http import require_POST, require_safe

from pelk.log import pages
from pelk.log.models import Entry, EntryQuerySet, Station
from pelk.log.services.record import record
from pelk.ui.cells import plain_cell
from pelk.ui.days import not_a_day, read_day
from pelk.ui.pages import page_without_total
from pelk.ui.time_strip import Happened, time_strip_svg
from pelk.yards.middleware import YardRequest

PER_PAGE = 60
# Deeds that one strip can show.
STRIP = 160
NOTE_LENGTH = 300
HEADS = ("at", "station", "by", "what", "address")
CHUNK = 500
DAYS = ("since", "until")
# A cell that a spreadsheet would take for a formula.


@require_safe
def log(request: YardRequest) -> HttpResponse:
    """Show what happened in the yard, newest first, by month; narrowed as asked."""
    asked = _asked(request)
    entries = _entries(request, asked).select_related("by")
    page = page_without_total(entries, request.GET.get("page", ""), PER_PAGE)
    months = [
        (month, list(deeds))
        for month, deeds in groupby(page, key=lambda e: timezone.localtime(e.at).strftime("%B %Y"))
    ]
    query = urlencode({k: v for k, v in asked.items() if v})
    words = asked["q"]
    context = {
        "page": page,
        "months": months,
        "strip": _strip(request, asked) if words else "",
        "kinds": Station,
        "asked": asked,
        "wrong": {n: True for n in DAYS if asked[n] and read_day(asked[n]) is None},
        "not_a_day": not_a_day(),
        "kind": asked["kind"],
        "words": urlencode({k: v for k, v in asked.items() if v and k != "kind"}),
        "query": f"{query}&" if query else "",
        "today": timezone.localdate(),
    }
    return render(request, "log/log.html", context)


@require_safe
def log_csv(request: YardRequest) -> StreamingHttpResponse:
    """Send the log, narrowed as the page is, as CSV."""
    entries = _entries(request, _asked(request)).select_related("by")
    writer = csv.writer(_Echo())

    def lines() -> Iterator[str]:
        yield writer.writerow(HEADS)
        for entry in entries.iterator(CHUNK):
            at = timezone.localtime(entry.at).isoformat(timespec="minutes")
            by = entry.by_name
            cells = (at, entry.station, by, entry.text, entry.url)
            yield writer.writerow([plain_cell(each) for each in cells])

    answer = StreamingHttpResponse(lines(), content_type="text/csv; charset=utf-8")
    answer["Content-Disposition"] = 'attachment; filename="pelk-log.csv"'
    return answer


@require_POST
def note(request: YardRequest) -> HttpResponse:
    """Write a note of one's own into the log."""
    text = request.POST.get("note", "").strip()
    if text:
        record(yard=request.yard, by=request.user, station=Station.NOTE, text=text[:NOTE_LENGTH])
    else:
        messages.error(request, pages.ENTER_FIRST)
    return redirect("log:log")


def _strip(request: YardRequest, asked: dict[str, str]) -> SafeString:
    """Draw what is said of something, such as a heap, from its first day to its last."""
    entries = _entries(request, asked)[:STRIP]
    deeds = [
        Happened(e.day, "g-log" if e.station == Station.NOTE else f"g-{e.station}", e.text, e.url)
        for e in entries
    ]
    return time_strip_svg(deeds, pages.DRAWN_BY_DAY.format(what=asked["q"]))


def _asked(request: YardRequest) -> dict[str, str]:
    names = ("kind", "q", *DAYS)
    return {name: request.GET.get(name, "").strip() for name in names}


def _entries(request: YardRequest, asked: dict[str, str]) -> EntryQuerySet:
    return Entry.objects.of(request.yard).asked(
        kind=asked["kind"],
        words=asked["q"],
        since=read_day(asked["since"]),
        until=read_day(asked["until"]),
    )


class _Echo:
    """Hands each written line straight on."""

    def write(self, line: Any) -> Any:
        return line
