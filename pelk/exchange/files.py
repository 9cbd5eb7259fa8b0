"""Reading a file of one of the open formats: what is wrong names its line or its key."""

import json
import os
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from math import isfinite
from pathlib import Path
from typing import Any

from pelk.core.errors import PelkError

BAD_INPUT, NO_ANSWER = 2, 3


def decoded(name: str) -> Any:
    """Return the JSON of a file, or of standard input for ``-``.

    Raises
    ------
    PelkError
        In one line, naming the line or the key.
    """
    try:
        text = sys.stdin.read() if name == "-" else Path(name).read_text("utf-8")
    except (OSError, UnicodeDecodeError) as error:
        raise PelkError(f"{name} cannot be read: {error}") from error
    try:
        found = json.loads(text)
    except json.JSONDecodeError as error:
        raise PelkError(
            f"{name}, line {error.lineno}: not JSON, {error.msg.lower()}"
        ) from error
    except RecursionError as error:
        raise PelkError(f"{name}: nested too deeply") from error
    refuse_no_numbers(found, "")
    return found


def refuse_no_numbers(value: Any, path: str) -> None:
    """Refuse NaN and infinity wherever they stand, naming the key."""
    if isinstance(value, float) and not isfinite(value):
        raise PelkError(f"found {value}, allowed: a number", path)
    rows: Any = ()
    if isinstance(value, dict | list):
        rows = value.items() if isinstance(value, dict) else enumerate(value)
    for key, inner in rows:
        step = f"[{key}]" if isinstance(value, list) else f".{key}" if path else str(key)
        refuse_no_numbers(inner, f"{path}{step}")


@contextmanager
def solver_is_quiet() -> Iterator[None]:
    """Keep what the solver's own code prints away from standard output.

    HiGHS writes a line of its own there once in a while, past Python; the command
    promises one JSON object and nothing else.
    """
    sys.stdout.flush()
    kept, nowhere = os.dup(1), os.open(os.devnull, os.O_WRONLY)
    os.dup2(nowhere, 1)
    try:
        yield
    finally:
        os.dup2(kept, 1)
        os.close(kept)
        os.close(nowhere)


def one_line(problem: PelkError) -> str:
    """Return a problem as one line that begins with the key it is about."""
    line = f"{problem.path}: {problem.message}" if problem.path else problem.message
    return " ".join(line.split())
