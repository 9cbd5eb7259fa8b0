"""App registration."""

from django.apps import AppConfig


class SourcesConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.sources"
