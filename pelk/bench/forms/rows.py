"""The rows of the Bench as they are sent: parts and doses, each a formset."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

from django import forms
from django.http import QueryDict

ROWS_MAX = 60
TEXT_MAX = 120


def cleaned(text: str) -> str:
    """Return a text that a field can hold: no NUL, not without end."""
    return text.replace("\0", "")[:TEXT_MAX]


class Typed(forms.CharField):
    """A text kept as it was typed: what it means is judged with the whole recipe."""

    def __init__(self) -> None:
        super().__init__(required=False, strip=False)

    def to_python(self, value: Any) -> str:
        """Return what was typed."""
        return cleaned(super().to_python(value) or "")


class PartRowForm(forms.Form):
    """One part."""

    material = Typed()
    parts = Typed()
    lock = Typed()
    was = Typed()
    there = Typed()


class DoseRowForm(forms.Form):
    """One dose."""

    material = Typed()
    amount = Typed()
    unit = Typed()
    per = Typed()


PartRows = forms.formset_factory(PartRowForm, extra=0, max_num=ROWS_MAX, absolute_max=ROWS_MAX)
DoseRows = forms.formset_factory(DoseRowForm, extra=0, max_num=ROWS_MAX, absolute_max=ROWS_MAX)
PARTS, DOSES = "parts", "doses"


def rows_sent(
    rows: type[forms.BaseFormSet[Any]], post: QueryDict, prefix: str
) -> list[dict[str, str]]:
    """Return what was typed in each row that arrived, in order."""
    sent = rows(post, prefix=prefix)
    if not sent.management_form.is_valid():
        return []
    typed: Iterable[dict[str, str]] = (row.cleaned_data for row in sent if row.is_valid())
    return [row for row in typed if any(row.values())]
