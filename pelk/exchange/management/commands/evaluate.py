"""``manage.py evaluate FILE.json``: a ``pelk.mix/1`` in, a ``pelk.evaluation/1`` out."""

import json
import sys
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from pelk.bench.formats.documents import DocumentError, read
from pelk.bench.formats.planning import as_plan
from pelk.core.advice.judgement import judge
from pelk.core.advice.remedies import remedied
from pelk.core.advice.remedy_candidates import Pantry
from pelk.core.advice.report import report
from pelk.core.base.errors import PelkError
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from pelk.exchange.formats.files import BAD_INPUT, decoded, one_line


class Command(BaseCommand):
    """Print what a mix comes to. Needs no database."""

    help = "Read a pelk.mix/1 file and print its pelk.evaluation/1."
    requires_system_checks = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Take the file."""
        parser.add_argument("file", help="a pelk.mix/1 file, or - for standard input")

    def handle(self, *args: Any, **options: Any) -> None:
        """Print one JSON object, or one line that names the bad key."""
        try:
            plan, shelf = as_plan(read(decoded(options["file"])), library())
            evaluation = evaluate(plan, shelf)
            judgement = remedied(plan, Pantry(shelf), evaluation, judge(evaluation))
            printed = report(evaluation, judgement)
        except DocumentError as error:
            self._refuse(error.problems[0])
        except PelkError as error:
            self._refuse(error)
        else:
            self.stdout.write(json.dumps(printed, ensure_ascii=False, indent=1))

    def _refuse(self, problem: PelkError) -> None:
        self.stderr.write(one_line(problem))
        sys.exit(BAD_INPUT)
