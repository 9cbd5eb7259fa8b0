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
    kind = request.GET.get("kind", "")
    if kind in Station.values:
        entries = entries.filter(station=kind)
    page = Paginator(entries, PER_PAGE).get_page(request.GET.get("page"))
    months = [
        (month, list(deeds))
        for month, deeds in groupby(
            page, key=lambda e: timezone.localtime(e.at).strftime("%B %Y")
        )
    ]
    context = {
        "page": page,
        "months": months,
        "kinds": Station,
        "kind": kind,
        "query": f"kind={kind}&" if kind else "",
    }
    return render(request, "log/log.html", context)
