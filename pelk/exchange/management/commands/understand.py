"""``python manage.py understand "PHRASE" [--region GB]``: what was understood, as JSON."""

from __future__ import annotations

import json
from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser

from pelk.core.base.regions import regions
from pelk.core.materials.library import library
from pelk.core.materials.spoken import Spoken, heard
from pelk.core.materials.spoken_units import spoken_units
from pelk.core.materials.words import Vocabulary, is_word, understood

FORMAT = "pelk.words/1"


class Command(BaseCommand):
    """Print what a phrase means."""

    help = "Print what a spoken amount and material were understood as."

    def add_arguments(self, parser: CommandParser) -> None:
        """Take the phrase and where it is said."""
        parser.add_argument("phrase")
        parser.add_argument("--region", default="", help="territory, such as GB, US, DE")

    def handle(self, *args: Any, **options: Any) -> None:
        """Print it."""
        region = options["region"].upper()
        if region and region not in regions():
            raise CommandError(f"--region: found {region!r}, allowed: a code such as GB, US, DE")
        vocabulary = Vocabulary(materials=library(), region=region)
        is_comma = bool(region) and regions()[region].is_comma
        lines = heard(
            options["phrase"],
            region,
            is_comma=is_comma,
            is_known=lambda text: is_word(text, vocabulary),
        )
        shown = [_shown(line, vocabulary) for line in lines] or [_shown(Spoken(), vocabulary)]
        first = {"format": FORMAT, "phrase": options["phrase"], **shown[0], "more": shown[1:]}
        self.stdout.write(json.dumps(first, ensure_ascii=False, indent=1))


def _shown(line: Spoken, vocabulary: Vocabulary) -> dict[str, Any]:
    meant = understood(line.words, vocabulary)
    unit = spoken_units().get(line.unit)
    note = "; ".join([*line.asks, *line.notes, *([meant.note] if meant.note else [])])
    shown: dict[str, Any] = {
        "amount": line.amount,
        "amount_low": line.low,
        "amount_high": line.high,
        "rough": line.is_rough,
        "unit": line.unit or None,
        "per": line.per or None,
        "words": line.words,
        "material": meant.slug,
        "sure": meant.slug is not None,
        "choices": [] if meant.slug else list(meant.slugs),
        "note": note or None,
    }
    size = unit.size_in(vocabulary.region) if unit else None
    if unit is not None and size is not None and line.amount is not None:
        key = {"volume": "ml", "mass": "g"}.get(unit.kind)
        if key:
            shown[key] = round(size * line.amount, 3)
    if line.per and line.per_number != 1:
        shown["per_number"] = line.per_number
    if line.per_material:
        shown["per_material"] = line.per_material
    if line.depth_cm is not None:
        shown["depth_cm"] = line.depth_cm
    return shown
