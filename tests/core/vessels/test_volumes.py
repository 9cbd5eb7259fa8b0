"""Volumes, pots, doses, loads, water: arithmetic that growers get wrong."""

from dataclasses import replace

from django.test import SimpleTestCase
from hypothesis import given, settings
from hypothesis import strategies as st

from pelk.core.base.errors import PelkError, UnknownError
from pelk.core.evaluation.evaluate import evaluate
from pelk.core.materials.library import library
from pelk.core.materials.measures import level_measures
from pelk.core.plans.plan import Batch, Vessels
from pelk.core.vessels.dose_amounts import dose_amount, dose_grams
from pelk.core.vessels.loads import barrow_loads
from pelk.core.vessels.structure import container_capacity
from pelk.core.vessels.trade_pots import US_GALLON_L, kinds
from pelk.core.vessels.volumes import blending_loss
from tests.core.mixes import G_PER_L, GRAMS, HANDFUL, KILOS, TBSP_PER_GAL, plan, worked


def shares(**parts):
    total = sum(parts.values())
    return [(library()[slug.replace("_", "-")], n / total) for slug, n in parts.items()]


class Blending(SimpleTestCase):
    def test_loss_of_three_classes(self):
        # Check VOL-4: 1:1:1 peat:perlite:compost, 4 (0.03 + 0.12 + 0.08) / 9.
        mix = shares(sphagnum_peat_light=1, perlite=1, yard_compost=1)
        self.assertAlmostEqual(blending_loss(mix), 0.1022, delta=0.0005)

    def test_loose_litres_to_fetch(self):
        # Check VOL-5: 4:2:2 peat:perlite:compost, 100 L settled at 10 % -> 60.72, 30.36, 30.36.
        result = worked(
            {"sphagnum-peat-light": 4, "perlite": 2, "yard-compost": 2}, litres=100 / 0.9
        )
        litres = [line.loose_l for line in result.bulk]
        for got, expected in zip(litres, (60.72, 30.36, 30.36), strict=True):
            self.assertAlmostEqual(got, expected, delta=0.01)

    def test_chips_swallow_fines_beyond_the_classes(self):
        # Two-size packing estimate: 60 chips and 40 soil lose far more than the classes say.
        mix = shares(wood_chips=60, topsoil_loam=40)
        self.assertGreater(blending_loss(mix), 0.15)

    @settings(max_examples=40, deadline=None)
    @given(st.lists(st.floats(0.1, 9), min_size=4, max_size=4))
    def test_order_and_scale_do_not_matter(self, parts):
        slugs = ["perlite", "yard-compost", "sphagnum-peat-light", "pine-bark-nuggets"]
        there = worked(dict(zip(slugs, parts, strict=True)))
        pairs = list(zip(slugs, parts, strict=True))[::-1]
        back = worked({slug: 3 * n for slug, n in pairs})
        self.assertAlmostEqual(there.loose.value, back.loose.value, places=6)
        self.assertAlmostEqual(there.acidity.end.ph, back.acidity.end.ph, places=3)
        self.assertAlmostEqual(
            sum(line.loose_l for line in there.bulk) * (1 - there.volumes.blending_loss),
            there.mixed.value,
        )


class Batches(SimpleTestCase):
    def test_trade_pots_hold_less_than_their_number(self):
        # Check VOL-3: ANSI Z60.1 classes from memory: #1 2.49-4.11 L, #5 12.86-20.35 L.
        for slug, low, high, nominal in (("trade-1", 2.49, 4.11, 1), ("trade-5", 12.86, 20.35, 5)):
            litres = kinds()[slug].litres
            self.assertAlmostEqual(litres.low, low, delta=0.01)
            self.assertAlmostEqual(litres.high, high, delta=0.01)
            self.assertLess(litres.typ, nominal * US_GALLON_L)

    def test_pots_need_headspace_settling_and_a_little_over(self):
        result = worked(
            {"sphagnum-peat-light": 7, "perlite": 3},
            vessels=(Vessels(kind="round-pot", count=24, litres=5.0),),
        )
        # 24 x 5 L x 0.88 filled, settles by 10 %, 5 % over.
        self.assertAlmostEqual(result.mixed.value, 24 * 5 * 0.88 * 1.05 / 0.9, delta=0.01)

    def test_a_batch_from_the_size_of_a_part(self):
        result = worked({"sphagnum-peat-light": 3, "perlite": 1}, part_l=2 * US_GALLON_L)
        self.assertAlmostEqual(result.loose.value, 8 * US_GALLON_L, places=6)
        self.assertLess(result.mixed.value, result.loose.value)

    def test_impossible_batches_say_so(self):
        for more in ({"litres": 0.0}, {"litres": 1e308}, {"part_l": 1e300}):
            with self.subTest(more), self.assertRaisesMessage(PelkError, "allowed"):
                worked({"perlite": 1}, **more)
        with self.assertRaisesMessage(PelkError, "at least one part"):
            worked({}, [("kelp-meal", 1)])


class Doses(SimpleTestCase):
    def test_every_unit_there_and_back(self):
        density = library()["lime-calcitic-ground"].density
        for unit in (G_PER_L, GRAMS, KILOS, TBSP_PER_GAL, HANDFUL):
            with self.subTest(unit.name):
                grams = dose_grams(2.5, unit, 120.0, density).typ
                self.assertAlmostEqual(dose_amount(grams, unit, 120.0, density.typ), 2.5)

    def test_tablespoons_per_gallon(self):
        # Exact: 1 tbsp per US gallon is 3.90625 mL/L; limestone weighs 1.3 kg/L: 5.078 g/L.
        (line,) = worked({"perlite": 1}, [("lime-calcitic-ground", 1, TBSP_PER_GAL)]).doses
        self.assertAlmostEqual(line.g_per_l, 3.90625 * 1.3, places=6)

    def test_a_rate_per_one_part_counts_its_loose_litres_only(self):
        mix = {"sphagnum-peat-light": 1, "perlite": 1}
        result = worked(mix, [("lime-calcitic-ground", 4, G_PER_L, "sphagnum-peat-light")])
        loose = result.bulk[0].loose_l
        self.assertAlmostEqual(result.doses[0].grams.typ, 4 * loose)
        with self.assertRaisesMessage(PelkError, "whole batch"):
            worked(mix, [("lime-calcitic-ground", 4, GRAMS, "perlite")])
        with self.assertRaisesMessage(PelkError, "allowed: sphagnum-peat-light, perlite"):
            worked(mix, [("lime-calcitic-ground", 4, G_PER_L, "pumice")])

    def test_a_handful_is_a_range(self):
        (line,) = worked({"perlite": 1}, [("kelp-meal", 2, HANDFUL)]).doses
        self.assertLess(line.grams.low * 2.5, line.grams.high)

    def test_a_measure_of_what_nobody_weighed_is_refused_and_grams_are_not(self):
        result = worked({"perlite": 1}, [("rhizobium", 1, GRAMS)])
        self.assertIsNone(result.doses[0].millilitres)
        with self.assertRaisesMessage(UnknownError, "Enter grams instead"):
            worked({"perlite": 1}, [("rhizobium", 1, HANDFUL)])

    def test_kitchen_measures(self):
        cases = [
            (354.9, "us", [(1.5, "cup")]),
            (14.79, "us", [(1, "tbsp")]),
            (62.5, "metric", [(0.25, "cup")]),
            (77.5, "metric", [(0.25, "cup"), (1, "tbsp")]),
            (122, "metric", [(0.5, "cup")]),
            (2.5, "metric", [(0.5, "tsp")]),
            (10.6, "metric", [(2, "tsp")]),
            (0.1, "metric", []),
        ]
        for millilitres, system, expected in cases:
            with self.subTest(millilitres=millilitres, system=system):
                self.assertEqual(level_measures(millilitres, system), expected)


class Loads(SimpleTestCase):
    def test_a_barrow_is_bound_by_weight(self):
        # Check VOL-6: 200 L at 0.65 kg/L, 85 L barrow, 50 kg -> 3 loads of 66.67 L, 43.33 kg.
        loads = barrow_loads(200, 0.65, 85, 50)
        self.assertEqual((loads.count, loads.bound_by), (3, "weight"))
        self.assertAlmostEqual(loads.litres, 66.67, delta=0.01)
        self.assertAlmostEqual(loads.kg, 43.33, delta=0.01)

    def test_a_full_barrow_is_one_load(self):
        self.assertEqual(barrow_loads(85, 0.3, 85, 50).count, 1)


class Water(SimpleTestCase):
    def test_container_capacity_of_common_mixes(self):
        # % by volume at 8, 15, 25, 40 cm: recorded runs of the refitted curves, no measurements.
        cases = [
            (shares(sphagnum_peat_light=1), (79, 70, 63, 56)),
            (shares(sphagnum_peat_light=3, perlite=1), (72, 64, 56, 50)),
            (shares(sphagnum_peat_light=1, perlite=1, yard_compost=1), (67, 60, 54, 49)),
            (shares(pine_bark_fines_aged=1), (58, 52, 47, 43)),
        ]
        for mix, table in cases:
            loss = blending_loss(mix)
            for height, percent in zip((8, 15, 25, 40), table, strict=True):
                with self.subTest(mix[0][0].slug, height=height):
                    result = 100 * container_capacity(mix, loss, height)
                    self.assertAlmostEqual(result, percent, delta=1.2)

    def test_wet_weight_is_not_known_where_retention_is_not(self):
        result = worked({"raw-cow-manure": 1})
        self.assertIsNone(result.wet_mass.value)
        self.assertIn("is not known", result.wet_mass.problem)
        self.assertIsNotNone(result.mass.value)

    def test_a_plan_without_a_batch_is_refused(self):
        bare = replace(plan({"perlite": 1}), batch=Batch())
        with self.assertRaisesMessage(PelkError, "how much"):
            evaluate(bare, library())
