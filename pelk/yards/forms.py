"""Sign-up, sign-in and the yard's measures."""

from typing import Any

from django import forms
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.password_validation import validate_password

from pelk.yards.models import User, Yard


class SignInForm(AuthenticationForm):
    """Email and password."""

    error_messages = {
        "invalid_login": "Email and password do not match. Check Caps Lock, or get a "
        "link by email.",
        "inactive": "This account is closed.",
    }


class SignUpForm(forms.Form):
    """A new person and their yard."""

    email = forms.EmailField(
        max_length=254, widget=forms.EmailInput(attrs={"autocomplete": "email"})
    )
    yard_name = forms.CharField(label="Name of your yard", max_length=80)
    password = forms.CharField(
        strip=False, widget=forms.PasswordInput(attrs={"autocomplete": "new-password"})
    )

    def clean_email(self) -> str:
        """Refuse an email that is taken."""
        email: str = self.cleaned_data["email"].lower()
        if User.objects.filter(email=email).exists():
            raise forms.ValidationError("There is an account with this email. Sign in?")
        return email

    def clean(self) -> dict[str, Any]:
        """Judge the password beside the email it goes with."""
        data = super().clean() or {}
        if "password" in data:
            try:
                validate_password(data["password"], User(email=data.get("email", "")))
            except forms.ValidationError as error:
                self.add_error("password", error)
        return data


class YardForm(forms.ModelForm):  # type: ignore[type-arg]
    """A yard's name and measures."""

    class Meta:
        model = Yard
        fields = ["name", "system", "barrow_l", "barrow_limit_kg", "bucket_l"]
        labels = {"system": "Amounts in", "name": "Name of the yard"}

    barrow_l = forms.FloatField(
        label="Barrow, struck level, litres", min_value=5, max_value=2000
    )
    barrow_limit_kg = forms.FloatField(
        label="Most to push or lift, kg", min_value=2, max_value=500
    )
    bucket_l = forms.FloatField(label="Bucket, litres", min_value=0.5, max_value=200)
