"""``manage.py backup DIR``: a copy of everything, made while it is in use."""

from argparse import ArgumentParser
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand, CommandError

from pelk.config.copies import count_yards, make_copy, thin_out, which_database
from pelk.core.base.errors import PelkError


class Command(BaseCommand):
    """Copy database and pictures into a folder of their own."""

    help = "Copy database and pictures into DIR/<moment>, while Pelk is in use."

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Where to, and how many to keep."""
        parser.add_argument("folder", type=Path)
        parser.add_argument(
            "--thin", action="store_true", help="keep 7 days, 4 weeks and 12 months of copies"
        )

    def handle(self, *args: Any, folder: Path, thin: bool, **options: Any) -> None:
        """Copy, then thin out the old ones."""
        try:
            copy = make_copy(folder)
        except (PelkError, OSError) as error:
            raise CommandError(f"no copy was made: {error}") from error
        self.stderr.write(f"copied {which_database()}: {count_yards()} yards")
        self.stdout.write(str(copy))
        try:
            for gone in thin_out(folder) if thin else ():
                self.stdout.write(f"taken away: {gone}")
        except PelkError as error:
            # The copy stands, and what comes after it at night goes on.
            self.stderr.write(error.message)
