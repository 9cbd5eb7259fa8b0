"""A word as a yard teaches it."""

from __future__ import annotations

from collections.abc import Sequence

from django import forms

from pelk.core.materials.words import Understood
from pelk.shelf.models.words import WORD_MAX
from pelk.ui.forms import MarkedForm


class WordForm(MarkedForm):
    """What something is called here, and what it is."""

    text = forms.CharField(label="What we call", max_length=WORD_MAX)
    means = forms.CharField(label="is", max_length=120)

    def ask(self, meant: Understood, names: Sequence[str]) -> None:
        """Ask which material was meant, beside the field."""
        known = f"Which of these: {'; '.join(names)}?" if names else "Enter a name from the shelf."
        self.add_error("means", f"“{meant.words}” is not one material. {known}")
        self.mark_errors()
