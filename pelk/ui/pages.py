"""Answer with a whole page, or with the one fragment of it that htmx will swap."""

from collections.abc import Mapping
from typing import Any

from django.core.paginator import Page, Paginator
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.utils.cache import patch_vary_headers
from django.utils.http import url_has_allowed_host_and_scheme

from pelk.ui.numbers import read_count

LAST_PAGE = 100_000
LONGEST_ADDRESS = 2000


def way_back(request: HttpRequest, otherwise: str) -> HttpResponse:
    """Go back to the page of ours that a form came from; `otherwise` where it says none.

    Only what begins with one slash is a way back: no other host, no word that Django would
    take for the name of a page.
    """
    asked = request.POST.get("next", "")
    is_ours = (
        asked.startswith("/")
        and len(asked) <= LONGEST_ADDRESS
        and url_has_allowed_host_and_scheme(asked, {request.get_host()})
    )
    return HttpResponseRedirect(asked if is_ours else otherwise)


def page_without_total(rows_found: Any, asked: str, per_page: int) -> Page[Any]:
    """Return one page of a list in one query: it knows only whether there is a next."""
    number = read_count(asked, LAST_PAGE) or 1
    start = (number - 1) * per_page
    rows = list(rows_found[start : start + per_page + 1])
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
