"""A destructive act says what it did and carries the way back."""

from django.contrib import messages
from django.http import HttpRequest
from django.urls import reverse


def say_with_undo(request: HttpRequest, text: str, address: str, pk: int | str) -> None:
    """Tell the next page what was done, with a button that posts to the undo address."""
    tags = f"undo:{reverse(address, args=[pk])}"
    messages.success(request, text, extra_tags=tags)
