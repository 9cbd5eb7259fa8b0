"""A picture as it is typed: read, turned upright and made small before it is kept."""

from __future__ import annotations

from typing import Any

from django import forms
from django.core.files.base import ContentFile

from pelk.core.base.errors import PelkError
from pelk.ui.pictures import MOST_BYTES, re_encoded
from pelk.ui.refusals import sentence

MOST_MB = MOST_BYTES // (1024 * 1024)


class PictureField(forms.FileField):
    """A picture; its clean value is a file of our own making."""

    def clean(self, data: Any, initial: Any = None) -> Any:
        """Return the picture made anew; what cannot be read is said beside the field."""
        file = super().clean(data, initial)
        if not file:
            return file
        if file.size > MOST_BYTES:
            raise forms.ValidationError(f"It is over {MOST_MB} MB: take a smaller one.")
        try:
            return ContentFile(re_encoded(file.read()), "picture.jpg")
        except PelkError as error:
            said = sentence(error)
            raise forms.ValidationError(said) from error
