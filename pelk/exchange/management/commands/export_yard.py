"""``manage.py export_yard EMAIL FILE``: a yard as ``pelk.yard/1``."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from pelk.exchange.formats.yard_file import yard_file
from pelk.yards.models import Yard


class Command(BaseCommand):
    """Write everything of a person's yard into one file."""

    help = "Write everything of a person's first yard into one file."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Whose, and where to."""
        parser.add_argument("email")
        parser.add_argument("file", type=Path)

    def handle(self, *args: Any, email: str, file: Path, **options: Any) -> None:
        """Write it."""
        yards = Yard.objects.filter(memberships__user__email=email.strip().lower())
        yard = yards.order_by("memberships__pk").first()
        if yard is None:
            raise CommandError(f"nobody with the email {email} has a yard here")
        file.write_bytes(yard_file(yard))
        self.stdout.write(f"{yard.name}: {file.stat().st_size} bytes in {file}")
