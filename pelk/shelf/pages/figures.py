"""Numbers of a material's page that can be asked why."""

from __future__ import annotations

from collections.abc import Mapping
from decimal import Decimal

import numpy as np
from numpy.typing import NDArray

from pelk.core.acid_base.contributions import lasting_meq_per_g
from pelk.core.base.elements import CACO3_G_PER_EQ, base_meq_per_g
from pelk.core.base.errors import UnknownError
from pelk.core.base.figures import Figure, Input, figure
from pelk.core.base.quantities import Quantity
from pelk.core.base.rounding import sig
from pelk.core.materials.bags import unit_prices
from pelk.core.materials.material import Material as CoreMaterial
from pelk.core.materials.measures import CUP_ML, grams_in, yard_measures
from pelk.core.release.nitrogen_curves import MONTH_DAYS, daily_temperatures, nitrogen_released
from pelk.shelf.models.bags import Bag
from pelk.yards.models import Yard

Floats = NDArray[np.float64]
SEASON_DAYS, MONTH = 182, 30
# The season is taken to begin in the first month as warm as this.
SPRING_C = 10.0
CUP = Quantity("cup", "a level cup", "m", "g", high=1e5)
SPOON = Quantity("tbsp", "a level tablespoon", "m", "g", high=1e5)
LITRE = Quantity("litre", "a loose litre", "m", "g", high=1e5)
HANDFUL = Quantity("handful", "one handful", "m", "g", high=1e5)
ACID = Quantity("acid", "lime that a kilogram does the work of", "A", "g CaCO3", -1e4, 1e4)
BESIDE_PH = 6.0
TO_PH = Quantity(
    "to_ph", f"lime to bring a kilogram to pH {BESIDE_PH:g}", "A", "g CaCO3", -1e4, 1e4
)
RELEASED = Quantity("released", "Nitrogen free after 30 days", "x", "%", -1e3, 100, 2)
PRICE = "price_"


def season_start(normals_c: list[float]) -> int:
    """Return the month, 0 for January, in which the season begins."""
    coldest = int(np.argmin(normals_c))
    for step in range(12):
        month = (coldest + step) % 12
        if normals_c[month] >= SPRING_C:
            return month
    return int(np.argmax(normals_c))


def season_temperatures(yard: Yard, month: int) -> Floats:
    """Return the yard's temperature on each day of a season from a month on."""
    first = sum(MONTH_DAYS[:month])
    return daily_temperatures(yard.normals_c, first, SEASON_DAYS)


def figures_of(core: CoreMaterial, yard: Yard, month: int, bag: Bag | None) -> dict[str, Figure]:
    """Return the figures of a material's page, by key, in the order they stand there."""
    figures = [*_weights(core, yard), *_acid(core), *_release(core, yard, month)]
    return {f.quantity.key: f for f in [*figures, *_prices(core, yard, bag)]}


def _weights(core: CoreMaterial, yard: Yard) -> list[Figure]:
    try:
        density = core.loose_density()
    except UnknownError:
        return []
    cup = CUP_ML[yard.system]
    spoon = cup / 16 if yard.system == "us" else 15.0
    weighed = Input(
        "Weight by volume",
        density.typ,
        "kg/L",
        core.mark_of("density"),
        f"{sig(density.low, 2)}–{sig(density.high, 2)}",
    )
    rows = [(CUP, cup), (SPOON, spoon)]
    if yard.system != "us":
        rows.insert(0, (LITRE, 1000.0))
    figures = [
        figure(
            quantity,
            grams_in(ml / 1000, density.typ),
            grams_in,
            span=(grams_in(ml / 1000, density.low), grams_in(ml / 1000, density.high)),
            inputs=(weighed, Input("Volume", ml, "mL")),
            method="volume times weight by volume",
        )
        for quantity, ml in rows
    ]
    own = yard.hand_measures.get("handful")
    hand = own or yard_measures()["handful"]
    figures.append(
        figure(
            HANDFUL,
            grams_in(hand.typ / 1000, density.typ),
            grams_in,
            span=(grams_in(hand.low / 1000, density.typ), grams_in(hand.high / 1000, density.typ)),
            inputs=(weighed, Input("A handful", hand.typ, "mL", "yours" if own else "practice")),
            method="a handful times weight by volume",
            note=""
            if own
            else "Two people’s handfuls differ by a factor of two and three: weigh yours.",
        )
    )
    return figures


def _acid(core: CoreMaterial) -> list[Figure]:
    if core.role == "bulk":
        return _to_ph(core)
    if core.acidity_role == "weak_acid":
        return []
    nitrogen = core.composition.get("N")
    share = nitrogen_released(core, [20.0] * 120)
    free = 10 * nitrogen.typ * float(share[-1]) if nitrogen and share is not None else 0.0
    meq = lasting_meq_per_g(core, free)
    if not meq:
        return []
    inputs = [
        Input(label, value.typ, "%", core.mark_of(key))
        for key, label in (
            ("cce", "Lime value"),
            ("S elemental", "Elemental sulfur"),
            ("N", "Nitrogen"),
        )
        if (value := core.cce if key == "cce" else core.composition.get(key))
    ]
    if free:
        inputs.append(Input("Nitrogen free in 120 days at 20 °C", free, "mg/g"))
    return [
        figure(
            ACID,
            meq * CACO3_G_PER_EQ,
            lasting_meq_per_g,
            inputs=tuple(inputs),
            method="base of its lime, less the acid of its sulfur and of the nitrogen that "
            "nitrifies, in lime",
            note="In a heap without plants. Roots give about half of the nitrogen’s acid back.",
        )
    ]


def _to_ph(core: CoreMaterial) -> list[Figure]:
    """Return the lime that brings a kilogram of a part to a pH; less than none is acid."""
    if core.ph is None or core.buffer is None or core.cce:
        return []
    try:
        density = core.loose_density().typ
    except UnknownError:
        return []
    meq_per_kg = core.buffer.typ * (BESIDE_PH - core.ph.typ) / density
    return [
        figure(
            TO_PH,
            meq_per_kg * CACO3_G_PER_EQ / 1000,
            base_meq_per_g,
            inputs=(
                Input("pH", core.ph.typ, "", core.mark_of("ph")),
                Input("Buffer capacity", core.buffer.typ, "meq/L/pH", core.mark_of("buffer")),
                Input("Weight by volume", density, "kg/L", core.mark_of("density")),
            ),
            method=f"buffer capacity times the way to pH {BESIDE_PH:g}, over weight, in lime",
            note="A straight line over pH 4 to 7. In a mix the Bench counts the whole curve.",
        )
    ]


def _release(core: CoreMaterial, yard: Yard, month: int) -> list[Figure]:
    daily = season_temperatures(yard, month)
    share = nitrogen_released(core, daily)
    if share is None:
        return []
    warm = float(daily[:MONTH].mean())
    nitrogen = core.composition["N"]
    return [
        figure(
            RELEASED,
            100 * float(share[MONTH]),
            nitrogen_released,
            inputs=(
                Input("Total nitrogen", nitrogen.typ, "%", core.mark_of("N")),
                Input("Free at once", 100 * (core.mineral_n or 0), "%", core.mark_of("mineral_n")),
                Input("Mean of those 30 days", warm, "°C", "yours"),
            ),
            method="what is mineral, and two pools that rot at the temperature of each day",
            note="Moist, alive, alone. Below nothing, it ties nitrogen up.",
        )
    ]


def _prices(core: CoreMaterial, yard: Yard, bag: Bag | None) -> list[Figure]:
    if bag is None or bag.price is None:
        return []
    prices = unit_prices(bag.package(), core)
    rows: Mapping[str, tuple[str, Decimal | None]] = {
        "l": ("per litre, loosened", prices.per_litre),
        "kg": ("a kilogram", prices.per_kg),
        "n": ("a gram of nitrogen", prices.per_g_nitrogen),
    }
    paid = [
        Input("Paid for one", float(bag.price), yard.currency, "yours"),
        Input("One holds", bag.holds, bag.measure, "yours" if bag.measure == "kg" else "practice"),
    ]
    nitrogen, density = core.composition.get("N"), core.density
    if density is not None:
        paid.append(Input("Weight by volume", density.typ, "kg/L", core.mark_of("density")))
    grams = [Input("Nitrogen", nitrogen.typ, "%", core.mark_of("N"))] if nitrogen else []
    return [
        figure(
            Quantity(f"{PRICE}{key}", f"the price of {name}", "p", yard.currency, high=1e9),
            float(each),
            unit_prices,
            inputs=(*paid, *(grams if key == "n" else [])),
            method="price over what one package holds, loosened",
        )
        for key, (name, each) in rows.items()
        if each is not None
    ]
