"""App registration."""

from django.apps import AppConfig


class ShelfConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.shelf"
