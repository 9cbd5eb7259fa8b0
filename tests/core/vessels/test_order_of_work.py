"""The order of work at the barrow, and what really went in."""

from django.test import SimpleTestCase

from pelk.core.materials.library import library
from pelk.core.plans.as_mixed import as_mixed
from pelk.core.vessels.order_of_work import BLEND, DAMP, SWELL, TURN, WET, corrections, mixing_order
from pelk.core.vessels.volumes import volumes
from tests.core.mixes import plan


class Order(SimpleTestCase):
    def setUp(self):
        self.shelf = library()

    def steps(self, parts, doses_l=0.2, water_l=6.0):
        rows = [(self.shelf[slug], litres) for slug, litres in parts.items()]
        return {s.key: s for s in mixing_order(rows, doses_l, water_l)}

    def test_a_brick_swells_first_and_drinks_by_the_kilogram(self):
        # Common practice: 13.5 L a kilogram, 4.5 L of water for each.
        got = self.steps({"coir-brick": 27.0, "perlite": 9.0})
        self.assertEqual(next(iter(got)), SWELL)
        self.assertAlmostEqual(got[SWELL].water_l, 9.0)
        self.assertNotIn(DAMP, got)
        self.assertEqual(got[WET].water_l, 0.0)
        more = self.steps({"coir-brick": 27.0, "perlite": 9.0}, water_l=14.0)
        self.assertAlmostEqual(more[SWELL].water_l + more[WET].water_l, 14.0)

    def test_all_the_water_is_given_once(self):
        got = self.steps({"sphagnum-peat-light": 30.0, "perlite": 10.0})
        self.assertAlmostEqual(got[DAMP].water_l + got[WET].water_l, 6.0)
        dry = self.steps({"perlite": 10.0}, water_l=-2.0)
        self.assertEqual(dry[WET].water_l, 0.0)

    def test_doses_are_stirred_into_ten_times_their_volume(self):
        got = self.steps({"sphagnum-peat-light": 30.0, "perlite": 10.0})
        material, litres = got[BLEND].carrier
        self.assertEqual((material.slug, litres), ("perlite", 2.0))
        self.assertNotIn(BLEND, self.steps({"perlite": 10.0}, doses_l=0.0))
        self.assertIn("perlite shows alike", got[TURN].why)

    def test_a_heavy_load_is_opened_and_a_thin_one_filled(self):
        rows = [(self.shelf[s], v) for s, v in {"yard-compost": 30.0, "pumice": 5.0}.items()]
        heavy, thin = corrections(rows, 32.0)
        self.assertEqual((heavy.material.slug, thin.material.slug), ("pumice", "yard-compost"))
        self.assertAlmostEqual(heavy.litres, 1.6)

    def test_as_made_keeps_what_went_in_and_drops_what_did_not(self):
        planned = plan({"sphagnum-peat-light": 3, "perlite": 1}, [("kelp-meal", 1.0)])
        made = as_mixed(planned, {"sphagnum-peat-light": 20.0, "perlite": 0.0}, [0.0], 18.0)
        self.assertEqual([p.material for p in made.parts], ["sphagnum-peat-light"])
        self.assertEqual((made.doses, made.pot_height_cm), ((), 18.0))
        self.assertAlmostEqual(sum(volumes(made, self.shelf).loose_l), 20.0)
