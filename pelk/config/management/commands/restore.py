"""``manage.py restore COPY``: put a copy in the place of what is here."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandError

from pelk.config.copies import bring_back
from pelk.core.base.errors import PelkError


class Command(BaseCommand):
    """Bring a copy back; what was here is kept aside."""

    help = "Put a copy that backup made in the place of what is here; stop Pelk first."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Which copy."""
        parser.add_argument("copy", type=Path)

    def handle(self, *args: Any, copy: Path, **options: Any) -> None:
        """Bring it back, and up to this version."""
        try:
            said = bring_back(copy)
        except (PelkError, OSError) as error:
            raise CommandError(f"nothing was changed: {error}") from error
        call_command("migrate", verbosity=0)
        self.stdout.write("\n".join(["brought back", *said]))
