"""What the right side of the Bench shows: an evaluation made ready for the page."""

from __future__ import annotations

from dataclasses import dataclass

from pelk.bench.verdicts import ELEMENTS, Verdict, verdicts
from pelk.core.cautions import Caution
from pelk.core.evaluate import Evaluation
from pelk.core.figures import Figure
from pelk.core.loads import Loads, barrow_loads
from pelk.core.nutrients import NutrientTotal
from pelk.ui.charts import PhRule, ShareBar, ph_rule, share_bar
from pelk.ui.cutaway import Cutaway, Layer, Sprinkle, cutaway
from pelk.ui.numbers import sig
from pelk.ui.textures import texture_of
from pelk.ui.units import Measures
from pelk.yards.models import Yard

KEYS = "abcdefghijklmnopqrstuvwxyz"
ROW_PX, HEAD_PX = 44, 34  # heights of the parts table beside the picture
PICTURE_PX = 560
BANNERS = 2
RULE_PX = (396, 358)


@dataclass(frozen=True, slots=True)
class PartReading:
    """What a part's row shows at its right."""

    name: str
    share: str
    loose: str


@dataclass(frozen=True, slots=True)
class DoseReading:
    """What a dose's row shows at its right."""

    name: str
    mass: str
    kitchen: str
    rate: str


@dataclass(frozen=True, slots=True)
class ChargeRow:
    """One element of the charge."""

    element: str
    name: str
    bar: ShareBar
    total: str
    span: str
    demand: str
    state: str
    word: str


@dataclass(frozen=True, slots=True)
class Reading:
    """Everything the page shows of an evaluation."""

    evaluation: Evaluation
    verdicts: list[Verdict]
    parts: list[PartReading]
    doses: list[DoseReading]
    picture: Cutaway
    charge: list[ChargeRow]
    ph: PhRule | None
    ph_narrow: PhRule | None
    loads: Loads | None
    makes: str
    weighs: str
    stops: list[Caution]
    banners: list[Caution]
    folded: list[Caution]
    textures: list[str]

    def figure(self, key: str) -> Figure | None:
        """Return the figure that a "why" asks for."""
        return figures(self.evaluation).get(key)


def figures(evaluation: Evaluation) -> dict[str, Figure]:
    """Return every figure of an evaluation that can be asked why."""
    found = {
        f.quantity.key: f
        for f in (
            evaluation.mixed, evaluation.loose, evaluation.mass, evaluation.wet_mass,
        )
    }  # fmt: skip
    found |= {e: n.total for e, n in evaluation.nutrients.items()}
    if evaluation.acidity:
        for figure in (evaluation.acidity.start, evaluation.acidity.settled):
            found[figure.quantity.key] = figure
    return found


def loads_of(evaluation: Evaluation, yard: Yard) -> Loads | None:
    """Return the barrow loads of a batch, or None when its wet weight is not known."""
    wet, mixed = evaluation.wet_mass.value, evaluation.volumes.mixed_l
    if wet is None:
        return None
    return barrow_loads(mixed, wet / mixed, yard.barrow_l, yard.barrow_limit_kg)


def reading(evaluation: Evaluation, yard: Yard) -> Reading:
    """Make an evaluation ready for the page."""
    measures = yard.measures
    loads = loads_of(evaluation, yard)
    calm = [c for c in evaluation.cautions if not c.stops]
    banners = [c for c in calm if c.severity == "caution"][:BANNERS]
    acidity = evaluation.acidity
    wide = narrow = None
    if acidity is not None:
        settled, start = acidity.settled, acidity.start.value or 0
        span = (settled.low or 0, settled.value or 0, settled.high or 0)
        wide, narrow = (ph_rule(start, span, acidity.band, w) for w in RULE_PX)
    charge = [_charge(n, evaluation) for n in evaluation.nutrients.values()]
    return Reading(
        evaluation=evaluation,
        verdicts=verdicts(evaluation),
        parts=[
            PartReading(b.material.name, f"{b.share:.0%}", measures.volume(b.loose_l))
            for b in evaluation.bulk
        ],
        doses=[
            DoseReading(
                d.material.name, measures.mass(d.grams.typ),
                measures.kitchen(d.millilitres), f"{sig(d.g_per_l)} g/L",
            )
            for d in evaluation.doses
        ],
        picture=_picture(evaluation, measures),
        charge=charge,
        ph=wide,
        ph_narrow=narrow,
        loads=loads,
        makes=measures.volume(evaluation.volumes.mixed_l),
        weighs=_weighs(evaluation, measures),
        stops=evaluation.stops,
        banners=banners,
        folded=[c for c in calm if c not in banners],
        textures=sorted({s.texture for row in charge for s in row.bar.segments}),
    )  # fmt: skip


def _weighs(evaluation: Evaluation, measures: Measures) -> str:
    wet = evaluation.wet_mass.value
    return "" if wet is None else measures.mass(wet * 1000, 2)


def _picture(evaluation: Evaluation, measures: Measures) -> Cutaway:
    layers = [
        Layer(b.material.short_name, texture_of(b.material), measures.space(b.loose_l))
        for b in evaluation.bulk
    ]
    sprinkles = [
        Sprinkle(KEYS[i % 26], d.material.name, texture_of(d.material), d.g_per_l)
        for i, d in enumerate(evaluation.doses)
    ]
    rows_y = [HEAD_PX + ROW_PX * (i + 0.5) for i in range(len(layers))]
    return cutaway(
        layers, sprinkles, measures.space(evaluation.volumes.mixed_l),
        unit=measures.space_unit, height=PICTURE_PX, rows_y=rows_y,
    )  # fmt: skip


def _charge(nutrient: NutrientTotal, evaluation: Evaluation) -> ChargeRow:
    materials = {b.material.slug: b.material for b in evaluation.bulk}
    materials |= {d.material.slug: d.material for d in evaluation.doses}
    shares = sorted(
        (
            (materials[slug].short_name, texture_of(materials[slug]), value)
            for slug, value in nutrient.sources.items()
            if value > 0
        ),
        key=lambda s: -s[2],
    )
    total, name = nutrient.total, ELEMENTS[nutrient.element]
    low, high = nutrient.target_mg_l
    return ChargeRow(
        element=nutrient.element,
        name=name,
        bar=share_bar(name, shares, nutrient.target_mg_l),
        total=sig(total.value),
        span=f"{sig(total.low, 2)}–{sig(total.high, 2)}",
        demand=f"{sig(low, 2)}–{sig(high, 2)}",
        state="short" if nutrient.is_short else "none",
        word="short" if nutrient.is_short else "in total",
    )
