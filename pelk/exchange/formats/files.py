"""Reading a file of one of the open formats: what is wrong names its line or its key."""

import json
import os
import re
import sys
from collections.abc import Iterator
from contextlib import contextmanager
from math import isfinite
from pathlib import Path
from typing import Any

from pelk.core.base.errors import PelkError

BAD_INPUT, NO_ANSWER = 2, 3
LONGEST_WHOLE = 18
# Surrogates that stand alone: JSON can write them, no text can hold them.
HALVES = re.compile("[\ud800-\udfff]")


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
        data = parsed(text)
    except PelkError as error:
        where = f"{name}, {error.path}" if error.path else name
        raise PelkError(f"{where}: {error.message}") from error
    refuse_odd_values(data, "")
    return data


def parsed(text: str) -> Any:
    """Return what a JSON text holds.

    Raises
    ------
    PelkError
        Naming the line where it is not JSON.
    """
    try:
        return json.loads(text, parse_int=_whole)
    except json.JSONDecodeError as error:
        raise PelkError(f"not JSON, {error.msg.lower()}", f"line {error.lineno}") from error
    except RecursionError as error:
        raise PelkError("nested too deeply") from error


def _whole(digits: str) -> int | float:
    """Return a whole number; one that no field could hold becomes a float, infinite at the end."""
    return int(digits) if len(digits) <= LONGEST_WHOLE else float(digits)


def refuse_odd_values(value: Any, path: str) -> None:
    """Refuse NaN, infinity and half characters wherever they stand, naming the key."""
    if isinstance(value, float) and not isfinite(value):
        raise PelkError(f"found {value}, allowed: a number", path)
    if isinstance(value, str) and HALVES.search(value):
        raise PelkError("found half a character, allowed: text", path)
    if isinstance(value, dict):
        for key in value:
            refuse_odd_values(key, path)
    rows: Any = ()
    if isinstance(value, dict | list):
        rows = value.items() if isinstance(value, dict) else enumerate(value)
    for key, inner in rows:
        step = f"[{key}]" if isinstance(value, list) else f".{key}" if path else str(key)
        refuse_odd_values(inner, f"{path}{step}")


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
