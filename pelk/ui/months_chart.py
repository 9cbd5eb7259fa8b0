"""Twelve months as bars: how warm each is, with its number on it."""

from collections.abc import Sequence

from django.utils.safestring import SafeString

from pelk.ui.scales import Scale, round_step, steps
from pelk.ui.units import Measures

WIDTH, HEIGHT, LEFT, TOP, BOTTOM = 600, 250, 40, 24, 222
MONTHS = ("J", "F", "M", "A", "M", "J", "J", "A", "S", "O", "N", "D")


def months_svg(normals_c: Sequence[float], measures: Measures) -> SafeString:
    """Draw the mean of each month, January first, in the yard's degrees. [°C]."""
    warm = [measures.degrees(c) for c in normals_c]
    step = round_step(max(*warm, measures.degrees(10.0)) - min(*warm, measures.degrees(0.0)), 5)
    low = min(step * (min(*warm, measures.degrees(0.0)) // step), measures.degrees(0.0))
    high = step * -(-max(*warm, measures.degrees(10.0)) // step)
    up = Scale(low, high, BOTTOM, TOP)
    zero = up(measures.degrees(0.0))
    part = (WIDTH - LEFT) / len(MONTHS)
    drawn = [
        f'<path class="mo-line" d="M{LEFT} {up(t)}H{WIDTH}"/><text class="tx-n" x="{LEFT - 8}" '
        f'y="{up(t)}" dy="5" text-anchor="end">{t:g}</text>'
        for t in steps(low, high, step)
    ]
    for i, (name, value) in enumerate(zip(MONTHS, warm, strict=True)):
        x, y = LEFT + (i + 0.5) * part, up(value)
        top, tall = min(y, zero), abs(zero - y)
        drawn.append(
            f'<rect class="{"mo-bar" if value >= measures.degrees(0.0) else "mo-cold"}" '
            f'x="{x - part * 0.32:.1f}" y="{top:.1f}" width="{part * 0.64:.1f}" '
            f'height="{max(tall, 1):.1f}"/><text class="tx-n tx-b" x="{x:.1f}" '
            f'y="{top - 6:.1f}" text-anchor="middle">{value:.0f}</text><text class="tx-n" '
            f'x="{x:.1f}" y="{HEIGHT - 8}" text-anchor="middle">{name}</text>'
        )
    said = ", ".join(f"{value:.0f}" for value in warm)
    return SafeString(
        f'<svg class="chart months" width="{WIDTH}" height="{HEIGHT}" '
        f'viewBox="0 0 {WIDTH} {HEIGHT}" role="img" aria-label="Mean temperature, January to '
        f'December, {measures.degree_unit}: {said}">{"".join(drawn)}'
        f'<path class="mo-zero" d="M{LEFT} {zero}H{WIDTH}"/></svg>'
    )
