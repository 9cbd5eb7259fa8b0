"""The pH desk: quick answers without a recipe."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_safe

from pelk.pots.forms.desk import SoilForm, WaterForm
from pelk.pots.pages.desk import can_of, myths, ways
from pelk.yards.middleware import YardRequest


@require_safe
def ph_desk(request: YardRequest) -> HttpResponse:
    """Answer how to raise or lower a soil, or sour a can of water, without a recipe."""
    is_water = request.GET.get("way") == "water"
    kind = WaterForm if is_water else SoilForm
    first = kind(yard=request.yard)
    usual = {b.name: b.initial or "" for b in first} | {"soil": "peat-bark", "of": "volume"}
    form = kind({**usual, **request.GET.dict()}, yard=request.yard)
    context: dict[str, Any] = {"form": form, "is_water": is_water, "myths": myths()}
    if form.is_valid():
        if isinstance(form, WaterForm):
            context["can"] = can_of(form, request.yard)
        else:
            context["ways"] = ways(form, request.yard)
    return render(request, "pots/ph_desk.html", context)
