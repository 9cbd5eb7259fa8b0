"""Pictures without what the camera wrote into them: place, time and owner stay at home.

Only the marks that hold such things are left out; the picture itself is not touched. How
a JPEG is to be turned is kept.
"""

from struct import error as StructError  # noqa: N812  (as the standard library names it)
from struct import pack, unpack_from

JPEG_START, EXIF = b"\xff\xd8", b"Exif\x00\x00"
APP1, APP13, COMMENT, SCAN = 0xE1, 0xED, 0xFE, 0xDA
TURN = 0x0112
PNG_START = b"\x89PNG\r\n\x1a\n"
PNG_TOLD = frozenset([b"eXIf", b"tEXt", b"zTXt", b"iTXt", b"tIME"])
WEBP_TOLD, WEBP_FLAGS = frozenset([b"EXIF", b"XMP "]), 0b0000_1100


def without_what_the_camera_wrote(data: bytes) -> bytes:
    """Return a JPEG, PNG or WebP without its metadata; anything else, or broken, as it is."""
    try:
        if data.startswith(JPEG_START):
            return _jpeg(data)
        if data.startswith(PNG_START):
            return _png(data)
        if data[:4] == b"RIFF" and data[8:12] == b"WEBP":
            return _webp(data)
    except (IndexError, ValueError, StructError):
        return data
    return data


def _jpeg(data: bytes) -> bytes:
    kept, at, turn = [JPEG_START], 2, 1
    while data[at] == 0xFF and data[at + 1] != SCAN:
        mark, size = data[at + 1], int.from_bytes(data[at + 2 : at + 4], "big") + 2
        segment = data[at : at + size]
        if mark == APP1 and segment[4:10] == EXIF:
            turn = _turn_of(segment[10:])
        elif mark not in (APP1, APP13, COMMENT):
            kept.append(segment)
        at += size
    if data[at : at + 2] != bytes((0xFF, SCAN)):
        raise ValueError("no picture follows")
    if turn != 1:
        kept.insert(1, _only_turn(turn))
    return b"".join(kept) + data[at:]


def _turn_of(tiff: bytes) -> int:
    """Return how a picture is to be turned, 1 to 8."""
    order = "<" if tiff[:2] == b"II" else ">"
    (at,) = unpack_from(f"{order}I", tiff, 4)
    (count,) = unpack_from(f"{order}H", tiff, at)
    for i in range(count):
        tag, _, _, value = unpack_from(f"{order}HHIH", tiff, at + 2 + 12 * i)
        if tag == TURN and 1 <= value <= 8:
            return int(value)
    return 1


def _only_turn(turn: int) -> bytes:
    tiff = b"MM\x00*" + pack(">IHHHIHHI", 8, 1, TURN, 3, 1, turn, 0, 0)
    body = EXIF + tiff
    return bytes((0xFF, APP1)) + pack(">H", len(body) + 2) + body


def _png(data: bytes) -> bytes:
    kept, at = [PNG_START], len(PNG_START)
    while at + 12 <= len(data):
        size = int.from_bytes(data[at : at + 4], "big") + 12
        if data[at + 4 : at + 8] not in PNG_TOLD:
            kept.append(data[at : at + size])
        at += size
    return b"".join(kept) + data[at:]


def _webp(data: bytes) -> bytes:
    kept, at = [], 12
    while at + 8 <= len(data):
        size = int.from_bytes(data[at + 4 : at + 8], "little")
        chunk = data[at : at + 8 + size + size % 2]
        if chunk[:4] == b"VP8X":
            chunk = chunk[:8] + bytes((chunk[8] & ~WEBP_FLAGS,)) + chunk[9:]
        if chunk[:4] not in WEBP_TOLD:
            kept.append(chunk)
        at += len(chunk)
    body = b"WEBP" + b"".join(kept)
    return b"RIFF" + len(body).to_bytes(4, "little") + body
