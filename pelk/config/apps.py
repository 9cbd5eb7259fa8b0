"""App registration."""

from django.apps import AppConfig


class ConfigConfig(AppConfig):
    """The project itself: commands that know every app."""

    name = "pelk.config"
