"""What every answer carries, and what a busy database answers."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.db import OperationalError
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.utils.cache import patch_cache_control
from django.utils.translation import override

from pelk.ui.spelling import american

# What a page of ours never asks of a browser.
NEVER = (
    "accelerometer",
    "camera",
    "display-capture",
    "geolocation",
    "gyroscope",
    "magnetometer",
    "microphone",
    "midi",
    "payment",
    "usb",
)
PERMISSIONS = ", ".join(f"{name}=()" for name in NEVER)
# A form this long is not offered again word by word.
MOST_FIELDS, LONGEST_FIELD = 400, 20_000
BUSY = ("locked", "busy", "timeout", "could not serialize", "deadlock")


class EveryAnswer:
    """Pages of who is signed in are kept by nobody; a busy database is said in words."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, with what belongs on every answer."""
        response = self.get_response(request)
        response.headers.setdefault("Permissions-Policy", PERMISSIONS)
        user = getattr(request, "user", None)
        if user is not None and user.is_authenticated and "Cache-Control" not in response.headers:
            patch_cache_control(response, private=True, no_store=True)
        return response

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        """Say that the database was busy, and offer what was typed once more."""
        if not isinstance(exception, OperationalError) or not any(
            word in str(exception).lower() for word in BUSY
        ):
            return None
        response = render(request, "ui/busy.html", {"typed": _typed(request)}, status=503)
        response["Retry-After"] = "5"
        return response


class InRegion:
    """Days are read, and pages of a yard in the United States spelled, as in the yard's region."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer, in the yard's order of days and its spelling."""
        yard = getattr(request, "yard", None)
        is_american = yard is not None and yard.region == "US"
        with override("en-us" if is_american else settings.LANGUAGE_CODE):
            response = self.get_response(request)
        is_page = response.headers.get("Content-Type", "").startswith("text/html")
        if not is_american or response.streaming or not is_page:
            return response
        response.content = american(response.content.decode(response.charset))
        if "Content-Length" in response.headers:
            response.headers["Content-Length"] = str(len(response.content))
        return response


def _typed(request: HttpRequest) -> list[tuple[str, str]]:
    """Return what a form held, to be sent again; pictures and files are chosen anew."""
    if request.method != "POST":
        return []
    pairs = [
        (name, value)
        for name, values in request.POST.lists()
        for value in values
        if name != "csrfmiddlewaretoken" and len(value) <= LONGEST_FIELD
    ]
    return pairs[:MOST_FIELDS]
