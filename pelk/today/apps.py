"""App registration."""

from django.apps import AppConfig


class TodayConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.today"
