"""App registration."""

from django.apps import AppConfig


class SoilsConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.soils"
