"""App registration."""

from django.apps import AppConfig


class YardsConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.yards"
