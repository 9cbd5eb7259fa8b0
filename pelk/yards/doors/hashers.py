"""Passwords are hashed one at a time: many at once would take all memory and every core."""

from __future__ import annotations

import fcntl
from collections.abc import Iterator
from contextlib import contextmanager

from django.conf import settings
from django.contrib.auth.hashers import Argon2PasswordHasher

# Longer ones are no passwords but work for the machine.
LONGEST = 128


class OneAtATime(Argon2PasswordHasher):
    """Argon2, one hash at a time over all processes of this machine."""

    def encode(self, password: str, salt: str) -> str:
        """Hash a new password."""
        with _turn():
            return str(super().encode(password, salt))

    def verify(self, password: str, encoded: str) -> bool:
        """Return whether it is the password; one that is too long never is."""
        if len(password) > LONGEST:
            return False
        with _turn():
            return bool(super().verify(password, encoded))


@contextmanager
def _turn() -> Iterator[None]:
    with (settings.VAR_DIR / "hashing.lock").open("w") as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield
