"""Answer with a whole page, or with the one fragment of it that htmx will swap."""

from collections.abc import Mapping
from typing import Any

from django.core.paginator import Page, Paginator
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.cache import patch_vary_headers

LAST_PAGE = 100_000


def page_without_total(found: Any, asked: str, per_page: int) -> Page[Any]:
    """Return one page of a list in one query: it knows only whether there is a next."""
    number = min(int(asked), LAST_PAGE) if asked.isdecimal() and int(asked) else 1
    start = (number - 1) * per_page
    rows = list(found[start : start + per_page + 1])
    known: Paginator[Any] = Paginator(range(start + max(len(rows), 1)), per_page)
    return Page(rows[:per_page], min(number, known.num_pages), known)


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
