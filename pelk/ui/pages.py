"""Answer with a whole page, or with the one fragment of it that htmx will swap."""

from collections.abc import Mapping
from typing import Any

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.cache import patch_vary_headers


def render_page(
    request: HttpRequest,
    template: str,
    context: Mapping[str, Any],
    *,
    fragments: Mapping[str, str] | None = None,
    status: int = 200,
) -> HttpResponse:
    """Render a template, or the fragment whose element htmx names as its target.

    The target decides, not ``HX-Request``: htmx sends that header also when the back
    button restores a page, and then the whole page is wanted.
    """
    target = request.headers.get("HX-Target", "")
    chosen = (fragments or {}).get(target, template)
    response = render(request, chosen, dict(context), status=status)
    patch_vary_headers(response, ["HX-Target"])
    return response
