"""A heap seen from the side: what it is mixed of, in layers, under one outline."""

from collections.abc import Sequence

from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from pelk.ui.svg import texture_url

WIDTH, HEIGHT, GROUND, TOP = 200, 92, 86, 8
OUTLINE = f"M6 {GROUND}C30 {GROUND - 6} 48 {TOP + 4} 98 {TOP}C150 {TOP + 2} 166 70 194 {GROUND}Z"


def heap_svg(key: str, layers: Sequence[tuple[str, float]]) -> SafeString:
    """Draw a heap; `layers` are texture and share from the top, `key` names it on the page."""
    whole = sum(share for _, share in layers) or 1.0
    rows, top = [], float(TOP)
    for i, (texture, share) in enumerate(layers):
        tall = (GROUND - TOP) * share / whole
        rows.append((f"heap-{key}-{i}", texture_url(texture), round(top, 1), round(tall, 1)))
        top += tall
    patterns = format_html_join(
        "",
        '<pattern id="{}" width="192" height="144" patternUnits="userSpaceOnUse" '
        'patternTransform="scale(.5)"><image href="{}" width="192" height="144"/></pattern>',
        ((name, url) for name, url, _, _ in rows),
    )
    bands = format_html_join(
        "",
        '<rect x="0" y="{y}" width="{w}" height="{h}" fill="url(#{name})"/>',
        ({"name": name, "y": y, "h": h, "w": WIDTH} for name, _, y, h in rows),
    )
    return format_html(
        '<svg class="heap-pic" width="{w}" height="{h}" viewBox="0 0 {w} {h}" aria-hidden="true">'
        '<defs>{patterns}<clipPath id="heap-{key}"><path d="{outline}"/></clipPath></defs>'
        '<g clip-path="url(#heap-{key})">{bands}</g><path class="slab-edge" d="{outline}"/>'
        '<path class="slab-edge" d="M0 {ground}H{w}"/></svg>',
        w=WIDTH,
        h=HEIGHT,
        patterns=patterns,
        key=key,
        outline=OUTLINE,
        bands=bands,
        ground=GROUND,
    )
