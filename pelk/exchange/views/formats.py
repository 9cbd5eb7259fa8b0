"""The open formats: what each holds, its schema, an example."""

from __future__ import annotations

from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse, JsonResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from pelk.exchange.pages.schemas import FORMATS, example_of, schema_of


@require_safe
def formats(request: HttpRequest) -> HttpResponse:
    """List the open formats."""
    return render(request, "exchange/formats.html", {"formats": FORMATS.values()})


@login_not_required
@require_safe
def schema(request: HttpRequest, name: str) -> HttpResponse:
    """Answer a format's JSON Schema."""
    if name not in FORMATS:
        raise Http404
    return JsonResponse(schema_of(name), json_dumps_params={"indent": 1})


@login_not_required
@require_safe
def example(request: HttpRequest, name: str) -> HttpResponse:
    """Answer an example of a format."""
    if name not in FORMATS:
        raise Http404
    return HttpResponse(example_of(name), content_type="application/json")
