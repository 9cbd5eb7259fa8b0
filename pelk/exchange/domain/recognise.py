"""What a file is that somebody brings in: a logger's, a laboratory's, materials."""

from __future__ import annotations

import csv
import io
import json
from enum import StrEnum

from pelk.core.curing.logger_csv import read_logger
from pelk.core.lab.report_lines import read_report

HEADS = 60
# Lines from the top that tell what a file is.
LOOKED_AT = 200


class FileKind(StrEnum):
    """What a file may be."""

    MATERIALS = "materials"
    LOGGER = "logger"
    LAB = "lab"
    UNKNOWN = "unknown"


def kind_of(text: str) -> FileKind:
    """Return what a file is, by what stands in it and never by its name.

    Parameters
    ----------
    text : str
        As it was pasted or uploaded.
    """
    bare = text.lstrip("\ufeff \r\n\t")
    if bare[:1] in "{[":
        return FileKind.MATERIALS if _is_json(bare) else FileKind.UNKNOWN
    if _is_material_rows(bare):
        return FileKind.MATERIALS
    top = "\n".join(text.splitlines()[:LOOKED_AT])
    logged = read_logger(top)
    lines = [row for row in read_report(top) if not row.problem]
    # A logger's rows carry times: where they are, nothing else is asked.
    if logged.rows or (logged.questions and logged.shape):
        return FileKind.LOGGER
    return FileKind.LAB if lines else FileKind.UNKNOWN


def _is_json(text: str) -> bool:
    try:
        json.loads(text)
    except (ValueError, RecursionError):
        return False
    return True


def _is_material_rows(text: str) -> bool:
    head = next(csv.reader(io.StringIO(text.split("\n", 1)[0])), [])
    return {"id", "name"} <= {h.strip().lower() for h in head[:HEADS]}
