"""App registration."""

from django.apps import AppConfig


class UiConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.ui"
