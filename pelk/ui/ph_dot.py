"""One pH on the scale that every row of a list shares: a ring, its target range, its number."""

from django.utils.html import format_html
from django.utils.safestring import SafeString

from pelk.ui.scales import Scale

LOW, HIGH, WIDTH, HEIGHT, MIDDLE, EDGE = 3.5, 8.5, 240, 34, 17, 34
ALONG = Scale(LOW, HIGH, 4, WIDTH - EDGE)
TICKS = tuple((x, ALONG(x)) for x in (4.5, 5.5, 6.5, 7.5))


def ph_dot_svg(ph: float, band: tuple[float, float], written: str) -> SafeString:
    """Draw where a mix's pH ends, on its crop's target range."""
    low, high, x = ALONG(band[0]), ALONG(band[1]), ALONG(ph)
    return format_html(
        '<svg class="chart ph-dot" width="{w}" height="{h}" viewBox="0 0 {w} {h}" role="img" '
        'aria-label="pH {say}; target {a} to {b}"><path class="ph-line" d="M4 {m}H{end}"/>'
        '<rect class="ph-target" x="{low}" y="8" width="{wide}" height="18"/>'
        '<path class="ph-gate" d="M{low} 8v18M{high} 8v18"/>'
        '<circle class="ph-ring" cx="{x}" cy="{m}" r="6"/>'
        '<text class="tx-n tx-b" x="{after}" y="{m}" dy="5">{say}</text></svg>',
        w=WIDTH,
        h=HEIGHT,
        m=MIDDLE,
        end=WIDTH - EDGE,
        say=written,
        a=f"{band[0]:.1f}",
        b=f"{band[1]:.1f}",
        low=low,
        high=high,
        wide=round(high - low, 1),
        x=x,
        after=round(max(x, high if low <= x <= high else x) + 10, 1),
    )


def ph_scale_svg() -> SafeString:
    """Draw the numbers over the column of rings."""
    words = "".join(
        f'<text class="tx-n" x="{x}" y="14" text-anchor="middle">{ph:g}</text>' for ph, x in TICKS
    )
    return SafeString(
        f'<svg class="chart" width="{WIDTH}" height="18" viewBox="0 0 {WIDTH} 18" '
        f'aria-hidden="true">{words}</svg>'
    )
