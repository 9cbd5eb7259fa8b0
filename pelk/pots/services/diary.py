"""Writing down what was seen of some pots, with its picture."""

from __future__ import annotations

from datetime import date

from django.core.files.base import ContentFile, File
from django.db import transaction

from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.pots.models import PotDeed, PotGroup, PotPhoto
from pelk.pots.services.groups import write_deed
from pelk.ui.pictures import THUMB, re_encoded
from pelk.yards.models import User
from pelk.yards.services.yards import count_picture


@transaction.atomic
def see(
    *,
    group: PotGroup,
    by: User | None,
    on: date,
    figures: dict[str, float],
    text: str,
    picture: File[bytes] | None,
) -> PotDeed:
    """Keep what was seen of some pots on a day, and its picture."""
    if picture is not None:
        count_picture(yard=group.yard)
    deed = write_deed(
        group=group,
        by=by,
        kind=PotDeed.Kind.SAW,
        on=on,
        text=text,
        figures=figures,
        refreshes=False,
    )
    if picture is not None:
        data = picture.read()
        PotPhoto.objects.create(
            yard=group.yard,
            group=group,
            deed=deed,
            on=on,
            note=text[:200],
            file=ContentFile(data, "picture.jpg"),
            thumb=ContentFile(re_encoded(data, THUMB), "small.jpg"),
        )
    return deed


PHOTOS = Shelving(
    model=PotPhoto,
    station=Station.POTS,
    says=lambda row, word: f"{row.group.name}: a picture {word}",
    address=lambda row: row.group.get_absolute_url(),
    away_address=lambda row: row.group.get_absolute_url(),
)
