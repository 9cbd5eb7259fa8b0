"""The ions of irrigation water: what they bring, what stays, and what cannot be."""

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from pelk.core.base.errors import PelkError
from pelk.core.salts.water_ions import (
    ELEMENTS,
    HARDNESS,
    after_watering,
    along_a_course,
    analysis_of_ec,
    analysis_of_hardness,
    charges_of,
    check_ions,
    water_ec,
)

REPORT = {"Ca": 60.0, "Mg": 10.0, "Na": 20.0, "Cl": 30.0, "S": 10.0, "K": 2.0}


class WaterIonsTests(SimpleTestCase):
    """Worked by hand from dM/dt = w C - d M / (theta R)."""

    def test_a_season_of_watering(self) -> None:
        """0.0375 L/L a day, a fifth drains, 0.6 held, 120 days; Ca held back 6 times."""
        given_l, drained_l = 0.0375 * 120, 0.0375 * 0.2 * 120
        self.assertAlmostEqual(after_watering(0, 60 * given_l, drained_l, 0.6, 6), 238.9, delta=0.1)
        self.assertAlmostEqual(after_watering(0, 40 * given_l, drained_l, 0.6, 1), 93.2, delta=0.1)
        self.assertEqual(after_watering(10, 5, 0.0, 0.6), 15.0)

    def test_at_rest_the_pores_hold_the_water_over_the_leaching_fraction(self) -> None:
        """Pore water over the water's own, by day: chloride, and potassium held back 3 times."""
        days = [0.0, 30.0, 90.0, 365.0, 5000.0]
        for back, expected in ((1, [1.574, 3.107, 3.991, 4.0]), (3, [0.614, 1.574, 3.473, 4.0])):
            line = along_a_course(days, [0.0] * 5, 0.04, 0.01, 0.60 * back)
            for held, wanted in zip(line[1:], expected, strict=True):
                self.assertAlmostEqual(held / (0.60 * back), wanted, delta=0.002)

    def test_hardness_alone(self) -> None:
        """0.30 and 0.06 mg of calcium and magnesium for each mg/L, and charges that add up."""
        for hardness in HARDNESS.values():
            water = analysis_of_hardness(hardness)
            self.assertAlmostEqual(water.ions_mg_l["Ca"], 0.30 * hardness)
            self.assertAlmostEqual(water.ions_mg_l["Mg"], 0.06 * hardness)
            check_ions(water.ions_mg_l, water.alkalinity_mg_l)

    def test_conductivity_and_alkalinity_alone(self) -> None:
        """Ten meq/L for a dS/m; 0.8 dS/m with 4 meq/L leaves 4, half of it sodium chloride."""
        water = analysis_of_ec(0.8, 4 * 50.04)
        self.assertAlmostEqual(water.ions_mg_l["Na"], 2 * 22.99, delta=0.01)
        self.assertAlmostEqual(water.ions_mg_l["Cl"], 2 * 35.45, delta=0.01)
        self.assertAlmostEqual(water.ec_ds_m, 0.8, delta=0.12)
        self.assertEqual(analysis_of_ec(0.1, 200).ions_mg_l["Na"], 0.0)

    def test_what_cannot_be_is_refused_unless_said(self) -> None:
        """Sulfate typed as sulfur, and a negative ion."""
        check_ions(REPORT, 150)
        with self.assertRaisesMessage(PelkError, "These ions do not add up"):
            check_ions({**REPORT, "S": 90.0}, 150)
        check_ions({**REPORT, "S": 90.0}, 150, as_given=True)
        for bad in ({"Na": -1.0}, {"Na": float("nan")}, {"Xx": 1.0}):
            with self.assertRaises(PelkError):
                check_ions(bad, 150, as_given=True)

    @given(st.tuples(*[st.floats(0, 300)] * len(ELEMENTS)), st.floats(0, 500))
    def test_more_of_an_ion_never_conducts_less(
        self, amounts: tuple[float, ...], alkalinity: float
    ) -> None:
        """And its charge is counted once, on its own side."""
        ions = dict(zip(ELEMENTS, amounts, strict=True))
        before = charges_of(ions, alkalinity)
        more = {**ions, "Na": ions.get("Na", 0.0) + 23.0}
        after = charges_of(more, alkalinity)
        self.assertAlmostEqual(after[0] - before[0], 1.0, delta=0.01)
        self.assertEqual(after[1], before[1])
        self.assertGreater(water_ec(more, alkalinity), water_ec(ions, alkalinity))
