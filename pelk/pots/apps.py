"""App registration."""

from django.apps import AppConfig


class PotsConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.pots"
