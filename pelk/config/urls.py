"""Root addresses."""

from django.contrib.auth.decorators import login_not_required
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.templatetags.static import static
from django.urls import include, path
from django.views.decorators.http import require_safe

from pelk.bench.models import Recipe
from pelk.config import health
from pelk.exchange.views import formats
from pelk.yards.middleware import YardRequest


@require_safe
def home(request: YardRequest) -> HttpResponse:
    """Open where the work is: the Bench, or the first page of an empty yard."""
    has_recipe = Recipe.objects.of(request.yard).live().exists()
    return redirect("bench:book" if has_recipe else "today:start")


@login_not_required
@require_safe
def icon(request: HttpRequest) -> HttpResponse:
    """Send browsers that ask for the old icon to ours."""
    return redirect(static("ui/pelk.svg"))


def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    """Say that nothing is there, and where to go."""
    return render(request, "ui/404.html", status=404)


def broken(request: HttpRequest) -> HttpResponse:
    """Say that something broke on our side."""
    return render(request, "ui/500.html", status=500)


def stale(request: HttpRequest, reason: str = "") -> HttpResponse:
    """Say that a form was open too long to be taken safely."""
    return render(request, "ui/stale.html", status=403)


handler404, handler500 = not_found, broken

urlpatterns = [
    path("", home, name="home"),
    path("favicon.ico", icon),
    path("health/live", health.live, name="live"),
    path("health/ready", health.ready, name="ready"),
    path("yard/", include("pelk.yards.urls")),
    path("shelf/", include("pelk.shelf.urls")),
    path("bench/", include("pelk.bench.urls")),
    path("barrow/", include("pelk.barrow.urls")),
    path("cure/", include("pelk.cure.urls")),
    path("pots/", include("pelk.pots.urls")),
    path("today/", include("pelk.today.urls")),
    path("exchange/", include("pelk.exchange.urls")),
    path("formats/<slug:name>.schema.json", formats.schema, name="schema"),
    path("formats/<slug:name>.example.json", formats.example, name="example"),
    path("log/", include("pelk.log.urls")),
    path("sources/", include("pelk.sources.urls")),
]
