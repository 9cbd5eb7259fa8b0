"""The pH desk: quick answers without a recipe. Raise, lower, or sour the water in a can."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cache

from pelk.core.acid_base.acids import Acidifier
from pelk.core.acid_base.buffering import CALCITE_PH
from pelk.core.acid_base.equivalents import equivalents_of_sulfur
from pelk.core.acid_base.water import ph_after_acid, weak_acid_for
from pelk.core.advice.dose_for_ph import Errand
from pelk.core.advice.giving_doses import Advice, advise
from pelk.core.advice.ph_answer import Outcome, PhAnswer, ph_answer
from pelk.core.base.errors import PelkError
from pelk.core.base.guards import answers
from pelk.core.base.sources import cites
from pelk.core.crops.groups import library as crops
from pelk.core.materials.library import library
from pelk.core.materials.material import Material
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import heap_of, starting_at, with_doses
from pelk.core.simulation.run import Surroundings, simulate

# Soils as growers name them, by parts of the library's materials.
SOILS: dict[str, tuple[str, dict[str, float]]] = {
    "peat": ("peat and perlite", {"sphagnum-peat-light": 3, "perlite": 1}),
    "peat-bark": ("peat and bark", {"sphagnum-peat-light": 2, "pine-bark-fines-composted": 2}),
    "coir": ("coir and perlite", {"coir-pith-loose": 3, "perlite": 1}),
    "compost": ("a mix rich in compost", {"yard-compost": 1, "coir-pith-loose": 1, "perlite": 1}),
    "loam": ("garden loam", {"topsoil-loam": 1}),
    "sandy": ("sandy garden soil", {"topsoil-sandy": 1}),
}
NEAR = 0.1
HIGHEST, LOWEST = CALCITE_PH - 0.2, 3.0
# Strength of what stands in a kitchen, common practice: grams of acid in a litre or a kilogram.
ACIDS: dict[str, tuple[str, str, float, float, str]] = {
    "citric": ("citric acid, crystals", "citric", 192.12, 1000.0, "g"),
    "lemon": ("lemon juice", "citric", 192.12, 50.0, "mL"),
    "vinegar": ("vinegar, 5 %", "acetic", 60.05, 50.0, "mL"),
}


# The most at once on a bed, from handbooks, conservative; half of it where plants stand. [g/m2]
BED_MOST_G_M2 = {("sulfur", "sandy"): 49.0, ("sulfur", ""): 98.0, ("lime", ""): 488.0}
# In place of sulfur, by charge: what to know of each.
OTHER_ACIDIFIERS = {
    Acidifier.ALUMINIUM_SULFATE_14_WATER: "acts in two weeks; the aluminium harms roots and the "
    "salt "
    "adds up",
    Acidifier.FERROUS_SULFATE_7_WATER: "acts in two weeks; stains, and salt adds up",
    Acidifier.AMMONIUM_SULFATE_HALF: "over four to eight weeks, by what its ammonium leaves "
    "behind; a "
    "feed first, and salty",
}


@dataclass(frozen=True, slots=True)
class Way:
    """One product that would do it, or why it would not.

    Attributes
    ----------
    g_per_l : float
        For the target on the day. [g/L]
    outcome : Outcome
        Dose, or too slow for the day: then this is what is safe.
    reached_day : int or None
        When it gets there. [d]
    rest_ph : float
        After two years. [pH]
    half_day, most_day : float or None
        By when half and nine tenths have worked. [d]
    calcium_mg_l, magnesium_mg_l : float
        What it brings besides. [mg/L]
    """

    material: Material
    g_per_l: float = 0.0
    outcome: Outcome = Outcome.DOSE
    reached_day: int | None = None
    rest_ph: float = 0.0
    half_day: float | None = None
    most_day: float | None = None
    calcium_mg_l: float = 0.0
    magnesium_mg_l: float = 0.0
    advice: Advice | None = None
    problem: str = ""


@cache
def wanted_by_any() -> tuple[float, float]:
    """Return the lowest and the highest pH that any crop wants."""
    bands = [band for c in crops().values() for band in (c.ph_soilless, c.ph_mineral)]
    return min(low for low, _ in bands), max(high for _, high in bands)


def soil_heap(soil: str, ph: float) -> Heap:
    """Return one of `SOILS` as it stands at a pH.

    Parameters
    ----------
    soil : str
        Key of `SOILS`.
    ph : float
        As a pen reads it. [pH]
    """
    parts, shelf = SOILS[soil][1], library()
    total = sum(parts.values())
    heap = heap_of([(shelf[slug], n / total) for slug, n in parts.items()], [])
    return starting_at(heap, ph)


@dataclass(frozen=True, slots=True)
class Lying:
    """Lime or sulfur that lies in a soil already: what, how much, since when. [g/L], [d]."""

    material: Material
    g_per_l: float
    days_ago: float = 0.0


def _with_lying(heap: Heap, around: Surroundings, lying: Lying | None) -> Heap:
    """Return a soil with what has not worked yet of what lies in it."""
    if lying is None or lying.g_per_l <= 0:
        return heap
    whole = with_doses(heap, [(lying.material, lying.g_per_l)])
    is_lime = bool(lying.material.lime_grade)
    share = 0.0
    if lying.days_ago >= 1:
        trace = simulate(whole, around, round(lying.days_ago))
        done = float(trace["lime_meq_l" if is_lime else "sulfur_meq_l"][-1])
        share = done / max(whole.limed_meq_l if is_lime else whole.dosed_acid_meq_l, 1e-9)
    return with_doses(heap, [(lying.material, lying.g_per_l * (1 - share))])


@dataclass(frozen=True, slots=True)
class DeskAnswer:
    """What would bring a soil to a pH: ways side by side, or one answer that needs none.

    Attributes
    ----------
    ways : list of Way
        The least of them first; those that cannot do it last, with the reason.
    instead : PhAnswer or None
        Wait, or take back, where that is the answer whatever the product.
    """

    ways: list[Way]
    instead: PhAnswer | None = None


@cites("pelk", "each product by the same course; the soil shifted to the pH that was read")
def ways_to(
    soil: str,
    start_ph: float,
    target_ph: float,
    day: int,
    products: Sequence[Material],
    temperature_c: float = 15.0,
    *,
    planted: bool = False,
    lying: Lying | None = None,
) -> DeskAnswer:
    """Return every lime, or every sulfur, that would bring a soil to a pH.

    Parameters
    ----------
    soil : str
        Key of `SOILS`.
    start_ph, target_ph : float
        Read and wanted. [pH]
    day : int
        By when. [d]
    products : sequence of Material
        Limes when it goes up, sulfurs when it goes down; others are left out.
    temperature_c : float
        Mean of the time. [°C]
    planted : bool
        A plant stands in it.
    lying : Lying, optional
        What was given already.

    Returns
    -------
    DeskAnswer
        Ways, or what to do in their place.

    Raises
    ------
    PelkError
        When start and target are the same, or out of reach of any.
    """
    if abs(target_ph - start_ph) < NEAR:
        raise PelkError("it is already there, as near as a pH pen can tell", "target_ph")
    for name, ph in (("start_ph", start_ph), ("target_ph", target_ph)):
        if not LOWEST <= ph <= HIGHEST:
            raise PelkError(f"found pH {ph:g}, allowed: from {LOWEST:g} to {HIGHEST:g}", name)
    lowest, highest = wanted_by_any()
    if not lowest <= target_ph <= highest:
        raise PelkError(
            f"found pH {target_ph:g}, and no crop wants that: they grow from {lowest:g} to "
            f"{highest:g}",
            "target_ph",
        )
    kind = "lime" if target_ph > start_ph else "sulfur"
    around = Surroundings(temperature_c=temperature_c)
    heap = _with_lying(soil_heap(soil, start_ph), around, lying)
    errand = Errand(target_ph=target_ph, day=day, is_mixed=lying is not None)
    ways = []
    if lying is not None:
        first = ph_answer(heap, around, errand, [], [])
        if first.outcome in (Outcome.WAIT, Outcome.TAKE_BACK, Outcome.THERE):
            return DeskAnswer([], first)
        kind = first.kind or kind
    for material in products:
        if not (material.lime_grade if kind == "lime" else material.sulfur_grade):
            continue
        answer = ph_answer(heap, around, errand, [material], [material])
        plan = answer.plan
        if plan is None or answer.outcome is Outcome.NO_WAY:
            problem = answer.problem or f"none of it rests near pH {target_ph:g}"
            ways.append(Way(material, problem=problem))
            continue
        grade = material.lime_grade or material.sulfur_grade
        advice = advise(
            kind,
            plan.g_per_l,
            grade=grade,
            gap=target_ph - start_ph,
            planted=planted,
            temperature_c=temperature_c,
        )
        brings = {
            e: plan.g_per_l * 10 * material.composition[e].typ
            for e in ("Ca", "Mg")
            if e in material.composition
        }
        ways.append(
            Way(
                material,
                plan.g_per_l,
                answer.outcome,
                plan.reached_day,
                plan.rest_ph,
                plan.half_day,
                plan.most_day,
                brings.get("Ca", 0.0),
                brings.get("Mg", 0.0),
                advice,
            )
        )
    ways.sort(key=lambda way: (bool(way.problem), way.outcome != Outcome.DOSE, way.g_per_l))
    return DeskAnswer(ways)


@cites("crc", "dissociation constants of the weak acid")
@cites("trade", "lemon juice holds about 5 % of citric acid, vinegar 5 % of acetic")
def acid_for_can(
    acid: str, alkalinity_meq_l: float, water_ph: float, target_ph: float, can_l: float
) -> float:
    """Return how much of a kitchen acid brings a can of water to a pH.

    Parameters
    ----------
    acid : str
        Key of `ACIDS`.
    alkalinity_meq_l : float
        Of the water. [meq/L]
    water_ph, target_ph : float
        Of the water, and wanted. [pH]
    can_l : float
        [L]

    Returns
    -------
    float
        In grams of crystals or millilitres of juice and vinegar. [g] or [mL]
    """
    _, kind, molar, per_thousand, _ = ACIDS[acid]
    mmol = weak_acid_for(alkalinity_meq_l, water_ph, target_ph, kind) * can_l
    return mmol * molar / per_thousand


@cites("crc", "dissociation constants of the weak acid")
@answers
def ph_of_can(
    acid: str, amount: float, alkalinity_meq_l: float, water_ph: float, can_l: float
) -> float:
    """Return the pH of a can of water with so much of a kitchen acid in it.

    Parameters
    ----------
    acid : str
        Key of `ACIDS`.
    amount : float
        Grams of crystals or millilitres of juice and vinegar, in the whole can. [g] or [mL]
    alkalinity_meq_l : float
        Of the water. [meq/L]
    water_ph : float
        Of the water. [pH]
    can_l : float
        [L]

    Returns
    -------
    float
        [pH]

    Raises
    ------
    PelkError
        Where that much takes the water below pH 1.5.
    """
    _, kind, molar, per_thousand, _ = ACIDS[acid]
    mmol_l = amount * per_thousand / molar / can_l
    return ph_after_acid(alkalinity_meq_l, water_ph, weak_mmol_l={kind: mmol_l})


@cites(
    "trade",
    "1 lb of sulfur a 100 ft2 on sand, 2 on loam; 100 lb of lime a 1000 ft2; half in a planted bed",
)
@answers
def bed_limit(kind: str, soil: str, depth_cm: float, *, planted: bool) -> float:
    """Return the most of a lime or a sulfur that a bed is given at once.

    Parameters
    ----------
    kind : str
        ``lime`` or ``sulfur``.
    soil : str
        Key of `SOILS`.
    depth_cm : float
        That it is worked in. [cm]
    planted : bool
        Plants stand in it.

    Returns
    -------
    float
        Rate. [g/L]
    """
    if depth_cm <= 0:
        raise PelkError(f"found {depth_cm:g} cm, allowed: over 0", "depth_cm")
    most = BED_MOST_G_M2.get((kind, soil), BED_MOST_G_M2[kind, ""])
    return most * (0.5 if planted else 1.0) / (10 * depth_cm)


def instead_of_sulfur(kg: float) -> list[tuple[str, float, str, bool]]:
    """Return what does the acid of some sulfur, by charge and never by weight.

    Parameters
    ----------
    kg : float
        Elemental sulfur. [kg]

    Returns
    -------
    list of (str, float, str, bool)
        Name, amount in kg (liquids in L), what to know of it, and whether it lasts.
    """
    by_product = equivalents_of_sulfur(kg)
    rows = [(name, by_product[name][0], say, True) for name, say in OTHER_ACIDIFIERS.items()]
    fades = "microbes eat it within days and the pH comes back: it cannot hold a pot’s pH"
    return [
        *rows,
        *((n, amount, fades, False) for n, (amount, lasts) in by_product.items() if not lasts),
    ]
