"""The rows of the Bench as they are sent: parts and doses, each a formset."""

from __future__ import annotations

from typing import cast

from django import forms

from pelk.ui.numbers import read_count

ROWS_MAX = 60
TEXT_MAX = 120


def cleaned(text: str) -> str:
    """Return a text that a field can hold: no NUL, not without end."""
    return text.replace("\0", "")[:TEXT_MAX]


class PartRowForm(forms.Form):
    """One part."""

    material = forms.CharField(required=False)
    parts = forms.CharField(required=False)
    unit = forms.CharField(required=False)
    held = forms.CharField(required=False)
    lock = forms.CharField(required=False)
    there = forms.CharField(required=False)


class DoseRowForm(forms.Form):
    """One dose."""

    material = forms.CharField(required=False)
    amount = forms.CharField(required=False)
    unit = forms.CharField(required=False)
    per = forms.CharField(required=False)


class TypedRows(forms.BaseFormSet):  # type: ignore[type-arg]
    """Rows of texts that are kept as typed: they are read without a form for each.

    The Bench is its hot path: twenty forms cost a tenth of an answer.
    """

    def typed(self) -> list[dict[str, str]]:
        """Return what was typed in each row that arrived, in order."""
        names, sent = self.form.base_fields, self.data
        count = read_count(sent.get(f"{self.prefix}-TOTAL_FORMS", ""), ROWS_MAX) or 0
        rows = (
            {name: cleaned(sent.get(f"{self.prefix}-{i}-{name}", "")) for name in names}
            for i in range(count)
        )
        return [row for row in rows if any(row.values())]


def _rows_of(form: type[forms.Form]) -> type[TypedRows]:
    made = forms.formset_factory(
        form, formset=TypedRows, extra=0, max_num=ROWS_MAX, absolute_max=ROWS_MAX
    )
    return cast(type[TypedRows], made)


PartRows, DoseRows = _rows_of(PartRowForm), _rows_of(DoseRowForm)
PARTS, DOSES = "parts", "doses"
