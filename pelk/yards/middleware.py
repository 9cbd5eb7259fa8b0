"""Put the yard of the signed-in person on the request."""

from collections.abc import Callable

from django.http import HttpRequest, HttpResponse
from django.utils.functional import SimpleLazyObject

from pelk.yards.models import User, Yard


class YardRequest(HttpRequest):
    """A request of a signed-in person, as the views see it."""

    yard: Yard
    user: User


class YardMiddleware:
    """Set ``request.yard``, found when first asked for."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        """Answer with the yard at hand."""
        request.yard = SimpleLazyObject(lambda: yard_of(request))  # type: ignore[attr-defined]
        return self.get_response(request)


def yard_of(request: HttpRequest) -> Yard | None:
    """Return the first yard of the signed-in person."""
    if not request.user.is_authenticated:
        return None
    return Yard.objects.filter(memberships__user=request.user).order_by("pk").first()
