"""People: where they are signed in."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import get_object_or_404, redirect, render
from django.utils import timezone
from django.views.decorators.http import require_POST, require_safe

from pelk.yards.middleware import YardRequest
from pelk.yards.models import Session
from pelk.yards.sessions import hashed

# What browsers call themselves -> what a person calls them; the first that fits.
BROWSERS = (
    ("Edg", "Edge"),
    ("Firefox", "Firefox"),
    ("Chrome", "Chrome or its kin"),
    ("Safari", "Safari"),
)
MACHINES = (
    ("Android", "a phone"),
    ("iPhone", "a phone"),
    ("iPad", "a tablet"),
    ("Windows", "Windows"),
    ("Mac OS", "a Mac"),
    ("Linux", "Linux"),
)


@dataclass(frozen=True, slots=True)
class SignIn:
    """A browser that is signed in."""

    pk: str
    says: str
    begun: datetime
    is_here: bool


@require_safe
def sign_ins(request: YardRequest) -> HttpResponse:
    """List the browsers a person is signed in with."""
    here = hashed(request.session.session_key or "")
    rows = Session.objects.filter(user=request.user, expire_date__gt=timezone.now())
    shown = [
        SignIn(row.pk, _named(row.browser), row.begun_at, row.pk == here)
        for row in rows.order_by("-begun_at")
    ]
    return render(request, "yards/sign_ins.html", {"rows": shown})


@require_POST
def end_sign_in(request: YardRequest, session: str) -> HttpResponse:
    """Sign one browser out, wherever it is."""
    row = get_object_or_404(Session.objects.filter(user=request.user), pk=session)
    row.delete()
    messages.success(request, "It is signed out.")
    return redirect("yards:sign_ins")


def _named(browser: str) -> str:
    """Return a browser's name as a person would say it."""
    what = next((name for mark, name in BROWSERS if mark in browser), "A browser")
    where = next((name for mark, name in MACHINES if mark in browser), "")
    return f"{what} on {where}" if where else what
