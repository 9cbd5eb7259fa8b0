"""What a yard calls its materials: words that it taught."""

from __future__ import annotations

from django.db import models

from pelk.shelf.models.materials import Material
from pelk.yards.models import YardScoped

WORD_MAX = 80


class Word(YardScoped):
    """What one word means in a yard; it goes before what it means elsewhere."""

    text = models.CharField(max_length=WORD_MAX)
    material = models.ForeignKey(Material, models.CASCADE, related_name="+")

    class Meta:
        constraints = [models.UniqueConstraint(fields=["yard", "text"], name="one_meaning_a_word")]
        ordering = ["text"]

    def __str__(self) -> str:
        return f"{self.text}: {self.material.short_name}"


class PackSize(YardScoped):
    """What one bag, bale or brick of a material holds, as the yard said when it was asked."""

    material = models.ForeignKey(Material, models.CASCADE, related_name="+")
    pack = models.CharField(max_length=10)
    litres = models.FloatField("loosened litres")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["yard", "material", "pack"], name="one_size_a_pack"),
            models.CheckConstraint(name="a_pack_holds", condition=models.Q(litres__gt=0)),
        ]

    def __str__(self) -> str:
        return f"{self.pack} of {self.material.short_name}"
