"""Jar tests: set up, read, put away."""

from __future__ import annotations

from typing import Any

from django.db import transaction
from django.utils import timezone

from pelk.log.models import Station
from pelk.log.services import record
from pelk.pots.models import JarTest
from pelk.yards.models import User, Yard


@transaction.atomic
def begin_jars(*, yard: Yard, by: User | None, **said: Any) -> JarTest:
    """Set five jars up."""
    row: JarTest = JarTest.objects.create(yard=yard, **said)
    _note(row, by, f"jar test of {row.name} set up")
    return row


@transaction.atomic
def read_jars(*, jars: JarTest, by: User | None, read: list[float | None]) -> None:
    """Keep what the jars read."""
    jars.lock()
    jars.read, jars.read_on = read, timezone.localdate()
    jars.save(update_fields=["read", "read_on"])
    told = ", ".join("–" if ph is None else f"{ph:.1f}" for ph in read)
    _note(jars, by, f"jars of {jars.name} read: pH {told}")


@transaction.atomic
def delete_jars(*, jars: JarTest, by: User | None) -> None:
    """Put a jar test away."""
    if jars.put_away():
        _note(jars, by, f"jar test of {jars.name} put away")


@transaction.atomic
def restore_jars(*, jars: JarTest, by: User | None) -> None:
    """Bring a jar test back."""
    if jars.bring_back():
        _note(jars, by, f"jar test of {jars.name} brought back")


def _note(jars: JarTest, by: User | None, text: str) -> None:
    url = "" if jars.deleted_at else jars.get_absolute_url()
    record(yard=jars.yard, by=by, station=Station.POTS, text=text, url=url)
