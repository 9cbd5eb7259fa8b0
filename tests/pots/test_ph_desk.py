"""The pH desk: raise, lower, and the water in a can."""

from django.test import SimpleTestCase, TestCase

from pelk.core.acid_base.water import alkalinity_from_ppm
from pelk.core.advice.ph_answer import Outcome
from pelk.core.advice.ph_desk import acid_for_can, bed_limit, instead_of_sulfur, ph_of_can, ways_to
from pelk.core.base.errors import PelkError
from pelk.core.materials.library import library
from tests.factories import make_bag, make_own_lime, make_pots, make_user

SULFUR = ("sulfur-dusting", "sulfur-prill-90", "lime-calcitic-ground")


class Ways(SimpleTestCase):
    def ask(self, soil="coir", start=6.3, target=5.3, day=180, products=SULFUR, **more):
        shelf = library()
        got = ways_to(soil, start, target, day, [shelf[s] for s in products], **more)
        return {w.material.slug: w for w in got.ways}

    def test_down_takes_sulfurs_only_and_loam_takes_several_times_as_much(self):
        coir, loam = self.ask(), self.ask(soil="loam")
        self.assertEqual(set(coir), {"sulfur-dusting", "sulfur-prill-90"})
        ratio = loam["sulfur-dusting"].g_per_l / coir["sulfur-dusting"].g_per_l
        self.assertGreater(ratio, 2)

    def test_up_takes_limes_and_says_what_they_bring(self):
        limes = ("lime-calcitic-ground", "lime-dolomitic-ground", "sulfur-dusting")
        up = self.ask(soil="peat", start=4.2, target=5.8, products=limes)
        self.assertEqual(set(up), set(limes[:2]))
        self.assertGreater(up["lime-dolomitic-ground"].magnesium_mg_l, 50)
        self.assertGreater(up["lime-calcitic-ground"].calcium_mg_l, 100)

    def test_what_cannot_be_says_why(self):
        cold = self.ask(day=14, temperature_c=5.0)
        self.assertTrue(cold["sulfur-prill-90"].outcome == Outcome.TOO_SLOW)
        self.assertGreater(cold["sulfur-prill-90"].reached_day, 100)
        for start, target in ((6.0, 6.05), (6.0, 9.0), (2.0, 5.0)):
            with self.assertRaises(PelkError):
                self.ask(start=start, target=target)

    def test_a_can_takes_twenty_times_as_much_juice_as_crystals(self):
        # 3 meq/L to pH 5.8 leaves about a quarter: 2.3 meq; citric acid gives near 2.4 charges
        # there, so about 1 mmol, 0.19 g a litre (order of magnitude by hand).
        grams = acid_for_can("citric", 3.0, 7.6, 5.8, 1.0)
        self.assertAlmostEqual(grams, 0.19, delta=0.04)
        self.assertAlmostEqual(acid_for_can("lemon", 3.0, 7.6, 5.8, 1.0) / grams, 20, delta=0.01)
        self.assertAlmostEqual(acid_for_can("citric", 3.0, 7.6, 5.8, 10.0), 10 * grams)
        self.assertEqual(acid_for_can("citric", 3.0, 5.0, 5.8, 10.0), 0.0)


class Desk(TestCase):
    def setUp(self):
        self.user = make_user()
        self.client.force_login(self.user)

    def test_ways_stand_side_by_side_with_prices_and_cautions(self):
        make_bag(self.user, "sulfur-dusting", kg=1.0, price="8.00")
        page = self.client.get("/pots/ph/?soil=coir&volume=40&start=6.3&target=5.3&day=150&air=18")
        self.assertContains(page, "have")
        self.assertContains(page, "Goggles")
        self.assertGreater(len(page.context["ways"].rows), 2)

    def test_bad_input_stays_with_its_sentence(self):
        page = self.client.get("/pots/ph/?start=six")
        self.assertContains(page, 'value="six"')
        self.assertContains(page, "Enter one number")
        page = self.client.get("/pots/ph/?start=5&target=5")
        self.assertContains(page, "as near as a pH pen can tell")

    def test_the_page_says_that_citric_acid_does_not_hold_a_pot(self):
        page = self.client.get("/pots/ph/?way=water&alkalinity=180&can=10")
        self.assertContains(page, "they do not hold a pot’s pH")
        self.assertEqual(len(page.context["can"]["rows"]), 4)

    def test_any_vessel_and_a_bed_by_area_and_depth(self):
        ask = "/pots/ph/?soil=sandy&start=6.5&target=5.5&day=180&air=18"
        bed = self.client.get(f"{ask}&of=bed&area=2&depth=15")
        # 2 m2 by 15 cm are 300 L.
        self.assertContains(bed, "300\u00a0L")
        pots = make_pots(self.user)
        self.assertContains(self.client.get(f"{ask}&of=pots&group={pots.pk}"), "106\u00a0L")
        self.assertContains(self.client.get(f"{ask}&of=pots"), "Enter the amount.")
        # A sandy bed is given 49 g/m2 of sulfur at once, half of it where plants stand.
        self.assertAlmostEqual(bed_limit("sulfur", "sandy", 15.0, planted=False) * 150, 49.0)
        self.assertAlmostEqual(bed_limit("sulfur", "loam", 15.0, planted=True) * 150, 49.0)

    def test_the_growers_own_products_stand_beside_the_usual(self):
        own = make_own_lime(self.user)
        page = self.client.get("/pots/ph/?soil=peat&volume=40&start=4.5&target=5.8&day=60&air=18")
        self.assertIn(own.name, [row.name for row in page.context["ways"].rows])

    def test_swaps_go_by_charge_and_say_what_fades(self):
        make_bag(self.user, "ferrous-sulfate", kg=5.0, price="10.00")
        page = self.client.get("/pots/ph/?soil=coir&volume=40&start=6.3&target=5.3&day=150&air=18")
        others = {row.name: row for row in page.context["ways"].others}
        # Formula mass over equivalents: ferrous sulfate 278.0/2 = 139 g/eq, sulfur 16.03 g/eq.
        sulfur = next(w for w in page.context["ways"].rows if not w.problem)
        self.assertTrue(others["ferrous sulfate, 7 water"].lasts)
        self.assertFalse(others["lemon juice"].lasts)
        self.assertTrue(sulfur.whole)
        named = {name for caution in page.context["ways"].cautions for name in caution.materials}
        self.assertTrue(any("Citric" in name for name in named), named)
        self.assertTrue(others["ferrous sulfate, 7 water"].is_mine)
        # Two a kilogram: the amount in grams over 500.
        grams = float(others["ferrous sulfate, 7 water"].amount.split()[0])
        cost = float(others["ferrous sulfate, 7 water"].cost.strip("€£$"))
        self.assertAlmostEqual(cost, grams / 500, delta=0.05 * grams / 500 + 0.006)
        self.assertAlmostEqual(instead_of_sulfur(1.0)[1][1], 139.0 / 16.03, delta=0.02)


class AddedToTheCan(TestCase):
    def test_what_a_can_reads_with_so_much_in_it(self):
        # The dose for a pH, given back, reads that pH.
        alkalinity = alkalinity_from_ppm(180)
        for acid in ("lemon", "vinegar", "citric"):
            dose = acid_for_can(acid, alkalinity, 7.6, 5.8, 10.0)
            self.assertAlmostEqual(ph_of_can(acid, dose, alkalinity, 7.6, 10.0), 5.8, places=2)
        self.client.force_login(make_user())
        asked = "way=water&alkalinity=180&water_ph=7.6&wanted=5.8&can=10&weekly=0.3"
        page = self.client.get(f"/pots/ph/?{asked}&added=lemon&much=20")
        self.assertContains(page, "the can reads about pH")
        drowned = self.client.get(f"/pots/ph/?{asked}&added=citric&much=90000")
        self.assertContains(drowned, "below pH 1.5")
