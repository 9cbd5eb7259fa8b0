"""Fields that read numbers, money and sizes as growers write them."""

from decimal import Decimal
from typing import Any

from django import forms

from pelk.ui.money import foreign_sign, read_money, sign_of
from pelk.ui.numbers import read_number

NOT_A_NUMBER = "Enter one number, such as 0.9."


class NumberField(forms.CharField):
    """A number as growers write it: ``0,9``, ``1½``; kept as typed when it is none."""

    def __init__(self, *args: Any, low: float = 0.0, high: float = 1e9, **kwargs: Any) -> None:
        self.low, self.high = low, high
        super().__init__(*args, **kwargs)
        self.widget.attrs.setdefault("inputmode", "decimal")

    def clean(self, value: Any) -> Any:
        """Return the number, or None for a blank that may be."""
        text = super().clean(value)
        if not text:
            return None
        number = read_number(text)
        if number is None:
            raise forms.ValidationError(NOT_A_NUMBER)
        if not self.low <= number <= self.high:
            raise forms.ValidationError(
                f"Found {number:g}, allowed: from {self.low:g} to {self.high:g}."
            )
        return number


class MoneyField(forms.CharField):
    """An amount of money, decimal; in the yard's own currency where that is known."""

    currency = ""

    def clean(self, value: Any) -> Any:
        """Return the amount, or None for a blank that may be."""
        text = super().clean(value)
        if not text:
            return None
        if self.currency and (sign := foreign_sign(text, self.currency)):
            own = sign_of(self.currency).strip()
            raise forms.ValidationError(
                f"You wrote {sign}, and this yard counts in {own}. Leave the sign out, or change "
                "the money on the Yard page."
            )
        amount = read_money(text)
        if amount is None:
            raise forms.ValidationError("Enter an amount, such as 12.50.")
        return amount.quantize(Decimal("0.01"))


def offer(form: forms.BaseForm, name: str, choices: Any) -> forms.Field:
    """Let a field of a form offer these choices; return the field."""
    field = form.fields[name]
    if not isinstance(field, forms.ChoiceField):
        raise TypeError(f"{name} is no field of choices")
    field.choices = choices
    return field


class MarkedForm(forms.Form):
    """Ties each field with an error to its sentence, for those who cannot see it."""

    def full_clean(self) -> None:
        """Judge what was typed, then mark what is wrong."""
        super().full_clean()
        if self.is_bound:
            self.mark_errors()

    def mark_errors(self) -> None:
        """Tie what is wrong by now to its field."""
        for name in self.errors:
            if name in self.fields:
                attrs = self.fields[name].widget.attrs
                attrs["aria-invalid"] = "true"
                attrs["aria-describedby"] = f"{self[name].auto_id}_error"
