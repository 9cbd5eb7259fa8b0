"""SVG of the pictures that every edit of the Bench draws anew, as text.

Everything else is drawn by a template; these two are most of an edit's answer, and a
template took three times as long. Numbers come from geometry, words are escaped here.
"""

from functools import lru_cache

from django.contrib.staticfiles.storage import staticfiles_storage
from django.utils.html import escape
from django.utils.safestring import SafeString

from pelk.ui.charts import ChargeBar, Segment
from pelk.ui.cutaway import FACE_W, FACE_X, Cutaway, Sheet, Stratum
from pelk.ui.scales import Tick

MIDDLE = FACE_X + FACE_W / 2
ADDRESSES = 64


def charge_bar_svg(bar: ChargeBar) -> SafeString:
    """Draw what of an element is free when, what stays locked, and what the crop wants."""
    kept = "".join(
        f'<rect class="cb-seg cb-{s.kind}" {_across(s)} y="7" height="14"/>' for s in bar.segments
    )
    locked = cut = ""
    if bar.locked:
        locked = (
            f'<rect class="cb-locked" {_across(bar.locked)} y="10" height="8" fill="url(#hatch)"/>'
        )
    if bar.is_cut:
        cut = f'<path class="cb-cut" d="M{bar.width} 5l-6 18m-5 0l6 -18"/>'
    gates = "".join(f"M{x} 2V26" for x in bar.bracket)
    return SafeString(
        f'<svg class="chart" width="{bar.width}" height="24" viewBox="0 2 {bar.width} 24" '
        f'role="img" aria-label="{escape(bar.label)}">'
        f'<path class="cb-track" d="M0 14H{bar.width}"/>{kept}{locked}{cut}'
        f'<path class="cb-halo" d="{gates}"/><path class="cb-gate" d="{gates}"/></svg>'
    )


def _across(segment: Segment) -> str:
    return f'x="{segment.x}" width="{segment.width}"'


def cutaway_svg(cut: Cutaway, there: float = 0.0) -> SafeString:
    """Draw strata, ruler, doses and handles; `there` is the share already in the barrow."""
    strata = list(enumerate(cut.strata, 1))
    return SafeString(
        f'<svg class="chart cutaway" data-top="{cut.top_y}" data-base="{cut.base_y}" '
        f'width="{cut.width}" height="{cut.height}" '
        f'viewBox="0 0 {cut.width} {cut.height}" role="group" '
        f'aria-label="{escape(cut.label)}">'
        f"<defs>{''.join(_patterns(i, s) for i, s in strata)}</defs>"
        f'<path class="cut-ground" d="M38 {cut.base_y}H222"/>'
        f"{''.join(_stratum(i, s) for i, s in strata)}"
        f'<path d="{cut.top}" fill="url(#cut-f1)"/><path d="{cut.top}" class="cut-lit"/>'
        f'<path class="cut-veil" d="{cut.veil}"/><path d="{cut.veil}" fill="url(#hatch)"/>'
        f"{_there_already(cut, there) if there else ''}"
        f'<path class="cut-edge" d="{cut.edge}"/>'
        f'<path class="cut-halo" d="{cut.mixed}"/>'
        f'<path class="cut-mixed" d="{cut.mixed}"/>'
        f"{_ruler(cut)}"
        f"{''.join(_sheet(s) for s in cut.sheets)}"
        f"{''.join(_leader(s) for s in cut.strata)}"
        f"{''.join(_handle(i - 1, cut.strata[i - 2], s) for i, s in strata[1:])}</svg>"
    )


@lru_cache(ADDRESSES)
def texture_url(name: str) -> str:
    """Return the address of a texture."""
    return staticfiles_storage.url(f"ui/tex/{name}.svg")


def _patterns(i: int, s: Stratum) -> str:
    size = 'width="192" height="144"'
    image = f'<image href="{texture_url(s.texture)}" {size}/></pattern>'
    turns = (
        ("f", f"translate({s.pattern_x} {s.pattern_y}) scale(.74)"),
        ("s", f"translate(188 {s.pattern_y}) skewY(-33) scale(.5 .74)"),
    )
    return "".join(
        f'<pattern id="cut-{side}{i}" {size} patternUnits="userSpaceOnUse" '
        f'patternTransform="{turn}">{image}'
        for side, turn in turns
    )


def _stratum(i: int, s: Stratum) -> str:
    bound = f'<path class="cut-bound" d="{s.boundary}"/>' if s.boundary else ""
    return (
        f'<path d="{s.front}" fill="url(#cut-f{i})"><title>{escape(s.name)}</title></path>'
        f'<path d="{s.side}" fill="url(#cut-s{i})"/>'
        f'<path d="{s.side}" class="cut-shade"/>{bound}'
    )


def _there_already(cut: Cutaway, share: float) -> str:
    tall = round(share * cut.tall)
    return (
        f'<g class="cut-base"><rect x="{FACE_X}" y="{cut.base_y - tall}" width="{FACE_W}" '
        f'height="{tall}" fill="url(#hatch)"/><text class="tx-n tx-b cut-lost" '
        f'x="{MIDDLE:g}" y="{cut.base_y}" dy="-8" text-anchor="middle">there already</text></g>'
    )


def _ruler(cut: Cutaway) -> str:
    drawn = [f'<path class="cut-tick" d="M44 {cut.top_y}V{cut.base_y}"/>']
    for tick in cut.ticks:
        long = 7 if tick.text else 4
        drawn.append(f'<path class="cut-tick" d="M44 {tick.at}h-{long}"/>')
    drawn += [_beside(tick) for tick in cut.ticks if tick.text]
    drawn.append(_beside(Tick(cut.base_y, f"0 {cut.unit}")))
    drawn.append(
        f'<text class="tx-n tx-b" x="38" y="{cut.mixed_tick.at}" dy="5" '
        f'text-anchor="end">{cut.mixed_tick.text}</text>'
    )
    if cut.top_tick:
        drawn.append(
            f'{_beside(cut.top_tick)}<text class="tx-n tx-b cut-lost" x="{MIDDLE:g}" '
            f'y="{cut.lost_y}" text-anchor="middle">{cut.lost_text}</text>'
        )
    return "".join(drawn)


def _beside(tick: Tick) -> str:
    return f'<text class="tx-n" x="34" y="{tick.at}" dy="5" text-anchor="end">{tick.text}</text>'


def _sheet(sheet: Sheet) -> str:
    return (
        f'<path class="cut-sheet" d="{sheet.tray}"/><path class="gr gr-{sheet.texture}" '
        f'stroke-width="{sheet.size}" d="{sheet.grains}"/>'
        f'<path class="cut-lead" d="M35 {sheet.y}H59"/><text class="tx-n tx-b" x="26" '
        f'y="{sheet.key_y}" text-anchor="middle">{sheet.key}</text>'
    )


def _leader(s: Stratum) -> str:
    return (
        f'<path class="cut-lead leader" d="{s.leader}"/>'
        f'<circle class="cut-dot leader" cx="{s.dot_x}" cy="{s.dot_y}" r="2.6"/>'
    )


def _handle(i: int, above: Stratum, s: Stratum) -> str:
    said = f"{above.name} {above.percent} percent, {s.name} {s.percent} percent"
    return (
        f'<g class="cut-handle" data-boundary="{i}" tabindex="0" role="slider" '
        f'aria-orientation="vertical" aria-valuemin="0" '
        f'aria-valuemax="{above.percent + s.percent}" aria-valuenow="{above.percent}" '
        f'aria-valuetext="{escape(said)}" '
        f'aria-label="Share of {escape(above.name)}: arrow keys move it">'
        f'<rect class="cut-grab" x="{FACE_X}" y="{s.upper_y}" width="{FACE_W}" height="18" '
        f'transform="translate(0 -9)"/><path class="cut-grip" d="M107 {s.upper_y}h24"/></g>'
    )
