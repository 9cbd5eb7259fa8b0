"""Cost with packages and what is over, measures of a person's hand, topping up, air to add."""

from decimal import Decimal

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.base.errors import PelkError
from pelk.core.materials.cost import Package, beside_bag, cost, how_much_can_be_made, whole_packages
from pelk.core.materials.library import library
from pelk.core.materials.measures import calibrate
from pelk.core.salts.metals import metal_in_mix, metal_limits, years_to_limit
from pelk.core.vessels.drainage import aggregate_for, pot_advice, wanted_air
from pelk.core.vessels.structure import structure_of, water_to_add
from pelk.core.vessels.volumes import blending_loss, top_up

PEAT, KELP = library()["sphagnum-peat-light"], library()["kelp-meal"]
PRICES = {
    "sphagnum-peat-light": Package(price=Decimal("24.00"), litres=107.6, loosens=1.9),
    "kelp-meal": Package(price=Decimal("12.50"), kg=5),
}


class Cost(SimpleTestCase):
    def test_what_goes_in_what_is_bought_and_what_is_over(self):
        # A bale loosens to 204.4 L; 300 L take 1.468 bales of the 2 to buy.
        loose = 107.6 * 1.9
        kilos = 300 * PEAT.loose_density().typ
        got = cost([(PEAT, kilos), (KELP, 0.4)], PRICES, 250.0, currency="EUR")
        used = 24 * 300 / loose + 12.5 * 0.4 / 5
        self.assertAlmostEqual(float(got.total), used, delta=0.006)
        self.assertEqual(got.outlay, Decimal("60.50"))
        self.assertEqual([line.packages for line in got.lines], [2, 1])
        self.assertAlmostEqual(got.lines[0].left_l, 2 * loose - 300, delta=0.01)
        self.assertAlmostEqual(got.lines[1].left_kg, 4.6)

    def test_stock_comes_first_and_a_missing_price_is_named(self):
        got = cost([(KELP, 3.0)], PRICES, 100, stock_kg={"kelp-meal": 3.5})
        self.assertEqual((got.outlay, got.lines[0].packages), (Decimal("0.00"), 0))
        unknown = cost([(KELP, 3.0), (PEAT, 1.0)], {"kelp-meal": PRICES["kelp-meal"]}, 100)
        self.assertEqual((unknown.total, unknown.missing), (None, ("sphagnum-peat-light",)))

    def test_beside_a_ready_made_bag(self):
        # By hand: 100 L is three bags of 40; 20 L over fills four pots of 5 L.
        bag = Package(price=Decimal("9.00"), litres=40)
        got = beside_bag(Decimal("12.50"), 100, bag, 5.0)
        self.assertEqual(
            (got.bags, got.bags_whole, got.mix_whole), (3, Decimal(27), Decimal("12.5"))
        )
        self.assertEqual((float(got.bag_per_l), float(got.mix_per_l)), (0.225, 0.125))
        self.assertEqual((got.left_l, got.pots), (20, 4))
        with self.assertRaisesMessage(PelkError, "how many litres"):
            beside_bag(Decimal(1), 100, Package(price=Decimal(9), kg=10), None)

    def test_exactly_enough_buys_nothing_more(self):
        self.assertEqual(whole_packages(0.1 * 3 * 100, 10), 3)
        self.assertEqual(whole_packages(50.00001, 25), 2)
        self.assertEqual(whole_packages(51, 25), 3)
        self.assertEqual(whole_packages(0, 25), 0)

    def test_what_the_stock_makes(self):
        litres, short = how_much_can_be_made(
            {"peat": 0.5, "perlite": 0.5}, {"peat": 100, "perlite": 40}, 0.1
        )
        self.assertEqual((litres, short), (72.0, "perlite"))

    @settings(max_examples=30, deadline=None)
    @given(st.floats(0.01, 50), st.floats(0, 20))
    def test_nothing_gets_lost(self, kilos, stock):
        (line,) = cost([(KELP, kilos)], PRICES, 10, stock_kg={"kelp-meal": stock}).lines
        self.assertAlmostEqual(stock + 5 * line.packages - kilos, line.left_kg, places=6)
        self.assertGreaterEqual(line.left_kg, -1e-6)


class MeasuresOfTheYard(SimpleTestCase):
    def test_a_hand_is_calibrated_with_its_spread(self):
        # Ten handfuls weighed together: the mean is known better than one handful.
        got = calibrate(450.0, 10)
        self.assertAlmostEqual(got.each.typ, 45.0)
        self.assertTrue(got.each.low < 45 < got.each.high)
        self.assertLess(got.count_spread, 0.08)
        for total, count in ((0, 10), (450, 0), (float("nan"), 3)):
            with self.assertRaises(PelkError):
                calibrate(total, count)

    def test_topping_up_a_barrow(self):
        shares = {"peat": 0.5, "bark": 0.3, "perlite": 0.2}
        got = top_up(shares, {"peat": 40}, 90, 0.1)
        self.assertEqual(got.add_l, {"peat": 10, "bark": 30, "perlite": 20})
        grown = top_up(shares, {"perlite": 40}, 90, 0.1)
        self.assertTrue(grown.grew)
        self.assertEqual((grown.loose_l, grown.add_l["peat"]), (200, 100))
        with self.assertRaisesRegex(PelkError, "gravel"):
            top_up(shares, {"gravel": 5}, 90, 0.1)

    def test_water_brings_a_mix_to_a_sponge(self):
        # AIR-4's arithmetic on library parts: what is wanted less what comes in damp.
        mix = [(PEAT, 0.7), (library()["perlite"], 0.3)]
        loss = blending_loss(mix)
        held = structure_of(mix, loss, 30).container_capacity
        got = water_to_add(mix, loss, held)
        self.assertTrue(0.05 < got < held)


class AirToAdd(SimpleTestCase):
    def test_aggregate_brings_the_air_that_was_asked_for(self):
        perlite = library()["perlite"]
        base = [(PEAT, 0.6), (library()["yard-compost"], 0.4)]
        share = aggregate_for(base, perlite, 20, 0.22)
        blend = [(m, x * (1 - share)) for m, x in base] + [(perlite, share)]
        air = structure_of(blend, blending_loss(blend), 20).air_filled
        self.assertAlmostEqual(air, 0.22, delta=0.003)
        self.assertIsNone(aggregate_for(base, perlite, 8, 0.49))
        self.assertEqual(aggregate_for(base, perlite, 30, 0.05), 0.0)

    def test_pots_and_habits_move_what_is_wanted(self):
        usual = wanted_air("woody")
        self.assertLess(wanted_air("woody", pot="fabric"), usual)
        self.assertGreater(wanted_air("woody", habit="over"), usual)
        self.assertGreater(wanted_air("woody", seasons=3), usual)
        self.assertIn("More aggregate", pot_advice("plastic", "over"))
        self.assertIn("Less aggregate", pot_advice("fabric", "under"))
        with self.assertRaisesRegex(PelkError, "allowed"):
            wanted_air("woody", pot="boot")


class Metals(SimpleTestCase):
    def test_a_light_mix_reaches_a_limit_sooner(self):
        # Check SAL-7's arithmetic, and the sum done the long way round.
        years = years_to_limit(0.3, 200, 2.0, 40, 1.5)
        heavy = years_to_limit(0.3, 1200, 2.0, 40, 1.5)
        self.assertAlmostEqual(heavy / years, 6)
        self.assertEqual(years_to_limit(0.3, 200, 2.0, 1.0, 1.5), float("inf"))
        held = metal_in_mix(0.3, 200, [(2.0 * years, 40)])
        self.assertAlmostEqual(held, 1.5, places=6)
        self.assertIn("Cd", metal_limits()["EU 2019/1009 growing medium"])
