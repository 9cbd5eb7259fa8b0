"""A count in strokes, five to a bundle."""

from django.utils.safestring import SafeString

STROKE, HIGH, MOST = 5, 14, 15


def tally_svg(count: int) -> SafeString:
    """Draw up to fifteen strokes; more are told by their number alone."""
    if not 0 < count <= MOST:
        return SafeString("")
    drawn, x = [], 2
    for i in range(1, count + 1):
        if i % 5:
            drawn.append(f"M{x} 1v{HIGH - 2}")
            x += STROKE
        else:
            drawn.append(f"M{x - 4 * STROKE - 2} {HIGH - 2}L{x} 3")
            x += 4
    return SafeString(
        f'<svg class="tally" width="{x}" height="{HIGH}" viewBox="0 0 {x} {HIGH}" '
        f'aria-hidden="true"><path d="{"".join(drawn)}"/></svg>'
    )
