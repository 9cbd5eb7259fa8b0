"""The one door of the core: a plan and a shelf in, an `Evaluation` out."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

from pelk.core.acid_base.acidity import Acidity, acidity, actions
from pelk.core.acid_base.buffering import blend_curve, component
from pelk.core.base.errors import UnknownError
from pelk.core.base.figures import Figure
from pelk.core.base.limits import limit
from pelk.core.base.quantities import NUTRIENTS
from pelk.core.crops.groups import Crop, crop, ph_band, season_demand
from pelk.core.evaluation.arithmetic_checks import practice_of
from pelk.core.evaluation.cautions import Caution, Line, by_severity, fired
from pelk.core.evaluation.headlines import (
    BulkLine,
    air_figures,
    c_to_n_figure,
    ec_figures,
    loose_figure,
    mass_figure,
    mixed_figure,
    ph_figure,
    ready_figure,
    wet_figure,
)
from pelk.core.evaluation.plan_checks import check_plan
from pelk.core.evaluation.season_supply import (
    SeasonSupply,
    as_planted,
    brought_by_season,
    season_supply,
)
from pelk.core.evaluation.trace_elements import trace_figures
from pelk.core.evaluation.worked import Worked
from pelk.core.materials.cost import Cost, Package, cost
from pelk.core.materials.material import MINERAL_SOIL, Material
from pelk.core.materials.measures import yard_measures
from pelk.core.materials.taught import told_by_heaps
from pelk.core.materials.totals import MixIngredient, NutrientTotal, nutrient_total
from pelk.core.plans.plan import INOCULUM, Plan
from pelk.core.salts.salts import boron_ratio
from pelk.core.simulation.availability import cation_shares
from pelk.core.simulation.ensemble import SAMPLES
from pelk.core.simulation.forecast import Forecast, Observed, forecast, surroundings_of
from pelk.core.simulation.heap import Heap
from pelk.core.simulation.initial_state import heap_of, starting_at
from pelk.core.simulation.life import MixedSoil
from pelk.core.simulation.run import Surroundings
from pelk.core.vessels.dose_amounts import DoseLine, dose_lines
from pelk.core.vessels.drainage import AIR_OF_GROUP, least_air, wanted_air
from pelk.core.vessels.structure import (
    HEAP_HEIGHT_CM,
    Structure,
    dry_density,
    structure_of,
    water_to_add,
)
from pelk.core.vessels.trade_pots import kinds
from pelk.core.vessels.volumes import Volumes, volumes

USUAL_POT_CM, TALLEST_POT_CM = 20.0, 60.0
# A pot is about a tenth taller than a cube of its volume.
POT_SHAPE = 1.1
CATIONS = ("Ca", "Mg", "K")
SPOONS, CUPS = {"tsp", "tbsp"}, {"cup", "floz", *yard_measures()}


@dataclass(frozen=True, slots=True)
class Evaluation:
    """Everything that a plan comes to.

    Attributes
    ----------
    mixed, loose, mass, wet_mass : Figure
        Volumes and weights of the batch.
    water_l_per_l : float or None
        Water to bring it to a wrung-out sponge; None when not known. [L/L]
    acidity : Acidity or None
        None when `acidity_problem` says why.
    forecast : Forecast or None
        How the heap goes on; None with the acidity.
    supply : SeasonSupply or None
        What comes free when, against the crop.
    traces : dict of str to Figure
        Iron, manganese, zinc, copper and boron free in a season, as far as known. [mg/L]
    cations : dict of str to float
        Shares of calcium, magnesium and potassium among their charges, free in a season;
        a second reading beside the bands. [-]
    ph, ec_now, ec_later, ready : Figure or None
        Headlines of the forecast.
    told_by_heaps : str
        Which materials it takes as the yard's own heaps know them; empty for none.
    pot : Structure or None
        Air and water in the pot; None when `structure_problem` says why.
    wanted_air : float
        Air that the crop wants there. [L/L]
    """

    crop: Crop
    volumes: Volumes
    mixed: Figure
    loose: Figure
    mass: Figure
    wet_mass: Figure
    water_l_per_l: float | None
    bulk: tuple[BulkLine, ...]
    doses: tuple[DoseLine, ...]
    nutrients: dict[str, NutrientTotal]
    acidity: Acidity | None
    acidity_problem: str
    ph_band: tuple[float, float]
    forecast: Forecast | None
    supply: SeasonSupply | None
    traces: dict[str, Figure]
    cations: dict[str, float]
    ph: Figure | None
    ec_now: Figure | None
    ec_later: Figure | None
    ready: Figure | None
    c_to_n: Figure
    pots: int
    pot: Structure | None
    air: Figure | None
    water_held: Figure | None
    wanted_air: float
    structure_problem: str
    cost: Cost
    cautions: tuple[Caution, ...]
    told_by_heaps: str

    @property
    def stops(self) -> list[Caution]:
        """The cautions that block making the batch."""
        return [c for c in self.cautions if c.stops]

    @property
    def figures(self) -> tuple[Figure, ...]:
        """Every headline that can be asked why."""
        listed: list[Figure | None] = [
            self.mixed,
            self.loose,
            self.mass,
            self.wet_mass,
            self.c_to_n,
            self.ph,
            self.ec_now,
            self.ec_later,
            self.ready,
            self.air,
            self.water_held,
            *(n.total for n in self.nutrients.values()),
        ]
        if self.acidity is not None:
            listed += [self.acidity.start, self.acidity.settled]
        if self.supply is not None:
            listed += [row.free for row in self.supply.elements.values()]
        listed += self.traces.values()
        return tuple(f for f in listed if f is not None)


class _Work:
    """A plan being worked out: what its parts share."""

    def __init__(self, plan: Plan, shelf: Mapping[str, Material]) -> None:
        self.plan, self.crop = plan, crop(plan.crop)
        self.volumes = mix_volumes = volumes(plan, shelf)
        self.parts = [
            (shelf[p.material], x) for p, x in zip(plan.parts, mix_volumes.shares, strict=True)
        ]
        self.loss = mix_volumes.blending_loss
        self.bulk = tuple(
            BulkLine(m, litres, litres * m.loose_density().typ, x)
            for (m, x), litres in zip(self.parts, mix_volumes.loose_l, strict=True)
        )
        self.doses = dose_lines(plan, shelf, mix_volumes)
        self.rates = [(d.material, d.g_per_l) for d in self.doses]
        self.ingredients = [
            MixIngredient(b.material, 1000 * b.kg / mix_volumes.mixed_l, True) for b in self.bulk
        ] + [MixIngredient(d.material, d.g_per_l, False) for d in self.doses]
        self.mineral = sum(x for m, x in self.parts if m.family in MINERAL_SOIL)
        self.band = ph_band(self.crop, self.mineral)

    def structure(self, height_cm: float) -> Structure | str:
        """Return the air and water at a height, or why they are not known."""
        try:
            return structure_of(self.parts, self.loss, height_cm)
        except UnknownError as error:
            return error.message

    @property
    def pot_height_cm(self) -> float:
        """Height of the mix in the pot, typed or by the size of the first kind. [cm]."""
        if self.plan.pot_height_cm:
            return self.plan.pot_height_cm
        if not self.plan.batch.vessels:
            return USUAL_POT_CM
        first = self.plan.batch.vessels[0]
        kind = kinds()[first.kind]
        litres = first.litres or (kind.litres.typ if kind.litres else 0.0)
        height = POT_SHAPE * (litres * kind.fill * 1000) ** (1 / 3)
        return min(round(height), TALLEST_POT_CM) or USUAL_POT_CM


def evaluate(
    plan: Plan,
    shelf: Mapping[str, Material],
    *,
    samples: int = SAMPLES,
    packages: Mapping[str, Package] | None = None,
    currency: str | None = None,
    observed: Observed | None = None,
) -> Evaluation:
    """Return everything that a plan comes to.

    Parameters
    ----------
    plan : Plan
        Batch, parts, doses, crop, and where it lies.
    shelf : mapping of str to Material
        Every material the plan names.
    samples : int
        Draws of the fan; 0 leaves it out, for quick answers.
    packages : mapping of str to Package, optional
        How each material is bought.
    currency : str, optional
        Of the prices.
    observed : Seen, optional
        What was read of this heap.

    Returns
    -------
    Evaluation
        Headline numbers as figures that can be asked why.

    Raises
    ------
    PelkError
        When the plan is impossible; ``path`` names the row.
    """
    check_plan(plan, shelf)
    work = _Work(plan, shelf)
    mix_volumes, rates = work.volumes, work.rates
    ph = _acidity(work)
    acid = ph if isinstance(ph, Acidity) else None
    heap, pot = work.structure(HEAP_HEIGHT_CM), work.structure(work.pot_height_cm)
    heap_is = heap if isinstance(heap, Structure) else None
    pot_is = pot if isinstance(pot, Structure) else None
    ahead = _forecast(work, heap_is, samples, observed or Observed()) if acid else None
    traces = _traces(work, ahead) if ahead else {}
    if ahead:
        ahead = _held_up_for_good(work, ahead, pot_is, traces)
    supply = _season_supply(work, ahead) if ahead else None
    dry = sum(x * dry_density(m) for m, x in work.parts) / (1 - work.loss) if heap_is else 0
    dosed = sum(rate for _, rate in rates) / 1000
    air, held = air_figures(pot_is) if pot_is else (None, None)
    ec_now, ec_later = ec_figures(ahead, work.parts, work.loss) if ahead else (None, None)
    amounts = [(b.material, b.kg) for b in work.bulk]
    amounts += [(d.material, d.grams.typ / 1000) for d in work.doses]
    worked = Worked(
        work.crop,
        mix_volumes,
        tuple(work.parts),
        work.doses,
        plan.doses,
        acid,
        ahead,
        supply,
        pot_is,
        wanted_air(AIR_OF_GROUP[plan.crop], height_cm=work.pot_height_cm),
    )
    told_by = told_by_heaps(i.material for i in work.ingredients)
    return Evaluation(
        crop=work.crop,
        volumes=mix_volumes,
        mixed=mixed_figure(plan, mix_volumes),
        loose=loose_figure(work.bulk, mix_volumes),
        mass=mass_figure(work.bulk, work.doses),
        wet_mass=wet_figure(
            heap_is, heap if isinstance(heap, str) else "", dry, dosed, mix_volumes.mixed_l
        ),
        water_l_per_l=None
        if heap_is is None
        else water_to_add(work.parts, work.loss, heap_is.container_capacity),
        bulk=work.bulk,
        doses=work.doses,
        nutrients=_totals(work)
        if supply is None
        else {e: row.total for e, row in supply.elements.items()},
        acidity=acid,
        acidity_problem="" if isinstance(ph, Acidity) else ph,
        ph_band=work.band,
        forecast=ahead,
        supply=supply,
        traces=traces,
        cations=cation_shares({e: ahead.free_at(e, ahead.days) for e in CATIONS}) if ahead else {},
        ph=ph_figure(ahead, told_by) if ahead else None,
        told_by_heaps=told_by,
        ec_now=ec_now,
        ec_later=ec_later,
        ready=ready_figure(ahead) if ahead else None,
        c_to_n=c_to_n_figure(work.ingredients),
        pots=sum(v.count for v in plan.batch.vessels),
        pot=pot_is,
        air=air,
        water_held=held,
        wanted_air=worked.wanted_air,
        structure_problem=pot if isinstance(pot, str) else "",
        cost=cost(amounts, packages or {}, mix_volumes.mixed_l, currency=currency),
        cautions=tuple(by_severity([*practice_of(worked), *_listed(work)])),
    )


def _held_up_for_good(
    work: _Work, ahead: Forecast, pot: Structure | None, traces: Mapping[str, Figure]
) -> Forecast:
    """Return the forecast without a ready day, where what harms is not a matter of days."""
    ready, boron = ahead.ready, traces["B"].value if "B" in traces else None
    if boron and boron_ratio(boron, work.crop.slug) > limit("boron", "harms_ratio"):
        ready = ready.without("ions")
    if pot is not None and pot.air_filled < least_air(work.crop):
        ready = ready.without("air")
    return ahead if ready is ahead.ready else replace(ahead, ready=ready)


def _traces(work: _Work, ahead: Forecast) -> dict[str, Figure]:
    brought = {"B": _by_water("B", work, ahead)}
    ph = float(ahead.ph[1][-1])
    return trace_figures(work.ingredients, ahead.times, ph, work.plan.crop, brought)


def _totals(work: _Work) -> dict[str, NutrientTotal]:
    return {
        element: nutrient_total(element, work.ingredients, season_demand(work.crop, element))
        for element in NUTRIENTS
    }


def heap_as_mixed(plan: Plan, shelf: Mapping[str, Material]) -> tuple[Heap, Surroundings] | None:
    """Return the heap of a plan on mixing day and where it lies, without running it.

    Parameters
    ----------
    plan : Plan
        Batch, parts, doses, and where it lies.
    shelf : mapping of str to Material
        Every material the plan names.

    Returns
    -------
    tuple of (Heap, Surroundings) or None
        What a forecast starts from; None where nothing is known of its pH.

    Raises
    ------
    PelkError
        When the plan is impossible; ``path`` names the row.
    """
    check_plan(plan, shelf)
    work = _Work(plan, shelf)
    if not isinstance(_acidity(work), Acidity):
        return None
    heap = work.structure(HEAP_HEIGHT_CM)
    pile = _pile(work, heap if isinstance(heap, Structure) else None)
    return pile, surroundings_of(plan.conditions)


def soil_as_mixed(plan: Plan, shelf: Mapping[str, Material]) -> MixedSoil:
    """Return a plan's mix as a life begins with it.

    Parameters
    ----------
    plan : Plan
        Batch, parts, doses, and where it lies.
    shelf : mapping of str to Material
        Every material the plan names.

    Returns
    -------
    MixedSoil
        Per litre.

    Raises
    ------
    PelkError
        When the plan is impossible, or nothing is known of its pH.
    """
    check_plan(plan, shelf)
    work = _Work(plan, shelf)
    ph = _acidity(work)
    if not isinstance(ph, Acidity):
        raise UnknownError(ph)
    heap = work.structure(HEAP_HEIGHT_CM)
    return MixedSoil(
        heap=_pile(work, heap if isinstance(heap, Structure) else None),
        ingredients=tuple(work.ingredients),
        parts=tuple(work.parts),
        doses=tuple(work.rates),
        loss=work.loss,
        mineral=work.mineral,
    )


def _pile(work: _Work, heap: Structure | None) -> Heap:
    inoculum = work.plan.conditions.inoculum
    return heap_of(
        work.parts,
        work.rates,
        work.loss,
        capacity=heap.container_capacity if heap else 0.55,
        porosity=heap.total_porosity if heap else 0.85,
        litres=work.volumes.mixed_l,
        inoculum=INOCULUM[inoculum] if inoculum else None,
    )


def _forecast(work: _Work, heap: Structure | None, samples: int, observed: Observed) -> Forecast:
    conditions = work.plan.conditions
    pile = _pile(work, heap)
    if observed.start_ph is not None:
        pile = starting_at(pile, observed.start_ph)
    return forecast(
        pile,
        conditions,
        work.ingredients,
        work.parts,
        work.rates,
        work.loss,
        work.crop,
        work.band,
        work.plan.days,
        mineral_soil=work.mineral,
        samples=samples,
        observed=observed,
    )


def _season_supply(work: _Work, ahead: Forecast) -> SeasonSupply:
    ready = ahead.ready
    planted = work.plan.planted_day
    if planted is None:
        planted = ready.p50 if ready.p50 is not None else int(ready.floor_days)
    return season_supply(work.ingredients, ahead, work.crop, work.mineral, planted)


def _acidity(work: _Work) -> Acidity | str:
    """Return the acidity of the mix, or the reason why it is not known."""
    per_litre = 1 / (1 - work.loss)
    try:
        parts = [component(m, x * per_litre) for m, x in work.parts]
        # A bulk material dosed by weight buffers like a part.
        parts += [
            component(d.material, d.share)
            for d in work.doses
            if d.material.acidity_role == "bulk" and d.share
        ]
        curve = blend_curve(parts)
    except UnknownError as error:
        return error.message
    return acidity(curve, actions(work.rates), work.band)


def _by_water(element: str, work: _Work, ahead: Forecast) -> float:
    """Return what a season's water leaves of an element in a litre of mix. [mg/L]."""
    water, days = as_planted(ahead.around.water, 0), int(work.crop.season_days)
    return brought_by_season(element, water, days, ahead.heap.capacity)


def _listed(work: _Work) -> list[Caution]:
    """Return the cautions of the published list for mixing this batch outdoors."""
    dry, mixed_l = frozenset(["dry"]), work.volumes.mixed_l
    lines = [
        Line(
            b.material.name,
            {"tag": frozenset(b.material.tags), "state": dry},
            1000 * b.kg / mixed_l,
        )
        for b in work.bulk
    ]
    for line, dose in zip(work.doses, work.plan.doses, strict=True):
        measure = dose.unit.name.split("/")[0]
        word = "spoon" if measure in SPOONS else "cup" if measure in CUPS else "gram"
        words = {"tag": frozenset(line.material.tags), "state": dry, "unit": frozenset([word])}
        lines.append(Line(line.material.name, words, line.g_per_l))
    context = {
        "crop": frozenset([*work.crop.tags, work.crop.slug]),
        "stage": frozenset(["weigh", "mix"]),
        "where": frozenset(["outdoors"]),
    }
    return fired(lines, context)
