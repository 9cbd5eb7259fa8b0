"""App registration."""

from django.apps import AppConfig


class BarrowConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.barrow"

    def ready(self) -> None:
        """Tell the shelf what open batches need and mixed ones took."""
        from pelk.barrow.selectors import batches_using, needs_of_open  # noqa: PLC0415  (apps must be loaded)
        from pelk.shelf import later  # noqa: PLC0415

        later.USES.append(batches_using)
        later.NEEDS.append(needs_of_open)
