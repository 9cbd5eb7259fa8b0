"""The buttons that stand in every row of the Bench: drawn in Python, they are its hot path."""

from functools import lru_cache
from typing import Any

from django.template import Library
from django.urls import reverse
from django.utils.html import format_html
from django.utils.safestring import SafeString

from pelk.core.base.rounding import sig
from pelk.shelf.pages.material import Choice
from pelk.ui.cutaway import Cutaway
from pelk.ui.svg import cutaway_svg
from pelk.ui.templatetags.pelk import icon
from pelk.ui.why_names import why_name

register = Library()

NOTHING = SafeString("")
DRAWN = 4096  # one page has some 200 of them


@register.simple_tag
@lru_cache(DRAWN)
def ask(key: str, here: str, word: str = "why") -> SafeString:
    """Draw the button that asks why, or the figure itself as one; it gives way to nothing."""
    name = why_name(key)
    about = format_html('<span class="visually-hidden"> {}</span>', name) if name else NOTHING
    said = (
        "why"
        if word == "why"
        else format_html('{}<span class="visually-hidden">, why</span>', word)
    )
    return format_html(
        ' <button class="why" name="action" value="why:{}"{} hx-sync="#bench:queue all">'
        "{}{}</button>",
        key,
        _to(here),
        said,
        about,
    )


@register.simple_tag
@lru_cache(DRAWN)
def grip(kind: str, i: int, key: str, name: str, here: str, texture: str = "") -> SafeString:
    """Draw what a row is moved by: its letter or its texture."""
    look = f" tex-{texture}" if texture else ""
    return format_html(
        '<button class="grip{}" name="action" value="move-{}:{}:{}" data-grip="{}" '
        'data-at="{}" aria-label="Move {} up; arrow keys move it, or drag"{}>{}</button>',
        look,
        kind,
        i,
        i - 1,
        kind,
        i,
        name,
        _to(here),
        key,
    )


@register.simple_tag
@lru_cache(DRAWN)
def row_deeds(kind: str, i: int, slug: str, count: int, name: str, here: str) -> SafeString:
    """Draw what can be done with a row: what else, take out; pressed twice it takes one."""
    to = _to(here)
    return format_html(
        '<button class="drop" name="action" value="swaps:{}:{}" '
        'aria-label="What else instead of {}" title="What else?"{}>{}</button>'
        '<button class="drop" name="action" value="drop-{}:{}:{}:{}" '
        'aria-label="Take out {}" title="Take out"{}>{}</button>',
        kind,
        i,
        name,
        to,
        icon("i-swap"),
        kind,
        i,
        slug,
        count,
        name,
        to,
        icon("i-x"),
    )


@register.simple_tag
@lru_cache(DRAWN)
def lock(i: int, name: str, locked: bool) -> SafeString:
    """Draw the lock of a part."""
    return format_html(
        '<label class="lock" title="Locked: it stays while others move">'
        '<input class="visually-hidden" type="checkbox" name="parts-{}-lock" value="1" '
        'aria-label="Lock {}"{}>{}</label>',
        i,
        name,
        SafeString(" checked") if locked else NOTHING,
        icon("i-lock"),
    )


@register.simple_tag
def counted_in(line: dict[str, Any]) -> SafeString:
    """Draw the unit that a part is counted in by itself, and what one holds."""
    i, each = line["i"], line["each"]
    return format_html(
        '<input type="hidden" name="parts-{}-held" value="{}"><select class="unit" '
        'name="parts-{}-unit" aria-label="{} is counted in">{}</select>{}',
        i,
        line["row"].held,
        i,
        line["name"],
        line["units"],
        format_html('<small class="line-more">of {}</small>', each) if each else NOTHING,
    )


@register.simple_tag
@lru_cache(DRAWN)
def row_kept(rows: str, i: int, material: str) -> SafeString:
    """Draw what a row carries unseen: its material."""
    return format_html('<input type="hidden" name="{}-{}-material" value="{}">', rows, i, material)


@register.simple_tag
@lru_cache(DRAWN)
def posts(here: str) -> SafeString:
    """Write where a button of the Bench posts to."""
    return _to(here)


@register.simple_tag
def cutaway(picture: Cutaway, there: float | None = None) -> SafeString:
    """Draw the cutaway, with the share that is in the barrow already."""
    return cutaway_svg(picture, there or 0.0)


@register.simple_tag
@lru_cache(DRAWN)
def row_name(slug: str, name: str, *, known: bool) -> SafeString:
    """Write the name of a row's material, and the way to it on the shelf."""
    if not known:
        return format_html("{}", name)
    return format_html('<a href="{}">{}</a>', reverse("shelf:material", args=[slug]), name)


@lru_cache(DRAWN)
def _to(here: str) -> SafeString:
    return format_html(' hx-post="{}" hx-target="#bench" hx-swap="morph"', here)


@register.simple_tag
def swap_to(choice: Choice, kind: str) -> str:
    """Write what a line becomes: the material, for a dose with how much stands for one."""
    slug = choice.material.slug
    return f"{slug}:{sig(choice.what.for_one, 4)}" if kind == "dose" else slug
