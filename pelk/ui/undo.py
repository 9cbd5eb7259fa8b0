"""A destructive act says what it did and carries the way back."""

from django.contrib import messages
from django.http import HttpRequest


def say_with_undo(request: HttpRequest, text: str, undo: str) -> None:
    """Tell the next page what was done, with a button that posts to the undo address."""
    messages.success(request, text, extra_tags=f"undo:{undo}")
