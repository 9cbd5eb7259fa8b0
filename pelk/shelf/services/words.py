"""What is taught about words and packs."""

from django.db import transaction
from django.urls import reverse

from pelk.core.base.errors import PelkError
from pelk.core.base.quantities import LOOSE_VOLUME
from pelk.core.materials.words import folded
from pelk.log.models import Station
from pelk.log.services.put_away import Shelving
from pelk.shelf.models.materials import Material
from pelk.shelf.models.words import WORD_MAX, PackSize, Word
from pelk.yards.models import Yard


@transaction.atomic
def teach_word(*, yard: Yard, text: str, material: Material) -> None:
    """Keep what a word means in a yard from now on."""
    word = folded(text)[:WORD_MAX]
    if word:
        said = {"material": material, "deleted_at": None}
        Word.objects.update_or_create(yard=yard, text=word, defaults=said)


@transaction.atomic
def keep_pack_size(*, yard: Yard, material: Material, pack: str, litres: float) -> None:
    """Keep what one bag, bale or brick of a material holds.

    Raises
    ------
    PelkError
        For a size that cannot be.
    """
    LOOSE_VOLUME.check(litres, "litres")
    if not litres > 0:
        raise PelkError("found nothing, allowed: more than 0 L", "litres")
    PackSize.objects.update_or_create(
        yard=yard, material=material, pack=pack, defaults={"litres": litres, "deleted_at": None}
    )


WORDS = Shelving(
    model=Word,
    station=Station.SHELF,
    says=lambda row, word: f"The word “{row.text}” {word}",
    away="forgotten",
    back="known again",
    locks=lambda row: row.yard,
    address=lambda row: reverse("shelf:words"),
    away_address=lambda row: reverse("shelf:words"),
)
PACK_SIZES = Shelving(
    model=PackSize,
    station=Station.SHELF,
    says=lambda row, word: f"What a {row.pack} of {row.material.short_name} holds {word}",
    away="forgotten",
    back="known again",
    locks=lambda row: row.yard,
    address=lambda row: reverse("shelf:words"),
    away_address=lambda row: reverse("shelf:words"),
)
