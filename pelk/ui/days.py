"""Days as they are typed and as they are said.

The browser's own field shows a day in the order of the device, which a page cannot choose.
So the day stands in words beside it: who typed 3/5 for the third of May sees what was taken.
"""

from __future__ import annotations

from contextlib import suppress
from datetime import date, datetime
from typing import Any

from django import forms

DAY, MOMENT = "%Y-%m-%d", "%Y-%m-%dT%H:%M"


def day_in_words(value: date | str | None) -> str:
    """Return a day, or the day of an ISO text, such as ``Mon 30 Nov 2026``; empty for no day."""
    if isinstance(value, str):
        read = None
        with suppress(ValueError):
            read = datetime.fromisoformat(value)
        value = read
    return f"{value:%a %-d %b %Y}" if value else ""


class DayInput(forms.DateInput):
    """A day, its words beside it."""

    input_type = "date"
    template_name = "ui/widgets/day.html"
    written = DAY

    def __init__(self) -> None:
        super().__init__(format=self.written)

    def get_context(self, name: str, value: Any, attrs: dict[str, Any] | None) -> dict[str, Any]:
        """Add the words."""
        context = super().get_context(name, value, attrs)
        return context | {"says": day_in_words(context["widget"]["value"])}


class MomentInput(DayInput):
    """A day and its hour."""

    input_type = "datetime-local"
    written = MOMENT
