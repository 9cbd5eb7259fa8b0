"""What is due with heaps: done, skipped, put off; planted anyway; the calendar."""

from __future__ import annotations

from datetime import timedelta

from django.contrib import messages
from django.contrib.auth.decorators import login_not_required
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_POST, require_safe

from pelk.barrow.models import Batch
from pelk.cure.domain.calendars import calendar_of
from pelk.cure.domain.due import DueRow, due_rows
from pelk.cure.domain.learning import learned
from pelk.cure.domain.visits import visits_of
from pelk.cure.models import CalendarFeed, Decision
from pelk.cure.pages import said
from pelk.cure.pages.heap import unmet_rows
from pelk.cure.services import due as services
from pelk.cure.views.heaps import own_heap
from pelk.ui.pages import way_back
from pelk.yards.extensions import events_of_yard
from pelk.yards.middleware import YardRequest

SNOOZE_DAYS = 3
ICS = "text/calendar; charset=utf-8"


@require_POST
def decide(request: YardRequest, batch: int) -> HttpResponse:
    """Say that something due is done, skipped or put off; or still to do."""
    row = own_heap(request, batch)
    due = _named(row, request.POST.get("key", ""))
    action = request.POST.get("action", "")
    if action == "back":
        services.take_back(batch=row, by=request.user, key=due.due.key, name=due.name)
    elif action in Decision.Kind.values:
        kind = Decision.Kind(action)
        until = timezone.localdate() + timedelta(days=SNOOZE_DAYS)
        services.decide(
            batch=row,
            by=request.user,
            key=due.due.key,
            name=due.name,
            kind=kind,
            until=until if kind == Decision.Kind.SNOOZED else None,
        )
    else:
        raise Http404
    return way_back(request, reverse("cure:schedule", args=[row.pk]))


def _named(row: Batch, key: str) -> DueRow:
    decisions = Decision.objects.of(row.yard).live().filter(batch=row)
    by_key = {r.due.key: r for r in due_rows(row, decisions, timezone.localdate())}
    if key not in by_key:
        raise Http404
    return by_key[key]


@require_safe
def plan(request: YardRequest, batch: int) -> HttpResponse:
    """Show everything that is and was to do with a heap."""
    row = own_heap(request, batch)
    decisions = Decision.objects.of(request.yard).live().filter(batch=row)
    rows = due_rows(row, decisions, timezone.localdate())
    feed = CalendarFeed.objects.of(request.yard).live().first()
    address = (
        request.build_absolute_uri(reverse("cure:calendar", args=[feed.token])) if feed else ""
    )
    context = {"batch": row, "rows": rows, "feed": feed, "address": address}
    return render(request, "cure/schedule.html", context)


@require_http_methods(["GET", "POST"])
def anyway(request: YardRequest, batch: int) -> HttpResponse:
    """Plant before it is ready: what is not met is named, and a reason is asked."""
    row = own_heap(request, batch)
    if request.POST.get("action") == "back":
        services.not_planted(batch=row, by=request.user)
        return redirect("cure:heap", row.pk)
    newest = visits_of(row)
    today = (timezone.now() - row.made_at).days
    tests = list(row.sprout_tests.filter(deleted_at=None))
    unmet = unmet_rows(row, newest, tests, learned(row, newest).evaluation, today)
    reason, problem = request.POST.get("reason", ""), ""
    if request.method == "POST":
        if reason.strip():
            services.plant_anyway(
                batch=row, by=request.user, reason=reason, unmet=[r.name for r in unmet]
            )
            messages.success(request, said.NOTED)
            return redirect("cure:heap", row.pk)
        problem = said.SAY_WHY
    context = {"batch": row, "unmet": unmet, "reason": reason, "problem": problem}
    return render(request, "cure/anyway.html", context)


@require_safe
def calendar_file(request: YardRequest) -> HttpResponse:
    """Send what is due as a calendar file."""
    events = events_of_yard.ask(request.yard, timezone.localdate())
    name = said.CALENDAR.format(yard=request.yard.name)
    body = calendar_of(events, name, request.yard, request.build_absolute_uri)
    answer = HttpResponse(body, content_type=ICS)
    answer["Content-Disposition"] = 'attachment; filename="pelk-heaps.ics"'
    return answer


@login_not_required
@require_safe
def calendar(request: HttpRequest, token: str) -> HttpResponse:
    """Send what is due to a calendar that knows the private address; revoked ones are gone."""
    feed = get_object_or_404(CalendarFeed.objects.live().select_related("yard"), token=token)
    events = events_of_yard.ask(feed.yard, timezone.localdate())
    name = said.CALENDAR.format(yard=feed.yard.name)
    body = calendar_of(events, name, feed.yard, request.build_absolute_uri)
    return HttpResponse(body, content_type=ICS)


@require_POST
def feed(request: YardRequest) -> HttpResponse:
    """Make the yard a calendar address, or revoke the one it has."""
    if request.POST.get("action") == "revoke":
        services.revoke_feed(yard=request.yard, by=request.user)
        messages.success(request, said.REVOKED)
    else:
        anew = request.POST.get("action") == "another"
        services.open_feed(yard=request.yard, by=request.user, anew=anew)
    return way_back(request, reverse("cure:heaps"))
