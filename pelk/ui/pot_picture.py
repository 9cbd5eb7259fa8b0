"""A pot cut open: what fills it, in layers to scale, the oldest at the bottom."""

from __future__ import annotations

from dataclasses import dataclass

from django.utils.html import escape
from django.utils.safestring import SafeString

from pelk.ui.svg import texture_url

WIDE, HIGH = 132, 150
# The inside of the pot: top and bottom, and how far the soil stands under the brim.
TOP, BASE, BRIM = 10, 138, 14
INSIDE = f"M18 {TOP}H114L102 {BASE}H30Z"
WALL = f"M10 4H122V18H117L106 146H26L15 18H10Z M18 18L30 {BASE}H102L114 18Z"


@dataclass(frozen=True, slots=True)
class PotLayer:
    """One filling as it lies in the pot."""

    words: str
    texture: str
    litres: float


def pot_svg(layers: list[PotLayer]) -> SafeString:
    """Draw the layers, given from below, in one pot; empty where there are none."""
    whole = sum(layer.litres for layer in layers)
    if not whole:
        return SafeString("")
    room = BASE - TOP - BRIM
    drawn, patterns, y = [], [], float(BASE)
    for i, layer in enumerate(layers):
        tall = room * layer.litres / whole
        y -= tall
        patterns.append(
            f'<pattern id="pot-f{i}" width="192" height="144" patternUnits="userSpaceOnUse" '
            'patternTransform="scale(.6)">'
            f'<image href="{texture_url(layer.texture)}" width="192" height="144"/></pattern>'
        )
        drawn.append(
            f'<rect x="10" y="{y:.1f}" width="112" height="{tall:.1f}" '
            f'fill="url(#pot-f{i})"><title>{escape(layer.words)}</title></rect>'
            f'<path class="pot-seam" d="M10 {y:.1f}H122"/>'
        )
    label = "In a pot, from below: " + "; ".join(layer.words for layer in layers)
    return SafeString(
        f'<svg class="chart pot-pic" width="{WIDE}" height="{HIGH}" viewBox="0 0 {WIDE} {HIGH}" '
        'role="img" '
        f'aria-label="{escape(label)}"><defs>{"".join(patterns)}<clipPath id="pot-in"><path '
        f'd="{INSIDE}"/></clipPath></defs>'
        f'<g clip-path="url(#pot-in)">{"".join(drawn)}</g><path class="pot-wall" '
        f'fill-rule="evenodd" d="{WALL}"/></svg>'
    )
