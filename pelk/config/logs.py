"""Log lines as JSON, one a line: when, how grave, who says it, what; never a secret."""

from __future__ import annotations

import json
import logging
from datetime import UTC, datetime
from typing import Any

# What a record may carry beside its words.
CARRIED = ("event", "user", "yard", "address", "path", "status")


class JsonLines(logging.Formatter):
    """One JSON object a line."""

    def format(self, record: logging.LogRecord) -> str:
        """Write a record."""
        said: dict[str, Any] = {
            "at": datetime.fromtimestamp(record.created, UTC).isoformat(timespec="milliseconds"),
            "level": record.levelname.lower(),
            "of": record.name,
            "says": record.getMessage(),
        }
        said |= {key: getattr(record, key) for key in CARRIED if hasattr(record, key)}
        if record.exc_info:
            said["trace"] = self.formatException(record.exc_info)
        return json.dumps(said, ensure_ascii=False, default=str)
