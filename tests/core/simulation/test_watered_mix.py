"""What a mix is watered with: its ions in every balance, and its salts by the leaching fraction."""

from dataclasses import replace

import numpy as np
from django.test import SimpleTestCase

from pelk.core import evaluate, library
from pelk.core.base.elements import ATOMIC_MASS
from pelk.core.plans.plan import Batch, Conditions, Part, Plan
from pelk.core.salts.pore_water import paste_water
from pelk.core.salts.solution import ec_of_solution

PEAT = Plan(
    name="peat",
    crop="fruiting",
    batch=Batch(volume_l=100),
    parts=(Part(material="sphagnum-peat-light", parts=3), Part(material="perlite", parts=1)),
    days=365,
    planted_day=30,
)
WATER = {"Ca": 60.0, "Mg": 10.0, "Na": 20.0, "Cl": 30.0, "S": 10.0, "K": 2.0}
WATERED = Conditions(
    water_alkalinity_mg_l=150,
    water_l_per_l_week=0.28,
    leaching_fraction=0.25,
    water_ions_mg_l=WATER,
)


class WateredMixTests(SimpleTestCase):
    """Peat and perlite under one water."""

    def test_every_element_closes(self) -> None:
        """Released and brought is what is there, taken and washed out."""
        water = {**WATER, "NO3-N": 5.0, "NH4-N": 1.0, "P": 1.0}
        plan = replace(
            PEAT, conditions=replace(WATERED, water_ions_mg_l=water, water_ions_as_given=True)
        )
        found = evaluate(plan, library(), samples=0)
        assert found.supply is not None
        for element, row in found.supply.elements.items():
            season = row.season
            days = found.supply.planted_day + found.supply.season_days
            litres = 0.28 / 7 * days
            brought = litres * (6.0 if element == "N" else water[element])
            self.assertAlmostEqual(season.brought, brought, delta=1e-6 * brought)
            if element == "N":
                continue
            left = season.pool[-1] + season.taken[-1] + season.leached[-1]
            ahead = found.forecast
            assert ahead is not None
            line = np.interp(range(days + 1), ahead.line.edges, ahead.free[element].sum(0))
            free = float(line.max())  # what has once come free stays in the balance
            self.assertAlmostEqual(left - brought, free, delta=1e-6 * left)

    def test_at_rest_drainage_is_the_water_over_its_leaching_fraction(self) -> None:
        """Salts of a washed inert mix after two years come from the water alone, four times it."""
        inert = replace(
            PEAT,
            parts=(Part(material="perlite", parts=1),),
            conditions=replace(
                WATERED, water_alkalinity_mg_l=0.0, water_ions_mg_l={"Na": 46.0, "Cl": 71.0}
            ),
            days=730,
        )
        found = evaluate(inert, library(), samples=0)
        assert found.forecast is not None
        ahead = found.forecast
        mmol = 4 * 46.0 / ATOMIC_MASS["Na"]
        pore = ec_of_solution({"Na": mmol, "Cl": 4 * 71.0 / ATOMIC_MASS["Cl"]})
        held = found.forecast.heap.capacity

        paste = paste_water([(library()["perlite"], 1.0)], 0.0)
        self.assertAlmostEqual(ahead.ec[-1] / (pore * held / paste), 1.0, delta=0.05)

    def test_sodium_and_chloride_raise_the_salts(self) -> None:
        """And rain water washes the mix's own away."""
        salts = []
        for ions in ({}, WATER, {**WATER, "Na": 120.0, "Cl": 184.0}):
            where = replace(WATERED, water_ions_mg_l=ions, water_alkalinity_mg_l=150 if ions else 0)
            ahead = evaluate(replace(PEAT, conditions=where), library(), samples=0).forecast
            assert ahead is not None
            salts.append(float(ahead.ec[180]))
        self.assertLess(salts[0], 0.1)
        self.assertLess(salts[0], salts[1] - 0.3)
        self.assertLess(salts[1], salts[2] - 1.0)
