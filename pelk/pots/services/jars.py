"""Jar tests: set up, read, put away."""

from __future__ import annotations

from django.db import transaction
from django.utils import timezone

from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.log.services.record import record
from pelk.pots.models import JarTest
from pelk.yards.models import User, Yard


@transaction.atomic
def begin_jars(
    *,
    yard: Yard,
    by: User | None,
    name: str,
    material: str,
    estimate_g_l: float,
    jar_l: float,
    target_ph: float,
    litres: float | None = None,
) -> JarTest:
    """Set five jars up."""
    row: JarTest = JarTest.objects.create(
        yard=yard,
        name=name,
        material=material,
        estimate_g_l=estimate_g_l,
        jar_l=jar_l,
        target_ph=target_ph,
        litres=litres,
    )
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


def _note(jars: JarTest, by: User | None, text: str) -> None:
    url = jars.get_absolute_url()
    record(yard=jars.yard, by=by, station=Station.POTS, text=text, url=url)


JARS = Shelving(
    model=JarTest,
    station=Station.POTS,
    says=lambda row, word: f"jar test of {row.name} {word}",
    address=JarTest.get_absolute_url,
)
