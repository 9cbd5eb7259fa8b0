"""The planting card: some pots built in layers from a heap, and what really went in."""

from __future__ import annotations

from typing import Any

from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from pelk.bench.views.entering import shop_of
from pelk.core.base.errors import PelkError
from pelk.core.base.rounding import sig
from pelk.core.old_soil.inspection import is_same_family
from pelk.pots.forms.groups import FillForm
from pelk.pots.forms.planting import BuildForm
from pelk.pots.models import PotGroup
from pelk.pots.pages import said
from pelk.pots.pages.planting import PlantingPage, planting_page
from pelk.pots.selectors import HeapLeft, family_in, heaps_left
from pelk.pots.services.planting import plant_in_layers
from pelk.pots.views.groups import own_group
from pelk.ui.refusals import sentence
from pelk.yards.middleware import YardRequest


@require_http_methods(["GET", "POST"])
def plant(request: YardRequest, group: int) -> HttpResponse:
    """Show the planting card; POST writes down what really went in."""
    row = own_group(request, group)
    heaps = heaps_left(request.yard, timezone.localdate())
    typed = request.POST if request.method == "POST" else request.GET
    chosen = next((h for h in heaps if str(h.batch.pk) == typed.get("batch", "")), None)
    build = BuildForm(typed if typed else None, group=row, shop=shop_of(request.yard))
    card = _card(row, chosen, build)
    last = family_in(chosen.batch) if chosen else ""
    unit = request.yard.measures
    suggested = {"taken": sig(unit.space(card.now_l), 3)} if card else {}
    form = FillForm(request.POST or None, yard=request.yard, initial=suggested)
    if request.method == "POST" and form.is_valid() and build.is_valid():
        if chosen is None and not form.cleaned_data["what"]:
            form.add_error("what", said.CHOOSE_HEAP)
        else:
            _keep(request, row, chosen, form, build, card)
            return redirect(row)
    context: dict[str, Any] = {
        "group": row,
        "heaps": heaps,
        "chosen": chosen,
        "card": card,
        "build": build,
        "form": form,
        "same_family": last if is_same_family(last, row.family) else "",
    }
    return render(request, "pots/plant.html", context)


def _card(row: PotGroup, chosen: HeapLeft | None, build: BuildForm) -> PlantingPage | None:
    """Return the card; what leaves no room is said beside its field, and left out."""
    if chosen is None:
        return None
    today = timezone.localdate()
    try:
        return planting_page(row, chosen, build.asked, today)
    except PelkError as error:
        if build.is_bound:
            field = error.path if error.path in build.fields else "mulch"
            build.add_error(field, sentence(error))
        return planting_page(row, chosen, type(build.asked)(), today)


def _keep(
    request: YardRequest,
    row: PotGroup,
    chosen: HeapLeft | None,
    form: FillForm,
    build: BuildForm,
    card: PlantingPage | None,
) -> None:
    data = form.cleaned_data
    filled = int(data["filled"]) if data["filled"] else row.count
    whole = card is not None and data["how"] == "filled" and not build.asked.is_half
    plant_in_layers(
        group=row,
        by=request.user,
        hole=build.asked.hole,
        shop=build.shop,
        taken_l=form.taken_l,
        how=data["how"],
        on=data["on"],
        what=chosen.batch.name if chosen else data["what"],
        batch=chosen.batch if chosen else None,
        reckoned_l=card.reckoned_l * filled / row.count if card and whole else None,
        filled_count=filled,
        seasons=int(data["seasons"] or 0),
        plants=data["how"] == "filled",
    )
