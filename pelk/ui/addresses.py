"""Where a request comes from, and who it says it is."""

from collections.abc import Mapping

from django.conf import settings
from django.http import HttpRequest

LONGEST = 64


def address_of(request: HttpRequest) -> str:
    """Return the address of who asks: what our own proxy says of it, where there is one."""
    if settings.PROXIED:
        said = request.META.get("HTTP_X_FORWARDED_FOR", "").rsplit(",", 1)[-1].strip()
        if said:
            return str(said[:LONGEST])
    return str(request.META.get("REMOTE_ADDR", ""))[:LONGEST]


def name_of(request: HttpRequest, credentials: Mapping[str, str] | None = None) -> str:
    """Return the email somebody tries to sign in with, in one case."""
    typed = (credentials or {}).get("username") or request.POST.get("username", "")
    return str(typed).strip().lower()[:254]
