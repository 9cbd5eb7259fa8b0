"""What a plan must be before anything is computed of it; each refusal names its field."""

from collections.abc import Collection, Mapping

from pelk.core.base.errors import PelkError
from pelk.core.base.quantities import (
    ALKALINITY,
    COUNT,
    DAYS,
    DOSE_AMOUNT,
    HEIGHT,
    MIXED_VOLUME,
    PARTS,
    SHARE,
    SPARE,
    TEMPERATURE,
    VESSEL_VOLUME,
    WATERING,
)
from pelk.core.crops import groups
from pelk.core.materials.material import Material
from pelk.core.plans.plan import INOCULUM, MOISTURE, Conditions, Plan
from pelk.core.salts.water_ions import check_ions
from pelk.core.vessels.trade_pots import kinds

MONTHS, YEAR_DAYS = 12, 366
CONDITIONS = {
    "temperature_c": TEMPERATURE,
    "water_alkalinity_mg_l": ALKALINITY,
    "water_l_per_l_week": WATERING,
    "leaching_fraction": SHARE,
}


def check_plan(plan: Plan, shelf: Mapping[str, Material]) -> None:
    """Refuse a plan that cannot be.

    Parameters
    ----------
    plan : Plan
        As a grower or a file has it.
    shelf : mapping of str to Material
        Every material it may name.

    Raises
    ------
    PelkError
        With the path of the first field that does not fit, as in the open formats.
    """
    _one_of(plan.crop, groups.library(), "crop")
    for i, part in enumerate(plan.parts):
        _one_of(part.material, shelf, f"bulk[{i}].material")
        PARTS.check(part.parts, f"bulk[{i}].parts")
    for i, dose in enumerate(plan.doses):
        _one_of(dose.material, shelf, f"doses[{i}].material")
        DOSE_AMOUNT.check(dose.amount, f"doses[{i}].amount")
    _check_batch(plan)
    _check_conditions(plan.conditions)
    if DAYS.check(plan.days, "days") != int(plan.days):
        raise PelkError(f"found {plan.days:g}, allowed: whole days", "days")
    if plan.pot_height_cm is not None:
        HEIGHT.check(plan.pot_height_cm, "pot_height_cm")


def _check_batch(plan: Plan) -> None:
    batch = plan.batch
    SPARE.check(batch.spare, "batch.spare")
    if batch.volume_l is not None:
        MIXED_VOLUME.check(batch.volume_l, "batch.volume")
    if batch.part_l is not None:
        MIXED_VOLUME.check(batch.part_l, "batch.part")
    for i, vessels in enumerate(batch.vessels):
        _one_of(vessels.kind, kinds(), f"batch.vessels[{i}].kind")
        COUNT.check(vessels.count, f"batch.vessels[{i}].count")
        if vessels.litres is not None:
            VESSEL_VOLUME.check(vessels.litres, f"batch.vessels[{i}].litres")


def _check_conditions(where: Conditions) -> None:
    for name, quantity in CONDITIONS.items():
        quantity.check(getattr(where, name), f"conditions.{name}")
    check_ions(
        where.water_ions_mg_l,
        where.water_alkalinity_mg_l,
        "conditions.water_ions_mg_l",
        as_given=where.water_ions_as_given,
    )
    if where.monthly_c is not None:
        if len(where.monthly_c) != MONTHS:
            raise PelkError(
                f"found {len(where.monthly_c)} months, allowed: 12", "conditions.monthly_c"
            )
        for i, mean in enumerate(where.monthly_c):
            TEMPERATURE.check(mean, f"conditions.monthly_c[{i}]")
    if not 0 <= where.start_day < YEAR_DAYS:
        raise PelkError(f"found {where.start_day}, allowed: from 0 to 365", "conditions.start_day")
    _one_of(where.moisture, MOISTURE, "conditions.moisture")
    if where.inoculum is not None:
        _one_of(where.inoculum, INOCULUM, "conditions.inoculum")


def _one_of(value: str, allowed: Collection[str], path: str) -> None:
    if value not in allowed:
        names = list(allowed)
        shown = ", ".join(names[:12]) + (" …" if len(names) > 12 else "")
        raise PelkError(f"found {value!r}, allowed: {shown}", path)
