"""A pot cut open as it is planted: layers to scale, each with its line to the row beside it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from django.utils.html import escape
from django.utils.safestring import SafeString

from pelk.ui.svg import texture_url

WIDE, ROW, HEAD = 350, 62, 40
TALL, TOP_Y = 300, 120
LEFT, RIGHT, TAPER = 50, 290, 22
WALL = 14
PLANT, ROOTS, HOLE = "plant", "roots", "hole"


@dataclass(frozen=True, slots=True)
class Drawn:
    """A layer as it is drawn. [cm] over the bottom."""

    kind: str
    texture: str
    base_cm: float
    top_cm: float
    is_later: bool


def planting_svg(layers: Sequence[Drawn], brim_cm: float, label: str) -> SafeString:
    """Draw a pot in layers, given from the top down; lines lead to the rows beside it."""
    high = max(len(layers) * ROW + HEAD, TOP_Y + TALL + 30)

    def y(cm: float) -> float:
        return TOP_Y + TALL * (1 - cm / brim_cm)

    def side(cm: float) -> float:
        """How far the inside is in from the brim."""
        return TAPER * (1 - cm / brim_cm)

    patterns, drawn, leads = [], [], []
    order = sorted(range(len(layers)), key=lambda i: layers[i].kind in (HOLE, PLANT, ROOTS))
    for i in order:
        layer = layers[i]
        if layer.kind == ROOTS:
            continue
        if layer.kind == PLANT:
            drawn.append(_plant(y(layer.base_cm)))
            continue
        top, base = y(layer.top_cm), y(layer.base_cm)
        if layer.kind == HOLE:
            drawn.append(
                f'<path d="M120 {top:.1f}H220V{base - 24:.1f}'
                f'Q170 {base + 16:.1f} 120 {base - 24:.1f}Z" '
                f'fill="url(#pl-{i})" class="pl-hole"/>'
            )
        else:
            low, up = side(layer.base_cm), side(layer.top_cm)
            shape = (
                f"M{LEFT + up:.1f} {top:.1f}H{RIGHT - up:.1f}L{RIGHT - low:.1f} {base:.1f}"
                f"H{LEFT + low:.1f}Z"
            )
            fill = "url(#hatch)" if layer.is_later else f"url(#pl-{i})"
            dash = ' class="pl-later"' if layer.is_later else ' class="pl-layer"'
            drawn.append(f'<path d="{shape}" fill="{fill}"{dash}/>')
        if not layer.is_later:
            patterns.append(
                f'<pattern id="pl-{i}" width="192" height="144" patternUnits="userSpaceOnUse" '
                f'patternTransform="scale(.6)"><image href="{texture_url(layer.texture)}" '
                'width="192" height="144"/></pattern>'
            )
    for i, layer in enumerate(layers):
        row = HEAD + ROW * i + ROW / 2
        # Near its upper edge: lines that begin in the order of the rows never cross.
        middle = y(layer.top_cm) + min((y(layer.base_cm) - y(layer.top_cm)) / 2, 12)
        x = RIGHT - side(layer.top_cm) - 10
        if layer.kind == PLANT:
            x, middle = 170, y(layer.base_cm) - 54
        elif layer.kind == ROOTS:
            x, middle = 170, y(layer.base_cm) + 6
        elif layer.kind == HOLE:
            x, middle = 210, y(layer.top_cm) + 16
        elif layer.kind == "lift":
            middle = (y(layer.top_cm) + y(layer.base_cm)) / 2
        leads.append(
            f'<path class="pl-lead" d="M{x:.1f} {middle:.1f}C{x + 50:.1f} {middle:.1f} 310 {row} '
            f'{WIDE} {row}"/><circle cx="{x:.1f}" cy="{middle:.1f}" r="3"/>'
        )
    return SafeString(
        f'<svg class="chart planting" width="{WIDE}" height="{high}" viewBox="0 0 {WIDE} {high}" '
        f'role="img" aria-label="A pot cut open: {escape(label)}"><defs>{"".join(patterns)}</defs>'
        f'{"".join(drawn)}<path class="pot-wall" d="{_wall()}" fill-rule="evenodd"/>'
        f"{''.join(leads)}</svg>"
    )


def _wall() -> str:
    top, base = TOP_Y, TOP_Y + TALL
    return (
        f"M{LEFT - WALL} {top - 4}H{LEFT}L{LEFT + TAPER} {base}H{RIGHT - TAPER}L{RIGHT} {top - 4}"
        f"H{RIGHT + WALL}V{top + 20}H{RIGHT + WALL - 5}L{RIGHT - TAPER + WALL - 4} {base + 12}"
        f"H{LEFT + TAPER - WALL + 4}L{LEFT - WALL + 5} {top + 20}H{LEFT - WALL}Z"
    )


def _plant(ground: float) -> str:
    """Draw a young plant that stands in the ground at a height."""
    y = round(ground)
    stem = f"M170 {y + 26}C168 {y - 20} 172 {y - 60} 170 {y - 100}"
    leaves = "".join(
        f'<path class="pl-leaf" d="M170 {y - up}q{26 * way} -6 {46 * way} -26'
        f'q{-34 * way} -4 {-46 * way} 26z"/>'
        for up, way in ((20, 1), (34, -1), (56, 1), (70, -1), (92, 1))
    )
    return f'<path class="pl-stem" d="{stem}"/>{leaves}'
