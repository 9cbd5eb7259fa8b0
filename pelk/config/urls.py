"""Root addresses."""

from pathlib import Path

from django.contrib.auth.decorators import login_not_required
from django.contrib.staticfiles import finders
from django.http import HttpRequest, HttpResponse, JsonResponse
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


@login_not_required
@require_safe
def worker(request: HttpRequest) -> HttpResponse:
    """Serve the worker that keeps opened pages without a signal, for the whole address."""
    path = str(finders.find("ui/js/worker.js"))
    return HttpResponse(Path(path).read_bytes(), content_type="text/javascript")


@login_not_required
@require_safe
def manifest(request: HttpRequest) -> HttpResponse:
    """Say how Pelk stands on a phone's first screen."""
    icons = [
        {"src": static(f"ui/icon-{size}.png"), "sizes": f"{size}x{size}", "type": "image/png"}
        for size in (192, 512)
    ]
    said = {
        "name": "Pelk",
        "short_name": "Pelk",
        "description": "Mixes, heaps and pots of a yard.",
        "start_url": "/today/",
        "scope": "/",
        "display": "standalone",
        "background_color": "#f7f2ea",
        "theme_color": "#f7f2ea",
        "icons": [*icons, {**icons[-1], "purpose": "maskable"}],
    }
    return JsonResponse(said, content_type="application/manifest+json")


@login_not_required
@require_safe
def offline(request: HttpRequest) -> HttpResponse:
    """Say that there is no signal; kept beforehand, and the same for whoever holds the phone."""
    request.who = ""  # type: ignore[attr-defined]
    return render(request, "ui/offline.html")


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
    path("worker.js", worker, name="worker"),
    path("manifest.webmanifest", manifest, name="manifest"),
    path("offline/", offline, name="offline"),
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
