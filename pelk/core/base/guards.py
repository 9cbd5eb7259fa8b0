"""Rubbish in, a sentence out: no NaN, no infinity and no traceback leaves the core."""

import inspect
from collections.abc import Callable
from functools import wraps
from math import isfinite
from typing import ParamSpec, TypeVar

from pelk.core.base.errors import OutOfRangeError, PelkError

P = ParamSpec("P")
R = TypeVar("R")


def answers(method: Callable[P, R]) -> Callable[P, R]:
    """Guard a method that anyone may call with numbers as they come.

    For the edge of the core, not for what a step of time calls a thousand times.

    Parameters
    ----------
    method : callable
        Of numbers.

    Returns
    -------
    callable
        The same; it raises `OutOfRangeError` that names the argument which is not a
        number, or all of them where only together they have no answer.
    """
    names = tuple(inspect.signature(method).parameters)

    @wraps(method)
    def guarded(*args: P.args, **kwargs: P.kwargs) -> R:
        given = {**dict(zip(names, args, strict=False)), **kwargs}
        for name, value in given.items():
            if isinstance(value, float) and not isfinite(value):
                raise OutOfRangeError(f"found {value}, allowed: a number", name)
        try:
            answer = method(*args, **kwargs)
        except PelkError:
            raise
        except (ArithmeticError, ValueError) as error:
            raise _no_answer(given) from error
        parts = answer if isinstance(answer, tuple) else (answer,)
        if any(isinstance(part, float) and not isfinite(part) for part in parts):
            raise _no_answer(given)
        return answer

    return guarded


def _no_answer(given: dict[str, object]) -> OutOfRangeError:
    said = ", ".join(
        f"{name} {value:g}" for name, value in given.items() if isinstance(value, float | int)
    )
    return OutOfRangeError(f"found {said}: together they have no answer", ", ".join(given))
