"""What a yard learns of its bags: the worked value, and what must hold of any evidence."""

from dataclasses import replace
from math import exp

from django.test import SimpleTestCase
from hypothesis import given
from hypothesis import strategies as st

from pelk.core.materials.library import library
from pelk.core.materials.material import Taught
from pelk.core.materials.taught import USUAL_SD, Estimate, Factor, doubt_of, learned_of, times_of
from pelk.core.simulation.calibration import PRIOR_SD
from pelk.core.simulation.ensemble import PH_EACH, SPREADS

FINITE = st.floats(-0.5, 0.5)


class Learning(SimpleTestCase):
    def test_two_soils(self):
        # Spread .20, +.15 (.05) and +.25 (.08): mean .156, spread .125, to .002.
        got = learned_of([Estimate(0.15, 0.05), Estimate(0.25, 0.08)], 0.20)
        self.assertAlmostEqual(got.taught.mean, 0.156, delta=0.002)
        self.assertAlmostEqual(got.taught.sd, 0.125, delta=0.002)
        self.assertEqual((got.taught.soils, got.odd), (2, ()))

    def test_the_same_bag_counts_once_more(self):
        seen = [Estimate(0.15, 0.05, "a"), Estimate(0.18, 0.05, "a")]
        same, other = (learned_of(seen, 0.20, lot).taught for lot in ("a", "b"))
        self.assertLess(same.sd, 0.04)
        self.assertGreater(other.sd, 0.10)
        self.assertGreater(same.mean, other.mean)

    def test_a_bag_that_changed_is_noticed_and_left_out(self):
        seen = [Estimate(0.02, 0.05), Estimate(-0.03, 0.05), Estimate(0.9, 0.05)]
        got = learned_of(seen, 0.20)
        self.assertEqual(got.odd, (2,))
        self.assertAlmostEqual(got.taught.mean, 0.0, delta=0.03)
        self.assertIsNone(learned_of([], 0.20))

    @given(st.lists(st.tuples(FINITE, st.floats(0.05, 0.5)), min_size=1, max_size=6))
    def test_evidence_shrinks_to_the_book_and_never_widens(self, rows):
        got = learned_of([Estimate(*row) for row in rows], 0.20)
        if got is None:
            return
        values = [value for i, (value, _) in enumerate(rows) if i not in got.odd]
        self.assertLessEqual(got.taught.sd, 0.20 + 1e-9)
        self.assertLessEqual(abs(got.taught.mean), max(abs(v) for v in values) + 1e-9)

    def test_the_usual_spreads_are_those_of_the_forecast(self):
        self.assertEqual(USUAL_SD[Factor.PH], PH_EACH)
        for factor, held in zip(
            (Factor.BUFFER, Factor.LIME, Factor.SULFUR), PRIOR_SD, strict=False
        ):
            self.assertAlmostEqual(USUAL_SD[factor], held)
        for factor in (Factor.LIME, Factor.SULFUR, Factor.CARBONATE):
            self.assertEqual(USUAL_SD[factor], SPREADS[factor.value])

    def test_a_material_carries_what_was_taught(self):
        peat = library()["sphagnum-peat-light"]
        self.assertEqual((times_of(peat, Factor.BUFFER), doubt_of(peat, Factor.PH)), (1.0, 1.0))
        known = replace(peat, taught={"buffer": Taught(0.2, 0.14), "ph": Taught(-0.2, 0.1)})
        self.assertAlmostEqual(times_of(known, Factor.BUFFER), exp(0.2))
        self.assertAlmostEqual(doubt_of(known, Factor.PH), 0.5)
