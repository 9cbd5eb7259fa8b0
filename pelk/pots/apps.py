"""App registration."""

from django.apps import AppConfig


class PotsConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.pots"

    def ready(self) -> None:
        """Tell the calendar what is due with pots."""
        from pelk.cure import calendars  # noqa: PLC0415  (apps must be loaded)
        from pelk.pots.feeding import feeding_events  # noqa: PLC0415

        calendars.MORE.append(feeding_events)
