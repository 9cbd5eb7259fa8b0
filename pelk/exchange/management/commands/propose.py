"""``manage.py propose FILE.json``: a ``pelk.goal/1`` in, a dosed ``pelk.mix/1`` out."""

import json
import sys
from argparse import ArgumentParser
from typing import Any

from django.core.management.base import BaseCommand

from pelk.bench.formats.documents import DocumentError
from pelk.bench.formats.planning import as_plan
from pelk.core.advice.proposals import propose
from pelk.core.base.errors import PelkError
from pelk.core.materials.library import library
from pelk.exchange.formats.files import BAD_INPUT, NO_ANSWER, decoded, one_line, solver_is_quiet
from pelk.exchange.formats.goals import answer, as_goal, as_packages, read_goal


class Command(BaseCommand):
    """Print doses that meet a goal. Needs no database."""

    help = "Read a pelk.goal/1 file and print a pelk.mix/1 with proposed doses."
    requires_system_checks = []

    def add_arguments(self, parser: ArgumentParser) -> None:
        """Take the file."""
        parser.add_argument("file", help="a pelk.goal/1 file, or - for standard input")

    def handle(self, *args: Any, **options: Any) -> None:
        """Print one JSON object; exit 3 when no doses meet the goal."""
        try:
            document, wish = read_goal(decoded(options["file"]))
            plan, own = as_plan(document, library())
            shelf = {**library(), **own}
            goal, packages = as_goal(wish, shelf), as_packages(wish.prices)
            with solver_is_quiet():
                proposal = propose(plan, shelf, goal, packages)
        except DocumentError as error:
            self._refuse(error.problems[0])
        except PelkError as error:
            self._refuse(error)
        else:
            told = answer(document, len(plan.doses), proposal)
            self.stdout.write(json.dumps(told, ensure_ascii=False, indent=1))
            if not proposal.is_met:
                sys.exit(NO_ANSWER)

    def _refuse(self, problem: PelkError) -> None:
        self.stderr.write(one_line(problem))
        sys.exit(BAD_INPUT)
