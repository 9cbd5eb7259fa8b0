"""The buttons that stand in every row of the Bench: drawn in Python, they are its hot path."""

from functools import lru_cache
from typing import Any

from django.template import Library
from django.utils.html import format_html
from django.utils.safestring import SafeString

from pelk.ui.templatetags.pelk import icon, texture

register = Library()
NOTHING = SafeString("")
ADDRESSES = 256


@register.simple_tag
def ask(key: str, here: str, word: str = "why") -> SafeString:
    """Draw the button that asks why, or the figure itself as one; it waits for its turn and gives way to nothing."""
    said = NOTHING if word == "why" else format_html(' aria-label="{}: why"', word)
    return format_html(
        ' <button class="why" name="action" value="why:{}"{}{} hx-sync="#bench:queue all">'
        "{}</button>",
        key, said, _to(here), word,
    )  # fmt: skip


@register.simple_tag
def grip(
    kind: str, i: int, key: str, name: str, here: str, material: Any = None
) -> SafeString:
    """Draw what a row is moved by: its letter or its texture."""
    look = f" tex-{texture(material)}" if material else ""
    return format_html(
        '<button class="grip{}" name="action" value="move-{}:{}:{}" data-grip="{}" '
        'data-at="{}" aria-label="Move {} up; arrow keys move it, or drag"{}>{}</button>',
        look, kind, i, i - 1, kind, i, name, _to(here), key,
    )  # fmt: skip


@register.simple_tag
def row_deeds(kind: str, i: int, name: str, here: str) -> SafeString:
    """Draw what can be done with a row: what else, take out."""
    to = _to(here)
    return format_html(
        '<button class="drop" name="action" value="swaps:{}:{}" '
        'aria-label="What else instead of {}" title="What else?"{}>{}</button>'
        '<button class="drop" name="action" value="drop-{}:{}" '
        'aria-label="Take out {}" title="Take out"{}>{}</button>',
        kind, i, name, to, icon("i-swap"), kind, i, name, to, icon("i-x"),
    )  # fmt: skip


@register.simple_tag
def lock(i: int, name: str, locked: bool) -> SafeString:
    """Draw the lock of a part."""
    return format_html(
        '<label class="lock" title="Locked: it stays while others move">'
        '<input class="visually-hidden" type="checkbox" name="part_lock" value="{}" '
        'aria-label="Lock {}"{}>{}</label>',
        i, name, SafeString(" checked") if locked else NOTHING, icon("i-lock"),
    )  # fmt: skip


@lru_cache(ADDRESSES)
def _to(here: str) -> SafeString:
    return format_html(' hx-post="{}" hx-target="#bench" hx-swap="morph"', here)
