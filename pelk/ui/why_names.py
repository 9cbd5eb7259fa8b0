"""What a "why" is about, in words: no two of a page are called the same."""

from functools import cache

from pelk.core.base import quantities
from pelk.core.base.quantities import NUTRIENTS, Quantity, available_quantity
from pelk.core.evaluation.trace_elements import NAMES

FREE, TRACE = "_free", "_trace"


@cache
def _names() -> dict[str, str]:
    named = {q.key: q.name for q in vars(quantities).values() if isinstance(q, Quantity)}
    named |= {f"{e}{FREE}": available_quantity(e).name for e in NUTRIENTS}
    return named | {f"{e}{TRACE}": f"{name}, of use in a season" for e, name in NAMES.items()}


def why_name(key: str) -> str:
    """Return the name of the figure that a why asks about; empty where it has none of its own."""
    return _names().get(key, "")
