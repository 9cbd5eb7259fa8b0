"""One tap: they were watered today."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_POST

from pelk.core.base.errors import PelkError
from pelk.pots.domain.watering import TELL_PACE, is_tap, pace_of
from pelk.pots.models import PotDeed
from pelk.pots.pages import said
from pelk.pots.services import groups as services
from pelk.pots.views.groups import own_group
from pelk.ui.refusals import sentence
from pelk.ui.undo import say_with_undo
from pelk.yards.middleware import YardRequest


@require_POST
def watered(request: YardRequest, group: int) -> HttpResponse:
    """Write down that some pots were watered today, once."""
    row, today = own_group(request, group), timezone.localdate()
    deeds = list(row.deeds.filter(deleted_at=None, kind__in=TELL_PACE))
    if any(is_tap(d) and d.on == today for d in deeds):
        messages.info(request, said.WATERED_ALREADY)
        return redirect(row)
    try:
        deed = services.write_deed(
            group=row, by=request.user, kind=PotDeed.Kind.WATERED, on=today, refreshes=False
        )
    except PelkError as error:
        messages.error(request, sentence(error))
        return redirect(row)
    pace = pace_of([deed, *deeds], today)
    every = said.ABOUT_EVERY.format(days=pace.days) if pace else ""
    text = said.WATERED.format(name=row.name) + every
    say_with_undo(request, text, reverse("pots:deed_delete", args=[deed.pk]))
    return redirect(row)
