"""What is done with pots: the plan ticked, things seen and read written down."""

from __future__ import annotations

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST

from pelk.core.base.errors import PelkError
from pelk.pots.domain.due import rows_of
from pelk.pots.domain.harvest import guards_of, not_before
from pelk.pots.forms.groups import DeedForm
from pelk.pots.models import PotDeed
from pelk.pots.pages import said
from pelk.pots.services import groups as services
from pelk.pots.views.groups import group_context, own_group
from pelk.ui.pages import way_back
from pelk.ui.refusals import sentence
from pelk.yards.middleware import YardRequest


@require_POST
def decide(request: YardRequest, group: int) -> HttpResponse:
    """Tick a row of the plan, skip it, or take that back."""
    row = own_group(request, group)
    today = timezone.localdate()
    deeds = row.deeds.filter(deleted_at=None).answering()
    key, action = request.POST.get("key", ""), request.POST.get("action", "")
    feed_row = next((r for r in rows_of(row, deeds, today) if r.key == key), None)
    if feed_row is None:
        messages.error(request, said.NOT_PLANNED)
    elif action == "back" and feed_row.deed:
        services.DEEDS.put_away(feed_row.deed, by=request.user)
    elif action in (PotDeed.Kind.DONE, PotDeed.Kind.SKIPPED) and not feed_row.deed:
        try:
            services.decide(row=feed_row, by=request.user, kind=action, on=today)
        except PelkError as error:
            messages.error(request, sentence(error))
    return way_back(request, row.get_absolute_url())


@require_http_methods(["GET", "POST"])
def write(request: YardRequest, group: int) -> HttpResponse:
    """Write down what was read, seen or done; who comes back to its address sees the group."""
    row = own_group(request, group)
    if request.method == "GET":
        return redirect(row)
    fills = list(row.fills.filter(deleted_at=None).select_related("batch"))
    given = row.deeds.filter(deleted_at=None).guarding().select_related("event")
    guards = guards_of(row, fills, list(given))
    form = DeedForm(request.POST, yard=request.yard, not_before=not_before(guards))
    if not form.is_valid():
        return render(request, "pots/group.html", group_context(request, row, form))
    warnings, said = form.warnings(row), form.said
    try:
        if said["kind"] == PotDeed.Kind.PLANTED:
            plants = services.plant_beside if form.cleaned_data["beside"] else services.plant_again
            plants(group=row, by=request.user, plant=said["text"], on=said["on"])
        else:
            services.write_deed(group=row, by=request.user, **said)
    except PelkError as error:
        form.add_error(None, sentence(error))
        return render(request, "pots/group.html", group_context(request, row, form))
    for warning in warnings:
        messages.warning(request, warning)
    return redirect(row)
