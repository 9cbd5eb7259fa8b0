"""Sign-up, sign-in and the yard's measures."""

import re
from typing import Any
from zoneinfo import available_timezones

from django import forms
from django.conf import settings
from django.contrib.auth.forms import AuthenticationForm
from django.contrib.auth.password_validation import validate_password
from django.urls import reverse, reverse_lazy

from pelk.core.base.elements import ATOMIC_MASS
from pelk.core.base.errors import PelkError
from pelk.core.base.quantities import TEMPERATURE
from pelk.core.base.regions import climates, regions
from pelk.core.base.rounding import sig
from pelk.core.salts.water_ions import (
    HARDNESS,
    MOST_ION_MG_L,
    WaterAnalysis,
    analysis_of_ec,
    analysis_of_hardness,
    check_ions,
)
from pelk.ui.feeding_styles import choices_of
from pelk.ui.forms import MarkedForm, NumberField, offer
from pelk.ui.money import currencies
from pelk.ui.numbers import read_number
from pelk.ui.refusals import sentence
from pelk.ui.units import sizes
from pelk.yards.models import MILD_NORMALS, User, Yard
from pelk.yards.services.yards import TAKEN, Place

# The questions of a feeding style that the shelf filters by.
ASKED = ("inputs", "water_holder", "aggregate")


class SignInForm(AuthenticationForm):
    """Email and password."""

    error_messages = {
        "invalid_login": "Email and password do not match. Check Caps Lock, or get a "
        "link by email.",
        "inactive": "This account is closed.",
    }


def spoken_in(languages: str) -> str:
    """Return the territory of the first language that a browser asks for; empty if it says none."""
    said = re.search(r"\b[a-z]{2,3}-([A-Z]{2})\b", languages[:200])
    return said.group(1) if said and said.group(1) in regions() else ""


class SignUpForm(forms.Form):
    """A new person and their yard."""

    email = forms.EmailField(
        max_length=254, widget=forms.EmailInput(attrs={"autocomplete": "email"})
    )
    yard_name = forms.CharField(label="Name of your yard", max_length=80)
    password = forms.CharField(
        strip=False, widget=forms.PasswordInput(attrs={"autocomplete": "new-password"})
    )

    region = forms.ChoiceField(label="Where it is")
    system = forms.ChoiceField(label="Units", required=False)
    currency = forms.ChoiceField(label="Currency", required=False)
    climate = forms.ChoiceField(label="Climate", required=False)
    time_zone = forms.CharField(required=False, max_length=60, widget=forms.HiddenInput)

    ASIDE = ("system", "currency", "climate", "time_zone")

    def __init__(self, *args: Any, spoken: str = "", **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        if settings.CONFIRM:
            # Who has the mail sets the password, behind its link: nobody before them.
            del self.fields["password"]
        if "region" not in self.initial:
            self.initial["region"] = spoken_in(spoken)
        code = self.data.get("region") if self.is_bound else self.initial["region"]
        self.usual = regions().get(code or "")
        places = sorted((region.name, region.code) for region in regions().values())
        region = offer(self, "region", [("", "Choose …"), *((c, name) for name, c in places)])
        # The usual there comes as soon as it is chosen.
        region.widget.attrs |= {
            "hx-get": reverse("yards:place"),
            "hx-target": "#place",
            "hx-swap": "outerHTML",
        }
        offer(self, "system", [("", self._usually("system")), *Yard.System.choices])
        offer(self, "currency", [("", self._usually("currency")), *currencies()])
        kinds = [(c.slug, f"{c.name} ({c.example_regions})") for c in climates().values()]
        offer(self, "climate", [("", self._usually("climate")), *kinds])

    def _usually(self, field: str) -> str:
        """Name what is usual in the territory."""
        if self.usual is None:
            return "as usual there"
        if field == "system":
            return str(Yard.System("us" if self.usual.units == "us" else "metric").label)
        if field == "currency":
            return dict(currencies()).get(self.usual.currency, "as usual there")
        return climates()[self.usual.climate].name

    @property
    def asked(self) -> list[forms.BoundField]:
        """What is asked of everybody."""
        return [self[name] for name in self.fields if name not in self.ASIDE]

    @property
    def aside(self) -> list[forms.BoundField]:
        """What the territory brings, to be chosen otherwise."""
        return [self[name] for name in self.ASIDE if name != "time_zone"]

    @property
    def said(self) -> dict[str, Any]:
        """What was typed, for the service."""
        data = dict(self.cleaned_data)
        place = Place(data.pop("region"), **{name: data.pop(name) for name in self.ASIDE})
        return {**data, "place": place}

    def clean_time_zone(self) -> str:
        """Take a zone that is known; a browser may say anything."""
        zone: str = self.cleaned_data["time_zone"]
        return zone if zone in available_timezones() else ""

    def clean_email(self) -> str:
        """Refuse an email that is taken."""
        email: str = self.cleaned_data["email"].lower()
        if not settings.CONFIRM and User.objects.filter(email=email).exists():
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


# How a US yard names and types its sizes; the bounds of what is kept, in L and kg.
OWN_UNITS = {
    "barrow_l": ("Barrow, struck level, US gallons", "gal"),
    "barrow_limit_kg": ("Most to push or lift, lb", "lb"),
    "bucket_l": ("Bucket, US gallons", "gal"),
}
PER = {"gal": 1.0, "lb": 1000.0}
BOUNDS = {"barrow_l": (5.0, 2000.0), "barrow_limit_kg": (2.0, 500.0), "bucket_l": (0.5, 200.0)}


DRAWS_MONTHS = {
    "hx-get": reverse_lazy("yards:months"),
    "hx-include": "closest form",
    "hx-target": "#months",
    "hx-trigger": "input delay:300ms",
}


class YardForm(forms.ModelForm):  # type: ignore[type-arg]
    """A yard's name and measures."""

    class Meta:
        model = Yard
        fields = ["name", "region", "system", "currency", "climate", "time_zone"]
        fields += ["barrow_l", "barrow_limit_kg", "bucket_l"]
        labels = {"system": "Units", "name": "Name of the yard"}

    region = forms.ChoiceField(label="Where it is", required=False)
    currency = forms.ChoiceField(label="Currency")
    climate = forms.ChoiceField(
        label="Climate",
        required=False,
        help_text="Another one brings its twelve months; type your own over them.",
        widget=forms.Select(attrs=DRAWS_MONTHS),
    )
    time_zone = forms.CharField(label="Time zone", required=False, max_length=60)

    barrow_l = forms.FloatField(
        label="Barrow, filled level, litres",
        min_value=0.1,
        help_text="A batch is cut into loads that fit it.",
    )
    barrow_limit_kg = forms.FloatField(
        label="Heaviest load you push or lift, kg",
        min_value=0.1,
        help_text="No load on a card weighs more.",
    )
    bucket_l = forms.FloatField(
        label="Bucket, litres", min_value=0.01, help_text="Cards count parts in these."
    )
    normals = forms.CharField(
        label="Mean air temperature of each month, January to December, °C",
        help_text="Twelve numbers with spaces between them. Forecasts of rotting, lime and sulfur "
        "use them.",
        widget=forms.TextInput(attrs=DRAWS_MONTHS),
    )
    inputs = forms.ChoiceField(
        label="Materials you allow",
        choices=choices_of("inputs"),
        help_text="Suggestions and fixes keep to these.",
    )
    water_holder = forms.ChoiceField(
        label="Preferred water holder",
        choices=choices_of("water_holder"),
        help_text="Suggestions start with it.",
    )
    aggregate = forms.ChoiceField(
        label="Preferred aggregate",
        choices=choices_of("aggregate"),
        help_text="Used where a mix needs more air.",
    )
    ROOMS = (
        ("The yard", "", ("name", "region", "system", "currency", "time_zone")),
        ("What you measure with", "loads and cards are sized to these", tuple(OWN_UNITS)),
        ("How you feed", "", ASKED),
    )

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        for name in OWN_UNITS:
            self.initial[name] = f"{self.initial[name]:g}"
        self._in_own_units()
        places = sorted((region.name, region.code) for region in regions().values())
        offer(self, "region", [("", "not said"), *((code, name) for name, code in places)])
        offer(self, "currency", list(currencies()))
        offer(self, "climate", [("", "my own"), *((c.slug, c.name) for c in climates().values())])
        style = self.instance.style
        for name in ASKED:
            self.initial[name] = getattr(style, name)
        degrees = [self.instance.measures.degrees(c) for c in self.instance.normals_c]
        self.initial["normals"] = "  ".join(sig(warm, 3) for warm in degrees)

    def _in_own_units(self) -> None:
        """Ask for sizes and months as the yard reads its amounts; kept are L, kg and °C."""
        measures = self.instance.measures
        if not measures.is_us:
            return
        for name, (label, size) in OWN_UNITS.items():
            field = self.fields[name]
            field.label = label
            field.validators = []
            self.initial[name] = sig(float(self.initial[name]) / sizes()[size] * PER[size], 4)
        self.fields["normals"].label = "Mean of each month, January to December, °F"

    @property
    def rooms(self) -> list[tuple[str, str, list[forms.BoundField]]]:
        """The fields by what they are about, but for the climate's."""
        return [(name, says, [self[f] for f in fields]) for name, says, fields in self.ROOMS]

    @property
    def months_c(self) -> list[float]:
        """The twelve months to be drawn: as typed where they can be read, else as kept. [°C]."""
        typed = [read_number(word) for word in str(self["normals"].value() or "").split()]
        known = [self.instance.measures.celsius(t) for t in typed if t is not None]
        whole = len(known) == len(typed) == len(MILD_NORMALS)
        in_range = all(TEMPERATURE.low <= c <= TEMPERATURE.high for c in known)
        return known if whole and in_range else list(self.instance.normals_c)

    def _kept(self, name: str) -> float:
        """Return a size that was typed, as it is kept, and in reason."""
        _, size = OWN_UNITS[name]
        typed: float = self.cleaned_data[name]
        measures = self.instance.measures
        value = typed * sizes()[size] / PER[size] if measures.is_us else typed
        low, high = BOUNDS[name]
        if not low <= value <= high:
            write = measures.mass if size == "lb" else measures.volume
            factor = 1000 if size == "lb" else 1
            said = f"from {write(low * factor)} to {write(high * factor)}"
            raise forms.ValidationError(f"Enter a size {said}.")
        return value

    def clean_barrow_l(self) -> float:
        """Keep litres."""
        return self._kept("barrow_l")

    def clean_bucket_l(self) -> float:
        """Keep litres."""
        return self._kept("bucket_l")

    def clean_barrow_limit_kg(self) -> float:
        """Keep kilograms."""
        return self._kept("barrow_limit_kg")

    def clean_normals(self) -> list[float]:
        """Read twelve temperatures that can be."""
        typed = [read_number(word) for word in self.cleaned_data["normals"].split()]
        measures = self.instance.measures
        celsius = [None if t is None else measures.celsius(t) for t in typed]
        known = [value for value in celsius if value is not None]
        if len(known) != len(celsius) or len(known) != len(MILD_NORMALS):
            raise forms.ValidationError("Enter twelve numbers with spaces between them.")
        if not all(TEMPERATURE.low <= value <= TEMPERATURE.high for value in known):
            low, high = (measures.warmth(c) for c in (TEMPERATURE.low, TEMPERATURE.high))
            raise forms.ValidationError(f"Each from {low} to {high}.")
        return known

    @property
    def said(self) -> dict[str, Any]:
        """What was typed, for the service."""
        data = dict(self.cleaned_data)
        data["feeding_style"] = {name: data.pop(name) for name in ASKED}
        data["normals_c"] = data.pop("normals")
        if data["climate"] and "climate" in self.changed_data:
            data["normals_c"] = list(climates()[data["climate"]].normals_c)
        return data

    def clean_time_zone(self) -> str:
        """Take a zone that is known."""
        zone: str = self.cleaned_data["time_zone"].strip()
        if zone and zone not in available_timezones():
            raise forms.ValidationError("Enter it as Europe/Dublin or America/Denver.")
        return zone


WATER_KNOWN = {
    "unknown": "Nothing yet: counted as bringing nothing",
    "report": "A table of the supplier or a laboratory",
    "strip": "Test strips: some of it",
    "hardness": "Only how hard it is",
    "ec": "Only its conductivity and alkalinity",
}
HARDNESS_WORDS = {
    "soft": "soft (under 60 mg/L as CaCO₃)",
    "medium": "medium (60 to 120)",
    "hard": "hard (120 to 180)",
    "very hard": "very hard (over 180)",
}
OXYGEN = ATOMIC_MASS["O"]
# What a table may write in place of the element, and the share of the element in it.
WRITTEN_AS = {
    "S": {"SO4": ATOMIC_MASS["S"] / (ATOMIC_MASS["S"] + 4 * OXYGEN), "S": 1.0},
    "NO3-N": {"NO3": ATOMIC_MASS["N"] / (ATOMIC_MASS["N"] + 3 * OXYGEN), "N": 1.0},
}


def _ion(label: str) -> NumberField:
    return NumberField(label=label, high=MOST_ION_MG_L, required=False)


class WaterForm(MarkedForm):
    """What is known of a yard's water."""

    known = forms.ChoiceField(label="What you know of it", choices=list(WATER_KNOWN.items()))
    hardness = forms.ChoiceField(
        label="Hardness", choices=list(HARDNESS_WORDS.items()), required=False
    )
    ec = NumberField(label="Conductivity, dS/m", high=20, required=False)
    alkalinity = NumberField(label="Alkalinity, mg/L as CaCO₃", high=2000, required=False)
    Ca = _ion("Calcium, mg/L")
    Mg = _ion("Magnesium, mg/L")
    Na = _ion("Sodium, mg/L")
    K = _ion("Potassium, mg/L")
    Cl = _ion("Chloride, mg/L")
    sulfate = _ion("Sulfate, mg/L")
    sulfate_as = forms.ChoiceField(
        label="Sulfate written as", choices=[("SO4", "SO₄"), ("S", "S")], required=False
    )
    nitrate = _ion("Nitrate, mg/L")
    nitrate_as = forms.ChoiceField(
        label="Nitrate written as", choices=[("NO3", "NO₃"), ("N", "N")], required=False
    )
    P = _ion("Phosphorus, mg/L")
    B = _ion("Boron, mg/L")
    as_given = forms.BooleanField(
        label="The list is not complete: take it as it is", required=False
    )

    PLAIN = ("Ca", "Mg", "Na", "K", "Cl", "P", "B")
    TYPED = {"S": "sulfate", "NO3-N": "nitrate"}

    @classmethod
    def start(cls, analysis: WaterAnalysis) -> dict[str, Any]:
        """Return what the form starts with for a water that is known."""
        ions = analysis.ions_mg_l
        start: dict[str, Any] = {
            "known": analysis.known,
            "alkalinity": f"{analysis.alkalinity_mg_l:g}" if analysis.known != "unknown" else "",
            "as_given": analysis.as_given,
        }
        for element in cls.PLAIN:
            start[element] = f"{sig(ions[element], 4)}" if ions.get(element) else ""
        for element, name in cls.TYPED.items():
            written, share = next(iter(WRITTEN_AS[element].items()))
            start[f"{name}_as"] = written
            start[name] = f"{sig(ions[element] / share, 4)}" if ions.get(element) else ""
        return start

    @property
    def ions(self) -> list[forms.BoundField]:
        """The fields of the table."""
        typed = ("sulfate", "sulfate_as", "nitrate", "nitrate_as")
        return [self[name] for name in ("Ca", "Mg", "Na", "K", "Cl", "B", *typed, "P")]

    @property
    def analysis(self) -> WaterAnalysis:
        """What was typed, as an analysis; of a class or a conductivity, the likely one."""
        data, known = self.cleaned_data, self.cleaned_data["known"]
        alkalinity = float(data["alkalinity"] or 0.0)
        if known == "unknown":
            return WaterAnalysis()
        if known == "hardness":
            return analysis_of_hardness(HARDNESS[data["hardness"]])
        if known == "ec":
            return analysis_of_ec(float(data["ec"]), alkalinity)
        ions = {e: float(data[e]) for e in self.PLAIN if data[e] is not None}
        for element, name in self.TYPED.items():
            if data[name] is not None:
                ions[element] = float(data[name]) * WRITTEN_AS[element][data[f"{name}_as"]]
        return WaterAnalysis(
            alkalinity_mg_l=alkalinity, ions_mg_l=ions, known=known, as_given=bool(data["as_given"])
        )

    def clean(self) -> dict[str, Any]:
        """Refuse what no water can be."""
        data = super().clean() or {}
        needed = {"hardness": ["hardness"], "ec": ["ec", "alkalinity"], "report": ["alkalinity"]}
        for name in needed.get(data.get("known", ""), []):
            if name not in self.errors and data.get(name) in (None, ""):
                self.add_error(name, "This is what the rest is reckoned from: fill it in.")
        if not self.errors and data["known"] in ("report", "strip"):
            typed = self.analysis
            try:
                check_ions(typed.ions_mg_l, typed.alkalinity_mg_l, as_given=typed.as_given)
            except PelkError as error:
                self.add_error("as_given", sentence(error))
        return data
