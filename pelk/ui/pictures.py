"""Pictures as they are kept: made anew, upright and small, without a word of the camera's."""

from __future__ import annotations

from io import BytesIO

from PIL import Image, ImageOps

from pelk.core.base.errors import PelkError

FORMATS = ("JPEG", "PNG", "WEBP")
MOST_BYTES, MOST_PIXELS = 24 * 1024 * 1024, 90_000_000
LONGEST, THUMB = 1600, 320
QUALITY = 82
KIND = "image/jpeg"


def re_encoded(data: bytes, longest: int = LONGEST) -> bytes:
    """Return a picture as a JPEG of its own, turned upright, no longer than so many pixels.

    Only pixels go over: place, time, owner, second pictures and whatever hangs on stay behind.

    Raises
    ------
    PelkError
        For what is no picture, is torn, or has more pixels than a camera gives.
    """
    try:
        with Image.open(BytesIO(data), formats=FORMATS) as image:
            if image.width * image.height > MOST_PIXELS:
                raise PelkError("it has more pixels than can be read here", "file")
            image.draft("RGB", (longest, longest))
            upright = ImageOps.exif_transpose(image)
            upright.thumbnail((longest, longest), Image.Resampling.LANCZOS)
            plain = Image.new("RGB", upright.size, "white")
            shown = upright.convert("RGBA")
            plain.paste(shown, mask=shown.getchannel("A"))
    except (OSError, ValueError, SyntaxError, Image.DecompressionBombError) as error:
        raise PelkError("this is no JPEG, PNG or WebP picture, or it is torn", "file") from error
    kept = BytesIO()
    plain.save(kept, "JPEG", quality=QUALITY, optimize=True)
    return kept.getvalue()
