"""How pots are built: mulch, half now, what goes into the planting hole as it is said."""

from __future__ import annotations

import re
from typing import Any

from django import forms

from pelk.bench.forms.entry_lines import Shop
from pelk.core.base.errors import UnknownError
from pelk.core.base.rounding import sig
from pelk.core.simulation.life import Placed
from pelk.core.vessels.planting import MULCH_CM
from pelk.pots.domain.planting import Asked, HolePiece
from pelk.pots.forms.fed import EACH, SAID_MAX, FedForm
from pelk.pots.models import PotGroup
from pelk.ui.forms import MarkedForm, NumberField

# A comma that an amount follows begins the next piece; names hold commas of their own.
NEXT_PIECE = re.compile(r";|,\s*(?=\d|an?\s|half\s|one\s|two\s)")
LEAST_MULCH_CM, MOST_MULCH_CM = 0.0, 15.0


class BuildForm(MarkedForm):
    """How some pots are built."""

    mulch = NumberField(required=False)
    hole = forms.CharField(
        label="into the planting hole of each pot", required=False, max_length=SAID_MAX
    )
    half = forms.BooleanField(label="half now, top up later", required=False)
    wet = forms.BooleanField(label="the ground under it stays wet", required=False)

    def __init__(self, *args: Any, group: PotGroup, shop: Shop, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self.group, self.shop = group, shop
        name, self.unit_cm = group.yard.measures.length
        self.fields["mulch"].label = f"mulch, {name} deep"
        self.fields["mulch"].widget.attrs["placeholder"] = sig(MULCH_CM / self.unit_cm, 2)
        if group.kind != "bed":
            del self.fields["wet"]
        self.pieces: tuple[HolePiece, ...] = ()

    def clean_mulch(self) -> float:
        """Take the usual depth where it was left blank. [cm]."""
        typed = self.cleaned_data.get("mulch")
        if typed is None:
            return MULCH_CM
        deep = float(typed) * self.unit_cm
        if not LEAST_MULCH_CM <= deep <= MOST_MULCH_CM:
            most = sig(MOST_MULCH_CM / self.unit_cm, 2)
            raise forms.ValidationError(f"Mulch is 0 to {most} deep.")
        return deep

    def clean_hole(self) -> str:
        """Understand what goes into the hole, piece by piece."""
        said: str = self.cleaned_data.get("hole", "").strip()
        pieces = []
        for text in (piece.strip() for piece in NEXT_PIECE.split(said)):
            if text:
                pieces.append(self._piece(text))
        self.pieces = tuple(pieces)
        return said

    def _piece(self, text: str) -> HolePiece:
        typed = {"said": text, "share": EACH, "placed": Placed.TOP_THIRD.value}
        form = FedForm(typed, group=self.group, shop=self.shop)
        if not form.is_valid():
            named = [s for s, name in form.choices if text.lower().endswith(name.lower())]
            if len(named) == 1:
                form = FedForm({**typed, "meant": named[0]}, group=self.group, shop=self.shop)
        if not form.is_valid() or form.given is None:
            said = next(iter(form.errors.get("said", ["It was not understood."])))
            names = ", ".join(name for _, name in form.choices[:4])
            raise forms.ValidationError(f"“{text}”: {said}{f' {names}.' if names else ''}")
        material = self.shop.fillings.material(form.given.slug)
        try:
            litres = form.given.grams / 1000 / material.loose_density().typ
        except UnknownError:
            litres = 0.0
        return HolePiece(form.given, text, litres)

    @property
    def asked(self) -> Asked:
        """How the pots are to be built; as usual where it was not said or not understood."""
        _ = self.errors  # cleaned once
        data = self.cleaned_data if self.is_bound else {}
        return Asked(
            mulch_cm=data.get("mulch", MULCH_CM),
            is_half=bool(data.get("half")),
            is_wet_below=bool(data.get("wet")),
            hole=self.pieces if "hole" in data else (),
        )
