"""App registration."""

from django.apps import AppConfig


class ExchangeConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.exchange"
