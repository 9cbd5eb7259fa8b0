"""The log's page."""

from itertools import groupby

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_safe

from pelk.log.models import Entry, Station
from pelk.yards.middleware import YardRequest

PER_PAGE = 60


@require_safe
def log(request: YardRequest) -> HttpResponse:
    """Show all that happened in the yard, newest first, by month."""
    entries = Entry.objects.of(request.yard).select_related("by")
    station = request.GET.get("station", "")
    if station in Station.values:
        entries = entries.filter(station=station)
    page = Paginator(entries, PER_PAGE).get_page(request.GET.get("page"))
    months = [
        (month, list(deeds))
        for month, deeds in groupby(
            page, key=lambda e: timezone.localtime(e.at).strftime("%B %Y")
        )
    ]
    context = {"page": page, "months": months, "stations": Station, "station": station}
    return render(request, "log/log.html", context)
