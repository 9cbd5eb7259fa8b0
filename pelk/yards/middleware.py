"""Put the yard of the signed-in person on the request, and hold their role to it."""

import hashlib
from collections.abc import Callable
from typing import Any
from zoneinfo import available_timezones

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils import timezone

from pelk.yards.models import Membership, Role, User, Yard

SAFE = frozenset(["GET", "HEAD", "OPTIONS"])
# What a person does for themselves, whatever their role.
ONES_OWN = frozenset(
    f"yards:{name}"
    for name in (
        "sign_in",
        "sign_out",
        "password",
        "end_sign_in",
        "switch",
        "leave",
        "join",
        "account",
        "email",
        "email_link",
        "end_account",
        "stay",
    )
)
ZONES = frozenset(available_timezones())
# What the keepers of a yard alone do.
KEEPERS = frozenset(
    f"yards:{name}"
    for name in (
        "settings",
        "water",
        "system",
        "invite",
        "withdraw",
        "role",
        "remove",
        "end_yard",
        "keep_yard",
    )
) | {"exchange:yard_in", "exchange:yard_out"}


class YardRequest(HttpRequest):
    """A request of a signed-in person, as the views see it."""

    yard: Yard
    user: User
    role: str


class YardMiddleware:
    """Set ``request.yard``, the role there, and the clock that the yard lives by."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer with the yard at hand."""
        place = place_of(request)
        yard = place.yard if place else None
        request.yard = yard  # type: ignore[attr-defined]
        request.role = place.role if place else ""  # type: ignore[attr-defined]
        request.who = who_is(request)  # type: ignore[attr-defined]
        author = request.headers.get("X-Pelk-Author", "")
        if author and author != request.who:  # type: ignore[attr-defined]
            # Written by somebody who is not signed in here now: it waits for them.
            return HttpResponse("not yours", status=409, content_type="text/plain")
        written_in = request.headers.get("X-Pelk-Yard", "")
        if written_in and (yard is None or written_in != str(yard.pk)):
            # Written in another yard of theirs: it waits until that one is open.
            return HttpResponse("another yard", status=409, content_type="text/plain")
        # Days and hours are the yard's own.
        zone = yard.time_zone if yard is not None else ""
        with timezone.override(zone if zone in ZONES else None):
            response = self.get_response(request)
        if request.who and request.method in SAFE:  # type: ignore[attr-defined]
            # What a phone keeps, it keeps under this name.
            response["X-Pelk-Who"] = request.who  # type: ignore[attr-defined]
        return response

    def process_view(
        self, request: HttpRequest, view: Any, args: Any, kwargs: Any
    ) -> HttpResponse | None:
        """Refuse what a role does not do; a yard that nobody kept is opened anew."""
        match, role = request.resolver_match, getattr(request, "role", "")
        if not request.user.is_authenticated or match is None:
            return None
        name = match.view_name
        if name in ONES_OWN or match.func.__module__.startswith("django."):
            return None
        if not role:
            return render(request, "yards/no_yard.html", status=403)
        if request.method in SAFE and name not in KEEPERS:
            return None
        if role == Role.KEEPER or (role == Role.HAND and name not in KEEPERS):
            return None
        if request.method in SAFE and name in ("yards:settings", "yards:water"):
            return None
        return render(request, "yards/not_yours.html", {"role": role}, status=403)


def who_is(request: HttpRequest) -> str:
    """Return a name of the signed-in person that says nothing: for what a phone keeps of theirs."""
    if not request.user.is_authenticated:
        return ""
    said = f"{request.user.pk}:{settings.SECRET_KEY}"
    return hashlib.sha256(said.encode()).hexdigest()[:16]


def place_of(request: HttpRequest) -> Membership | None:
    """Return the place of the signed-in person: the yard they chose, else their first."""
    if not request.user.is_authenticated:
        return None
    places = request.user.memberships.select_related("yard").order_by("pk")
    chosen = request.session.get("yard")
    if chosen is not None and (place := places.filter(yard=chosen).first()):
        return place
    return places.first()
