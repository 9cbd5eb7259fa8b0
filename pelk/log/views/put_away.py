"""The two addresses of everything that can be put away: away, with its undo, and back."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from django.http import Http404, HttpResponse
from django.shortcuts import get_object_or_404, redirect
from django.urls import URLPattern, path, reverse
from django.views.decorators.http import require_POST

from pelk.log.services.put_away import Row, Shelving
from pelk.ui.undo import say_with_undo
from pelk.yards.middleware import YardRequest


def put_away_paths(
    kind: Shelving[Row],
    away: tuple[str, str],
    back: tuple[str, str],
    *,
    says: Callable[..., str],
    leads_to: Callable[[Row], Any],
    returns_to: Callable[[Row], Any] | None = None,
) -> list[URLPattern]:
    """Return the two addresses: each a route with one argument, and its name.

    `says` is what the next page tells of a ``row``, `leads_to` where putting away leads,
    `returns_to` where bringing back does (the same without a word).
    """
    app = kind.model._meta.app_label

    @require_POST
    def put_away(request: YardRequest, **named: Any) -> HttpResponse:
        row = _own(request, kind, named, deleted_at=None)
        if not kind.may_go(row):
            raise Http404
        kind.put_away(row, by=request.user)
        [key] = named.values()
        say_with_undo(request, says(row=row), reverse(f"{app}:{back[1]}", args=[key]))
        return redirect(leads_to(row))

    @require_POST
    def bring_back(request: YardRequest, **named: Any) -> HttpResponse:
        row = _own(request, kind, named)
        kind.bring_back(row, by=request.user)
        return redirect((returns_to or leads_to)(row))

    return [path(away[0], put_away, name=away[1]), path(back[0], bring_back, name=back[1])]


def _own(request: YardRequest, kind: Shelving[Row], named: dict[str, Any], **live: None) -> Row:
    """Return a row of the yard, by key or by slug, or 404."""
    [key] = named.values()
    lookup = {"slug" if isinstance(key, str) else "pk": key}
    rows = kind.model._default_manager.filter(yard=request.yard, **live, **lookup)
    return get_object_or_404(rows)
