"""The one door of the core: a plan and a shelf in, an `Evaluation` out."""

from collections.abc import Mapping
from dataclasses import dataclass

from pelk.core.acidity import Acidity, acidity, actions
from pelk.core.buffering import blend_curve, component
from pelk.core.cautions import Caution, Line, by_severity, fired
from pelk.core.checks import Worked, judge
from pelk.core.crops import Crop, crop, ph_band, season_demand
from pelk.core.doses import DoseLine, dose_lines
from pelk.core.errors import UnknownError
from pelk.core.figures import Figure, Input, figure
from pelk.core.materials import MINERAL_SOIL, Material
from pelk.core.nutrients import NutrientTotal, Supply, nutrient_total
from pelk.core.plans import Plan
from pelk.core.quantities import LOOSE_VOLUME, MASS, MIXED_VOLUME, NUTRIENTS, WET_MASS
from pelk.core.structure import container_capacity, dry_density, water_to_add
from pelk.core.volumes import (
    LOSS_SPREAD,
    Volumes,
    blending_loss,
    needed_for_vessels,
    volumes,
)

SPOONS, CUPS = {"tsp", "tbsp"}, {"cup", "handful", "scoop", "shovel", "pinch", "floz"}


@dataclass(frozen=True, slots=True)
class BulkLine:
    """One part, worked out for the batch.

    Attributes
    ----------
    loose_l, kg : float
        To fetch; weight as bought or used. [L], [kg]
    share : float
        Of the loose volume. [-]
    """

    material: Material
    loose_l: float
    kg: float
    share: float


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
    cautions: tuple[Caution, ...]

    @property
    def stops(self) -> list[Caution]:
        """The cautions that block making the batch."""
        return [c for c in self.cautions if c.stops]


def evaluate(plan: Plan, shelf: Mapping[str, Material]) -> Evaluation:
    """Return everything that a plan comes to.

    Parameters
    ----------
    plan : Plan
        Batch, parts, doses and crop.
    shelf : mapping of str to Material
        Every material the plan names.

    Returns
    -------
    Evaluation
        Headline numbers as figures that can be asked why.

    Raises
    ------
    CoreError
        When the plan is impossible; ``path`` names the row.
    """
    group = crop(plan.crop)
    found = volumes(plan, shelf)
    blend = [
        (shelf[p.material], x) for p, x in zip(plan.parts, found.shares, strict=True)
    ]
    bulk = tuple(
        BulkLine(m, litres, litres * m.loose_density().typ, x)
        for (m, x), litres in zip(blend, found.loose_l, strict=True)
    )
    doses = dose_lines(plan, shelf, found)
    ph = _acidity(blend, found, doses, group)
    acid = ph if isinstance(ph, Acidity) else None
    worked = Worked(group, found, tuple(blend), doses, plan.doses, acid)
    wet, water = _water(blend, found, doses)
    return Evaluation(
        crop=group,
        volumes=found,
        mixed=_mixed_figure(plan, found),
        loose=_loose_figure(bulk, found),
        mass=_mass_figure(bulk, doses),
        wet_mass=wet,
        water_l_per_l=water,
        bulk=bulk,
        doses=doses,
        nutrients=_nutrients(bulk, doses, found, group),
        acidity=acid,
        acidity_problem="" if isinstance(ph, Acidity) else ph,
        ph_band=_band(blend, group),
        cautions=tuple(
            by_severity([*judge(worked), *_listed(plan, bulk, doses, found, group)])
        ),
    )


def _band(blend: list[tuple[Material, float]], group: Crop) -> tuple[float, float]:
    mineral = sum(x for m, x in blend if m.family in MINERAL_SOIL)
    return ph_band(group, mineral)


def _acidity(
    blend: list[tuple[Material, float]], found: Volumes,
    doses: tuple[DoseLine, ...], group: Crop,
) -> Acidity | str:  # fmt: skip
    """Return the acidity of the mix, or the reason why it is not known."""
    per_litre = 1 / (1 - found.blending_loss)
    try:
        parts = [component(m, x * per_litre) for m, x in blend]
        # A bulk material dosed by weight buffers like a part.
        parts += [
            component(d.material, d.share)
            for d in doses
            if d.material.acidity_role == "bulk" and d.share
        ]
        curve = blend_curve(parts)
    except UnknownError as error:
        return error.message
    acts = actions([(d.material, d.g_per_l) for d in doses])
    return acidity(curve, acts, _band(blend, group))


def _nutrients(
    bulk: tuple[BulkLine, ...], doses: tuple[DoseLine, ...], found: Volumes, group: Crop
) -> dict[str, NutrientTotal]:
    supplies = [Supply(b.material, 1000 * b.kg / found.mixed_l, True) for b in bulk]
    supplies += [Supply(d.material, d.g_per_l, False) for d in doses]
    return {
        element: nutrient_total(element, supplies, season_demand(group, element))
        for element in NUTRIENTS
    }


def _water(
    blend: list[tuple[Material, float]], found: Volumes, doses: tuple[DoseLine, ...]
) -> tuple[Figure, float | None]:
    """Return the wet weight and the water to add, or why they are not known."""
    loss = found.blending_loss
    try:
        capacity = container_capacity(blend, loss)
        dry = sum(x * dry_density(m) for m, x in blend) / (1 - loss)
    except UnknownError as error:
        return figure(WET_MASS, None, container_capacity, problem=error.message), None
    dosed = sum(d.g_per_l for d in doses) / 1000
    kg_l = dry + dosed + capacity
    wet = figure(
        WET_MASS,
        kg_l * found.mixed_l,
        container_capacity,
        span=((kg_l - 0.06) * found.mixed_l, (kg_l + 0.06) * found.mixed_l),
        inputs=(
            Input("dry weight of the parts", dry, "kg/L", "book"),
            Input("doses", dosed, "kg/L", "derived"),
            Input("water held after draining", capacity, "L/L", "guess"),
        ),
        method="dry weight, plus doses, plus the water a 30 cm heap holds after draining",
    )
    return wet, water_to_add(blend, loss, capacity)


def _mixed_figure(plan: Plan, found: Volumes) -> Figure:
    batch, inputs, method = plan.batch, [], "as asked for"
    if batch.vessels and batch.volume_l is None:
        inputs = [
            Input("pots, headspace left", found.filled_l, "L", "practice"),
            Input("settles in the pot", found.settling * 100, "%", "practice"),
            Input("kept over", batch.spare * 100, "%", "practice"),
        ]
        method = "litres in the pots × (1 + kept over) ÷ (1 − settling)"
    elif batch.volume_l is None:
        inputs = [
            Input("loose parts", found.loose_total_l, "L", "derived"),
            Input("lost on blending", found.blending_loss * 100, "%", "guess"),
        ]
        method = "loose parts × (1 − loss on blending)"
    return figure(
        MIXED_VOLUME,
        found.mixed_l,
        needed_for_vessels,
        inputs=tuple(inputs),
        method=method,
    )


def _loose_figure(bulk: tuple[BulkLine, ...], found: Volumes) -> Figure:
    loss = found.blending_loss
    spread = [
        found.mixed_l / (1 - min(max(loss + off, 0.0), 0.3))
        for off in (-LOSS_SPREAD, LOSS_SPREAD)
    ]
    return figure(
        LOOSE_VOLUME,
        found.loose_total_l,
        blending_loss,
        span=(spread[0], spread[1]),
        inputs=(
            Input("mixed soil", found.mixed_l, "L", "derived"),
            Input("lost on blending", loss * 100, "%", "guess"),
            *(Input(b.material.name, b.loose_l, "L", "derived") for b in bulk),
        ),
        method="mixed ÷ (1 − loss): fines fall between coarse pieces",
        note="A measured bucket beats this estimate.",
    )


def _mass_figure(bulk: tuple[BulkLine, ...], doses: tuple[DoseLine, ...]) -> Figure:
    parts, dosed = sum(b.kg for b in bulk), sum(d.grams.typ for d in doses) / 1000
    low = sum(b.loose_l * b.material.loose_density().low for b in bulk) + dosed
    high = sum(b.loose_l * b.material.loose_density().high for b in bulk) + dosed
    return figure(
        MASS,
        parts + dosed,
        dry_density,
        span=(low, high),
        inputs=(
            *(Input(b.material.name, b.kg, "kg", b.material.mark_of("density"),
                    f"{b.loose_l:.3g} L at {b.material.loose_density().typ:.2g} kg/L")
              for b in bulk),
            Input("doses", dosed, "kg", "derived"),
        ),
        method="loose litres × weight of a litre as bought, added up",
    )  # fmt: skip


def _listed(
    plan: Plan, bulk: tuple[BulkLine, ...], doses: tuple[DoseLine, ...],
    found: Volumes, group: Crop,
) -> list[Caution]:  # fmt: skip
    """Return the cautions of the published list for mixing this batch outdoors."""
    dry = frozenset(["dry"])
    lines = [
        Line(b.material.name, {"tag": frozenset(b.material.tags), "state": dry},
             1000 * b.kg / found.mixed_l)
        for b in bulk
    ]  # fmt: skip
    for line, dose in zip(doses, plan.doses, strict=True):
        measure = dose.unit.name.split("/")[0]
        word = "spoon" if measure in SPOONS else "cup" if measure in CUPS else "gram"
        words = {
            "tag": frozenset(line.material.tags), "state": dry, "unit": frozenset([word]),
        }  # fmt: skip
        lines.append(Line(line.material.name, words, line.g_per_l))
    context = {
        "crop": frozenset(group.tags),
        "stage": frozenset(["weigh", "mix"]),
        "where": frozenset(["outdoors"]),
    }
    return fired(lines, context)
