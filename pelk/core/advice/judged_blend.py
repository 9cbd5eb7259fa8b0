"""The judge on a dry feed blend: what its parts do to each other, and to whom it feeds."""

from collections.abc import Iterator, Sequence

from pelk.core.advice.grades import Finding, Grade, Kind
from pelk.core.base.elements import CACO3_G_PER_EQ
from pelk.core.base.limits import limit
from pelk.core.base.sources import cites
from pelk.core.crops.groups import Crop, is_acid_lover
from pelk.core.lab.blends import Blend
from pelk.core.materials.material import Material

CAUSTIC = frozenset(["hydrated", "quicklime", "wood_ash"])
# Nitrogen from here on is a feed's, which ammonia can leave. [%]
FEEDS_PCT = 2.0
# A usual potting mix resists so much. [meq/L per pH]
USUAL_BUFFER = 20.0
Lines = Sequence[tuple[Material, float]]


@cites("pelk", "the blend's lasting base against what a usual mix buffers")
@cites("trade", "lime beside ammonium drives off ammonia")
def judge_blend(
    lines: Lines, blend: Blend, crop: Crop, season_g_l: float | None
) -> tuple[Finding, ...]:
    """Return what of a dry blend harms, drifts or could be better, the worst first.

    Parameters
    ----------
    lines : sequence of (Material, float)
        Each with its weight. [kg]
    blend : Blend
        What they come to.
    crop : Crop
        Whom it feeds.
    season_g_l : float or None
        What of it a season takes in a litre of mix; None where it feeds no nitrogen. [g/L]
    """
    materials = [m for m, _ in lines]
    findings = [
        *_ammonia(materials),
        *_against_each_other(materials),
        *_moves_ph(materials, blend, crop, season_g_l),
    ]
    return tuple(sorted(findings, key=lambda f: -f.grade))


def _limes(materials: Sequence[Material]) -> list[Material]:
    return [m for m in materials if m.acidity_role == "lime"]


def _sulfurs(materials: Sequence[Material]) -> list[Material]:
    return [m for m in materials if m.acidity_role in ("sulfur", "strong_acid")]


def _ammonia(materials: Sequence[Material]) -> Iterator[Finding]:
    feeds = [
        m
        for m in materials
        if m.acidity_role != "lime" and "N" in m.composition and m.composition["N"].typ >= FEEDS_PCT
    ]
    if not feeds:
        return
    for lime in _limes(materials):
        if lime.lime_grade not in CAUSTIC:
            continue
        names = " and ".join(m.spoken_name for m in feeds[:2])
        yield Finding(
            kind=Kind.AMMONIA_LOST,
            of=lime.slug,
            grade=Grade.HARMS,
            text=f"{lime.short_name} drives the nitrogen of {names} off as ammonia as soon as it "
            "is damp: lost feed and stinging air. Leave it out; give it two weeks apart, or use "
            "ground limestone.",
        )


def _against_each_other(materials: Sequence[Material]) -> Iterator[Finding]:
    limes, sulfurs = _limes(materials), _sulfurs(materials)
    if limes and sulfurs:
        yield Finding(
            kind=Kind.LIME_AND_SULFUR,
            of=limes[0].slug,
            grade=Grade.DRIFTS,
            text=f"{limes[0].short_name} and {sulfurs[0].short_name.lower()} in one tub eat each "
            "other: leave one out.",
        )


def _moves_ph(
    materials: Sequence[Material], blend: Blend, crop: Crop, season_g_l: float | None
) -> Iterator[Finding]:
    """Say where a season of it takes the pH off what the crop wants."""
    limes = _limes(materials)
    name = crop.name.lower()
    if season_g_l is not None:
        moved = blend.base_kg_100kg * 10 / CACO3_G_PER_EQ * season_g_l / USUAL_BUFFER
        drifts, harms = limit("ph_keeps", "drifts_beyond"), limit("ph_keeps", "harms_beyond")
        if abs(moved) >= drifts:
            is_wrong = moved > 0 and is_acid_lover(crop)
            kind = Kind.PH_HIGH if moved > 0 else Kind.PH_LOW
            grade = Grade.HARMS if is_wrong and moved >= harms else Grade.DRIFTS
            side = "up" if moved > 0 else "down"
            mend = (
                "Leave the lime out of it."
                if limes and moved > 0
                else "Read the pH in midsummer, and lime by that."
                if moved < 0
                else "Read the pH in midsummer."
            )
            yield Finding(
                kind=kind,
                grade=grade,
                value=moved,
                limit=drifts,
                text=f"A season of it takes a usual mix {side} by about {abs(moved):.1f} pH under "
                f"{name}. {mend}",
            )
            if is_wrong:
                return
    if limes and is_acid_lover(crop):
        yield Finding(
            kind=Kind.PH_HIGH,
            of=limes[0].slug,
            grade=Grade.HARMS,
            text=f"{limes[0].short_name} has no place in a feed for {name}: each feed takes the pH "
            "up, and they want it sour. For calcium use gypsum.",
        )
