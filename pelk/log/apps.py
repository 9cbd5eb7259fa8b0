"""App registration."""

from django.apps import AppConfig


class LogConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.log"
