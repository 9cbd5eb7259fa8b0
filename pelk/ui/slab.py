"""A mix as a small slab: its parts by share, one above the other."""

from collections.abc import Sequence

from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from pelk.ui.svg import texture_url

WIDTH, HEIGHT, FACE_W, FACE_H, DEPTH, RISE = 92, 112, 66, 92, 18, 9


def slab_svg(key: str, layers: Sequence[tuple[str, float]]) -> SafeString:
    """Draw a slab.

    `layers` are texture and share of the volume, from the top; `key` names it on the page.
    """
    whole = sum(share for _, share in layers) or 1.0
    top, rows = float(RISE + 2), []
    for i, (texture, share) in enumerate(layers):
        tall = FACE_H * share / whole
        rows.append((f"slab-{key}-{i}", texture_url(texture), round(top, 1), round(tall, 1)))
        top += tall
    patterns = format_html_join(
        "",
        '<pattern id="{}" width="192" height="144" patternUnits="userSpaceOnUse" '
        'patternTransform="translate(0 {}) scale(.5)"><image href="{}" width="192" height="144"/>'
        "</pattern>",
        ((name, y, url) for name, url, y, _ in rows),
    )
    faces = format_html_join(
        "",
        '<path d="M2 {y}h{w}v{h}h-{w}z" fill="url(#{name})"/>'
        '<path d="M{x} {y}l{d} -{r}v{h}l-{d} {r}z" fill="url(#{name})"/>'
        '<path class="slab-shade" d="M{x} {y}l{d} -{r}v{h}l-{d} {r}z"/>'
        '<path class="slab-line" d="M2 {y}h{w}l{d} -{r}"/>',
        (
            {"name": n, "y": y, "h": h, "w": FACE_W, "x": FACE_W + 2, "d": DEPTH, "r": RISE}
            for n, _, y, h in rows
        ),
    )
    y, bottom = RISE + 2, RISE + 2 + FACE_H
    lid = f"M2 {y}l{DEPTH} -{RISE}h{FACE_W}l-{DEPTH} {RISE}z"
    edge = (
        f"{lid}M2 {y}v{FACE_H}h{FACE_W}v-{FACE_H}M{FACE_W + 2} {bottom}l{DEPTH} -{RISE}v-{FACE_H}"
    )
    return format_html(
        '<svg class="slab" width="{}" height="{}" viewBox="0 0 {} {}" aria-hidden="true">'
        '<defs>{}</defs>{}<path d="{}" fill="url(#{})"/><path class="slab-edge" d="{}"/></svg>',
        WIDTH,
        HEIGHT,
        WIDTH,
        HEIGHT,
        patterns,
        faces,
        lid,
        rows[0][0] if rows else "",
        edge,
    )
