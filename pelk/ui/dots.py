"""A few numbers of one kind on one line: how far apart they lie, at a glance."""

from collections.abc import Sequence

from django.utils.safestring import SafeString

from pelk.ui.scales import Scale

WIDTH, HEIGHT, MIDDLE, EDGE, R = 180, 30, 15, 12, 9
# Dots nearer than this are drawn one above the other. [px]
CLEAR = 2 * R


def _clear_of(taken: Sequence[float], x: float) -> float:
    """Return the place nearest to one where no other dot lies, inside the picture."""
    tries = [x] + [x + side * i * R for i in range(1, 2 * len(taken) + 3) for side in (1, -1)]
    free = (
        place
        for place in tries
        if R <= place <= WIDTH - R and all(abs(place - other) >= CLEAR for other in taken)
    )
    return next(free, x)


def dots_svg(values: Sequence[float | None], letters: str) -> SafeString:
    """Draw numbers as lettered dots; the first is the one the others are compared with.

    Nothing is drawn where fewer than two are known or all are alike.
    """
    known = [(v, letter) for v, letter in zip(values, letters, strict=False) if v is not None]
    if len(known) < 2 or len({round(v, 9) for v, _ in known}) == 1:
        return SafeString("")
    low, high = min(v for v, _ in known), max(v for v, _ in known)
    along = Scale(low, high, EDGE, WIDTH - EDGE)
    start = values[0]
    drawn, taken = [f'<path class="dots-line" d="M{EDGE} {MIDDLE}H{WIDTH - EDGE}"/>'], list[float]()
    for value, letter in reversed(known):
        x, y = along(value), float(MIDDLE)
        if start is not None and value != start:
            drawn.insert(1, f'<path class="dots-gap" d="M{along(start)} {MIDDLE}H{x}"/>')
        x = _clear_of(taken, x)
        taken.append(x)
        css = "dots-first" if letter == letters[0] else "dots-other"
        drawn.append(
            f'<circle class="{css}" cx="{x:.1f}" cy="{y:.1f}" r="{R}"/><text class="{css}" '
            f'x="{x:.1f}" y="{y + 5:.1f}" text-anchor="middle">{letter}</text>'
        )
    return SafeString(
        f'<svg class="chart dots" width="{WIDTH}" height="{HEIGHT}" viewBox="0 0 {WIDTH} {HEIGHT}" '
        f'aria-hidden="true">{"".join(drawn)}</svg>'
    )
