"""The long lists of the Bench as ready HTML: the template is the hot path there."""

from collections.abc import Iterable
from functools import cache, lru_cache

from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from pelk.bench.forms.mix import HOW, MOISTURES, VOLUME_WAYS, WAYS, BenchForm
from pelk.bench.forms.part_units import COUNTED
from pelk.bench.pages.fitting import FROM, MINIMISE
from pelk.core.base.rounding import sig
from pelk.core.crops.groups import library as crops
from pelk.core.materials.material import short_name
from pelk.core.plans.plan import INOCULUM
from pelk.core.vessels.trade_pots import VesselKind, kinds
from pelk.ui.charge_units import AS, UNITS
from pelk.ui.feeding_styles import choices_of
from pelk.ui.numbers import read_number
from pelk.ui.units import OFFERED, SPACE_NAMES, Measures, sizes

SELECTED, NOTHING = SafeString(" selected"), SafeString("")
KEPT = 256

Pairs = tuple[tuple[str, str], ...]


@cache
def lists() -> dict[str, Pairs]:
    """Return the short lists the Bench chooses from, by their names in its templates."""
    return {
        "crops": tuple((c.slug, f"{c.name.lower()}: {c.example}") for c in crops().values()),
        "kinds": tuple((kind.slug, _vessel(kind)) for kind in kinds().values()),
        "ways": tuple(WAYS.items()),
        "moistures": tuple(MOISTURES.items()),
        "inocula": (("", "as the parts bring them"), *_same(INOCULUM)),
        "feedings": (("", "not set"), *choices_of("feeding")),
        "charge_units": tuple(UNITS.items()),
        "charge_as": tuple(AS.items()),
        "spaces": tuple(SPACE_NAMES.items()),
        "fit_ways": tuple(MINIMISE.items()),
        "fit_sources": tuple(FROM.items()),
    }


def hows(way: str) -> Pairs:
    """Return the ways to say how much is made, where parts are written in this way."""
    return tuple((k, w) for k, w in HOW.items() if k != "sum" or way in VOLUME_WAYS)


def goal_says(form: BenchForm, measures: Measures) -> str:
    """Say in a few words what is made and for whom, as the folded goal line of a phone."""
    crop = crops().get(form.crop)
    if form.how == "pots":
        kind = kinds().get(form.kind)
        name = kind.name if kind else "pot"
        litres = read_number(form.litres) if kind and kind.litres is None else None
        of = f" of {measures.volume(litres)}" if litres else ""
        size = f"{form.count} {name}{'' if form.count == '1' else 's'}{of}"
    elif form.how == "litres":
        size = f"{_volume(form.volume, form.volume_unit, measures)} mixed"
    elif form.how == "part":
        size = f"One part is {_volume(form.part, form.part_unit, measures)}"
    else:
        size = "As much as the parts make"
    return f"{size}, for {crop.name.lower()}" if crop else size


def _volume(typed: str, unit: str, measures: Measures) -> str:
    """Write a volume as the yard reads it; as typed where that is no number."""
    number = read_number(typed)
    if number is None or unit not in sizes():
        return f"{typed} {unit}"
    return measures.volume(number * sizes()[unit])


def _same(words: Iterable[str]) -> Pairs:
    return tuple((word, word) for word in words)


def _vessel(kind: VesselKind) -> str:
    return f"{kind.name} ({sig(kind.litres.typ)} L)" if kind.litres else kind.name


@lru_cache(KEPT)
def unit_options(chosen: str) -> SafeString:
    """Return the units of dose; one that is not offered still shows as typed."""
    units = OFFERED if chosen in OFFERED else (chosen, *OFFERED)
    return format_html_join(
        "", "<option{}>{}</option>", ((_selected(u == chosen), u) for u in units)
    )


@lru_cache(KEPT)
def counted_options(way: str, packs: frozenset[str], chosen: str) -> SafeString:
    """Return the units a part can be counted in; the way of all parts stands first."""
    units = [u for u in (*VOLUME_WAYS, *COUNTED, *sorted(packs)) if u != way]
    if chosen and chosen not in units:
        units.insert(0, chosen)
    first = format_html('<option value="">{}</option>', way)
    return first + format_html_join(
        "", "<option{}>{}</option>", ((_selected(u == chosen), u) for u in units)
    )


@lru_cache(KEPT)
def part_options(parts: tuple[tuple[str, str], ...], chosen: str) -> SafeString:
    """Return the parts a rate may count by; `parts` are slug and name."""
    rows = ((slug, _selected(slug == chosen), name) for slug, name in parts)
    return format_html_join("", '<option value="{}"{}>of {}</option>', rows)


def name_options(groups: Iterable[tuple[str, list[tuple[str, str]]]]) -> SafeString:
    """Return the names of what can be added, the shelf's own first, each once."""
    names = dict.fromkeys(short_name(name) for _, members in groups for _, name in members)
    return format_html_join("", '<option value="{}"></option>', ((n,) for n in names))


def _selected(is_chosen: bool) -> SafeString:
    return SELECTED if is_chosen else NOTHING
