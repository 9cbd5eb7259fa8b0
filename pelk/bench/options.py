"""The long lists of the Bench as ready HTML: the template is the hot path there."""

from collections.abc import Iterable
from functools import lru_cache

from django.utils.html import format_html_join
from django.utils.safestring import SafeString

from pelk.core.materials import short_name
from pelk.ui.units import OFFERED

SELECTED, NOTHING = SafeString(" selected"), SafeString("")
KEPT = 256


@lru_cache(KEPT)
def unit_options(chosen: str) -> SafeString:
    """Return the units of dose; one that is not offered still shows as typed."""
    units = OFFERED if chosen in OFFERED else (chosen, *OFFERED)
    return format_html_join(
        "", "<option{}>{}</option>", ((_selected(u == chosen), u) for u in units)
    )


def part_options(parts: Iterable[tuple[str, str]], chosen: str) -> SafeString:
    """Return the parts a rate may count by; `parts` are slug and name."""
    rows = ((slug, _selected(slug == chosen), name) for slug, name in parts)
    return format_html_join("", '<option value="{}"{}>of {}</option>', rows)


def name_options(groups: Iterable[tuple[str, list[tuple[str, str]]]]) -> SafeString:
    """Return the names of what can be added, the shelf's own first, each once."""
    names = dict.fromkeys(
        short_name(name) for _, members in groups for _, name in members
    )
    return format_html_join("", '<option value="{}"></option>', ((n,) for n in names))


def _selected(is_chosen: bool) -> SafeString:
    return SELECTED if is_chosen else NOTHING
