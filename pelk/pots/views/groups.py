"""Pages of Pots: groups, what fills them, the planting card."""

from __future__ import annotations

from datetime import date
from typing import Any

from django.core.paginator import Paginator
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.urls import reverse
from django.utils import timezone
from django.views.decorators.http import require_http_methods, require_safe

from pelk.core.base.errors import PelkError
from pelk.core.vessels.trade_pots import filled_volume
from pelk.cure.models import MeterCheckRow
from pelk.pots.domain.due import FeedRow, due_of_pots, rows_of
from pelk.pots.domain.feeding import plan_of
from pelk.pots.domain.harvest import guards_of, not_before
from pelk.pots.domain.planned import planned_events
from pelk.pots.domain.seasons import seasons
from pelk.pots.domain.winter import RAIN_MM, winter_of
from pelk.pots.forms.groups import DeedForm, GroupForm
from pelk.pots.forms.winter import WinterForm
from pelk.pots.models import PotDeed, PotFill, PotGroup
from pelk.pots.pages.feeding import says
from pelk.pots.pages.life import Ahead, last_day, soil_page
from pelk.pots.pages.yard_plan import yard_plan
from pelk.pots.selectors import layers_of, seasons_of
from pelk.pots.services import groups as services
from pelk.soils.domain.living import follow
from pelk.soils.domain.measure_next import next_for
from pelk.ui.appetite import appetite
from pelk.ui.measure_says import measure_said
from pelk.ui.pot_picture import pot_svg
from pelk.yards.doors.once import once
from pelk.yards.middleware import YardRequest

PER_PAGE = 40
DEEDS = 60
NEXT = 8
# Rows of a plan that one page of paper holds.
ON_PAPER = 22
YEARS = 10


@require_safe
def groups(request: YardRequest) -> HttpResponse:
    """Show the groups by where they stand, as a plan or a list."""
    all_groups = PotGroup.objects.of(request.yard).live()
    page = Paginator(all_groups, PER_PAGE).get_page(request.GET.get("page"))
    due: dict[int, FeedRow] = {}
    for row in due_of_pots(request.yard, timezone.localdate()):
        due.setdefault(row.group.pk, row)
    fills = PotFill.objects.of(request.yard).live().filter(group__in=list(page))
    filled = fills.select_related("batch").defer("batch__document")
    plan = yard_plan(list(page), list(filled), due, timezone.localdate(), request.yard.measures)
    as_list = request.GET.get("as") == "list"
    context = {"page": page, "plan": plan, "as_list": as_list}
    return render(request, "pots/groups.html", context)


@require_http_methods(["GET", "POST"])
@once()
def new(request: YardRequest) -> HttpResponse:
    """Describe a new group."""
    return _describe(request, None)


@require_http_methods(["GET", "POST"])
def edit(request: YardRequest, group: int) -> HttpResponse:
    """Describe a group otherwise."""
    return _describe(request, own_group(request, group))


def _describe(request: YardRequest, row: PotGroup | None) -> HttpResponse:
    if request.method == "POST":
        form = GroupForm(request.POST, yard=request.yard)
        if form.is_valid():
            kept = services.keep_group(yard=request.yard, by=request.user, group=row, **form.said)
            return redirect(kept)
    else:
        form = GroupForm.of(row, request.yard) if row else GroupForm(yard=request.yard)
    return render(request, "pots/describe.html", {"form": form, "group": row})


@require_safe
def group(request: YardRequest, group: int) -> HttpResponse:
    """Show a group: what fills it, its feeding planned and done, what was seen."""
    row = own_group(request, group)
    return render(
        request,
        "pots/group.html",
        group_context(request, row, DeedForm(yard=request.yard, initial=_asked_kind(request))),
    )


def _asked_kind(request: YardRequest) -> dict[str, str]:
    """Return which kind of deed is to be written, where the address says so."""
    kind = request.GET.get("kind", "")
    return {"kind": kind} if kind in PotDeed.Kind.values else {}


def group_context(request: YardRequest, row: PotGroup, form: DeedForm) -> dict[str, Any]:
    """Return what a group's page shows."""
    today = timezone.localdate()
    fills = list(row.fills.filter(deleted_at=None).select_related("batch"))
    deeds = row.deeds.filter(deleted_at=None).select_related("event")
    measures, plan = request.yard.measures, plan_of(row, today)
    rows = rows_of(row, deeds.answering(), today)
    ahead = [r for r in rows if not r.is_past]
    filled = [(f, measures.volume(f.taken_l)) for f in fills]
    guards = guards_of(row, fills, list(deeds.guarding()))
    return {
        **_winter(request, row),
        **_life(row, today, ahead),
        "guards": guards,
        "not_before": not_before(guards),
        "today": today,
        "group": row,
        "fills": filled,
        "pot": pot_svg(layers_of(fills)),
        "holds": measures.volume(filled_volume(row.vessels)),
        "each": measures.volume(filled_volume(row.vessels) / row.count),
        "seasons": seasons_of(row, fills, today),
        "plan": plan,
        "form": form,
        "rows": ahead[:NEXT],
        "later": ahead[NEXT:],
        "sheet": ahead[:ON_PAPER],
        "not_on_sheet": max(len(ahead) - ON_PAPER, 0),
        "past": [r for r in rows if r.is_past],
        "count": len(rows),
        "done": sum(1 for r in rows if r.is_decided),
        "says": says(row, plan, today) if plan else None,
        "appetite": appetite(plan, today) if plan else None,
        # Done rows of the plan stand in it; those it no longer has stand here.
        "deeds": deeds.exclude(key__in=[r.key for r in rows if r.deed])[:DEEDS],
    }


# What can be written down from the soil's life: mark and word, and the kind of deed.
FIVES = (("read", "I read", "reading"), ("harvested", "I picked", "harvest"))


# What a row of the plan is on the lane of events.
PLANNED = {
    "dress": "dressed",
    "need": "dressed",
    "acid": "dressed",
    "potash": "dressed",
    "coated": "dressed",
}
PLANNED |= {"liquid": "poured", "tea": "poured", "water": "rinsed", "top up": "topped"}


def _life(row: PotGroup, today: date, ahead: list[FeedRow]) -> dict[str, Any]:
    """Return the soil that goes on in some pots, followed; nothing where it is not known."""
    if row.soil is None:
        return {"soil": None}
    events = list(row.soil.events.filter(deleted_at=None))
    try:
        forecast = follow(row.soil, last_day(row.soil, events, today))
    except PelkError as error:
        return {"soil": None, "soil_problem": error.message}
    address = row.get_absolute_url()
    fives = [(f"{address}?kind={kind}#write", do, word) for do, word, kind in FIVES]
    fives.insert(1, (reverse("pots:fed", args=[row.pk]), "dressed", "I fed"))
    fives.insert(2, (reverse("pots:saw", args=[row.pk]), "saw", "I saw"))
    planned = [
        (r.feeding.on, PLANNED[r.feeding.kind], r.title)
        for r in ahead
        if r.feeding.on and r.feeding.kind in PLANNED
    ]
    to_come = planned_events(row, ahead, today)
    fed = follow(row.soil, forecast.dates[-1], samples=0, more=to_come) if to_come else None
    page = soil_page(row.soil, forecast, events, today, Ahead(planned, fed))
    first = next((r for r in ahead if r.feeding.on), None)
    checked = MeterCheckRow.pen_is_checked(row.yard_id)
    advised = next_for(forecast, row.soil.day_of(today), pen_is_checked=checked)
    measure = measure_said(advised, row.soil.date_of) if advised else None
    services.keep_measure(row, measure)
    return {"soil": page, "fives": fives, "first": first, "measure": measure}


def _winter(request: YardRequest, row: PotGroup) -> dict[str, Any]:
    """Return what a winter would take, with the rain that was asked for."""
    asked = request.GET if "rain" in request.GET else {"rain": RAIN_MM}
    form = WinterForm(asked)
    if not form.is_valid():
        return {"winter_form": form, "winter": None}
    data = form.cleaned_data
    card = winter_of(row, data["rain"], covered=data["covered"])
    return {"winter_form": form, "winter": card}


@require_safe
def years(request: YardRequest, group: int) -> HttpResponse:
    """Show a group by the year."""
    row = own_group(request, group)
    fills = row.fills.filter(deleted_at=None).select_related("batch")
    by_year = seasons(list(fills), list(row.deeds.filter(deleted_at=None).select_related("event")))
    page = Paginator(by_year, YEARS).get_page(request.GET.get("page"))
    measures = request.yard.measures
    rows = [(season, measures.mass(1000 * season.kg) if season.kg else "") for season in page]
    return render(request, "pots/seasons.html", {"group": row, "page": page, "rows": rows})


def own_group(request: YardRequest, pk: int) -> PotGroup:
    """Return a live group of the yard, or 404."""
    row: PotGroup = get_object_or_404(PotGroup.objects.of(request.yard).live(), pk=pk)
    return row
