"""A square code that a phone reads: an address as inline SVG."""

from io import BytesIO

import segno
from django.utils.safestring import SafeString

MODULE_PX = 4


def square_code(text: str) -> SafeString:
    """Draw a text as a square code, black on white, with its quiet border."""
    out = BytesIO()
    segno.make(text, error="m").save(
        out,
        kind="svg",
        xmldecl=False,
        svgns=True,
        scale=MODULE_PX,
        border=4,
        light="#fff",
        title="Code of this heap",
        omitsize=False,
    )
    return SafeString(out.getvalue().decode())
