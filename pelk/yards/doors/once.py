"""A form that makes something makes it once, however often its button is pressed."""

from __future__ import annotations

import time
from collections.abc import Callable
from functools import wraps
from typing import Any

from django.db import IntegrityError, transaction
from django.http import HttpResponse, HttpResponseRedirect
from django.utils.http import url_has_allowed_host_and_scheme

from pelk.yards.middleware import YardRequest
from pelk.yards.models import Done

FIELD = "once"
LONGEST = 64
# How long the second press waits for where the first one leads.
WAITS_S, STEP_S = 4.0, 0.1
View = Callable[..., HttpResponse]


def once(*actions: str) -> Callable[[View], View]:
    """Run a view's post with one key once; a second one is led where the first was.

    A post that is refused, with its page shown again, may be sent again. Where actions are
    named, others are not counted: trying out writes nothing.
    """

    def wrapped(view: View) -> View:
        return _held(view, frozenset(actions))

    return wrapped


def _held(view: View, actions: frozenset[str]) -> View:
    @wraps(view)
    def held(request: YardRequest, *args: Any, **kwargs: Any) -> HttpResponse:
        key = request.POST.get(FIELD, "") if request.method == "POST" else ""
        # A database keeps no NUL in its texts.
        key = key.replace("\0", "")[:LONGEST]
        if not key or (actions and request.POST.get("action", "") not in actions):
            return view(request, *args, **kwargs)
        try:
            with transaction.atomic():
                row = Done.objects.create(key=key, user=request.user)
        except IntegrityError:
            return _led(request, key)
        try:
            answer = view(request, *args, **kwargs)
        except BaseException:
            row.delete()
            raise
        where = answer.headers.get("Location", answer.headers.get("HX-Redirect", ""))
        if where:
            Done.objects.filter(pk=row.pk).update(led_to=where[:300])
        else:
            row.delete()
        return answer

    return held


def _led(request: YardRequest, key: str) -> HttpResponse:
    """Lead a second press where the first one led, once that is known."""
    until = time.monotonic() + WAITS_S
    while time.monotonic() < until:
        row = Done.objects.filter(user=request.user, key=key).first()
        if row is None:
            break
        if row.led_to and url_has_allowed_host_and_scheme(row.led_to, {request.get_host()}):
            return HttpResponseRedirect(row.led_to)
        time.sleep(STEP_S)
    return HttpResponseRedirect(request.path)
