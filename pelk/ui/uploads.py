"""The text of a file that somebody brings in: uploaded or pasted, whatever wrote it."""

from __future__ import annotations

from dataclasses import dataclass

from django.core.files.uploadedfile import UploadedFile
from django.http import HttpRequest

from pelk.core.base.errors import PelkError

LARGEST = 8_000_000
# What a text never begins with: pictures, archives and sheets in their own format.
NOT_TEXT = (b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"PK\x03\x04", b"%PDF", b"\xd0\xcf\x11\xe0")


class UploadError(PelkError):
    """A file that cannot be read as text."""


@dataclass(frozen=True, slots=True)
class Upload:
    """What was brought in: its text, its name ("" when pasted), and why it is refused."""

    text: str
    name: str = ""
    problem: str = ""


def upload_of(request: HttpRequest, most_bytes: int = LARGEST) -> Upload:
    """Return the file or the pasted text of a form with ``file``, ``text`` and ``name``."""
    file = request.FILES.get("file")
    if file is None:
        text = request.POST.get("text", "").replace("\0", "")
        problem = "" if text.strip() else "Choose a file, or paste its text."
        return Upload(text, request.POST.get("name", "")[:120], problem)
    name = file.name or ""
    try:
        return Upload(text_of(file, most_bytes), name)
    except UploadError as error:
        return Upload("", name, error.message)


def text_of(file: UploadedFile[bytes], most_bytes: int = LARGEST) -> str:
    """Return a file's text: Unicode where it is, else as western loggers write it.

    Raises
    ------
    UploadError
        When it is larger than ``most_bytes``, or a picture, an archive or a spreadsheet.
    """
    if (file.size or 0) > most_bytes:
        size = f"{most_bytes / 1e6:g} MB" if most_bytes >= 1e6 else f"{most_bytes // 1000} kB"
        raise UploadError(f"That file is over {size}. Import it in parts.")
    data = file.read()
    if data.startswith(NOT_TEXT):
        raise UploadError(
            "This file is not text. Save it as CSV or JSON in the program that wrote it, "
            "or paste its text."
        )
    code = "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig"
    try:
        text = data.decode(code)
    except UnicodeDecodeError:
        text = data.decode("cp1252", "replace")
    return text.replace("\0", "")
