"""App registration; the shared library is loaded on every migrate."""

from typing import Any

from django.apps import AppConfig
from django.db.models.signals import post_migrate


class ShelfConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.shelf"

    def ready(self) -> None:
        """Load the library whenever the tables are there."""
        post_migrate.connect(_load_library, sender=self)


def _load_library(**_: Any) -> None:
    from pelk.shelf.services.materials import load_library  # noqa: PLC0415  (apps must be loaded)

    load_library()
