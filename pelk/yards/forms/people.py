"""What is typed of people: a name, a new email, who is invited as what."""

from __future__ import annotations

from typing import Any

from django import forms

from pelk.ui.forms import MarkedForm
from pelk.yards.models import Role, User


class NameForm(MarkedForm):
    """What others of the yard read."""

    name = forms.CharField(label="Your name, as the log says it", max_length=80, required=False)


class EmailForm(MarkedForm):
    """A new email, and the password that proves who asks."""

    email = forms.EmailField(label="New email", max_length=254)
    password = forms.CharField(
        label="Your password",
        strip=False,
        widget=forms.PasswordInput(attrs={"autocomplete": "current-password"}),
    )

    def __init__(self, *args: Any, user: User, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.user = user

    def clean_email(self) -> str:
        """Keep emails in one case."""
        return str(self.cleaned_data["email"]).lower()

    def clean_password(self) -> str:
        """Refuse a password that is not theirs."""
        password: str = self.cleaned_data["password"]
        if not self.user.check_password(password):
            raise forms.ValidationError("That is not your password.")
        return password


class InviteForm(MarkedForm):
    """Whom to ask in."""

    role = forms.ChoiceField(label="They come as", choices=Role.choices, initial=Role.HAND)
