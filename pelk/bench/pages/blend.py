"""A dry feed blend made ready for its page and the lid of its tub."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date
from decimal import Decimal

from pelk.bench.forms.blends import SACKS, BlendForm
from pelk.bench.pages.verdicts import Graded, shown_finding
from pelk.core.advice.judged_blend import judge_blend
from pelk.core.advice.whole_doses import whole_dose
from pelk.core.base.figures import Figure, Input, figure
from pelk.core.base.quantities import Quantity
from pelk.core.base.rounding import sig
from pelk.core.crops.groups import Crop, season_demand
from pelk.core.crops.groups import crop as crop_of
from pelk.core.evaluation.cautions import Caution
from pelk.core.lab.blends import SEASON_C, Blend, blend_of, blend_released, lacks_beside, tub_weeks
from pelk.core.materials.bags import unit_prices
from pelk.core.materials.material import Material
from pelk.core.release.nitrogen_curves import MONTH_DAYS, daily_temperatures
from pelk.shelf.pages.figures import season_start
from pelk.shelf.pages.material import handling_cautions
from pelk.shelf.selectors import known_materials, packages_of
from pelk.ui.numbers import label_grade
from pelk.ui.release_chart import ReleaseChart, month_ticks, release_chart
from pelk.yards.models import Yard

LABEL_ELEMENTS = {"Ca": "calcium", "Mg": "magnesium", "S": "sulfur"}
NITROGEN = Quantity("nitrogen", "nitrogen in the blend", "N", "%", 0, 100)
CHARGE = Quantity("charge", "acid (–) or base, as lime", "A", "kg CaCO3/100 kg", -1e4, 1e4)
FREE = Quantity("free", "nitrogen free by the season's end", "x", "%", -1e3, 100, 2)
PLANT = Quantity("plant", "for one plant, each time", "m", "g", 0, 1e6, 2)
BED = Quantity("bed", "for a square metre of bed, each time", "m", "g", 0, 1e6, 2)
WEEKS = Quantity("weeks", "how long the tub lasts", "t", "weeks", 0, 1e9, 2)


@dataclass(frozen=True, slots=True)
class BlendLine:
    """What one feed puts in."""

    name: str
    weight: str
    percent: float
    cost: Decimal | None


@dataclass(frozen=True, slots=True)
class SackBeside:
    """One's own blend compare with a bought feed."""

    name: str
    grade: str
    says: list[str]


@dataclass(frozen=True, slots=True)
class BlendPage:
    """What a page shows of a blend."""

    name: str
    today: date
    tub: str
    litres: str
    grade: str
    contents: list[tuple[str, str]]
    lines: list[BlendLine]
    figures: list[Figure]
    chart: ReleaseChart | None
    tub_says: str
    dose: str
    how_often: str
    cautions: list[Caution]
    findings: list[Graded]
    unknown: tuple[str, ...]
    per_kg: Decimal | None
    beside: SackBeside | None


def blend_page(form: BlendForm, yard: Yard, today: date) -> BlendPage:
    """Reckon a blend that was typed without mistakes."""
    data, lines = form.cleaned_data, form.weighed
    blend, crop = blend_of(lines), crop_of(data["crop"])
    month = season_start(yard.normals_c)
    days = daily_temperatures(yard.normals_c, sum(MONTH_DAYS[:month]), round(crop.season_days))
    share = blend_released(lines, days)
    figures, tub_says, is_once = _figures(form, blend, crop, lines, share)
    season_g_l = _season_g_l(lines, crop, data["weeks"])
    weeks = f"every {sig(data['weeks'], 2)} weeks"
    prices = _prices(yard, lines)
    known = [p * Decimal(repr(kg)) for p, (_, kg) in zip(prices, lines, strict=True) if p]
    missing = [m.short_name.lower() for p, (m, _) in zip(prices, lines, strict=True) if p is None]
    whole = None if missing else sum(known, Decimal(0))
    per_kg = None if whole is None else whole / Decimal(repr(blend.kg))
    measures = yard.measures
    return BlendPage(
        name=data["name"],
        today=today,
        tub=measures.mass(1000 * blend.kg),
        litres="" if blend.litres is None else measures.volume(blend.litres, 2),
        grade=label_grade(blend.grade),
        contents=[
            (LABEL_ELEMENTS[e], f"{sig(blend.contents[e].typ, 2)} %")
            for e in LABEL_ELEMENTS
            if e in blend.contents and blend.contents[e].typ >= 0.1
        ],
        lines=[
            BlendLine(
                m.short_name,
                measures.mass(1000 * kg),
                100 * kg / blend.kg,
                None if p is None else p * Decimal(repr(kg)),
            )
            for (m, kg), p in zip(lines, prices, strict=True)
        ],
        figures=figures,
        tub_says=tub_says,
        dose=_dose(figures, blend, yard),
        how_often="once" if is_once else weeks,
        chart=None
        if share is None
        else release_chart([("yard", "here", share)], month_ticks(month, len(share) - 1)),
        cautions=handling_cautions([m for m, _ in lines], in_store=True),
        findings=[shown_finding(f) for f in judge_blend(lines, blend, crop, season_g_l)],
        unknown=blend.unknown,
        per_kg=per_kg,
        beside=_beside(form, yard, blend, per_kg, missing),
    )


def _season_g_l(lines: Sequence[tuple[Material, float]], crop: Crop, weeks: float) -> float | None:
    """Return what of it a season takes in a litre of mix; None where it feeds no nitrogen."""
    blend, share = blend_of(lines), blend_released(lines, [SEASON_C] * round(crop.season_days))
    nitrogen = blend.contents.get("N")
    if nitrogen is None or share is None or share[-1] <= 0:
        return None
    low, high = season_demand(crop, "N")
    usual = whole_dose(lines, crop, (low + high) / 2, weeks, nitrogen.typ, float(share[-1]))
    return usual.season_g_l


def _figures(
    form: BlendForm,
    blend: Blend,
    crop: Crop,
    lines: Sequence[tuple[Material, float]],
    share: Sequence[float] | object,
) -> tuple[list[Figure], str, bool]:
    """Return the numbers that can be asked why, how far the tub goes, and if it is given once."""
    data, nitrogen = form.cleaned_data, blend.contents.get("N")
    of_each = tuple(
        Input(
            m.short_name,
            m.composition["N"].typ if "N" in m.composition else 0.0,
            "% N",
            m.mark_of("N"),
            f"{sig(100 * kg / blend.kg, 3)} % of the blend",
        )
        for m, kg in lines
    )
    figures = []
    if nitrogen is not None:
        figures.append(
            figure(
                NITROGEN,
                nitrogen.typ,
                blend_of,
                span=(nitrogen.low, nitrogen.high),
                inputs=of_each,
                method="the content of each by its share of the weight",
            )
        )
    figures.append(
        figure(
            CHARGE,
            blend.base_kg_100kg,
            blend_of,
            inputs=tuple(
                Input(
                    m.short_name,
                    blend_of([(m, 1.0)]).base_kg_100kg,
                    "kg CaCO3/100 kg",
                    note=f"{sig(100 * kg / blend.kg, 3)} % of the blend",
                )
                for m, kg in lines
            ),
            method="base and acid of each at the end, unplanted, by its share of the weight",
            note="While a crop feeds on it, about half of the acid of its nitrogen is given back.",
        )
    )
    if share is None or nitrogen is None:
        return figures, "", False
    free = float(share[-1])  # type: ignore[index]
    figures.append(
        figure(
            FREE,
            100 * free,
            blend_released,
            inputs=of_each,
            method="two pools of each feed, moist, at this yard’s months from spring on",
        )
    )
    low, high = season_demand(crop, "N")
    season = crop.season_days / 7
    if free <= 0:
        return figures, "It ties up nitrogen rather than feeding: give none as a feed.", False
    rest = (data["weeks"], nitrogen.typ, free)
    usual = whole_dose(lines, crop, (low + high) / 2, *rest)
    method = "season’s nitrogen over what of the blend comes free, shared among the feeds"
    if usual.cap is not None:
        method += f"; no more than its {usual.cap.says} allows"
    common = (
        Input(f"{crop.name} take up", (low + high) / 2, "mg N/L", "guess", f"{low:g} to {high:g}"),
        Input("Season", season, "weeks"),
        Input("Between feeds", data["weeks"], "weeks"),
        Input("Nitrogen", nitrogen.typ, "%"),
        Input("Of it free", 100 * free, "%"),
    )
    doses = []
    for quantity, litres, of in (
        (PLANT, form.pot_l, "Mix in the pot"),
        (BED, crop.reference_l * data["plants_m2"], "Roots of a square metre"),
    ):
        least, most = (
            litres * min(whole_dose(lines, crop, mg, *rest).each_g_l, usual.each_g_l)
            if usual.cap
            else litres * whole_dose(lines, crop, mg, *rest).each_g_l
            for mg in (low, high)
        )
        each = usual.each_g_l * litres
        doses.append(each)
        figures.append(
            figure(
                quantity,
                each,
                whole_dose,
                span=(min(least, each), max(most, each)),
                method=method,
                inputs=(*common, Input(of, litres, "L")),
                note="All of its nitrogen from this blend. What the mix holds already counts as "
                "well: "
                "the Bench says how much. Late feeds have less time to come free.",
            )
        )
    plants = data["plants"]
    between = season if usual.is_too_weak else data["weeks"]
    lasts = tub_weeks(blend.kg, doses[0], plants, between)
    figures.append(
        figure(
            WEEKS,
            lasts,
            tub_weeks,
            method="what is in the tub over what is given in a week",
            inputs=(
                Input("Tub", blend.kg, "kg"),
                Input("Plants", plants),
                Input("Each time", doses[0], "g"),
            ),
        )
    )
    whole = usual.season_g_l * form.pot_l
    if usual.cap is not None and usual.is_too_weak:
        weak = (
            f"Too weak in nitrogen to feed by alone: its {usual.cap.says} stops it at "
            f"{sig(usual.season_g_l, 2)} g/L a season, {usual.nitrogen_share:.0%} of the nitrogen "
            f"needed. Give it once, and feed nitrogen with something else."
        )
        return figures, weak, True
    says = (
        f"{plants:g} plants for {sig(lasts, 2)} weeks, "
        f"or {int(blend.kg * 1000 / whole)} plants for a season of {season:.0f} weeks."
    )
    if usual.cap is not None:
        says += (
            f" Its {usual.cap.says} stops it at {sig(usual.season_g_l, 2)} g/L a season: "
            f"{usual.nitrogen_share:.0%} of the nitrogen needed; feed the rest with something else."
        )
    return figures, says, False


def _dose(figures: Sequence[Figure], blend: Blend, yard: Yard) -> str:
    """Write what one plant gets each time, by weight and by the spoon."""
    for dose in figures:
        if dose.quantity is PLANT and dose.value is not None:
            ml = blend.litres and blend.litres / blend.kg * dose.value
            spoons = yard.measures.kitchen(ml)
            weight = yard.measures.mass(dose.value, 2)
            return f"{weight}, about {spoons}" if spoons else weight
    return ""


def _prices(yard: Yard, lines: Sequence[tuple[Material, float]]) -> list[Decimal | None]:
    """Return what a kilogram of each cost when it was last bought."""
    bought = packages_of(yard, [m.slug for m, _ in lines])
    return [unit_prices(bought[m.slug], m).per_kg if m.slug in bought else None for m, _ in lines]


def _beside(
    form: BlendForm, yard: Yard, blend: Blend, per_kg: Decimal | None, missing: list[str]
) -> SackBeside | None:
    slug = form.cleaned_data["sack"]
    row = known_materials(yard, [slug]).get(slug)
    if row is None:
        return None
    sack = row.core
    less, more = lacks_beside(blend, sack)
    words = {"N": "nitrogen", "P": "phosphorus", "K": "potassium", **LABEL_ELEMENTS}
    says = []
    if less:
        says.append(
            f"The ready-made feed has less than half your {_list([words[e] for e in less])}."
        )
    if more:
        says.append(f"Yours has less than half its {_list([words[e] for e in more])}.")
    if not less and not more:
        says.append("No nutrient differs by more than a factor of two.")
    if per_kg is None:
        says.append(
            f"Its cost cannot be compared with yours: no price on the shelf for {_list(missing)}."
        )
    else:
        says.append(_cost_beside(yard, sack, blend, per_kg))
    oxides = blend_of([(sack, 1.0)]).grade
    return SackBeside(SACKS[slug], label_grade(oxides), says)


def _cost_beside(yard: Yard, sack: Material, blend: Blend, per_kg: Decimal) -> str:
    theirs = _prices(yard, [(sack, 1.0)])[0]
    own_n, their_n = blend.contents.get("N"), sack.composition.get("N")
    if theirs is None:
        return (
            f"Yours costs {yard.money.each(per_kg)} a kg; write a price for the sack on the shelf."
        )
    said = f"Yours costs {yard.money.each(per_kg)} a kg, the sack {yard.money.each(theirs)}"
    if own_n and their_n and own_n.typ > 0 and their_n.typ > 0:
        ours = per_kg / Decimal(repr(own_n.typ / 100))
        other = theirs / Decimal(repr(their_n.typ / 100))
        said += f"; a kilogram of nitrogen {yard.money.each(ours)} beside {yard.money.each(other)}"
    return f"{said}."


def _list(words: list[str]) -> str:
    return " and ".join([", ".join(words[:-1]), words[-1]] if len(words) > 1 else words)
