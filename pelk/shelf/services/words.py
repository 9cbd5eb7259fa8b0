"""What is taught about words and packs."""

from django.db import transaction

from pelk.core.base.errors import PelkError
from pelk.core.base.quantities import LOOSE_VOLUME
from pelk.core.materials.words import folded
from pelk.shelf.models.materials import Material
from pelk.shelf.models.words import WORD_MAX, PackSize, Word
from pelk.yards.models import Yard


@transaction.atomic
def teach_word(*, yard: Yard, text: str, material: Material) -> None:
    """Keep what a word means in a yard from now on."""
    word = folded(text)[:WORD_MAX]
    if word:
        Word.objects.update_or_create(yard=yard, text=word, defaults={"material": material})


@transaction.atomic
def forget_word(*, word: Word) -> None:
    """Let a word mean again what it means elsewhere."""
    word.delete()


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
        yard=yard, material=material, pack=pack, defaults={"litres": litres}
    )
