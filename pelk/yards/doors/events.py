"""What concerns safety is said in the log of the service, with nothing secret in it."""

from __future__ import annotations

import logging
from typing import Any

from axes.signals import user_locked_out
from django.contrib.auth.signals import user_logged_in, user_logged_out, user_login_failed
from django.http import HttpRequest

from pelk.ui.addresses import address_of

LOG = logging.getLogger("pelk.security")


def say(event: str, request: HttpRequest | None = None, **more: Any) -> None:
    """Write one event: who by number, from where, never an email or a password."""
    user = getattr(request, "user", None)
    said = {"event": event, **more}
    if user is not None and user.is_authenticated:
        said.setdefault("user", user.pk)
    if request is not None:
        said["address"] = address_of(request)
    LOG.info(event, extra=said)


def connect() -> None:
    """Listen to the doors."""
    user_logged_in.connect(_in, dispatch_uid="pelk.security.in")
    user_logged_out.connect(_out, dispatch_uid="pelk.security.out")
    user_login_failed.connect(_failed, dispatch_uid="pelk.security.failed")
    user_locked_out.connect(_locked, dispatch_uid="pelk.security.locked")


def _in(request: HttpRequest | None, user: Any, **_: Any) -> None:
    say("signed in", request, user=user.pk)


def _out(request: HttpRequest | None, user: Any, **_: Any) -> None:
    say("signed out", request, user=user.pk if user else None)


def _failed(request: HttpRequest | None = None, **_: Any) -> None:
    say("a wrong password", request)


def _locked(request: HttpRequest | None = None, **_: Any) -> None:
    say("a door was locked", request)
