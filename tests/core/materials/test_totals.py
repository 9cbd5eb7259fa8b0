"""Totals per litre of mix, and whose they are."""

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.crops.groups import crop, season_demand
from tests.core.mixes import KILOS, worked


class Totals(SimpleTestCase):
    def test_a_meal_by_hand(self):
        # 2 g/L of cottonseed meal at the library's 6.5 % N is 130 mg N/L; perlite has none.
        got = worked({"perlite": 1}, [("cottonseed-meal", 2)])
        self.assertAlmostEqual(got.nutrients["N"].sources["cottonseed-meal"], 130)
        self.assertEqual(got.nutrients["N"].sources["perlite"], 0)

    def test_bulk_parts_bring_most_of_the_total(self):
        # Mass per mixed litre is share x as-is density / (1 - loss), times percent.
        got = worked({"worm-castings": 1, "perlite": 3})
        loss = got.volumes.blending_loss
        expected = 0.25 / (1 - loss) * 620 * 0.85 * 10
        castings = got.nutrients["N"].sources["worm-castings"]
        self.assertAlmostEqual(castings / expected, 1, delta=0.02)

    def test_a_brick_counts_by_its_loosened_litres(self):
        # 13.5 L of loosened coir to the kg; never the brick's own density.
        got = worked({"coir-brick": 1})
        self.assertAlmostEqual(got.bulk[0].kg, got.loose.value / 13.5, places=6)

    def test_what_was_not_measured_is_named_and_not_zero(self):
        got = worked({"perlite": 1}, [("sulfur-dusting", 0.3)])
        self.assertIn("Elemental sulfur", got.nutrients["Ca"].total.note)
        self.assertNotIn("sulfur-dusting", got.nutrients["Ca"].sources)

    def test_short_only_when_even_all_of_it_is_too_little(self):
        lean = worked({"perlite": 9, "sphagnum-peat-light": 1}, crop="fruiting")
        self.assertTrue(lean.nutrients["N"].is_short)
        rich = worked({"yard-compost": 1, "perlite": 1}, crop="fruiting")
        self.assertFalse(rich.nutrients["N"].is_short)

    def test_season_demand(self):
        # Section D1: fruiting heavy takes 500 mg N/L, K 1.6 of it; vigour 0.7 to 1.3.
        self.assertEqual(season_demand(crop("fruiting"), "N"), (350, 650))
        self.assertEqual(season_demand(crop("fruiting"), "K"), (560, 1040))

    @settings(max_examples=30, deadline=None)
    @given(st.floats(0.1, 8), st.floats(10, 500))
    def test_mass_in_is_mass_out_whatever_the_batch(self, kilos, litres):
        got = worked({"perlite": 1}, [("feather-meal", kilos, KILOS)], litres=litres * 10)
        nitrogen = got.nutrients["N"].sources["feather-meal"] * litres * 10 / 1e6
        percent = got.doses[0].material.composition["N"].typ
        self.assertAlmostEqual(nitrogen, kilos * percent / 100)
