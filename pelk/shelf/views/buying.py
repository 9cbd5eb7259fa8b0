"""What to buy for the planned batches: on the page, as .xlsx, as CSV."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from pelk.shelf.pages.buying import as_csv, as_xlsx, buying_list
from pelk.yards.middleware import YardRequest

XLSX = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"


@require_safe
def buying(request: YardRequest) -> HttpResponse:
    """Show what to buy, what is left over then, and what it costs."""
    return render(request, "shelf/buying.html", {"list": buying_list(request.yard)})


@require_safe
def csv(request: YardRequest) -> HttpResponse:
    """Hand it out as CSV."""
    return _file(as_csv(buying_list(request.yard)), "text/csv; charset=utf-8", "csv")


@require_safe
def xlsx(request: YardRequest) -> HttpResponse:
    """Hand it out as a spreadsheet."""
    return _file(as_xlsx(buying_list(request.yard)), XLSX, "xlsx")


def _file(content: bytes | str, kind: str, ending: str) -> HttpResponse:
    response = HttpResponse(content, content_type=kind)
    response["Content-Disposition"] = f'attachment; filename="buying-list.{ending}"'
    return response
