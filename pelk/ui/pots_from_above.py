"""Pots seen from above, all at one scale: what fills them, and how many seasons it has seen."""

from __future__ import annotations

from dataclasses import dataclass
from math import ceil, cos, pi, sin, sqrt

from django.utils.safestring import SafeString

from pelk.ui.svg import texture_url

# A pot is drawn this large at most; a row is this long at most. [px]
LARGEST, LONGEST, SMALLEST_PX_PER_CM, MOST_PX_PER_CM = 118.0, 620.0, 0.35, 2.2
MOST_DRAWN = 60
RING, GAP = 4.0, 5.0
QUARTERS = 4
OBLONG = {"trough": 2.8, "bed": 2.2, "grow-bag": 2.4}
SQUARE = frozenset(["square-pot"])


@dataclass(frozen=True, slots=True)
class FromAbove:
    """Some pots alike: their kind, how many, the surface of one, what fills them.

    ``texture`` is "" where they are empty; ``seasons`` is None where nothing is known.
    """

    key: str
    kind: str
    count: int
    surface_cm2: float
    texture: str
    seasons: int | None

    @property
    def not_drawn(self) -> int:
        """How many of them the picture leaves out."""
        return max(self.count - MOST_DRAWN, 0)

    @property
    def size_cm(self) -> tuple[float, float]:
        """Width and depth of one. [cm]."""
        if self.kind in OBLONG:
            depth = sqrt(self.surface_cm2 / OBLONG[self.kind])
            return depth * OBLONG[self.kind], depth
        side = sqrt(self.surface_cm2) if self.kind in SQUARE else sqrt(self.surface_cm2 * 4 / pi)
        return side, side


def scale_for(groups: list[FromAbove]) -> float:
    """Return pixels a centimetre, so that the largest pot and the longest row fit. [px/cm]."""
    widest = max((max(group.size_cm) for group in groups), default=30.0)
    return max(min(LARGEST / widest, MOST_PX_PER_CM), SMALLEST_PX_PER_CM)


def pots_svg(group: FromAbove, px_per_cm: float) -> SafeString:
    """Draw a group's pots in even rows."""
    wide, deep = (max(cm * px_per_cm, 12.0) for cm in group.size_cm)
    pitch_x, pitch_y = wide + 2 * RING + GAP, deep + 2 * RING + GAP
    drawn = min(group.count, MOST_DRAWN)
    most = max(int(LONGEST / pitch_x), 1)
    rows = ceil(drawn / most)
    columns = ceil(drawn / rows)
    width, height = columns * pitch_x, rows * pitch_y
    pots = "".join(
        _pot(group, (i % columns + 0.5) * pitch_x, (i // columns + 0.5) * pitch_y, wide, deep)
        for i in range(drawn)
    )
    fill = ""
    if group.texture:
        fill = (
            f'<defs><pattern id="pa-{group.key}" width="192" height="144" '
            'patternUnits="userSpaceOnUse" patternTransform="scale(.45)"><image '
            f'href="{texture_url(group.texture)}" width="192" height="144"/></pattern></defs>'
        )
    return SafeString(
        f'<svg class="chart pots-above" width="{width:.0f}" height="{height:.0f}" '
        f'viewBox="0 0 {width:.0f} {height:.0f}" aria-hidden="true">{fill}{pots}</svg>'
    )


def _pot(group: FromAbove, x: float, y: float, wide: float, deep: float) -> str:
    css = "pa-edge" if group.texture else "pa-empty"
    fill = f' fill="url(#pa-{group.key})"' if group.texture else ""
    if group.kind in OBLONG or group.kind in SQUARE:
        body = (
            f'<rect class="{css}" x="{x - wide / 2:.1f}" y="{y - deep / 2:.1f}" '
            f'width="{wide:.1f}" height="{deep:.1f}" rx="2"{fill}/>'
        )
        return body + _bar(group.seasons, x, y + deep / 2 + RING, wide)
    body = f'<circle class="{css}" cx="{x:.1f}" cy="{y:.1f}" r="{wide / 2:.1f}"{fill}/>'
    return body + _ring(group.seasons, x, y, wide / 2 + RING - 0.5)


def _ring(seasons: int | None, x: float, y: float, r: float) -> str:
    if seasons is None:
        return ""
    used = min(seasons, QUARTERS)
    parts = {"pa-used": range(used), "pa-left": range(used, QUARTERS)}
    return "".join(
        f'<path class="{css}" d="{"".join(_arc(x, y, r, i) for i in quarters)}"/>'
        for css, quarters in parts.items()
        if quarters
    )


def _arc(x: float, y: float, r: float, quarter: int) -> str:
    start, end = (quarter * pi / 2 - pi / 2 + d for d in (0.14, pi / 2 - 0.14))
    return (
        f"M{x + r * cos(start):.1f} {y + r * sin(start):.1f}"
        f"A{r:.1f} {r:.1f} 0 0 1 {x + r * cos(end):.1f} {y + r * sin(end):.1f}"
    )


def _bar(seasons: int | None, x: float, y: float, wide: float) -> str:
    if seasons is None:
        return ""
    used, part = min(seasons, QUARTERS), wide / QUARTERS
    left = x - wide / 2
    drawn = ""
    for css, quarters in (("pa-used", range(used)), ("pa-left", range(used, QUARTERS))):
        if quarters:
            lines = "".join(f"M{left + i * part + 1:.1f} {y:.1f}h{part - 2:.1f}" for i in quarters)
            drawn += f'<path class="{css}" d="{lines}"/>'
    return drawn
