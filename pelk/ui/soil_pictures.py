"""Small drawings for the inspection of old soil: what each answer looks like."""

from __future__ import annotations

import random
from functools import cache
from math import cos, pi, sin

from django.utils.safestring import SafeString

WIDE, HIGH = 96, 64
# A pot cut open: its walls, and the soil in it from 14 down to 58.
_POT = '<path class="sp-pot" d="M18 8H78L70 60H26Z"/>'
_SOIL = '<path class="sp-soil" d="M21 16H75L69 58H27Z"/>'
_LEAF = (
    '<path class="sp-leaf" d="M12 40C26 8 66 6 84 24C72 54 36 62 12 40Z"/><path '
    'class="sp-line" d="M12 40Q46 30 80 25"/>'
)
_PALM = (
    '<path class="sp-fingers" d="M24 24V12M38 18V5M52 18V4M66 22V9M84 36L92 24"/>'
    '<path class="sp-palm" d="M16 40C14 26 28 18 48 18C70 18 84 26 82 42C80 56 64 61 46 60C28 60 '
    '17 54 16 40Z"/>'
)


def _dots(count: int, radius: float, css: str, box: tuple[int, int, int, int]) -> str:
    rng = random.Random(f"{count}{css}{box}")
    left, top, right, bottom = box
    return "".join(
        f'<circle class="{css}" cx="{rng.uniform(left, right):.0f}" '
        f'cy="{rng.uniform(top, bottom):.0f}" r="{radius}"/>'
        for _ in range(count)
    )


def _threads(count: int, css: str, box: tuple[int, int, int, int], long: float) -> str:
    rng = random.Random(f"{count}{css}{box}")
    left, top, right, bottom = box
    threads = []
    for _ in range(count):
        x, y, turn = (rng.uniform(left, right), rng.uniform(top, bottom), rng.uniform(0, pi))
        threads.append(f"M{x:.0f} {y:.0f}l{long * cos(turn):.0f} {long * sin(turn):.0f}")
    return f'<path class="{css}" d="{"".join(threads)}"/>'


def _roots(count: int) -> str:
    roots = []
    for i in range(count):
        x = 30 + 36 * i / max(count - 1, 1)
        roots.append(f"M48 16C{48 + (x - 48) / 3:.0f} 30 {x:.0f} 34 {x:.0f} 56")
    return f'<path class="sp-root" d="{"".join(roots)}"/>'


_SMOKE = '<path class="sp-line" d="M36 12q4 -4 0 -8M48 12q4 -4 0 -8M60 12q4 -4 0 -8"/>'
_DROP = '<path class="sp-water" d="M48 2q8 10 0 14q-8 -4 0 -14Z"/>'
_DRAWN = {
    "smell-earthy": _POT + _SOIL + _dots(14, 1.6, "sp-crumb", (30, 20, 66, 54)),
    "smell-sour": _POT + _SOIL + '<path class="sp-wet" d="M24 40H72L69 58H27Z"/>' + _SMOKE,
    "smell-rotten": _POT
    + '<path class="sp-wet" d="M21 16H75L69 58H27Z"/>'
    + _dots(9, 2.6, "sp-bubble", (32, 24, 64, 52))
    + _SMOKE,
    "disease-none": _LEAF,
    "disease-leaf": _LEAF + _dots(12, 3.4, "sp-spot", (28, 20, 68, 46)),
    "disease-damping-off": '<path class="sp-line" d="M6 52H90M24 52V22M24 22q-8 -6 -12 0M24 22q8 '
    '-6 12 0M52 52q22 0 30 -8"/><path class="sp-bad" d="M48 52q4 -6 10 0"/>',
    "disease-soil-borne": '<path class="sp-line" d="M48 4V24M6 24H90"/><path class="sp-bad" '
    'd="M48 24C40 40 30 44 26 60M48 24C50 40 48 48 48 60M48 24C56 40 66 44 70 60"/>',
    "disease-unknown-death": '<path class="sp-line" d="M48 58C46 40 52 30 40 12M46 36q-14 -2 -18 '
    '8M47 28q14 -2 18 8M6 58H90"/>',
    "pest-none": _SOIL + '<path class="sp-worm" d="M30 44q8 -12 16 -2t16 -4"/>',
    "pest-gnats": _SOIL
    + '<path class="sp-line" d="M32 10l6 4l6 -4M54 6l6 4l6 -4M66 14l5 3l5 -3"/>',
    "pest-aphid-mealy": _SOIL + _roots(4) + _dots(10, 3, "sp-bubble", (30, 30, 66, 54)),
    "pest-weevil": _SOIL
    + '<path class="sp-grub" d="M36 30a10 10 0 1 0 16 12a6 6 0 1 1 -10 -8Z"/><circle '
    'class="sp-bad-fill" cx="38" cy="29" r="4"/>',
    "pest-knots": _SOIL + _roots(4) + _dots(7, 4, "sp-knot", (32, 28, 64, 52)),
    "pest_amount-few": _SOIL + _dots(2, 4, "sp-bubble", (32, 28, 64, 50)),
    "pest_amount-many": _SOIL + _dots(11, 4, "sp-bubble", (30, 24, 66, 52)),
    "slurry-gritty": _PALM
    + _threads(26, "sp-fibre", (28, 28, 68, 54), 9)
    + _dots(10, 1.8, "sp-crumb", (28, 28, 68, 54)),
    "slurry-mixed": _PALM
    + '<ellipse class="sp-mud" cx="48" cy="40" rx="26" ry="13"/>'
    + _threads(10, "sp-fibre", (32, 30, 64, 50), 8),
    "slurry-silky": _PALM
    + '<ellipse class="sp-mud" cx="48" cy="40" rx="29" ry="15"/><path class="sp-line" d="M30 40q9 '
    '-6 18 0t18 0"/>',
    "squeeze-springs": '<path class="sp-soil" d="M18 58q0 -34 30 -34t30 34Z"/><path '
    'class="sp-line" d="M48 20V4M42 10l6 -6l6 6"/>',
    "squeeze-crumbles": _dots(34, 3.4, "sp-crumb-big", (16, 36, 80, 58)),
    "squeeze-lump": '<path class="sp-soil" d="M20 18H76V58H20Z"/><path class="sp-line" d="M34 '
    '18l6 14l-8 12M60 58l-6 -16l8 -8"/>',
    "roots_pct-few": _POT + _SOIL + _roots(3),
    "roots_pct-some": _POT + _SOIL + _roots(8),
    "roots_pct-matted": _POT + _SOIL + _roots(16) + _threads(40, "sp-root", (28, 40, 66, 56), 10),
    "roots_left_in-yes": '<g transform="rotate(115 48 34)">'
    + _POT
    + "</g>"
    + _dots(16, 2.4, "sp-crumb-big", (4, 50, 34, 62)),
    "roots_left_in-no": _POT
    + _SOIL
    + '<path class="sp-line" d="M48 16V2M48 8q-10 -6 -14 2M48 6q10 -6 14 2M10 62H86"/>',
    "crust-none": _POT + _SOIL,
    "crust-light": _POT + _SOIL + _dots(12, 1.5, "sp-salt", (26, 15, 70, 20)),
    "crust-heavy": _POT + _SOIL + '<path class="sp-salt" d="M18 10H78L76 20q-14 4 -28 0t-28 1Z"/>',
    "is_dry-takes": _POT + _SOIL + _DROP + '<path class="sp-wet" d="M34 16H62L58 44H38Z"/>',
    "is_dry-sheds": _POT
    + _SOIL
    + _DROP
    + '<path class="sp-water-line" d="M30 18L26 58M66 18L70 58"/>',
}


@cache
def soil_picture(key: str, option: str) -> SafeString:
    """Draw an answer; empty where it needs no drawing."""
    inside = _DRAWN.get(f"{key}-{option}")
    if inside is None:
        return SafeString("")
    return SafeString(
        f'<svg class="soil-pic" viewBox="0 0 {WIDE} {HIGH}" width="{WIDE}" height="{HIGH}" '
        f'aria-hidden="true">{inside}</svg>'
    )
