"""App registration."""

from django.apps import AppConfig


class BarrowConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.barrow"
