"""What is typed into the add box of the Bench: understood, put in, or asked about.

Nothing is put in before every line of it is understood, and what was typed stays until then.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import replace

from pelk.bench.forms.edits import add_part
from pelk.bench.forms.entry_lines import CannotError, Entry, Line, Question, Shop
from pelk.bench.forms.mix import VOLUME_WAYS, BenchForm
from pelk.bench.forms.mix_rows import DoseRow, PartRow
from pelk.bench.forms.part_units import COUNTED, PACKS
from pelk.core.base.errors import UnknownError
from pelk.core.base.rounding import sig
from pelk.core.base.sentences import capital
from pelk.core.materials.measures import yard_measures
from pelk.core.materials.spoken import Spoken, heard
from pelk.core.materials.spoken_units import VESSELS, spoken_units
from pelk.core.materials.words import Box, Sense, Understood, is_word, taught_also, understood
from pelk.ui.numbers import read_number
from pelk.ui.units import MASSES, SPACES, VOLUMES, sizes

TEXT_MAX = 400
# Words of an amount say nothing of what it is an amount of.
WORD = re.compile(r"[^\W\d_]{3,}")
SMALL = frozenset(spoken_units()) | {"parts", "bags", "bales", "cups", "litres", "liters", "grams"}
SMALL |= {"handfuls", "the", "and", "for", "some", "half", "with", "per"}
SLUG_MAX = 80
# Spoken bases of a rate, as units of doses have them.
BASES = {"L": "L", "gal": "gal", "ft3": "ft3", "yd3": "yd3", "m3": "m3", "bu": "bu"}
# A spoken measure is written in its own unit where the two sizes agree this closely.
SAME_SIZE = 0.01
TO_ASK = re.compile(r"^(never sure: |ask (if |whether |which )?)", re.IGNORECASE)


def beside_what_is_open(waiting: str, text: str) -> str:
    """Return what stands in a box: what is typed over an open question goes beside it.

    What shares a word with what is open is that, written better; what shares none is the next.
    """
    if not waiting.strip() or waiting.strip() in text:
        return text
    old, new = ({w for w in WORD.findall(t.lower()) if w not in SMALL} for t in (waiting, text))
    return text if old & new or not new else f"{waiting}; {text}"[:TEXT_MAX]


def read_entry(
    text: str, box: Box, form: BenchForm, shop: Shop, said: Mapping[str, str] | None = None
) -> Entry:
    """Return what a text comes to: lines to put in, or the first thing that is open."""
    vocabulary = shop.vocabulary
    for word, slug in (said or {}).items():
        vocabulary = taught_also(vocabulary, word, slug)
    shop = replace(shop, vocabulary=vocabulary)
    spoken = heard(
        text,
        vocabulary.region,
        is_comma=shop.yard.is_comma,
        is_known=lambda words: is_word(words, vocabulary),
    )
    lines: list[Line] = []
    question = None
    for one in spoken:
        try:
            lines.append(_line(one, box, form, shop))
        except CannotError as open_:
            question = open_.question
            break
    return Entry(text, dict(said or {}), question, tuple(lines))


def _line(spoken: Spoken, box: Box, form: BenchForm, shop: Shop) -> Line:
    if not spoken.words:
        raise CannotError(Question("amount", "", "Of what? Write the material as well."))
    meant = understood(spoken.words, shop.vocabulary, box)
    if meant.slug is None:
        raise CannotError(_which(meant, shop, box))
    if box is Box.PART:
        return _part(spoken, meant.slug, form, shop)
    return _dose(spoken, meant.slug, form, shop)


def _which(meant: Understood, shop: Shop, box: Box) -> Question:
    choices = tuple((slug, shop.name(slug)) for slug in meant.slugs)
    note = _as_question(meant.note)
    if meant.sense is Sense.WHICH:
        return Question("which", meant.words, f"Which “{meant.words}” is it?{note}", choices)
    if meant.sense is Sense.NEAR:
        return Question("near", meant.words, f"“{meant.words}” is not known here. Is it:", choices)
    kind = "a part" if box is Box.PART else "a dose"
    if meant.note:
        return Question("unknown", meant.words, f"“{meant.words}” cannot be {kind}:{note}")
    text = f"“{meant.words}” is not known here. Add it as a material of your own, most like:"
    return Question("unknown", meant.words, text, _likely(shop, box))


def _as_question(note: str) -> str:
    """Turn what the list says is to be asked into the question."""
    told = TO_ASK.sub("", note).strip()
    if not told:
        return ""
    return f" {capital(told)}{'.' if told == note else '?'}"


def _likely(shop: Shop, box: Box) -> tuple[tuple[str, str], ...]:
    """Offer what a new material may be most like, of the usual kinds."""
    usual = (
        ("sphagnum-peat-light", "yard-compost", "pine-bark-fines-composted", "perlite", "topsoil")
        if box is Box.PART
        else ("kelp-meal", "bone-meal-steamed", "lime-calcitic-ground", "basalt-dust")
    )
    return tuple((s, shop.name(s)) for s in usual if s in shop.vocabulary.materials)


def _ask(spoken: Spoken, text: str) -> CannotError:
    return CannotError(Question("amount", spoken.words, text))


# Volumes and weights of a line.


def _size_ml(unit: str, shop: Shop) -> float | None:
    """Return what one of a measure holds, as this yard fills it. [mL]."""
    own = shop.yard.hand_measures.get(unit)
    if own is not None:
        return own.typ
    if unit == "bucket":
        return shop.yard.bucket_l * 1000
    if unit == "barrow":
        return shop.yard.barrow_l * 1000
    known = spoken_units().get(unit)
    return known.size_in(shop.vocabulary.region) if known and known.kind == "volume" else None


def _grams(unit: str, shop: Shop) -> float | None:
    known = spoken_units().get(unit)
    return known.size_in(shop.vocabulary.region) if known and known.kind == "mass" else None


def _litres(spoken: Spoken, slug: str, shop: Shop) -> tuple[float, str]:
    """Return the loose litres of an amount, and how that was found."""
    amount, unit = spoken.amount or 0.0, spoken.unit
    one_ml = _size_ml(unit, shop)
    if one_ml is not None:
        litres = amount * one_ml / 1000
        plain = unit in SPACES or unit in VOLUMES
        return litres, "" if plain else f"a {unit} of {sig(one_ml / 1000, 3)} L"
    grams = _grams(unit, shop)
    if grams is not None:
        try:
            density = shop.fillings.material(slug).loose_density()
        except UnknownError as error:
            text = f"A litre of {shop.name(slug)} was never weighed: write it by volume."
            raise _ask(spoken, text) from error
        litres = amount * grams / 1000 / density.typ
        span = f"{sig(density.low, 2)} to {sig(density.high, 2)}"
        return litres, f"at {sig(density.typ, 2)} kg a litre ({span})"
    if unit in PACKS:
        held = shop.fillings.pack_litres(slug, unit)
        if held is None:
            text = f"How many loose litres does one {unit} of {shop.name(slug)} hold?"
            raise CannotError(
                Question("pack", spoken.words, text, ((slug, shop.name(slug)),), unit)
            )
        return amount * held, f"a {unit} of {sig(held, 3)} L"
    asks = "; ".join(spoken.asks) or "write it in litres, parts, bags or buckets"
    raise _ask(spoken, f"{capital(asks)}?")


def _read_as(spoken: Spoken, slug: str, shop: Shop, how: str) -> str:
    """Say how a line was read, where it is not as it was said."""
    notes = [how] if how else []
    if spoken.low is not None and spoken.high is not None:
        ends = f"{sig(spoken.low, 3)} to {sig(spoken.high, 3)}"
        notes.append(f"{ends}, the middle taken" if "heaped" not in spoken.notes else ends)
    notes += [n for n in spoken.notes if n != "heaped"]
    name = shop.name(slug)
    return f"{name} ({'; '.join(notes)})" if notes else name


def _part(spoken: Spoken, slug: str, form: BenchForm, shop: Shop) -> Line:
    if spoken.in_water:
        raise _ask(spoken, "That is a strength in water: it is given by the can, not mixed in.")
    if spoken.per:
        raise _ask(spoken, "That is a rate: add it as a dose, or write parts, litres or bags.")
    unit = spoken.unit
    if unit not in ("", "part", "share", "%") and spoken.amount is None:
        raise _ask(spoken, "How much of it?")
    if spoken.amount is None and spoken.asks:
        raise _ask(spoken, "How much of it?")
    usual = "10" if form.way == "percent" else "1"
    if spoken.amount is None:
        return Line(slug, usual, form.way, shop.name(slug))
    if unit in ("", form.way) or (unit == "%" and form.way == "percent"):
        return Line(slug, sig(spoken.amount, 4), form.way, _read_as(spoken, slug, shop, ""))
    if unit in ("part", "share"):
        if form.way not in ("parts", "percent") and form.parts:
            raise _ask(spoken, f"The parts are written in {form.way}: write this one so as well.")
        if form.way == "percent" and form.parts:
            raise _ask(spoken, "The parts are written in percent: write this one so as well.")
        return Line(slug, sig(spoken.amount, 4), "parts", _read_as(spoken, slug, shop, ""))
    if unit == "%":
        if form.parts:
            raise _ask(spoken, "Choose “percent” above the parts first, then write percents.")
        return Line(slug, sig(spoken.amount, 4), "percent", _read_as(spoken, slug, shop, ""))
    litres, how = _litres(spoken, slug, shop)
    way = form.way if form.way in VOLUME_WAYS else shop.yard.measures.space_unit
    read_as = _read_as(spoken, slug, shop, how)
    if unit in COUNTED or unit in PACKS:
        return Line(slug, sig(spoken.amount, 4), unit, read_as, way=way)
    return Line(slug, sig(litres / sizes()[way], 4), way, read_as)


def _dose(spoken: Spoken, slug: str, form: BenchForm, shop: Shop) -> Line:
    if spoken.in_water:
        text = "That is a strength in water: it is given by the can, not dosed into the mix."
        raise _ask(spoken, text)
    if spoken.amount is None:
        if spoken.asks or spoken.unit:
            raise _ask(spoken, "How much of it?")
        usual = "tsp/gal" if shop.yard.measures.is_us else "g/L"
        return Line(slug, "1", usual, shop.name(slug))
    if spoken.unit == "%":
        return Line(slug, sig(spoken.amount, 4), "%", _read_as(spoken, slug, shop, ""))
    amount, unit, how = _dose_amount(spoken, slug, shop)
    per_part = _part_meant(spoken, form, shop)
    if not spoken.per:
        return Line(slug, sig(amount, 4), unit, _read_as(spoken, slug, shop, how), per_part)
    litres, base, said = _per(spoken, form, shop)
    notes = "; ".join(n for n in (how, said) if n)
    rate = sig(amount / litres, 4)
    return Line(slug, rate, f"{unit}/{base}", _read_as(spoken, slug, shop, notes), per_part)


def _dose_amount(spoken: Spoken, slug: str, shop: Shop) -> tuple[float, str, str]:
    """Return an amount in a unit that doses know, and how it was found."""
    amount, unit = spoken.amount or 0.0, spoken.unit
    if unit in MASSES or unit in yard_measures():
        return amount, unit, ""
    grams = _grams(unit, shop)
    if grams is not None:
        return amount * grams, "g", f"{sig(grams, 3)} g each"
    one_ml = _size_ml(unit, shop)
    if not unit:
        text = f"{sig(amount, 3)} what? Write grams, spoons, or a rate such as g/L."
        raise _ask(spoken, text)
    if one_ml is None:
        if unit in PACKS:
            litres, how = _litres(spoken, slug, shop)
            return litres, "L", how
        asks = "; ".join(spoken.asks) or "write it in grams, spoons, or grams a litre"
        raise _ask(spoken, f"{capital(asks)}?")
    if unit in VOLUMES and abs(sizes()[unit] * 1000 / one_ml - 1) < SAME_SIZE:
        return amount, unit, ""
    how = f"a {unit} of {sig(one_ml, 3)} mL"
    return amount * one_ml, "mL", how


def _per(spoken: Spoken, form: BenchForm, shop: Shop) -> tuple[float, str, str]:
    """Return what a rate counts by: how many of which space, and how that was found."""
    per, number = spoken.per, spoken.per_number
    if per == "m2":
        if spoken.depth_cm is None:
            raise _ask(spoken, "To what depth is it worked in? Write it as well, such as 20 cm.")
        litres = number * spoken.depth_cm * 10
        return litres, "L", f"to {sig(litres, 4)} L of ground"
    if per in VESSELS or per == "hole":
        pot_l = read_number(form.litres) if form.how == "pots" else None
        if per == "hole" or not pot_l or form.kind.startswith("trade-"):
            raise _ask(spoken, f"How many litres does the {per} hold? Write it per litre.")
        return number * pot_l, "L", f"to a {per} of {sig(pot_l, 3)} L"
    if per == "gal" and shop.vocabulary.region not in ("", "US"):
        return number, "imp-gal", ""
    if per in BASES:
        return number, BASES[per], ""
    one_ml = _size_ml(per, shop)
    if one_ml is not None:
        litres = number * one_ml / 1000
        return litres, "L", f"to a {per} of {sig(litres, 3)} L"
    raise _ask(spoken, f"Per {per} of how many litres? Write it per litre or per gallon of mix.")


def _part_meant(spoken: Spoken, form: BenchForm, shop: Shop) -> str:
    """Return the part that a rate counts, as in "per gallon of peat"."""
    if not spoken.per_material:
        return ""
    meant = set(understood(spoken.per_material, shop.vocabulary, Box.PART).slugs)
    inside = [row.material for row in form.parts if row.material in meant]
    if len(inside) != 1:
        raise _ask(spoken, f"Which part is “{spoken.per_material}”? It is not in this mix yet.")
    return inside[0]


def needs_volumes(entry: Entry, form: BenchForm) -> bool:
    """Whether the parts must be written as volumes before these can join them."""
    return bool(form.parts) and form.way not in VOLUME_WAYS and bool(volumes_way(entry))


def volumes_way(entry: Entry) -> str:
    """Return the unit that the parts must be written in, for the first line that needs one."""
    ways = (line.way or line.unit for line in entry.lines)
    return next((way for way in ways if way in VOLUME_WAYS), "")


def put_in(entry: Entry, box: Box, form: BenchForm) -> None:
    """Put what was understood into the recipe."""
    for line in entry.lines:
        if box is Box.PART:
            way = line.way or line.unit
            if not form.parts and way != form.way:
                form.way = form.way_was = way
                form.how = "sum" if way in VOLUME_WAYS else form.how
            row = PartRow(line.slug[:SLUG_MAX], line.amount, unit=line.unit if line.way else "")
            if form.fillings is not None:
                row.held = form.fillings.held(row.material, row.unit, "")
            add_part(form, row)
        else:
            form.doses.append(DoseRow(line.slug[:SLUG_MAX], line.amount, line.unit, line.per))


def readings(entries: Sequence[Entry]) -> str:
    """Say how what went in was read, where that is not as it was typed."""
    told = [line for entry in entries for line in entry.lines if "(" in line.read_as]
    return "; ".join(f"{ln.amount} {_unit_word(ln.unit)} {ln.read_as}" for ln in told)


def _unit_word(unit: str) -> str:
    return {"parts": "parts", "percent": "%"}.get(unit, unit)
