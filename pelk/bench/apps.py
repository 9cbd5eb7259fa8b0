"""App registration."""

from django.apps import AppConfig


class BenchConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.bench"

    def ready(self) -> None:
        """Tell the shelf where its materials are used and needed."""
        from pelk.bench.selectors import needs_of_planned, recipes_using  # noqa: PLC0415  (apps must be loaded)
        from pelk.shelf import later  # noqa: PLC0415

        later.USES.append(recipes_using)
        later.NEEDS.append(needs_of_planned)
