"""Sign-up, sign-in and the yard's measures."""

from typing import Any

from django import forms
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.password_validation import validate_password

from pelk.core.base.quantities import TEMPERATURE
from pelk.ui.feeding_styles import choices_of
from pelk.ui.numbers import read_number
from pelk.yards.models import MILD_NORMALS, User, Yard
from pelk.yards.services import TAKEN

# The questions of a feeding style that the shelf filters by.
ASKED = ("inputs", "water_holder", "aggregate")


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
            raise forms.ValidationError(TAKEN)
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
        fields = ["name", "system", "currency", "barrow_l", "barrow_limit_kg", "bucket_l"]
        labels = {"system": "Amounts in", "name": "Name of the yard", "currency": "Money in"}

    barrow_l = forms.FloatField(label="Barrow, struck level, litres", min_value=5, max_value=2000)
    barrow_limit_kg = forms.FloatField(label="Most to push or lift, kg", min_value=2, max_value=500)
    bucket_l = forms.FloatField(label="Bucket, litres", min_value=0.5, max_value=200)
    normals = forms.CharField(
        label="Mean of each month, January to December, °C",
        help_text="Twelve numbers. What rots and turns follows them.",
    )
    inputs = forms.ChoiceField(label="What may go in", choices=choices_of("inputs"))
    water_holder = forms.ChoiceField(label="To hold water", choices=choices_of("water_holder"))
    aggregate = forms.ChoiceField(label="For air", choices=choices_of("aggregate"))

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        style = self.instance.style
        for name in ASKED:
            self.initial[name] = getattr(style, name)
        self.initial["normals"] = "  ".join(f"{c:g}" for c in self.instance.normals_c)

    def clean_normals(self) -> list[float]:
        """Read twelve temperatures that can be."""
        celsius = [read_number(word) for word in self.cleaned_data["normals"].split()]
        known = [value for value in celsius if value is not None]
        if len(known) != len(celsius) or len(known) != len(MILD_NORMALS):
            raise forms.ValidationError("Write twelve numbers with spaces between them.")
        if not all(TEMPERATURE.low <= value <= TEMPERATURE.high for value in known):
            raise forms.ValidationError("Each from -30 to 60 °C.")
        return known

    @property
    def said(self) -> dict[str, Any]:
        """What was typed, for the service."""
        data = dict(self.cleaned_data)
        data["feeding_style"] = {name: data.pop(name) for name in ASKED}
        data["normals_c"] = data.pop("normals")
        return data
