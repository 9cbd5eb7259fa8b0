"""The cutaway of a mix: strata of true loose volume on a ruler, doses scattered above.

Geometry only; ``ui/charts/cutaway.svg`` draws it. The wobble of the lines and the
scatter of the grains come from a seed, so the same mix looks the same twice.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import lru_cache
from random import Random

from pelk.core.base.rounding import sig
from pelk.ui.scales import Tick, path, round_step, steps
from pelk.ui.textures import grain_of

WIDTH, FACE_X, FACE_W, DEPTH_X, DEPTH_Y = 250, 50, 138, 20, -13
SHEET_GAP, SHEETS_MAX = 17, 8
GRAINS_MAX = 160
SHEETS_KEPT = 256
LABEL_CLEAR = 15


@dataclass(frozen=True, slots=True)
class Layer:
    """A part as the picture needs it: name, texture, loose amount in the yard's unit."""

    name: str
    texture: str
    amount: float


@dataclass(frozen=True, slots=True)
class Sprinkle:
    """A dose as the picture needs it."""

    key: str
    name: str
    texture: str
    g_per_l: float


@dataclass(frozen=True, slots=True)
class Stratum:
    """One drawn layer."""

    texture: str
    name: str
    front: str
    side: str
    boundary: str
    leader: str
    dot_x: float
    dot_y: float
    pattern_x: int
    pattern_y: int
    upper_y: float
    percent: int


@dataclass(frozen=True, slots=True)
class Sheet:
    """One drawn dose: its tray and its grains, as three paths of one kind."""

    key: str
    texture: str
    tray: str
    grains: str
    kind: str
    size: float
    y: float
    key_y: float


@dataclass(frozen=True, slots=True)
class Cutaway:
    """Everything the template draws."""

    width: int
    height: float
    label: str
    strata: list[Stratum]
    sheets: list[Sheet]
    top: str
    edge: str
    veil: str
    mixed: str
    ticks: list[Tick]
    mixed_tick: Tick
    top_tick: Tick | None
    lost_text: str
    lost_y: float
    top_y: float
    base_y: float
    unit: str
    textures: list[str]

    @property
    def tall(self) -> float:
        """The height of all strata together. [px]."""
        return round(self.base_y - self.top_y, 1)


def cutaway(
    layers: Sequence[Layer],
    sprinkles: Sequence[Sprinkle],
    mixed: float,
    *,
    unit: str,
    height: float,
    rows_y: Sequence[float],
) -> Cutaway:
    """Lay out the cutaway of a mix.

    Parameters
    ----------
    layers : sequence of Layer
        Top one first; amounts in `unit`.
    sprinkles : sequence of Sprinkle
        Doses in order.
    mixed : float
        Where the mixed soil ends, in `unit`.
    unit : str
        ``L`` or ``gal``.
    height : float
        Of the picture. [px]
    rows_y : sequence of float
        Heights of the rows that the leaders run to. [px]
    """
    random = Random(7)
    total = sum(layer.amount for layer in layers)
    shown = list(sprinkles)[:SHEETS_MAX]
    top_y = 26 + len(shown) * SHEET_GAP + 16
    base_y = height - 10
    scale = (base_y - top_y) / total
    mixed_y = round(base_y - mixed * scale, 1)
    right = FACE_X + FACE_W
    roof = f"L{right + DEPTH_X} {{}}L{right} {{}}"
    return Cutaway(
        width=WIDTH,
        height=height,
        label=_label(layers, total, mixed, unit),
        strata=_strata(random, layers, top_y, base_y, scale, rows_y),
        sheets=[_sheet(sprinkle, i) for i, sprinkle in enumerate(shown)],
        top=f"M{FACE_X} {top_y}H{right}l{DEPTH_X} {DEPTH_Y}H{FACE_X + DEPTH_X}Z",
        edge=f"M{FACE_X} {top_y}H{right}V{base_y}H{FACE_X}ZM{FACE_X} {top_y}"
        f"l{DEPTH_X} {DEPTH_Y}H{right + DEPTH_X}V{base_y + DEPTH_Y}L{right} {base_y}"
        f"M{right} {top_y}l{DEPTH_X} {DEPTH_Y}",
        veil=f"M{FACE_X} {top_y}l{DEPTH_X} {DEPTH_Y}H{right + DEPTH_X}"
        f"V{mixed_y + DEPTH_Y}" + roof.format(mixed_y + DEPTH_Y, mixed_y) + f"H{FACE_X}Z",
        mixed=f"M{FACE_X - 9} {mixed_y}H{right}l{DEPTH_X} {DEPTH_Y}",
        ticks=_ticks(total, base_y, scale, (mixed_y, top_y)),
        mixed_tick=Tick(mixed_y, sig(mixed)),
        top_tick=Tick(top_y, sig(total)) if mixed_y - top_y > LABEL_CLEAR else None,
        lost_text=f"{sig(total - mixed, 2)} {unit} lost",
        lost_y=round((top_y + mixed_y) / 2 + 5, 1),
        top_y=top_y,
        base_y=base_y,
        unit=unit,
        textures=sorted({layer.texture for layer in layers}),
    )


def _label(layers: Sequence[Layer], total: float, mixed: float, unit: str) -> str:
    parts = ", ".join(f"{layer.name} {sig(layer.amount)} {unit}" for layer in layers)
    return f"Cutaway: {parts}; {sig(total)} {unit} loose make {sig(mixed)} {unit} mixed"


def _wobble(random: Random, y: float, *, flat: bool) -> list[tuple[float, float]]:
    points = 10
    return [
        (
            FACE_X + FACE_W * i / (points - 1),
            y if flat or i in (0, points - 1) else y + random.uniform(-1.3, 1.3),
        )
        for i in range(points)
    ]


def _strata(
    random: Random,
    layers: Sequence[Layer],
    top_y: float,
    base_y: float,
    scale: float,
    rows_y: Sequence[float],
) -> list[Stratum]:
    right, y, drawn = FACE_X + FACE_W, top_y, []
    for i, layer in enumerate(layers):
        line = _wobble(random, y, flat=i == 0)
        side = [(right, y), (right + DEPTH_X, y + DEPTH_Y)]
        below = y + layer.amount * scale
        x_dot = right + DEPTH_X - 4
        y_dot = round((y + below) / 2 + DEPTH_Y * 0.5, 1)
        row = rows_y[i] if i < len(rows_y) else y_dot
        drawn.append(
            Stratum(
                texture=layer.texture,
                name=layer.name,
                front=f"{path(line)}L{right} {base_y}L{FACE_X} {base_y}Z",
                side=f"{path(side)}L{right + DEPTH_X} {base_y + DEPTH_Y}L{right} {base_y}Z",
                boundary=f"{path(line)}{path(side)}" if i else "",
                leader=f"M{x_dot} {y_dot}C{x_dot + 18} {y_dot} {WIDTH - 22} {row} {WIDTH} {row}",
                dot_x=x_dot,
                dot_y=y_dot,
                pattern_x=FACE_X + 37 * i,
                pattern_y=29 * i,
                upper_y=round(y, 1),
                percent=round(100 * layer.amount * scale / (base_y - top_y)),
            )
        )
        y = below
    return drawn


@lru_cache(SHEETS_KEPT)
def _sheet(sprinkle: Sprinkle, index: int) -> Sheet:
    """Scatter grains by grams a litre, not by volume."""
    random = Random(index)
    y = 20 + index * SHEET_GAP + 7
    kind, size = grain_of(sprinkle.texture)
    count = int(min(GRAINS_MAX, 14 + sprinkle.g_per_l * 40))
    marks = []
    for _ in range(count):
        deep = random.uniform(0.05, 0.95)
        along = min(0.98, max(0.02, random.gauss(0.5, 0.27)))
        x = FACE_X + along * FACE_W + deep * DEPTH_X
        marks.append(f"M{x:.1f} {y + deep * DEPTH_Y:.1f}{_grain(random, kind, size)}")
    return Sheet(
        key=sprinkle.key,
        texture=sprinkle.texture,
        tray=f"M{FACE_X} {y}H{FACE_X + FACE_W}l{DEPTH_X} {DEPTH_Y}H{FACE_X + DEPTH_X}Z",
        grains="".join(marks),
        kind=kind,
        size=size,
        y=y - 6,
        key_y=y - 2,
    )


def _grain(random: Random, kind: str, size: float) -> str:
    if kind == "dot":
        return "h0"
    return f"l{size * random.uniform(0.6, 1.2):.1f} {size * random.uniform(-0.6, 0.6):.1f}"


def _ticks(total: float, base_y: float, scale: float, taken: tuple[float, float]) -> list[Tick]:
    large = round_step(total, 6)
    ticks = []
    for value in steps(0, total, large / 2):
        y = round(base_y - value * scale, 1)
        is_large = abs(value / large - round(value / large)) < 1e-6
        clear = all(abs(y - other) > LABEL_CLEAR for other in taken)
        text = sig(value) if is_large and clear and value else ""
        ticks.append(Tick(y, text))
    return ticks
