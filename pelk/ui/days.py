"""Days as they are typed, in the order of the yard, and as they are said beside their field.

A browser's own day field shows the order of the device, which a page cannot choose, and sends
nothing for a day half typed. So a day is a field of text, read by Django's formats of the
yard's region (`pelk.config.formats`); a button beside it opens the device's calendar.
"""

from __future__ import annotations

from contextlib import suppress
from datetime import date, datetime
from typing import Any, ClassVar

from django import forms
from django.core.exceptions import ValidationError
from django.template.defaultfilters import date as written_as
from django.utils import timezone
from django.utils.formats import get_format
from django.utils.functional import lazy

HALF_A_YEAR = 183
PATTERNS = {"%d": "dd", "%m": "mm", "%Y": "yyyy", "%H": "hh", "%M": "mm"}


def day_in_words(value: date | str | None) -> str:
    """Return a day, or the day of a text, such as ``Mon 30 Nov 2026``; empty for no day."""
    if isinstance(value, str):
        value = read_day(value)
    return written_as(value, "D j M Y") if value else ""


def short_day(value: date, written: str = "j M") -> str:
    """Write a day such as ``30 Nov``; half a year off or more, with its year.

    ``written`` is the format, as templates know it.
    """
    on = timezone.localtime(value) if isinstance(value, datetime) else value
    today = timezone.localdate()
    off = abs((date(on.year, on.month, on.day) - today).days)
    return written_as(on, f"{written} Y" if off > HALF_A_YEAR else written)


def read_day(text: str) -> date | None:
    """Return the day of a text in the yard's order, or as 2026-11-30; None where it is none."""
    for field in (DayField(required=False), MomentField(required=False)):
        with suppress(ValidationError):
            read: date | None = field.clean(text)
            return timezone.localtime(read).date() if isinstance(read, datetime) else read
    return None


def typed_day(value: date | str | None) -> str:
    """Write a day as it is typed in the yard; a text that is no day stays as it is."""
    read = read_day(value) if isinstance(value, str) else value
    return DayInput().format_value(read) or "" if read else str(value or "")


def not_a_day() -> str:
    """Say how a day is typed."""
    return f"Enter a day, such as {typed_day(timezone.localdate())}."


def not_a_moment() -> str:
    """Say how a day and its hour are typed."""
    return f"Enter a day and its hour, such as {typed_day(timezone.localdate())} 14:30."


class DayInput(forms.DateInput):
    """A day; the calendar and its words beside it."""

    template_name = "ui/widgets/day.html"
    calendar = "date"

    def __init__(self, about: str = "") -> None:
        # What the calendar's button is for, to be heard: a label without what it adds in brackets.
        self.about = about.partition(" (")[0]
        super().__init__(attrs={"autocomplete": "off", "class": "day-in"})

    def get_context(self, name: str, value: Any, attrs: dict[str, Any] | None) -> dict[str, Any]:
        """Add how it is typed, the words and the calendar."""
        context = super().get_context(name, value, attrs)
        widget = context["widget"]
        pattern = get_format(self.format_key)[0]
        for code, word in PATTERNS.items():
            # The minutes come after the hour, and are written as months are.
            pattern = pattern.replace(code, word)
        widget["attrs"] |= {"placeholder": pattern, "size": len(pattern)}
        words = day_in_words(widget["value"])
        return context | {"says": words, "calendar": self.calendar, "about": self.about}


class MomentInput(DayInput):
    """A day and its hour."""

    calendar = "datetime-local"
    format_key = "DATETIME_INPUT_FORMATS"
    supports_microseconds = False


class DayField(forms.DateField):
    """A day as the yard writes it."""

    default_error_messages: ClassVar = {"invalid": lazy(not_a_day, str)()}

    def __init__(self, *, label: str = "", **kwargs: Any) -> None:
        super().__init__(label=label, widget=DayInput(label), **kwargs)


class MomentField(forms.DateTimeField):
    """A day and its hour as the yard writes them."""

    default_error_messages: ClassVar = {"invalid": lazy(not_a_moment, str)()}

    def __init__(self, *, label: str = "", **kwargs: Any) -> None:
        super().__init__(label=label, widget=MomentInput(label), **kwargs)
