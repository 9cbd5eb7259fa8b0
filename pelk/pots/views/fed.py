"""The page that says what a feed would do, and writes it down."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from pelk.bench.views.entering import shop_of
from pelk.core.base.errors import PelkError
from pelk.pots.domain.fed import effect_of
from pelk.pots.forms.fed import FedForm
from pelk.pots.pages import said
from pelk.pots.services.fed import give
from pelk.pots.views.groups import own_group
from pelk.ui.refusals import sentence
from pelk.yards.doors.limits import FOLLOWS, limited
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest


@require_http_methods(["GET", "POST"])
@limited(FOLLOWS)
@once("write")
def fed(request: YardRequest, group: int) -> HttpResponse:
    """Ask what was given; "look" shows what it does, "write" keeps it."""
    row = own_group(request, group)
    shop = shop_of(request.yard)
    form = FedForm(request.POST or None, group=row, shop=shop)
    effect = None
    if request.method == "POST" and form.is_valid() and form.given is not None:
        on, given = form.cleaned_data["on"], form.given
        try:
            effect = effect_of(row, given, on)
            if request.POST.get("action") == "write":
                give(
                    group=row,
                    by=request.user,
                    given=given,
                    material=shop.fillings.material(given.slug),
                    on=on,
                    said=form.cleaned_data["said"],
                )
                messages.success(request, said.WRITTEN_DOWN.format(what=given.reads))
                return redirect(row)
        except PelkError as error:
            form.add_error("said", sentence(error))
            effect = None
    context = {"group": row, "form": form, "effect": effect, "given": form.given}
    return render(request, "pots/fed.html", context)
