"""``manage.py evaluate FILE.json``: a ``pelk.mix/1`` in, a ``pelk.evaluation/1`` out."""

import json
import sys
from argparse import ArgumentParser
from math import isfinite
from pathlib import Path
from typing import Any

from django.core.management.base import BaseCommand

from pelk.bench.documents import DocumentError, as_plan, read
from pelk.core.errors import CoreError
from pelk.core.evaluate import evaluate
from pelk.core.materials import library
from pelk.core.report import report

BAD_INPUT = 2


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
            plan, shelf = as_plan(read(_decoded(options["file"])), library())
            found = report(evaluate(plan, shelf))
        except DocumentError as error:
            self._refuse(error.problems[0])
        except CoreError as error:
            self._refuse(error)
        else:
            self.stdout.write(json.dumps(found, ensure_ascii=False, indent=1))

    def _refuse(self, problem: CoreError) -> None:
        line = f"{problem.path}: {problem.message}" if problem.path else problem.message
        self.stderr.write(" ".join(line.split()))
        sys.exit(BAD_INPUT)


def _decoded(name: str) -> Any:
    """Return the JSON of a file; what is wrong with it names its line."""
    try:
        text = sys.stdin.read() if name == "-" else Path(name).read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise CoreError(f"{name} cannot be read: {error}") from error

    try:
        decoded = json.loads(text)
    except json.JSONDecodeError as error:
        raise CoreError(
            f"{name}, line {error.lineno}: not JSON, {error.msg.lower()}"
        ) from error
    except RecursionError as error:
        raise CoreError(f"{name}: nested too deeply") from error
    _refuse_no_numbers(decoded, "")
    return decoded


def _refuse_no_numbers(value: Any, path: str) -> None:
    """Refuse NaN and infinity wherever they stand, naming the key."""
    if isinstance(value, float) and not isfinite(value):
        raise CoreError(f"found {value}, allowed: a number", path)
    rows = value.items() if isinstance(value, dict) else (
        enumerate(value) if isinstance(value, list) else ()
    )  # fmt: skip
    for key, inner in rows:
        step = f"[{key}]" if isinstance(value, list) else f".{key}" if path else key
        _refuse_no_numbers(inner, f"{path}{step}")
