"""App registration."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.bench"
