"""App registration."""

from django.apps import AppConfig


class CureConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.cure"
