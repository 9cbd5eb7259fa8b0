"""The page for potting on."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods

from pelk.core.base.errors import PelkError
from pelk.pots.forms.pot_on import PotOnForm
from pelk.pots.pages import said
from pelk.pots.selectors import heaps_left
from pelk.pots.services import pot_on as services
from pelk.pots.views.groups import own_group
from pelk.ui.refusals import sentence
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest


@require_http_methods(["GET", "POST"])
@once()
def pot_on(request: YardRequest, group: int) -> HttpResponse:
    """Ask for the new pots and the mix; POST puts them in."""
    row = own_group(request, group)
    heaps = heaps_left(request.yard, timezone.localdate())
    form = PotOnForm(request.POST or None, group=row, heaps=heaps)
    if request.method == "POST" and form.is_valid():
        data = form.cleaned_data
        try:
            services.pot_on(
                group=row,
                by=request.user,
                batch=form.heaps[data["heap"]],
                said=form.said,
                kept_l=form.kept_l,
                on=data["on"],
            )
        except PelkError as error:
            field = {"batch": "heap", "on": "on"}.get(error.path, "litres")
            form.add_error(field, sentence(error))
        else:
            messages.success(request, said.POTTED_ON.format(name=row.name))
            return redirect(row)
    return render(request, "pots/pot_on.html", {"group": row, "form": form, "heaps": heaps})
