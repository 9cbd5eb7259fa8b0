"""Tags and filters every template knows."""

from dataclasses import replace
from datetime import date
from decimal import Decimal
from functools import lru_cache
from secrets import token_urlsafe
from typing import Any

from django import template
from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString
from django.utils.translation import get_language

from pelk.core.base.elements import element_in_oxide
from pelk.core.base.figures import Figure
from pelk.core.base.quantities import written_ph
from pelk.core.base.rounding import sig as write_sig
from pelk.core.base.sentences import capital
from pelk.core.evaluation.cautions import CLOSING, Caution
from pelk.ui.days import DayInput, day_in_words, short_day, typed_day
from pelk.ui.numbers import label_grade
from pelk.ui.practice_words import practice_in
from pelk.ui.svg import charge_bar_svg, texture_url
from pelk.ui.textures import texture_of
from pelk.ui.units import Measures
from pelk.ui.why_names import why_name

register = template.Library()
DRAWN = 1024

WORDS = {
    "good": "Good",
    "wait": "Wait",
    "short": "Short",
    "over": "Over",
    "stop": "Stop",
    "plenty": "Plenty",
    "ready": "Ready",
    "due": "Due",
    "none": "Not known",
    "caution": "Caution",
    "note": "Note",
    "hard": "Stop",
}
SHAPES = {"caution": "over", "note": "none", "hard": "stop"}
PROVENANCES = {
    "book": "published, from memory",
    "practice": "common practice",
    "derived": "calculated",
    "guess": "guess: check it first",
    "yours": "yours",
    "lab": "lab",
    "label": "bag label",
}
SHORT_PROVENANCES = {"book": "from memory", "guess": "guess", "practice": "practice"}


@register.filter
def stars(count: int) -> str:
    """Write a mark of five stars: ``★★★☆☆``."""
    return "★" * count + "☆" * (5 - count)


@register.filter
def sig(value: float | None, digits: int = 3) -> str:
    """Write a number to so many significant figures."""
    return write_sig(value, digits)


@register.filter
def figure_number(value: float | None, figure: Figure) -> str:
    """Write a number of a figure: its value or an end of its range."""
    if value is None:
        return "–"
    if figure.quantity.key.startswith("ph"):
        return written_ph(value)
    return write_sig(value, figure.quantity.digits)


@register.filter
def figure_value(figure: Figure) -> str:
    """Write the value of a figure, or the reason why there is none."""
    if figure.value is None:
        return figure.problem
    unit = "" if figure.quantity.unit == "-" else f" {figure.quantity.unit}"
    return f"{figure_number(figure.value, figure)}{unit}"


@register.filter
def figure_low(figure: Figure) -> str:
    """Write the lower end of a figure with its unit."""
    return figure_value(replace(figure, value=figure.low))


@register.filter
def figure_high(figure: Figure) -> str:
    """Write the upper end of a figure with its unit."""
    return figure_value(replace(figure, value=figure.high))


@register.simple_tag
def once() -> SafeString:
    """Return the key of a form that makes something: pressed twice, it makes one."""
    return format_html('<input type="hidden" name="once" value="{}">', token_urlsafe(12))


@register.simple_tag
@lru_cache(DRAWN)
def why(key: str, name: str = "", more: str = "") -> SafeString:
    """Write the link that asks why, named after what it asks about; ``more`` ends its address."""
    about = name or why_name(key)
    return format_html(
        '<a class="why" href="?why={}{}">why<span class="visually-hidden"> {}</span></a>',
        key,
        more,
        about,
    )


@register.simple_tag
def day_in(name: str, value: str, label: str, field_id: str = "", error_id: str = "") -> SafeString:
    """Write a field for a day outside a form of Django's; the page shows its label itself."""
    return _day_in(get_language(), name, value, label, field_id, error_id)


@lru_cache(DRAWN)
def _day_in(
    _language: str | None, name: str, value: str, label: str, field_id: str, error_id: str
) -> SafeString:
    attrs = {"id": field_id} if field_id else {"aria-label": label}
    if error_id:
        attrs |= {"aria-invalid": "true", "aria-describedby": error_id}
    return DayInput(label).render(name, typed_day(value), attrs)


@register.filter(name="capital")
def capital_first(text: Any) -> str:
    """Begin a text with a capital; pH stays pH."""
    return capital(str(text))


@register.filter(name="short_day")
def short_day_of(value: date | None, written: str = "j M") -> str:
    """Write a day, with its year where it is half a year off."""
    return short_day(value, written) if value else ""


@register.filter
def day_words(value: str) -> str:
    """Return a day that was typed in words."""
    return day_in_words(value)


@register.simple_tag
@lru_cache(DRAWN)
def icon(name: str, css: str = "ic") -> SafeString:
    """Draw an icon of the sprite."""
    return format_html('<svg class="{}" aria-hidden="true"><use href="#{}"/></svg>', css, name)


@register.simple_tag
@lru_cache(DRAWN)
def mark(state: str, word: str = "") -> SafeString:
    """Write a state as shape, word and colour."""
    shape = SHAPES.get(state, state)
    return format_html(
        '<span class="mk mk-{}"><svg aria-hidden="true"><use href="#m-{}"/></svg>{}</span>',
        shape,
        shape,
        word or WORDS[state],
    )


@register.simple_tag
@lru_cache(DRAWN)
def options(pairs: tuple[tuple[str, str], ...], chosen: str = "") -> SafeString:
    """Write the options of a select; `pairs` are value and word."""
    rows = ((k, SafeString(" selected" if k == chosen else ""), w) for k, w in pairs)
    return format_html_join("", '<option value="{}"{}>{}</option>', rows)


@register.simple_tag
def closing_line() -> str:
    """Write the line every list of cautions ends with."""
    return CLOSING


@register.simple_tag
def provenance(key: str, *, short: bool = False) -> SafeString:
    """Write where a value comes from; in a narrow table with one or two words."""
    word = SHORT_PROVENANCES.get(key) if short else None
    word = word or PROVENANCES.get(key, key)
    return format_html('<span class="prov prov-{}">{}</span>', key, word)


@register.simple_tag
def swatch(material: Any) -> SafeString:
    """Show the texture of a material."""
    return format_html('<span class="swatch tex-{}"></span>', texture_of(material))


register.simple_tag(texture_url)
register.simple_tag(charge_bar_svg, name="charge_bar")


def measures_of(context: Any) -> Measures:
    """Return how the yard of a page reads its amounts, within what was included too."""
    request = context.get("request") or getattr(context, "request", None)
    yard = getattr(request, "yard", None)
    return yard.measures if yard is not None else Measures("metric")


@register.simple_tag(takes_context=True)
def read(context: Any, text: Any) -> str:
    """Write a sentence of the core with its amounts in the yard's own units."""
    if not text:
        return ""
    said: str = measures_of(context).read(str(text))
    return SafeString(said) if isinstance(text, SafeString) else said


@register.simple_tag(takes_context=True)
def caution(context: Any, fired: Caution) -> SafeString:
    """Write a caution with what it is about and who says so."""
    about = f"{'; '.join(fired.materials)}. " if fired.materials else ""
    return format_html(
        '<div class="care{}">{}<span>{}</span><span class="of">{}Source: {}.</span></div>',
        " care-stop" if fired.stops else "",
        mark(fired.severity),
        measures_of(context).read(fired.text),
        about,
        fired.source,
    )


@register.inclusion_tag("ui/field.html")
def field(bound: Any, hint: str = "") -> dict[str, Any]:
    """Write a form field with its label, hint and error."""
    return {"field": bound, "hint": hint}


@register.filter
def signed(value: float) -> str:
    """Write a difference with its sign."""
    return f"{'+' if value > 0 else '−'}{write_sig(abs(value), 2)}"


@register.filter
def texture(material: Any) -> str:
    """Return the name of a material's texture."""
    return texture_of(material)


@register.filter
def absolute(value: float) -> float:
    """Return a number without its sign."""
    return abs(value)


@register.simple_tag(takes_context=True)
def warmth(context: Any, warm_c: float | None) -> str:
    """Write a temperature in the yard's degrees."""
    return "" if warm_c is None else str(measures_of(context).warmth(warm_c, 3))


@register.simple_tag(takes_context=True)
def span(context: Any, length_cm: float) -> str:
    """Write a length in the yard's own unit."""
    return str(measures_of(context).span(length_cm))


@register.simple_tag(takes_context=True)
def amount(context: Any, value: Any, unit: str) -> SafeString:
    """Write a value that went into a figure, in the yard's own unit."""
    said = f"{write_sig(value)} {unit}" if isinstance(value, int | float) else f"{value} {unit}"
    number, _, own = measures_of(context).read(said).replace("\u00a0", " ").partition(" ")
    return format_html("<b>{}</b> {}", number, own)


@register.simple_tag(takes_context=True)
def practice(context: Any, text: str) -> str:
    """Write what is common practice in the yard's own units."""
    return practice_in(text, is_us=measures_of(context).is_us)


@register.simple_tag(takes_context=True)
def held(context: Any, amount: float, measure: str) -> str:
    """Write what a bag holds, as the yard reads its amounts."""
    return str(measures_of(context).held(amount, measure))


@register.simple_tag(takes_context=True)
def degrees(context: Any, warm_c: float) -> str:
    """Write a temperature in the yard's degrees, its unit being said elsewhere."""
    return write_sig(measures_of(context).degrees(warm_c), 3)


@register.simple_tag(takes_context=True)
def degree_unit(context: Any) -> str:
    """Write the yard's degrees."""
    return str(measures_of(context).degree_unit)


@register.simple_tag(takes_context=True)
def money(context: Any, amount: Decimal | None) -> str:
    """Write a sum in the yard's money."""
    written: str = context["request"].yard.money.write(amount)
    return written


@register.simple_tag(takes_context=True)
def money_each(context: Any, amount: Decimal | float | None) -> str:
    """Write the price of one unit in the yard's money."""
    exact = Decimal(repr(amount)) if isinstance(amount, float) else amount
    written: str = context["request"].yard.money.each(exact)
    return written


@register.filter
def npk(material: Any) -> str:
    """Write nitrogen, phosphate and potash as labels do; empty for a part."""
    content = material.composition
    if material.role == "bulk" or not {"N", "P", "K"} <= content.keys():
        return ""
    oxides = {"P": element_in_oxide("P2O5"), "K": element_in_oxide("K2O")}
    grade = [content[e].typ / oxides.get(e, 1.0) for e in ("N", "P", "K")]
    return label_grade(grade) if any(grade) else ""
