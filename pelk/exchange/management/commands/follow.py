"""``manage.py follow FILE.json``: a ``pelk.life/1`` in, a ``pelk.course/1`` out."""

import json
import sys
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from pelk.core.base.errors import PelkError
from pelk.core.materials.library import library
from pelk.core.simulation.ensemble import SAMPLES
from pelk.core.simulation.soil_forecast import follow_soil, taught_by
from pelk.core.simulation.soil_learning import as_begun
from pelk.exchange.formats.files import BAD_INPUT, decoded, one_line
from pelk.exchange.formats.lives import as_life, course, read_life


class Command(BaseCommand):
    """Print what comes of a soil's life. Needs no database."""

    help = "Read a pelk.life/1 file and print its pelk.course/1."
    requires_system_checks = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Take the file, and how many draws."""
        parser.add_argument("file", help="a pelk.life/1 file, or - for standard input")
        parser.add_argument("--samples", type=int, default=SAMPLES, help="draws; 0 for none")

    def handle(self, *args: Any, **options: Any) -> None:
        """Print one JSON object, or one line that names the bad key."""
        try:
            life = as_life(read_life(decoded(options["file"])), library())
            begun = as_begun(life)
            samples = max(options["samples"], 0)
            printed = course(follow_soil(begun, samples, *taught_by(begun)))
        except PelkError as error:
            self.stderr.write(one_line(error))
            sys.exit(BAD_INPUT)
        self.stdout.write(json.dumps(printed, ensure_ascii=False))
