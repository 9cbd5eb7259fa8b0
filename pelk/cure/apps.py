"""App registration."""

from django.apps import AppConfig
from django.db.models.signals import post_migrate


class CureConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.cure"

    def ready(self) -> None:
        """Look at heaps of an older version after every migrate."""
        from pelk.cure.services.readings import look_at_unseen_heaps  # noqa: PLC0415

        post_migrate.connect(look_at_unseen_heaps, sender=self)
