"""What a password may be, beyond what Django asks."""

from typing import Any

from django.core.exceptions import ValidationError

from pelk.yards.doors.hashers import LONGEST


class NotTooLong:
    """A password is bounded: what is longer is work for the machine."""

    def validate(self, password: str, user: Any = None) -> None:
        """Refuse one that is too long."""
        if len(password) > LONGEST:
            raise ValidationError(self.get_help_text())

    def get_help_text(self) -> str:
        """Say what is wanted."""
        return f"Take at most {LONGEST} characters."
