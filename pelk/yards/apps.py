"""App registration."""

from importlib import import_module
from typing import Any

from django.apps import AppConfig
from django.contrib.auth.signals import user_logged_in
from django.http import HttpRequest
from django.utils import timezone
from django.utils.module_loading import autodiscover_modules


class YardsConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.yards"

    def ready(self) -> None:
        """Load the modules in which stations answer questions of earlier ones."""
        autodiscover_modules("selectors", "domain.due")
        import_module("pelk.yards.doors.events").connect()
        user_logged_in.connect(_remember_browser, dispatch_uid="pelk.yards.browser")


def _remember_browser(request: HttpRequest | None, **_: Any) -> None:
    """Keep what a browser calls itself with its session, so that its owner knows it again."""
    if request is not None:
        request.session["browser"] = request.headers.get("User-Agent", "")[:120]
        request.session["begun"] = timezone.now().isoformat()
