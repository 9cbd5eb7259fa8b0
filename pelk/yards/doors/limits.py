"""How often something may be asked: counted in a table, since there are several workers."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import timedelta
from functools import wraps
from typing import Any

from django.conf import settings
from django.db import transaction
from django.db.models import F
from django.http import HttpRequest
from django.http.response import HttpResponseBase
from django.shortcuts import render
from django.utils import timezone

from pelk.ui.addresses import address_of
from pelk.yards.models import Tally

View = Callable[..., HttpResponseBase]


@dataclass(frozen=True, slots=True)
class Limit:
    """So many times within so long; then it is said in words.

    Attributes
    ----------
    key : str
        What is counted.
    most : int
        Times.
    seconds : int
        Within which they count.
    """

    key: str
    most: int
    seconds: int
    says: str

    @property
    def wait(self) -> str:
        """How long it takes, in words."""
        minutes = self.seconds // 60
        return f"{self.seconds} seconds" if minutes < 2 else f"{minutes} minutes"


SIGN_INS = Limit("sign-in", 30, 600, "That was many tries from here.")
SIGN_UPS = Limit("sign-up", 10, 3600, "Many yards were opened from here.")
LINKS = Limit("link", 6, 3600, "Many links were asked for from here.")
FOLLOWS = Limit("follow", 40, 60, "That is a lot to work out at once.")
DEAR = Limit("dear", 20, 60, "That is a lot to work out at once.")


@transaction.atomic
def passes(limit: Limit, who: str) -> bool:
    """Count once more; return whether it is still within the limit."""
    now = timezone.now()
    key = f"{limit.key}:{who}"[:120]
    row, made = Tally.objects.select_for_update().get_or_create(
        key=key, defaults={"since": now, "count": 1}
    )
    if made:
        return True
    if row.since < now - timedelta(seconds=limit.seconds):
        Tally.objects.filter(pk=row.pk).update(since=now, count=1)
        return True
    Tally.objects.filter(pk=row.pk).update(count=F("count") + 1)
    return bool(row.count < limit.most)


def limited(limit: Limit) -> Callable[[View], View]:
    """Hold a view's posts to a limit: by person where one is signed in, else by address."""

    def wrapped(view: View) -> View:
        @wraps(view)
        def held(request: HttpRequest, *args: Any, **kwargs: Any) -> HttpResponseBase:
            if settings.LIMITS and request.method == "POST":
                user = getattr(request, "user", None)
                who = f"u{user.pk}" if user and user.is_authenticated else address_of(request)
                if not passes(limit, who):
                    context = {"says": limit.says, "wait": limit.wait}
                    return render(request, "ui/slow_down.html", context, status=429)
            return view(request, *args, **kwargs)

        return held

    return wrapped
