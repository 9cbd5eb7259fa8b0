"""A lab report taken in; what is decided on its rows; a sample to send."""

from __future__ import annotations

from typing import Any

from django import forms
from django.db.models import F
from django.http import QueryDict
from django.utils import timezone

from pelk.core.lab.lab_reports import BASES, METHODS
from pelk.core.lab.lime_requirement import BUFFERS
from pelk.core.lab.report_lines import read_report
from pelk.shelf.domain.families import FAMILIES
from pelk.shelf.models.materials import Material, ShelfItem
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, offer
from pelk.ui.numbers import read_number
from pelk.ui.uploads import UploadError, text_of
from pelk.yards.models import Yard

LARGEST = 300_000
EC_NAMES = {
    "sme": "saturated extract",
    "1:2": "1 to 2 with water",
    "1:5": "1 to 5 with water",
    "pour-through": "pour-through",
}


def sampled(yard: Yard) -> list[tuple[str, list[tuple[str, str]]]]:
    """Return what a sample can be of: the shelf first, then all, by family."""
    mine = set(ShelfItem.objects.of(yard).values_list("material_id", flat=True))
    on_shelf: list[tuple[str, str]] = []
    groups: dict[str, list[tuple[str, str]]] = {}
    rows = Material.objects.listed_for(yard).values_list("pk", "slug", "name", "family")
    for pk, slug, name, family in rows[:1000]:
        if pk in mine:
            on_shelf.append((slug, name))
        groups.setdefault(FAMILIES.get(family, family), []).append((slug, name))
    return [("On your shelf", on_shelf), *groups.items()]


class SampleForm(MarkedForm):
    """What a sample is of."""

    material = forms.ChoiceField(label="Sample of")

    def __init__(self, *args: Any, yard: Yard, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.yard = yard
        offer(self, "material", [("", "choose"), *sampled(yard)])

    @property
    def chosen(self) -> Material:
        """The material, the yard's own before the shared."""
        visible = Material.objects.visible_to(self.yard).with_analysis()
        rows = visible.filter(slug=self.cleaned_data["material"]).order_by(
            F("yard_id").desc(nulls_last=True)
        )
        return rows[0]


class ReportForm(SampleForm):
    """A report as it came: what it is of, by which method, and its rows."""

    lab = forms.CharField(label="Laboratory", required=False, max_length=80)
    dated = DayField(label="Date", initial=timezone.localdate)
    method = forms.ChoiceField(label="Its numbers are", choices=list(METHODS.items()))
    basis = forms.ChoiceField(
        label="Where a row does not say, it counts", choices=list(BASES.items())
    )
    ec_method = forms.ChoiceField(
        label="Salts were read in", choices=list(EC_NAMES.items()), initial="1:5"
    )
    text = forms.CharField(
        label="The report",
        required=False,
        widget=forms.Textarea(attrs={"rows": 10}),
        help_text="Paste it, or type a row a line: a name, a number, its unit. "
        "Such as: Total N 1.62 % dry.",
    )
    file = forms.FileField(label="or a file (CSV or text)", required=False)

    field_order = ["material", "lab", "dated", "method", "basis", "ec_method", "text", "file"]

    def clean_file(self) -> str:
        """Read a file as text."""
        file = self.cleaned_data.get("file")
        if not file:
            return ""
        try:
            return text_of(file, LARGEST)
        except UploadError as error:
            raise forms.ValidationError(error.message) from error

    def clean(self) -> dict[str, Any]:
        """See that something can be read of it."""
        data = super().clean() or {}
        text = data.get("file") or data.get("text", "")
        data["whole"] = text.replace("\0", "")
        if "file" not in self.errors and not any(not r.problem for r in read_report(text)):
            self.add_error(
                "text",
                "No row could be read. Each needs a name, a number and a unit, such as "
                "“Total N 1.62 % dry”.",
            )
        return data

    @property
    def report_fields(self) -> dict[str, Any]:
        """What the report is kept with."""
        data = self.cleaned_data
        kept = {name: data[name] for name in ("lab", "dated", "method", "basis", "ec_method")}
        return {**kept, "material": self.chosen, "text": data["whole"]}


def decisions_of(post: QueryDict) -> tuple[dict[str, str], dict[str, str]]:
    """Return what was decided by line, and a sentence for each number that is none."""
    decisions: dict[str, str] = {}
    problems: dict[str, str] = {}
    for name in post:
        value = post.get(name, "")
        _, _, line = name.partition("row-")
        if not line.isdecimal():
            continue
        if value == "other":
            number = read_number(post.get(f"other-{line}", ""))
            if number is None:
                problems[line] = "Enter one number, such as 0.17."
                continue
            value = f"={number!r}"
        mended = value.startswith("=") and read_number(value[1:]) is not None
        named = value in {f"as:{key}" for key in BUFFERS}
        if value in ("", "leave", "keep") or mended or named:
            decisions[line] = value[:40]
    return decisions, problems
