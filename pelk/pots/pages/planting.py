"""Planting made ready for its page: the pot in layers, what is carried, what comes later."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date, timedelta
from math import ceil

from pelk.core.base.rounding import sig
from pelk.core.crops.groups import crop
from pelk.core.crops.named import crops_named, how_to_plant
from pelk.core.vessels.planting import inoculant_for, planting_need
from pelk.core.vessels.planting_layers import Built, Kind, Layer, ToBuild, built
from pelk.core.vessels.trade_pots import kinds
from pelk.pots.domain.planting import Asked
from pelk.pots.models import PotGroup
from pelk.pots.selectors import HeapLeft, correction_of, texture_of_batch
from pelk.ui.planting_picture import ROOTS, Drawn, planting_svg
from pelk.ui.units import Measures
from pelk.yards.models import Yard

TOP_UP_DAYS, HALF_DAYS, MULCH_DAYS = 7, 28, 14
TEXTURES = {Kind.MULCH: "bark", Kind.BASE: "bark", Kind.HOLE: "castings"}
STAKE = "stake"


@dataclass(frozen=True, slots=True)
class LayerRow:
    """A layer beside the picture: what, how, for a pot and for all."""

    kind: str
    texture: str
    name: str
    how: str
    each: str
    whole: str
    is_later: bool


@dataclass(frozen=True, slots=True)
class PlantingPage:
    """Everything the page shows of pots that are to be planted from a heap."""

    rows: list[LayerRow]
    picture: str
    now: str
    now_l: float
    later: str
    left: str
    short: str
    stays: str
    shares: list[tuple[str, str, int]]
    carry: list[tuple[str, str]]
    after: list[tuple[date, str]]
    notes: list[str]
    settles: str
    factor: str
    known: int
    reckoned_l: float
    mulch: str


def planting_page(group: PotGroup, heap: HeapLeft, asked: Asked, on: date) -> PlantingPage:
    """Return how some pots are planted from a heap.

    Raises
    ------
    PelkError
        Where mulch or hole leave no room for the mix.
    """
    yard: Yard = group.yard
    measures: Measures = yard.measures
    factor, known = correction_of(yard)
    settling = heap.batch.evaluation(samples=0).volumes.settling
    pot = built(_to_build(group, asked, settling, factor))
    need = planting_need(group.vessels, settling, factor)
    now_l, later_l = group.count * pot.now_l, group.count * (pot.mix_l - pot.now_l)
    left = heap.left_l - now_l - later_l
    rows = _rows(group, pot, asked, texture_of_batch(heap.batch))
    shown = _drawn(pot, rows, heap)
    room = group.soil_height_cm - pot.soil_cm
    return PlantingPage(
        rows,
        planting_svg(shown, pot.brim_cm, _brim_words(pot, measures)),
        measures.volume(now_l, 3),
        now_l,
        measures.volume(later_l, 3) if later_l > 0 else "",
        measures.volume(heap.left_l, 3),
        measures.volume(-left, 2) if left < 0 else "",
        measures.volume(left, 2) if left > 0 else "",
        _shares(now_l, later_l, heap.left_l, measures),
        _carry(group, heap, pot, asked, need.water_l),
        _after(pot, on, measures, group.count),
        _notes(group, room, measures),
        f"{settling:.0%}",
        f"{factor:.2f}",
        known,
        now_l + later_l,
        sig(asked.mulch_cm / measures.length[1], 3),
    )


def _to_build(group: PotGroup, asked: Asked, settling: float, factor: float) -> ToBuild:
    kind = kinds().get(group.kind)
    height = group.soil_height_cm
    return ToBuild(
        litres=group.pot_l,
        height_cm=height,
        brim_cm=height / (kind.fill if kind else 1.0),
        settling=settling,
        correction=factor,
        mulch_cm=asked.mulch_cm,
        hole_l=sum(piece.litres for piece in asked.hole),
        hole=", ".join(piece.name for piece in asked.hole),
        is_half=asked.is_half,
        wall=group.made_of,
        kind=group.kind,
        is_wet_below=asked.is_wet_below,
        depth=how_to_plant(group.plant) or "the crown level with the soil",
    )


def _rows(group: PotGroup, pot: Built, asked: Asked, mix: str) -> list[LayerRow]:
    measures = group.yard.measures
    rows = []
    for layer in pot.layers:
        if layer.kind is Kind.PLANT:
            rows.append(_plant_row(group, layer))
            rows += _roots_row(group)
            continue
        each, whole = (
            measures.volume(layer.litres, 2),
            measures.volume(layer.litres * group.count, 2),
        )
        if layer.kind is Kind.HOLE:
            each, whole = _hole_amounts(group, asked, measures)
        how = layer.how
        if layer.kind is Kind.MULCH:
            how = f"{measures.span(layer.top_cm - layer.base_cm)} deep, {how}"
        rows.append(
            LayerRow(
                layer.kind.value,
                TEXTURES.get(layer.kind, mix),
                layer.name,
                how,
                each,
                whole,
                layer.is_later,
            )
        )
    return rows


def _drawn(pot: Built, rows: list[LayerRow], heap: HeapLeft) -> list[Drawn]:
    """Return the layers as they are drawn, one for each row beside the picture."""
    layers = iter(pot.layers)
    drawn: list[Drawn] = []
    for row in rows:
        if row.kind == ROOTS:
            drawn.append(replace(drawn[-1], kind=ROOTS))
            continue
        layer = next(layers)
        texture = TEXTURES.get(layer.kind, texture_of_batch(heap.batch))
        drawn.append(Drawn(layer.kind.value, texture, layer.base_cm, layer.top_cm, layer.is_later))
    return drawn


def _plant_row(group: PotGroup, layer: Layer) -> LayerRow:
    many = sig(group.plants, 2)
    return LayerRow(
        layer.kind.value,
        "",
        group.plant.capitalize() or "Plant",
        layer.how,
        many,
        sig(group.plants * group.count, 3),
        is_later=False,
    )


def _roots_row(group: PotGroup) -> list[LayerRow]:
    """Return the inoculant, only where it lives on this crop."""
    spoons, _ = inoculant_for(crop(group.crop), group.family, group.plant)
    if not spoons:
        return []
    measures = group.yard.measures
    each = measures.kitchen(spoons[0] * group.plants)
    whole = measures.volume(spoons[0] * group.plants * group.count / 1000, 2)
    how = "root fungi; they must touch the roots. Its label goes first."
    return [LayerRow(ROOTS, "", "On the roots", how, each, whole, is_later=False)]


def _hole_amounts(group: PotGroup, asked: Asked, measures: Measures) -> tuple[str, str]:
    each, whole = [], []
    for piece in asked.hole:
        many = group.count
        if piece.litres >= 0.1:
            each.append(measures.volume(piece.litres, 2))
            whole.append(measures.volume(piece.litres * many, 2))
        else:
            each.append(measures.mass(piece.given.grams, 2))
            whole.append(measures.mass(piece.given.grams * many, 2))
    return " and ".join(each), " and ".join(whole)


def _brim_words(pot: Built, measures: Measures) -> str:
    return f"{measures.span(pot.brim_cm)} inside, soil to {measures.span(pot.soil_cm)}"


def _shares(
    now_l: float, later_l: float, left_l: float, measures: Measures
) -> list[tuple[str, str, int]]:
    """Return how a heap is shared out, in percent of what there is or is wanted."""
    whole = max(left_l, now_l + later_l)
    shares = [("now", now_l), ("later", later_l), ("rest", max(left_l - now_l - later_l, 0.0))]
    return [
        (name, measures.volume(litres, 2), round(100 * litres / whole))
        for name, litres in shares
        if litres > 0.005 * whole
    ]


def _carry(
    group: PotGroup, heap: HeapLeft, pot: Built, asked: Asked, water_l: float
) -> list[tuple[str, str]]:
    """Return what is carried to the pots: loads, buckets, spoons, cans."""
    yard: Yard = group.yard
    measures, many = yard.measures, group.count
    mix_l = many * pot.now_l
    loads = max(ceil(mix_l / yard.barrow_l - 1e-9), 1)
    each = measures.volume(mix_l / loads, 2)
    many_loads = f"barrow loads of {heap.batch.code}, {each} each"
    one_load = f"barrow load of {heap.batch.code}, {each}"
    carry = [(str(loads), many_loads if loads > 1 else one_load)]

    def buckets(litres: float) -> str:
        return measures.buckets(litres, yard.bucket_l)

    for layer in pot.layers:
        if layer.kind is Kind.BASE:
            carry.append((buckets(many * layer.litres), layer.how.split(",")[0]))
    for piece in asked.hole:
        is_bulk = piece.litres * many >= yard.bucket_l / 2
        weighed = measures.mass(piece.given.grams * many, 2)
        what = piece.given.reads.partition(":")[0].lower()
        carry.append((buckets(piece.litres * many) if is_bulk else weighed, what))
    mulch = next((x for x in pot.layers if x.kind is Kind.MULCH and not x.is_later), None)
    if mulch:
        carry.append((buckets(many * mulch.litres), "mulch"))
    carry.append((buckets(water_l), "water once planted, until it runs out below"))
    return carry


def _after(pot: Built, on: date, measures: Measures, many: int) -> list[tuple[date, str]]:
    """Return what comes later, by its date."""
    later = next((x for x in pot.layers if x.kind is Kind.TOP_UP), None)
    mulch = next((x for x in pot.layers if x.kind is Kind.MULCH and x.is_later), None)
    if later is None:
        text = "It has settled by now: top up with the same mix to the mark."
        return [(on + timedelta(days=TOP_UP_DAYS), text)]
    each, whole = (measures.volume(later.litres * n, 2) for n in (1, many))
    rows = [
        (
            on + timedelta(days=HALF_DAYS),
            f"Top up {each} a pot, {whole} in all, when the plants stand clear of the rim.",
        )
    ]
    if mulch:
        text = f"Mulch {measures.volume(mulch.litres, 2)} a pot when the soil is warm to the hand."
        rows.append((on + timedelta(days=HALF_DAYS + MULCH_DAYS), text))
    return rows


def _notes(group: PotGroup, room_cm: float, measures: Measures) -> list[str]:
    notes = []
    if room_cm > 0.05:
        notes.append(
            f"The mulch wants more than the room under the brim: the soil ends "
            f"{measures.span(room_cm)} lower."
        )
    if group.kind == "bed" and group.count > 1:
        notes.append(
            "A tower goes tier by tier from the bottom: fill, plant and water one, then set the "
            "next on it."
        )
    if how := how_to_plant(group.plant):
        notes.append(how)
    if any(STAKE in named.plant_note.lower() for named in crops_named(group.plant)):
        notes.append(f"Stakes go in before the roots: {group.count * max(round(group.plants), 1)}.")
    if group.made_of == "clay":
        notes.append("Unglazed clay drinks: soak the pots first.")
    return notes
