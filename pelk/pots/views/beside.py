"""Two seasons, or two beds of a trial, side by side."""

from __future__ import annotations

from django.http import HttpResponse
from django.shortcuts import render
from django.utils import timezone
from django.views.decorators.http import require_safe

from pelk.pots.domain.looked_back import looked_back, seasons_ended
from pelk.pots.models import PotGroup
from pelk.pots.pages.beside import Bed, rows_of, said_of
from pelk.ui.numbers import read_count
from pelk.yards.middleware import YardRequest

CHOICES = 60


@require_safe
def beside(request: YardRequest) -> HttpResponse:
    """Set two seasons side by side; none chosen lists what can be."""
    today = timezone.localdate()
    groups = list(PotGroup.objects.of(request.yard).live()[:CHOICES])
    choices = [
        (f"{group.pk}-{year}", f"{group.name}, {year}")
        for group in groups
        for year in seasons_ended(group, today)
    ]
    asked = list(dict.fromkeys(request.GET.getlist("s")))[:2]
    beds = [bed for key in asked if (bed := _bed(key, groups, {k for k, _ in choices}))]
    says, rows = [], []
    if len(beds) == 2:
        first, second = beds
        says = said_of(first, second)
        rows = rows_of(first, second, request.yard.measures.mass)
    context = {
        "choices": choices,
        "asked": asked,
        "same": len(request.GET.getlist("s")) > 1 and len(asked) == 1,
        "beds": beds,
        "says": says,
        "rows": rows,
    }
    return render(request, "pots/beside.html", context)


def _bed(key: str, groups: list[PotGroup], known: set[str]) -> Bed | None:
    if key not in known:
        return None
    pk, _, year = key.partition("-")
    group = next(g for g in groups if g.pk == read_count(pk))
    return Bed(key, group, int(year), looked_back(group, int(year), timezone.localdate()))
