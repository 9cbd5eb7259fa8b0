"""What is typed at the barrow: what it is mixed in, what is there already, what really went in."""

from __future__ import annotations

from datetime import date, datetime, time
from typing import Any

from django import forms
from django.utils import timezone

from pelk.barrow.domain.mixing_vessels import VESSELS, MixedIn
from pelk.barrow.models import Batch
from pelk.core.base.rounding import sig
from pelk.core.evaluation.evaluate import Evaluation
from pelk.ui.days import DayField
from pelk.ui.forms import MarkedForm, NumberField
from pelk.ui.units import sizes
from pelk.yards.models import Yard

OLDEST_DAYS = 730


class MakeForm(MarkedForm):
    """What a batch is mixed in, and what lies in it already."""

    vessel = forms.ChoiceField(
        label="mixed in", choices=[(v.key, v.name) for v in VESSELS.values()]
    )
    mixed_on = DayField(label="mixed already, on", required=False)

    def __init__(self, *args: Any, yard: Yard, evaluation: Evaluation, **kwargs: Any) -> None:
        self.yard, self.evaluation = yard, evaluation
        super().__init__(*args, **kwargs)
        unit = yard.measures.space_unit
        barrow = sig(yard.measures.space(yard.barrow_l))
        self.fields["holds"] = NumberField(
            label=f"holds, {unit}", low=0.1, high=1e5, required=False
        )
        self.fields["holds"].widget.attrs["placeholder"] = f"barrow {barrow}"
        for line in evaluation.bulk:
            self.fields[f"there_{line.material.slug}"] = NumberField(
                label=line.material.short_name, required=False, high=1e5
            )

    @property
    def there_fields(self) -> list[forms.BoundField]:
        """One field a part: what is there already."""
        return [self[name] for name in self.fields if name.startswith("there_")]

    def clean(self) -> dict[str, Any]:
        """Refuse more in the barrow than the batch takes."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        size = sizes()[self.yard.measures.space_unit]
        self.there: dict[str, float] = {}
        for line in self.evaluation.bulk:
            name = f"there_{line.material.slug}"
            litres = (data.get(name) or 0.0) * size
            if litres > line.loose_l * 1.001:
                takes = self.yard.measures.volume(line.loose_l)
                self.add_error(name, f"The batch takes {takes} of it: make it larger.")
            elif litres:
                self.there[line.material.slug] = litres
        return data

    def clean_mixed_on(self) -> date | None:
        """Take a day that has been, and not too long ago to follow."""
        on: date | None = self.cleaned_data["mixed_on"]
        if on is not None and on > timezone.localdate():
            raise forms.ValidationError("That day is in the future. Leave it blank to mix it now.")
        if on is not None and (timezone.localdate() - on).days > OLDEST_DAYS:
            raise forms.ValidationError("That is over two years ago. Enter it as old soil instead.")
        return on

    @property
    def mixed_at(self) -> datetime | None:
        """Noon of the day it was mixed, as the yard counts days; now, where it is today."""
        on: date | None = self.cleaned_data.get("mixed_on")
        if on is None:
            return None
        noon = timezone.make_aware(datetime.combine(on, time(12)))
        return min(noon, timezone.now())

    @property
    def mixed_in(self) -> MixedIn:
        """What the batch is cut into loads for."""
        size = sizes()[self.yard.measures.space_unit]
        kind = VESSELS[self.cleaned_data["vessel"]]
        typed = self.cleaned_data.get("holds")
        usual = self.yard.barrow_l if kind.is_carried else kind.litres
        limit = self.yard.barrow_limit_kg if kind.is_carried else None
        return MixedIn(kind.key, typed * size if typed else usual, limit)


class MadeForm(MarkedForm):
    """What really went in, line by line; what was planned stands in every field."""

    def __init__(
        self,
        *args: Any,
        batch: Batch,
        evaluation: Evaluation,
        as_mixed: dict[str, Any] | None = None,
        **kw: Any,
    ) -> None:
        self.evaluation = evaluation
        litres = as_mixed["litres"] if as_mixed else {}
        grams = dict(enumerate(as_mixed["grams"])) if as_mixed else {}
        measures = batch.measures
        self.size, self.weight = sizes()[measures.space_unit], 1.0
        weigh = "g"
        if measures.is_us:
            self.weight, weigh = sizes()["oz"], "oz"
        super().__init__(*args, **kw)
        for b in evaluation.bulk:
            self.fields[f"part_{b.material.slug}"] = NumberField(
                label=f"{b.material.short_name}, {measures.space_unit}",
                high=1e6,
                initial=sig(measures.space(litres.get(b.material.slug, b.loose_l)), 4),
            )
        for i, d in enumerate(evaluation.doses):
            self.fields[f"dose_{i}"] = NumberField(
                label=f"{d.material.short_name}, {weigh}",
                high=1e7,
                initial=sig(grams.get(i, d.grams.typ) / self.weight, 4),
            )

    def clean(self) -> dict[str, Any]:
        """Ask for at least one part."""
        data: dict[str, Any] = super().clean() or self.cleaned_data
        if not self.errors and not any(self.litres.values()):
            raise forms.ValidationError("Enter at least one amount.")
        return data

    @property
    def litres(self) -> dict[str, float]:
        """Loose, of each part. [L]."""
        return {
            b.material.slug: self.cleaned_data[f"part_{b.material.slug}"] * self.size
            for b in self.evaluation.bulk
        }

    @property
    def grams(self) -> list[float]:
        """Of each dose. [g]."""
        return [
            self.cleaned_data[f"dose_{i}"] * self.weight for i in range(len(self.evaluation.doses))
        ]
