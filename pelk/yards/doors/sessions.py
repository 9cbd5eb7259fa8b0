"""Sessions that know whose they are, kept under a hash: who reads the table cannot sign in."""

from __future__ import annotations

import hashlib
from datetime import datetime
from typing import Any

from django.contrib.sessions.backends.db import SessionStore as DatabaseStore
from django.contrib.sessions.base_session import AbstractBaseSession


def hashed(key: str) -> str:
    """Return what a session's key is kept as."""
    return hashlib.sha256(key.encode()).hexdigest()[:40]


class SessionStore(DatabaseStore):
    """The cookie holds the key, the table its hash."""

    @classmethod
    def get_model_class(cls) -> type[AbstractBaseSession]:
        """Return the model of a session."""
        from pelk.yards.models import Session  # noqa: PLC0415

        return Session

    def _get_session_from_db(self) -> Any:
        kept = self._session_key
        try:
            self._session_key = hashed(kept) if kept else kept
            return super()._get_session_from_db()  # type: ignore[misc]
        finally:
            self._session_key = kept

    def exists(self, session_key: str) -> bool:
        """Return whether a key is taken."""
        return bool(super().exists(hashed(session_key)))

    def create_model_instance(self, data: dict[str, Any]) -> Any:
        """Return the row of this session."""
        row: Any = super().create_model_instance(data)
        row.session_key = hashed(row.session_key)
        user = data.get("_auth_user_id")
        row.user_id = int(user) if user else None
        if begun := data.get("begun"):
            row.begun_at = datetime.fromisoformat(begun)
        row.browser = str(data.get("browser", ""))[:120]
        return row

    def delete(self, session_key: str | None = None) -> None:
        """Forget a session."""
        key = session_key if session_key is not None else self.session_key
        if key is not None:
            self.get_model_class().objects.filter(session_key=hashed(key)).delete()
