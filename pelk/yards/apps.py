"""App registration."""

from django.apps import AppConfig
from django.utils.module_loading import autodiscover_modules


class YardsConfig(AppConfig):
    """See the package's docstring."""

    name = "pelk.yards"

    def ready(self) -> None:
        """Load the modules in which stations answer questions of earlier ones."""
        autodiscover_modules("selectors", "domain.due")
