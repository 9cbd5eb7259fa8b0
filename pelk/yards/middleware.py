"""Put the yard of the signed-in person on the request."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from pelk.yards.models import User, Yard


class YardRequest(HttpRequest):
    """A request of a signed-in person, as the views see it."""

    yard: Yard
    user: User


class YardMiddleware:
    """Set ``request.yard``, and the clock that it lives by."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer with the yard at hand."""
        yard = yard_of(request)
        request.yard = yard  # type: ignore[attr-defined]
        # Days and hours are the yard's own.
        zone = yard.time_zone if yard is not None else ""
        with timezone.override(zone or None):
            return self.get_response(request)


def yard_of(request: HttpRequest) -> Yard | None:
    """Return the first yard of the signed-in person."""
    if not request.user.is_authenticated:
        return None
    return Yard.objects.filter(memberships__user=request.user).order_by("pk").first()
