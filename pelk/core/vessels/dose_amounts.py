"""A dose as typed, into grams, millilitres and grams a litre."""

from collections.abc import Mapping
from dataclasses import dataclass

from pelk.core.base.errors import PelkError, UnknownError
from pelk.core.base.quantities import DOSE, DOSE_AMOUNT
from pelk.core.base.sources import cites
from pelk.core.materials.material import Material, Range
from pelk.core.materials.measures import DoseUnit, grams_in, litres_of
from pelk.core.plans.plan import Dose, Plan
from pelk.core.vessels.volumes import Volumes


@dataclass(frozen=True, slots=True)
class DoseLine:
    """One dose, worked out for the batch.

    Attributes
    ----------
    grams : Range
        For the whole batch; the span is what the measure and the density leave open.
    millilitres : float or None
        Loose, struck level; None when nobody weighed a litre of it. [mL]
    g_per_l : float
        Rate per litre of mixed soil. [g/L]
    share : float or None
        Loose volume as a share of the mixed soil. [-]
    """

    material: Material
    grams: Range
    millilitres: float | None
    g_per_l: float
    share: float | None


@cites("arithmetic", "rates times volume; measures times bulk density")
def dose_grams(amount: float, unit: DoseUnit, volume_l: float, density: Range | None) -> Range:
    """Return the weight of a dose typed in any unit.

    Parameters
    ----------
    amount : float
        How many of the unit.
    unit : DoseUnit
        Weight, measure or share, for the whole batch or as a rate.
    volume_l : float
        Litres a rate counts by. [L]
    density : Range or None
        Loose bulk density; needed for measures and shares. [kg/L]

    Returns
    -------
    Range
        Weight. [g]

    Raises
    ------
    UnknownError
        When a measure is typed and nobody has weighed a litre of the material.
    """
    times = amount * unit.size * (volume_l / unit.per_l if unit.per_l else 1.0)
    if unit.kind == "mass":
        return Range(times * unit.low, times, times * unit.high)
    if density is None:
        raise UnknownError("what a litre of it weighs is unknown. Enter grams instead")
    return Range(
        grams_in(times * unit.low, density.low),
        grams_in(times, density.typ),
        grams_in(times * unit.high, density.high),
    )


@cites("arithmetic", "rates times volume; measures times bulk density")
def dose_amount(mass_g: float, unit: DoseUnit, volume_l: float, density_kg_l: float) -> float:
    """Return how many of a unit a weight is: `dose_grams` the other way.

    Parameters
    ----------
    mass_g : float
        Weight for the batch. [g]
    unit : DoseUnit
        The unit wanted.
    volume_l : float
        Litres a rate counts by. [L]
    density_kg_l : float
        Loose bulk density. [kg/L]

    Returns
    -------
    float
        Amount in `unit`. [-]
    """
    base = mass_g if unit.kind == "mass" else litres_of(mass_g, density_kg_l)
    return base / unit.size / (volume_l / unit.per_l if unit.per_l else 1.0)


def dose_lines(plan: Plan, shelf: Mapping[str, Material], volumes: Volumes) -> tuple[DoseLine, ...]:
    """Return every dose of a plan, worked out for its batch.

    Raises
    ------
    PelkError
        When a dose is impossible; the path names its row.
    """
    loose = {
        part.material: litres for part, litres in zip(plan.parts, volumes.loose_l, strict=True)
    }
    return tuple(
        _line(dose, shelf[dose.material], loose, volumes.mixed_l, f"doses[{i}]")
        for i, dose in enumerate(plan.doses)
    )


def _line(
    dose: Dose, material: Material, loose: dict[str, float], mixed_l: float, path: str
) -> DoseLine:
    DOSE_AMOUNT.check(dose.amount, f"{path}.amount")
    counts_by = mixed_l
    if dose.per is not None:
        if dose.per not in loose:
            raise PelkError(f"found {dose.per!r}, allowed: {', '.join(loose)}", f"{path}.per")
        if not dose.unit.is_rate:
            raise PelkError(
                f"{dose.unit.name} is for the whole batch; give a rate such as g/L "
                "to count one part only",
                f"{path}.unit",
            )
        counts_by = loose[dose.per]
    try:
        density = material.loose_density()
    except UnknownError:
        density = None
    try:
        grams = dose_grams(dose.amount, dose.unit, counts_by, density)
    except UnknownError as error:
        raise UnknownError(error.message, f"{path}.unit") from error
    rate = DOSE.check(grams.typ / mixed_l, f"{path}.amount")
    litres = litres_of(grams.typ, density.typ) if density else None
    return DoseLine(
        material=material,
        grams=grams,
        millilitres=None if litres is None else litres * 1000,
        g_per_l=rate,
        share=None if litres is None else litres / mixed_l,
    )
